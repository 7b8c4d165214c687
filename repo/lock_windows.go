package repo

import (
	"errors"
	"os"

	"golang.org/x/sys/windows"
)

// lockedAt is where the locked byte lies: far behind what others may read.
const lockedAt = 1 << 30

// tryLock reports whether the file is locked for this run now; it stays so until
// it is closed.
func tryLock(f *os.File) (bool, error) {
	at := windows.Overlapped{Offset: lockedAt}
	err := windows.LockFileEx(windows.Handle(f.Fd()), windows.LOCKFILE_EXCLUSIVE_LOCK|windows.LOCKFILE_FAIL_IMMEDIATELY, 0, 1, 0, &at)
	if errors.Is(err, windows.ERROR_LOCK_VIOLATION) || errors.Is(err, windows.ERROR_IO_PENDING) {
		return false, nil
	}
	return err == nil, err
}
