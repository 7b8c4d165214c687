package repo

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/pattern"
)

// ignoreList is the file that says what git leaves out, gitignore(5).
const ignoreList = ".gitignore"

// maxDepth bounds how many folders deep a walk goes. No path is that long that
// people use, and each folder costs as much as those above it together.
const maxDepth = 200

// walk lists a plain folder by its ignore files, with the files that matter although
// these leave them out.
func (r *Repo) walk(matters func(path string) bool) error {
	w := walker{repo: r, fsys: files{r.place, r.top}, matters: matters}
	if _, err := fs.ReadDir(w.fsys, "."); err != nil {
		return fmt.Errorf("%s cannot be read: %w", r.Root, reason(err))
	}
	w.folder(".", nil)
	r.Paths = w.paths
	slices.Sort(r.Paths)
	return nil
}

type walker struct {
	repo *Repo
	fsys fs.FS
	git  bool // the list of a git work tree is made, of which repositories within are no part
	most int  // files to look at, 0 for all

	matters func(path string) bool // files that no list leaves out; nil for none

	paths []string
	odd   bool // an ignore list is no regular file
}

// ignoreAt is an ignore list and the folder it stands in.
type ignoreAt struct {
	folder string
	list   pattern.IgnoreList
}

// above returns the ignore lists of the folders above a folder.
func (w *walker) above(dir string) []ignoreAt {
	if dir == "." {
		return nil
	}
	up := path.Dir(dir)
	return w.lists(up, w.above(up))
}

// lists adds to the ignore lists those of a folder.
func (w *walker) lists(dir string, lists []ignoreAt) []ignoreAt {
	for _, name := range []string{ignoreList, ".ignore"} {
		if info, err := w.repo.place.root.Lstat(path.Join(dir, name)); err != nil || !info.Mode().IsRegular() {
			continue // git does not follow links from an ignore list
		}
		if text, err := w.read(path.Join(dir, name)); err == nil {
			list := pattern.ParseIgnoreList(string(text))
			if list.Crowded() {
				w.note("%s has more patterns than are compared; those behind the first %d are passed over", path.Join(dir, name), list.Len())
			}
			lists = append(slices.Clip(lists), ignoreAt{dir, list})
		}
	}
	return lists
}

func (w *walker) folder(dir string, lists []ignoreAt) {
	if w.most > 0 && len(w.paths) > w.most {
		return
	}
	if strings.Count(dir, "/") >= maxDepth {
		w.note("%s has folders more than %d deep, which are left out", strings.Join(strings.SplitN(dir, "/", 4)[:3], "/")+"/…", maxDepth)
		return
	}
	entries, err := fs.ReadDir(w.fsys, dir)
	if err != nil {
		w.note("%s cannot be read (%v) and is left out", dir, reason(err))
		return
	}
	for _, e := range entries {
		if e.Name() == ignoreList && waitedFor(e.Type()) {
			w.odd = true
		}
	}
	if slices.ContainsFunc(entries, func(e fs.DirEntry) bool { return e.Name() == ignoreList || e.Name() == ".ignore" }) {
		lists = w.lists(dir, lists)
	}
	if w.git && dir != "." && slices.ContainsFunc(entries, func(e fs.DirEntry) bool { return e.Name() == ".git" }) {
		return
	}
	for _, e := range entries {
		p := path.Join(dir, e.Name())
		if ignored(p, e.IsDir(), lists) && (e.IsDir() || w.matters == nil || !w.matters(p)) {
			continue
		}
		switch {
		case e.IsDir():
			if e.Name() != ".git" && e.Name() != ".hg" && e.Name() != ".svn" {
				w.folder(p, lists)
			}
		case e.Type().IsRegular(), e.Type()&fs.ModeSymlink != 0:
			w.paths = append(w.paths, p)
		}
	}
}

// waitedFor reports whether reading what is of a type may never end.
func waitedFor(kind fs.FileMode) bool {
	return kind&(fs.ModeNamedPipe|fs.ModeSocket|fs.ModeDevice|fs.ModeIrregular) != 0
}

// note says what is left out, once.
func (w *walker) note(format string, args ...any) {
	text := fmt.Sprintf(format, args...)
	if w.most == 0 && !slices.Contains(w.repo.Notes, text) {
		w.repo.Notes = append(w.repo.Notes, text)
	}
}

func (w *walker) read(p string) ([]byte, error) {
	f, err := w.fsys.Open(p)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, 1<<20))
}

// ignored reports whether the nearest list that speaks about the path takes it
// out.
func ignored(p string, folder bool, lists []ignoreAt) bool {
	for _, l := range slices.Backward(lists) {
		rel := p
		if l.folder != "." {
			rel = strings.TrimPrefix(p, l.folder+"/")
		}
		if out, spoken := l.list.Decides(rel, folder); spoken {
			return out
		}
	}
	return false
}

// reason strips what an error repeats of the path.
func reason(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
