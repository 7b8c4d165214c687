package repo

import (
	"encoding/binary"
	"errors"
	"io/fs"
	"os"
	"sync"
	"syscall"

	"golang.org/x/sys/unix"

	"jollytreaty/core/tree"
)

// errSlowly says that the system has no call that opens a path below a folder at
// once, or that the path has links, which are followed one by one.
var errSlowly = errors.New("not to be opened at once")

// openAt opens a path below the repository's folder in one call, openat2(2), where
// the system has it (Linux 5.6) and no link is on the way.
func (f files) openAt(name string, flags uint64) (int, error) {
	if flags != unix.O_PATH { // which goes with nothing else
		flags |= unix.O_RDONLY | unix.O_NONBLOCK | unix.O_NOCTTY
	}
	how := unix.OpenHow{Flags: flags | unix.O_CLOEXEC,
		Resolve: unix.RESOLVE_BENEATH | unix.RESOLVE_NO_SYMLINKS | unix.RESOLVE_NO_MAGICLINKS}
	for {
		fd, err := unix.Openat2(int(f.top.Fd()), name, &how)
		switch err {
		case nil:
			return fd, nil
		case unix.EINTR:
			continue
		case unix.ENOSYS, unix.EPERM, unix.EAGAIN, unix.ELOOP, unix.ENAMETOOLONG:
			return 0, errSlowly
		}
		return 0, &fs.PathError{Op: "open", Path: name, Err: err}
	}
}

func (f files) openDirectly(name string) (*os.File, bool) {
	fd, err := f.openAt(name, 0)
	if err != nil {
		return nil, false
	}
	return os.NewFile(uintptr(fd), name), true
}

// statDirectly tells what a file is, without opening it for reading.
func (f files) statDirectly(name string) (fs.FileInfo, bool) {
	fd, err := f.openAt(name, unix.O_PATH)
	if err != nil {
		return nil, false
	}
	file := os.NewFile(uintptr(fd), name)
	defer file.Close()
	info, err := file.Stat()
	return info, err == nil
}

type folder struct {
	fd  int
	dir *os.File // what it belongs to, if anything
}

// OpenFolder opens a folder for reading many of its files.
func (f files) OpenFolder(name string) (tree.Folder, error) {
	fd, err := f.openAt(name, unix.O_DIRECTORY)
	if err == nil {
		return folder{fd: fd}, nil
	}
	if !errors.Is(err, errSlowly) {
		return nil, err
	}
	dir, info, err := f.open(name)
	if err != nil {
		return nil, err
	}
	if !info.IsDir() {
		dir.Close()
		return nil, &fs.PathError{Op: "open", Path: name, Err: syscall.ENOTDIR}
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
// end, read(2). A pipe is as good as empty: nobody waits for what it may bring.
func (f folder) Read(name string, buf []byte) (int, error) {
	fail := func(op string, err error) error { return &fs.PathError{Op: op, Path: name, Err: err} }
	fd, err := syscall.Openat(f.fd, name, syscall.O_RDONLY|syscall.O_NOFOLLOW|syscall.O_NONBLOCK|syscall.O_CLOEXEC, 0)
	if err != nil {
		return 0, fail("open", err)
	}
	defer syscall.Close(fd)
	n := 0
	for n < len(buf) {
		got, err := syscall.Read(fd, buf[n:])
		if err == syscall.EINTR {
			continue
		}
		if err != nil {
			return n, fail("read", err)
		}
		if n += got; n < len(buf) {
			break
		}
	}
	return n, nil
}

// direntBuffers are used again: a large repository has thousands of folders.
var direntBuffers = sync.Pool{New: func() any { buf := make([]byte, 1<<13); return &buf }}

// list calls use for each name in a folder with what it is, of fs.ModeType; the name
// is only good for the call. A folder behind a link is not there. It asks the system
// directly: opened in the usual way, each of thousands of folders costs several
// calls more.
func (f files) list(dir string, use func(name []byte, kind fs.FileMode)) error {
	fd, err := f.openAt(dir, unix.O_DIRECTORY)
	if errors.Is(err, errSlowly) {
		return f.listSlowly(dir, use)
	}
	if err != nil {
		return err
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
			if string(name) != "." && string(name) != ".." {
				use(name, direntType(fd, kind, name))
			}
		}
	}
}

// direntType is the type of a file by what its folder says of it, or the file itself
// where that says nothing.
func direntType(dir int, kind byte, name []byte) fs.FileMode {
	if kind == syscall.DT_UNKNOWN {
		var info unix.Stat_t
		if unix.Fstatat(dir, string(name), &info, unix.AT_SYMLINK_NOFOLLOW) == nil {
			kind = byte(info.Mode & syscall.S_IFMT >> 12) // the same numbers, readdir(3)
		}
	}
	switch kind {
	case syscall.DT_DIR:
		return fs.ModeDir
	case syscall.DT_LNK:
		return fs.ModeSymlink
	case syscall.DT_REG, syscall.DT_UNKNOWN:
		return 0
	}
	return fs.ModeIrregular
}
