package repo

import (
	"io/fs"
	"os"
)

// files is the repository as a file system, which also opens whole folders.
type files struct {
	fs.FS
	root *os.Root
	top  *os.File
}

func (f files) Stat(name string) (fs.FileInfo, error)      { return fs.Stat(f.FS, name) }
func (f files) ReadFile(name string) ([]byte, error)       { return fs.ReadFile(f.FS, name) }
func (f files) ReadDir(name string) ([]fs.DirEntry, error) { return fs.ReadDir(f.FS, name) }
