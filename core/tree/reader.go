package tree

import (
	"io/fs"
	"strings"
)

// Opener is a file system that opens folders for reading many of their files,
// which spares walking down to each. Others are read file by file.
type Opener interface {
	OpenFolder(name string) (Folder, error)
}

// Folder is an open folder.
type Folder interface {
	// Read reads the start of a regular file into buf, all of it if it fits.
	Read(name string, buf []byte) (int, error)
	Close() error
}

// Reader reads the starts of files one after the other, folder by folder where it
// can. Links are not followed where it does.
type Reader struct {
	fsys   fs.FS
	most   int
	buf    []byte
	dir    string
	folder Folder
	failed bool
}

// usual is as much as most files have, in bytes.
const usual = 1 << 16

// NewReader makes a reader of at most so many bytes of each file.
func NewReader(fsys fs.FS, most int) *Reader {
	return &Reader{fsys: fsys, most: most, buf: make([]byte, min(most, usual))}
}

// Close closes the folder that is open.
func (r *Reader) Close() {
	if r.folder != nil {
		r.folder.Close()
	}
}

// Read returns what the file starts with, good until the next call.
func (r *Reader) Read(name string) ([]byte, error) {
	for {
		got, err := r.read(name)
		if err != nil || len(got) < len(r.buf) || len(r.buf) == r.most {
			return got, err
		}
		r.buf = make([]byte, min(r.most, 4*len(r.buf)))
	}
}

func (r *Reader) read(name string) ([]byte, error) {
	opener, ok := r.fsys.(Opener)
	if !ok {
		return r.readAlone(name)
	}
	dir, base := ".", name
	if slash := strings.LastIndexByte(name, '/'); slash >= 0 {
		dir, base = name[:slash], name[slash+1:]
	}
	if r.folder == nil && !r.failed || dir != r.dir {
		r.Close()
		folder, err := opener.OpenFolder(dir)
		r.dir, r.folder, r.failed = dir, folder, err != nil
		if err != nil {
			r.folder = nil
		}
	}
	if r.folder == nil {
		return r.readAlone(name)
	}
	n, err := r.folder.Read(base, r.buf)
	return r.buf[:max(n, 0)], err
}

func (r *Reader) readAlone(name string) ([]byte, error) {
	f, err := r.fsys.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() {
		return nil, fs.ErrInvalid
	}
	n := 0
	for n < len(r.buf) {
		got, err := f.Read(r.buf[n:])
		n += got
		if err != nil {
			break
		}
	}
	return r.buf[:n], nil
}
