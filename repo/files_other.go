//go:build !linux

package repo

import (
	"io"
	"io/fs"
	"os"
	"path/filepath"

	"jollytreaty/core/tree"
)

type folder struct{ dir *os.File }

// OpenFolder opens a folder for reading many of its files.
func (f files) OpenFolder(name string) (tree.Folder, error) {
	dir, err := f.root.Open(name)
	if err != nil {
		return nil, err
	}
	return folder{dir}, nil
}

func (f folder) Close() error { return f.dir.Close() }

// Read opens the file in the usual way.
func (f folder) Read(name string, buf []byte) (int, error) {
	path := filepath.Join(f.dir.Name(), name)
	info, err := os.Lstat(path)
	if err != nil {
		return 0, err
	}
	if !info.Mode().IsRegular() {
		return 0, fs.ErrInvalid
	}
	file, err := os.Open(path)
	if err != nil {
		return 0, err
	}
	defer file.Close()
	n, err := io.ReadFull(file, buf)
	if err == io.EOF || err == io.ErrUnexpectedEOF {
		err = nil
	}
	return n, err
}
