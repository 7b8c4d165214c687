package repo

import (
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// patience is how long a run waits for another one.
const patience = 10 * time.Second

// lock keeps other runs from writing until it is released. Where another run holds
// it longer than a while, the error says which. The system releases the lock of a
// run that is killed.
func lock(state *place) (release func(), err error) {
	if info, err := state.root.Lstat("lock"); err == nil && !info.Mode().IsRegular() {
		return nil, fmt.Errorf("%s: %w", filepath.Join(state.name, "lock"), notRegular("lock", info.Mode()))
	}
	f, err := state.root.OpenFile("lock", os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return nil, err
	}
	for began := time.Now(); ; time.Sleep(50 * time.Millisecond) {
		held, err := tryLock(f)
		if err != nil {
			f.Close()
			return nil, err
		}
		if held {
			break
		}
		if time.Since(began) > patience {
			holder, _ := io.ReadAll(io.LimitReader(f, 64))
			f.Close()
			return nil, fmt.Errorf("another treaty is writing here (process %s); nothing was changed. Run the command again when it is done", strings.TrimSpace(string(holder)))
		}
	}
	f.Truncate(0)
	f.WriteAt([]byte(fmt.Sprintf("%d\n", os.Getpid())), 0)
	return func() { f.Close() }, nil
}
