// Package memory is open files and folders whose contents are held in memory, for
// file systems that make them up.
package memory

import (
	"bytes"
	"errors"
	"io"
	"io/fs"
	"time"
)

// File is an open file with the given base name and contents.
func File(name string, text []byte) fs.File {
	return &file{info{name: name, size: int64(len(text))}, bytes.NewReader(text)}
}

// Folder is an open folder with the given base name and entries.
func Folder(name string, entries []fs.DirEntry) fs.ReadDirFile {
	return &folder{info{name: name, dir: true}, entries}
}

// Entry is a folder's entry for a file, or for a folder.
func Entry(name string, isFolder bool) fs.DirEntry {
	return fs.FileInfoToDirEntry(info{name: name, dir: isFolder})
}

type info struct {
	name string
	size int64
	dir  bool
}

func (i info) Name() string     { return i.name }
func (i info) Size() int64      { return i.size }
func (info) ModTime() time.Time { return time.Time{} }
func (i info) IsDir() bool      { return i.dir }
func (info) Sys() any           { return nil }

func (i info) Mode() fs.FileMode {
	if i.dir {
		return fs.ModeDir | 0o755
	}
	return 0o644
}

type file struct {
	info info
	*bytes.Reader
}

func (f *file) Stat() (fs.FileInfo, error) { return f.info, nil }
func (f *file) Close() error               { return nil }

type folder struct {
	info info
	left []fs.DirEntry
}

func (f *folder) Stat() (fs.FileInfo, error) { return f.info, nil }
func (f *folder) Close() error               { return nil }

func (f *folder) Read([]byte) (int, error) {
	return 0, &fs.PathError{Op: "read", Path: f.info.name, Err: errors.New("is a folder")}
}

func (f *folder) ReadDir(n int) ([]fs.DirEntry, error) {
	list := f.left
	if n > 0 {
		list = list[:min(n, len(list))]
	}
	f.left = f.left[len(list):]
	if n > 0 && len(list) == 0 {
		return nil, io.EOF
	}
	return list, nil
}
