package repo

import (
	"io/fs"
	"os"
	"slices"
	"strings"
)

// files is the repository as a file system, which also opens whole folders. Names
// need not be valid UTF-8, as those of files need not.
type files struct {
	place *place
	top   *os.File
}

// valid reports whether a name is one that a file below may have.
func valid(name string) bool {
	if name == "." {
		return true
	}
	for part := range strings.SplitSeq(name, "/") {
		if part == "" || part == "." || part == ".." {
			return false
		}
	}
	return !strings.ContainsRune(name, 0)
}

func (f files) open(name string) (*os.File, fs.FileInfo, error) {
	if !valid(name) {
		return nil, nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrInvalid}
	}
	if file, ok := f.openDirectly(name); ok {
		return plainFile(file, name)
	}
	real, err := f.place.resolve(name)
	if err != nil {
		return nil, nil, err
	}
	return f.place.open(real)
}

func (f files) Open(name string) (fs.File, error) {
	file, _, err := f.open(name)
	if err != nil {
		return nil, err
	}
	return file, nil
}

func (f files) Stat(name string) (fs.FileInfo, error) {
	if !valid(name) {
		return nil, &fs.PathError{Op: "stat", Path: name, Err: fs.ErrInvalid}
	}
	if info, ok := f.statDirectly(name); ok {
		return info, nil
	}
	real, err := f.place.resolve(name)
	if err != nil {
		return nil, err
	}
	return f.place.root.Lstat(real)
}

func (f files) ReadFile(name string) ([]byte, error) {
	file, info, err := f.open(name)
	if err != nil {
		return nil, err
	}
	defer file.Close()
	return readWhole(file, info, name)
}

func (f files) ReadDir(name string) ([]fs.DirEntry, error) {
	file, _, err := f.open(name)
	if err != nil {
		return nil, err
	}
	defer file.Close()
	entries, err := file.ReadDir(-1)
	slices.SortFunc(entries, func(a, b fs.DirEntry) int { return strings.Compare(a.Name(), b.Name()) })
	return entries, err
}

// listSlowly is list by the usual calls.
func (f files) listSlowly(dir string, use func(name []byte, kind fs.FileMode)) error {
	real, err := f.place.resolve(dir)
	if err != nil {
		return err
	}
	if real != dir {
		return &fs.PathError{Op: "open", Path: dir, Err: fs.ErrNotExist} // it is behind a link
	}
	entries, err := f.ReadDir(dir)
	for _, e := range entries {
		use([]byte(e.Name()), e.Type())
	}
	return err
}
