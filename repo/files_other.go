//go:build !linux

package repo

import (
	"io"
	"io/fs"
	"os"
	"path/filepath"
)

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
