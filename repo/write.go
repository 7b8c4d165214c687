package repo

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// Change is new contents for a file. Nil Before stands for a file that is not
// there yet, nil After for one that goes.
type Change struct {
	Path          string
	Before, After []byte
}

// Write carries out all changes or none, by way of a journal (see journal.go). A
// file that no longer has the contents the change was made from is an error, and
// nothing is written; if writing fails half-way, what was changed is put back.
func (r *Repo) Write(changes []Change) error {
	if len(changes) == 0 {
		return nil
	}
	targets, modes := make([]string, len(changes)), make([]fs.FileMode, len(changes))
	for i, c := range changes {
		var err error
		if targets[i], err = r.target(c.Path); err != nil {
			return err
		}
		if err := unchanged(targets[i], c); err != nil {
			return err
		}
		if modes[i], err = r.writable(targets[i], c); err != nil {
			return notWritten(c.Path, err)
		}
	}
	state, err := r.state()
	if err != nil {
		return err
	}
	unlock, err := lock(state)
	if err != nil {
		return err
	}
	defer unlock()
	for i, c := range changes { // another run may have written while this one waited
		if err := unchanged(targets[i], c); err != nil {
			return err
		}
	}
	if err := writeRecord(state, changes, modes); err != nil {
		return fmt.Errorf("the journal in %s cannot be written (%w); nothing was changed", state, reason(err))
	}
	for i, c := range changes {
		if err := carry(targets[i], c, modes[i]); err != nil {
			back := putBack(changes[:i], targets, modes)
			err = errors.Join(notWritten(c.Path, err), back, os.RemoveAll(filepath.Join(state, journalName)))
			return err
		}
	}
	return r.close(state)
}

// Replace gives one file that is there other contents, in one step and with no way
// back. A file that no longer has the contents before is an error.
func (r *Repo) Replace(path string, before, after []byte) error {
	c := Change{path, before, after}
	target, err := r.target(path)
	if err != nil {
		return err
	}
	mode, err := r.writable(target, c)
	if err != nil {
		return notWritten(path, err)
	}
	return carry(target, c, mode)
}

// writable returns the rights of a file that is to change, or why it cannot.
func (r *Repo) writable(target string, c Change) (fs.FileMode, error) {
	if err := writableFolder(filepath.Dir(target)); err != nil {
		return 0, err
	}
	if c.Before == nil {
		return 0o644, nil
	}
	info, err := os.Stat(target)
	if err != nil {
		return 0, err
	}
	if info.Mode().Perm()&0o222 == 0 {
		return 0, errors.New("it is read-only")
	}
	return info.Mode(), nil
}

func notWritten(path string, err error) error {
	return fmt.Errorf("%s cannot be written (%w); nothing was changed. Make it writable and run the command again", path, reason(err))
}

// reason strips what an error repeats of the path.
func reason(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}

// target returns where a path leads, links followed, and refuses places outside
// the repository.
func (r *Repo) target(path string) (string, error) {
	full := filepath.Join(r.Root, filepath.FromSlash(path))
	root, err := filepath.EvalSymlinks(r.Root)
	if err != nil {
		return "", err
	}
	real, err := filepath.EvalSymlinks(full)
	if errors.Is(err, fs.ErrNotExist) {
		folder, folderErr := filepath.EvalSymlinks(filepath.Dir(full))
		if folderErr != nil {
			return "", notWritten(path, folderErr)
		}
		real, err = filepath.Join(folder, filepath.Base(full)), nil
	}
	if err != nil {
		return "", notWritten(path, err)
	}
	if !strings.HasPrefix(real, root+string(filepath.Separator)) {
		return "", fmt.Errorf("%s leads out of the repository and is not written", path)
	}
	return real, nil
}

// unchanged checks that a file still is what the change was made from.
func unchanged(target string, c Change) error {
	now, err := os.ReadFile(target)
	switch {
	case errors.Is(err, fs.ErrNotExist) && c.Before == nil:
		return nil
	case err != nil:
		return notWritten(c.Path, err)
	case c.Before == nil || !bytes.Equal(now, c.Before):
		return fmt.Errorf("%s changed while the plan was made; nothing was written. Run the command again", c.Path)
	}
	return nil
}

// writableFolder returns why nothing can be taken out of a folder, or nil.
func writableFolder(dir string) error {
	f, err := os.CreateTemp(dir, ".treaty-*")
	if err != nil {
		return err
	}
	f.Close()
	return os.Remove(f.Name())
}

// putBack restores files that were changed already.
func putBack(done []Change, targets []string, modes []fs.FileMode) error {
	var errs []error
	for i, c := range done {
		if err := carry(targets[i], Change{Path: c.Path, Before: c.After, After: c.Before}, modes[i]); err != nil {
			errs = append(errs, fmt.Errorf("%s could not be put back: %w", c.Path, err))
		}
	}
	return errors.Join(errs...)
}
