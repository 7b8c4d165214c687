package repo

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os/exec"
	"path"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/memory"
)

// Revision is the files of one commit, read from git without touching the work
// tree. It is a file system; Close ends the process that reads for it.
type Revision struct {
	Name  string   // the commit's hash
	Paths []string // every file, sorted

	blobs map[string]blob
	dirs  map[string][]fs.DirEntry

	mutex sync.Mutex
	cmd   *exec.Cmd
	in    io.WriteCloser
	out   *bufio.Reader
}

type blob struct {
	id   string
	link bool
}

// At reads the list of files of a revision, in any of the ways in which git
// names one. The error says that git knows none of that name.
func (r *Repo) At(revision string) (*Revision, error) {
	if !r.Git {
		return nil, fmt.Errorf("%s is no git work tree, so it has no revisions", r.Root)
	}
	name, err := git(r.Root, "rev-parse", "--verify", "--quiet", "--end-of-options", revision+"^{commit}")
	if err != nil {
		return nil, errors.New("git knows no revision of that name")
	}
	v := &Revision{Name: strings.TrimSpace(string(name)), blobs: map[string]blob{}, dirs: map[string][]fs.DirEntry{}}
	list, err := git(r.Root, "ls-tree", "-r", "-z", "--full-tree", v.Name)
	if err != nil {
		return nil, gitError(err)
	}
	for record := range strings.SplitSeq(string(list), "\x00") {
		head, p, ok := strings.Cut(record, "\t")
		fields := strings.Fields(head)
		if !ok || len(fields) != 3 || fields[1] != "blob" || !fs.ValidPath(p) {
			continue // another repository within
		}
		v.Paths = append(v.Paths, p)
		v.blobs[p] = blob{fields[2], fields[0] == "120000"}
		v.enter(p, false)
	}
	slices.Sort(v.Paths)
	v.cmd = gitCommand(r.Root, "cat-file", "--batch")
	if v.in, err = v.cmd.StdinPipe(); err != nil {
		return nil, err
	}
	out, err := v.cmd.StdoutPipe()
	if err != nil {
		return nil, err
	}
	v.out = bufio.NewReader(out)
	if err := v.cmd.Start(); err != nil {
		return nil, gitError(err)
	}
	return v, nil
}

// enter lists a path in its folder, and the folder in that above.
func (v *Revision) enter(p string, isDir bool) {
	dir := path.Dir(p)
	first := v.dirs[dir] == nil
	v.dirs[dir] = append(v.dirs[dir], memory.Entry(path.Base(p), isDir))
	if first && dir != "." {
		v.enter(dir, true)
	}
}

// Close ends reading.
func (v *Revision) Close() error {
	v.in.Close()
	return v.cmd.Wait()
}

// maxLinks bounds how many links may follow one another.
const maxLinks = 20

// Open opens a file or folder.
func (v *Revision) Open(name string) (fs.File, error) {
	fail := func(err error) (fs.File, error) { return nil, &fs.PathError{Op: "open", Path: name, Err: err} }
	if !fs.ValidPath(name) {
		return fail(fs.ErrInvalid)
	}
	p := name
	for range maxLinks {
		b, ok := v.blobs[p]
		if !ok {
			if list := v.dirs[p]; list != nil || p == "." {
				return memory.Folder(path.Base(name), list), nil
			}
			return fail(fs.ErrNotExist)
		}
		text, err := v.read(b.id)
		if err != nil {
			return fail(err)
		}
		if !b.link {
			return memory.File(path.Base(name), text), nil
		}
		if p = path.Join(path.Dir(p), string(text)); !fs.ValidPath(p) {
			return fail(errors.New("the link leads out of the repository"))
		}
	}
	return fail(errors.New("too many links"))
}

// read asks git for an object.
func (v *Revision) read(id string) ([]byte, error) {
	v.mutex.Lock()
	defer v.mutex.Unlock()
	if _, err := io.WriteString(v.in, id+"\n"); err != nil {
		return nil, err
	}
	head, err := v.out.ReadString('\n')
	if err != nil {
		return nil, err
	}
	size := 0
	if _, err := fmt.Sscanf(head, id+" blob %d", &size); err != nil {
		return nil, fmt.Errorf("git does not have it: %s", strings.TrimSpace(head))
	}
	text := make([]byte, size+1)
	if _, err := io.ReadFull(v.out, text); err != nil {
		return nil, err
	}
	return text[:size], nil
}
