package repo

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/google/renameio/v2"
)

// Change is new contents for a file. Nil Before stands for a file that is not
// there yet, nil After for one that goes.
type Change struct {
	Path          string
	Before, After []byte
}

// Write carries out all changes or none. Every new text is on disk beside its
// file before the first file is replaced, and each replacement is one rename,
// so that no file is ever half-written; if one fails, those before it are put
// back. A file that no longer has the contents the change was made from is an
// error, and nothing is written.
func (r *Repo) Write(changes []Change) error {
	targets := make([]string, len(changes))
	pending := make([]*renameio.PendingFile, len(changes))
	defer func() {
		for _, p := range pending {
			if p != nil {
				p.Cleanup() // does nothing once the file is in its place
			}
		}
	}()
	for i, c := range changes {
		target, err := r.target(c.Path)
		if err != nil {
			return err
		}
		targets[i] = target
		if err := unchanged(target, c); err != nil {
			return err
		}
		if c.After == nil {
			if err := writableFolder(filepath.Dir(target)); err != nil {
				return notWritten(c.Path, err)
			}
			continue
		}
		p, err := renameio.NewPendingFile(target, renameio.WithExistingPermissions(), renameio.WithPermissions(0o644))
		if err != nil {
			return notWritten(c.Path, err)
		}
		pending[i] = p
		if _, err := p.Write(c.After); err != nil {
			return notWritten(c.Path, err)
		}
	}
	for i, c := range changes {
		var err error
		if c.After == nil {
			err = os.Remove(targets[i])
		} else {
			err = pending[i].CloseAtomicallyReplace()
		}
		if err != nil {
			if back := putBack(changes[:i], targets); back != nil {
				return fmt.Errorf("%w; and putting back what was changed failed: %w", notWritten(c.Path, err), back)
			}
			return notWritten(c.Path, err)
		}
	}
	return nil
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
func putBack(done []Change, targets []string) error {
	var errs []error
	for i, c := range done {
		if c.Before == nil {
			errs = append(errs, os.Remove(targets[i]))
		} else {
			errs = append(errs, renameio.WriteFile(targets[i], c.Before, 0o644, renameio.WithExistingPermissions()))
		}
	}
	return errors.Join(errs...)
}
