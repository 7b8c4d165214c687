//go:build unix

package repo

import (
	"errors"
	"io/fs"
	"os"
	"syscall"
)

// noWait keeps opening a pipe from waiting for somebody who writes to it, open(2).
const noWait = syscall.O_NONBLOCK

func syncFolder(root *os.Root, name string) error {
	f, err := root.Open(name)
	if err != nil {
		return err
	}
	err = f.Sync()
	if errors.Is(err, fs.ErrInvalid) || errors.Is(err, errors.ErrUnsupported) || errors.Is(err, syscall.EINVAL) {
		err = nil // not every file system can
	}
	return errors.Join(err, f.Close())
}

// sameOwner gives a new file the owner of the one it takes the place of, where that
// is somebody else and this run may do so.
func sameOwner(root *os.Root, name string, as fs.FileInfo) {
	if sys, ok := as.Sys().(*syscall.Stat_t); ok && int(sys.Uid) != os.Geteuid() {
		_ = root.Lchown(name, int(sys.Uid), int(sys.Gid)) // who may not, becomes the owner
	}
}

// foreign reports whether a file belongs to somebody else.
func foreign(info fs.FileInfo) bool {
	sys, ok := info.Sys().(*syscall.Stat_t)
	return ok && int(sys.Uid) != os.Geteuid()
}
