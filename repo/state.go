package repo

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
)

// stateName is the folder in which the program keeps what it knows of a repository:
// within git's own folder, or within the person's folder for the state of programs.
// A clone brings neither.
const stateName = "treaty"

// errNoState says that nothing is kept yet.
var errNoState = errors.New("nothing is kept of this repository")

// state opens the folder in which journals lie; made, if it is not there and it is
// asked for, else errNoState.
func (r *Repo) state(make bool) (*place, error) {
	base, name := "", stateName
	if r.Git {
		base = r.git.dir
	} else {
		var err error
		if base, err = stateHome(); err != nil {
			return nil, err
		}
		root := resolved(r.Root)
		if holds(root, resolved(base)) {
			if !make {
				return nil, errNoState
			}
			return nil, fmt.Errorf("the folder %s, in which is kept what undoes a settlement, lies in the repository itself, where anybody may have put it; set XDG_STATE_HOME to one elsewhere", base)
		}
		key := sha256.Sum256([]byte(root))
		name += "/" + hex.EncodeToString(key[:16])
		if make {
			if err := os.MkdirAll(base, 0o700); err != nil {
				return nil, fmt.Errorf("the folder %s, in which to keep what undoes a settlement, cannot be made (%w); set XDG_STATE_HOME to another one", base, reason(err))
			}
		}
	}
	at, err := openPlace(base)
	if err != nil {
		if errors.Is(err, fs.ErrNotExist) {
			return nil, errNoState
		}
		return nil, err
	}
	defer at.close()
	at.fault = r.place.fault
	if make && !at.there(name) {
		if err := at.makeFolder(name, 0o700); err != nil {
			return nil, err
		}
	}
	full := filepath.Join(base, filepath.FromSlash(name))
	if real, err := at.resolve(name); err == nil && real != name || errors.Is(err, errLeadsOut) {
		return nil, fmt.Errorf("%s is a link, or lies behind one; nothing is kept there", full)
	} else if err != nil {
		return nil, fmt.Errorf("the folder %s, in which is kept what undoes a settlement, cannot be used (%w)", full, reason(err))
	}
	found, err := at.within(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, errNoState
	}
	return found, err
}

// stateHome is the person's folder for the state of programs, by the XDG Base
// Directory Specification or the system's own custom.
func stateHome() (string, error) {
	if dir := os.Getenv("XDG_STATE_HOME"); filepath.IsAbs(dir) {
		return dir, nil
	}
	switch runtime.GOOS {
	case "windows":
		if dir := os.Getenv("LocalAppData"); dir != "" {
			return dir, nil
		}
	default:
		home, err := os.UserHomeDir()
		switch {
		case err != nil || !filepath.IsAbs(home):
		case runtime.GOOS == "darwin":
			return filepath.Join(home, "Library", "Application Support"), nil
		default:
			return filepath.Join(home, ".local", "state"), nil
		}
	}
	return "", errors.New("no folder is known in which to keep what undoes a settlement; set XDG_STATE_HOME")
}
