package repo

import (
	"io/fs"
	"os"

	"jollytreaty/core/tree"
)

// files is the repository as a file system, which also opens whole folders.
type files struct {
	fs.FS
	root *os.Root
}

func (f files) Stat(name string) (fs.FileInfo, error)      { return fs.Stat(f.FS, name) }
func (f files) ReadFile(name string) ([]byte, error)       { return fs.ReadFile(f.FS, name) }
func (f files) ReadDir(name string) ([]fs.DirEntry, error) { return fs.ReadDir(f.FS, name) }

// OpenFolder opens a folder for reading many of its files.
func (f files) OpenFolder(name string) (tree.Folder, error) {
	dir, err := f.root.Open(name)
	if err != nil {
		return nil, err
	}
	return folder{dir, int(dir.Fd())}, nil
}

type folder struct {
	dir *os.File
	fd  int
}

func (f folder) Close() error { return f.dir.Close() }
