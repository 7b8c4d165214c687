package repo

import (
	"encoding/binary"
	"io/fs"
	"sync"
	"syscall"
)

// direntBuffers are used again: a large repository has thousands of folders.
var direntBuffers = sync.Pool{New: func() any { buf := make([]byte, 1<<13); return &buf }}

// readFolder calls use for each name in a folder; the name is only good for the
// call. It asks the system directly:
// opened in the usual way, each of thousands of folders costs several calls
// more.
func readFolder(dir string, use func(name []byte, folder bool)) error {
	fd, err := syscall.Open(dir, syscall.O_RDONLY|syscall.O_DIRECTORY|syscall.O_CLOEXEC, 0)
	if err != nil {
		return &fs.PathError{Op: "open", Path: dir, Err: err}
	}
	defer syscall.Close(fd)
	kept := direntBuffers.Get().(*[]byte)
	defer direntBuffers.Put(kept)
	buf := *kept
	for {
		n, err := syscall.ReadDirent(fd, buf)
		if err == syscall.EINTR {
			continue
		}
		if err != nil {
			return &fs.PathError{Op: "readdir", Path: dir, Err: err}
		}
		if n <= 0 {
			return nil
		}
		// struct linux_dirent64, getdents64(2)
		for rest := buf[:n]; len(rest) > 19; {
			length := int(binary.NativeEndian.Uint16(rest[16:]))
			kind, name := rest[18], rest[19:length]
			for i, c := range name {
				if c == 0 {
					name = name[:i]
					break
				}
			}
			rest = rest[length:]
			if string(name) == "." || string(name) == ".." {
				continue
			}
			folder := kind == syscall.DT_DIR
			if kind == syscall.DT_UNKNOWN {
				var info syscall.Stat_t
				folder = syscall.Lstat(dir+"/"+string(name), &info) == nil && info.Mode&syscall.S_IFMT == syscall.S_IFDIR
			}
			use(name, folder)
		}
	}
}
