//go:build !unix

package repo

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"time"
)

// lock keeps other runs from writing until it is released, by a file that only
// one run can make.
func lock(state string) (release func(), err error) {
	if err := os.MkdirAll(state, 0o755); err != nil {
		return nil, err
	}
	name := filepath.Join(state, "lock")
	for began := time.Now(); ; time.Sleep(50 * time.Millisecond) {
		f, err := os.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
		if err == nil {
			fmt.Fprintln(f, os.Getpid())
			return func() { f.Close(); os.Remove(name) }, nil
		}
		if !errors.Is(err, fs.ErrExist) {
			return nil, err
		}
		if time.Since(began) > 10*time.Second {
			holder, _ := os.ReadFile(name)
			return nil, fmt.Errorf("another treaty is writing here (process %s); nothing was changed. If there is none, remove %s", holder, name)
		}
	}
}
