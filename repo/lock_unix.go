//go:build unix

package repo

import (
	"errors"
	"os"
	"syscall"
)

// tryLock reports whether the file is locked for this run now; it stays so until
// it is closed.
func tryLock(f *os.File) (bool, error) {
	err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB)
	if errors.Is(err, syscall.EWOULDBLOCK) || errors.Is(err, syscall.EINTR) {
		return false, nil
	}
	return err == nil, err
}
