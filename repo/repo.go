// Package repo is the outside of the computation: a folder or a git work tree
// as a file system with a list of paths, and safe writes into it. Whatever lies
// there may have been put there by somebody who wishes its reader ill.
package repo

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
)

// Repo is a repository on disk.
type Repo struct {
	Root  string   // absolute path
	Git   bool     // listed by git
	Paths []string // every file that is not ignored, sorted
	Notes []string // what could not be read, and how the list was made instead

	place   *place
	top     *os.File        // the root, to open folders from
	git     *gitAt          // nil without git
	modules map[string]bool // paths of other repositories within
}

// Listing says how the list of a repository is made. The zero Listing is good.
type Listing struct {
	// Early, if it is not nil, is called with what git tracks while git still looks for
	// files that are new or deleted; it must not keep the repository's list.
	Early func(*Repo)

	// Matters tells the files that are listed in a plain folder although an ignore list
	// leaves them out, as programs read them all the same; nil for none.
	Matters func(path string) bool
}

// Open lists the repository that holds dir: the git work tree around it, or
// else the folder itself. A folder that the work tree ignores counts by itself.
// The error says what to do.
func Open(dir string, how Listing) (*Repo, error) {
	r, err := Locate(dir)
	if err != nil {
		return nil, err
	}
	if r.Git {
		err := r.listGit(how.Early)
		if err == nil {
			return r, nil
		}
		r.note(err)
		r.Git, r.Paths = false, nil
	}
	if err := r.walk(how.Matters); err != nil {
		return nil, err
	}
	return r, nil
}

// note says that git could not be asked.
func (r *Repo) note(err error) {
	r.Notes = append(r.Notes, fmt.Sprintf("git could not be asked (%v); the folder is listed by its ignore files instead", gitError(err)))
}

// FS returns the repository's files. Links that lead out of it, or into git's own
// folder, cannot be opened, nor can anything but regular files and folders.
func (r *Repo) FS() fs.FS { return files{r.place, r.top} }

// Close releases the repository's folder.
func (r *Repo) Close() error { return errors.Join(r.top.Close(), r.place.close()) }
