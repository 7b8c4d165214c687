//go:build !linux

package repo

import (
	"io"
	"io/fs"
	"os"

	"jollytreaty/core/tree"
)

// openDirectly is for systems that can open a path below a folder in one call.
func (f files) openDirectly(string) (*os.File, bool) { return nil, false }

func (f files) statDirectly(string) (fs.FileInfo, bool) { return nil, false }

// list calls use for each name in a folder with what it is, of fs.ModeType.
func (f files) list(dir string, use func(name []byte, kind fs.FileMode)) error {
	return f.listSlowly(dir, use)
}

type folder struct{ root *os.Root }

// OpenFolder opens a folder for reading many of its files.
func (f files) OpenFolder(name string) (tree.Folder, error) {
	real, err := f.place.resolve(name)
	if err != nil {
		return nil, err
	}
	root, err := f.place.root.OpenRoot(real)
	if err != nil {
		return nil, err
	}
	return folder{root}, nil
}

func (f folder) Close() error { return f.root.Close() }

// Read opens the file in the usual way. Links are not followed: what they lead to is
// read where it lies, if it lies here.
func (f folder) Read(name string, buf []byte) (int, error) {
	info, err := f.root.Lstat(name)
	if err != nil {
		return 0, err
	}
	if !info.Mode().IsRegular() {
		return 0, fs.ErrInvalid
	}
	file, err := f.root.OpenFile(name, os.O_RDONLY|noWait, 0)
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
