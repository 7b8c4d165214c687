package repo

import (
	"io/fs"
	"os"
	"syscall"

	"golang.org/x/sys/unix"

	"jollytreaty/core/tree"
)

type folder struct {
	fd  int
	dir *os.File // what it belongs to, if anything
}

// OpenFolder opens a folder for reading many of its files: in one call where the
// system has it (Linux 5.6, openat2(2)), which does not leave the repository
// either.
func (f files) OpenFolder(name string) (tree.Folder, error) {
	how := unix.OpenHow{Flags: unix.O_RDONLY | unix.O_DIRECTORY | unix.O_CLOEXEC, Resolve: unix.RESOLVE_BENEATH | unix.RESOLVE_NO_MAGICLINKS}
	fd, err := unix.Openat2(int(f.top.Fd()), name, &how)
	switch err {
	case nil:
		return folder{fd: fd}, nil
	case unix.ENOSYS, unix.EPERM, unix.EAGAIN: // not there, not allowed, or something moved
	default:
		return nil, &fs.PathError{Op: "open", Path: name, Err: err}
	}
	dir, err := f.root.Open(name)
	if err != nil {
		return nil, err
	}
	return folder{int(dir.Fd()), dir}, nil
}

func (f folder) Close() error {
	if f.dir != nil {
		return f.dir.Close()
	}
	return syscall.Close(f.fd)
}

// Read asks the system directly: a file opened in the usual way costs several
// calls more. Links are not followed: what they lead to is read where it lies, if
// it lies here. Of a regular file a read brings less than it could only at the
// end, read(2).
func (f folder) Read(name string, buf []byte) (int, error) {
	fd, err := syscall.Openat(f.fd, name, syscall.O_RDONLY|syscall.O_NOFOLLOW|syscall.O_NONBLOCK|syscall.O_CLOEXEC, 0)
	if err != nil {
		return 0, &fs.PathError{Op: "open", Path: name, Err: err}
	}
	defer syscall.Close(fd)
	n := 0
	for n < len(buf) {
		got, err := syscall.Read(fd, buf[n:])
		if err == syscall.EINTR {
			continue
		}
		if err != nil {
			return n, &fs.PathError{Op: "read", Path: name, Err: err}
		}
		if n += got; n < len(buf) {
			break
		}
	}
	return n, nil
}
