package repo

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"

	"github.com/google/renameio/v2/maybe"
)

// Save writes a file that a person named on the command line, in a single step: one
// below the repository as everything there is written, so that no link in it leads
// the text anywhere else.
func (r *Repo) Save(name string, text []byte) error {
	rel, below, err := r.below(name)
	switch {
	case err != nil:
		return err
	case !below:
		return saveOutside(name, text)
	}
	target, err := r.target(rel)
	if err != nil {
		return err
	}
	mode := fs.FileMode(0o644)
	if info, err := r.place.root.Lstat(target); err == nil {
		if !info.Mode().IsRegular() {
			return notRegular(rel, info.Mode())
		}
		mode = info.Mode()
	}
	temp := tempBeside(target)
	if err = r.place.create(temp, text, mode); err == nil {
		err = r.place.rename(temp, target)
	}
	if err != nil && r.place.there(temp) {
		err = errors.Join(err, r.place.remove(temp))
	}
	return err
}

func saveOutside(name string, text []byte) error {
	if info, err := os.Stat(name); err == nil && !info.Mode().IsRegular() {
		return os.WriteFile(name, text, 0o644) // into a pipe or a device
	}
	return maybe.WriteFile(name, text, 0o644)
}

// Load reads a file that a person named on the command line, one below the repository
// without following links out of it.
func (r *Repo) Load(name string) ([]byte, error) {
	rel, below, err := r.below(name)
	switch {
	case err != nil:
		return nil, err
	case !below:
		return LoadOutside(name)
	}
	return fs.ReadFile(r.FS(), rel)
}

// LoadAt reads a file that a person named as it is in a revision, if it lies below the
// repository, else as it is.
func (r *Repo) LoadAt(v *Revision, name string) ([]byte, error) {
	rel, below, err := r.below(name)
	switch {
	case err != nil:
		return nil, err
	case !below:
		return LoadOutside(name)
	}
	text, err := fs.ReadFile(v, rel)
	if missing := v.Missing(); missing != nil {
		return nil, missing
	}
	return text, err
}

// LoadOutside reads a file that a person named and that lies in no repository. It may
// be a pipe, as a shell makes.
func LoadOutside(name string) ([]byte, error) {
	f, err := os.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	text, err := io.ReadAll(io.LimitReader(f, maxFile+1))
	if err == nil && len(text) > maxFile {
		err = fmt.Errorf("%s: %w", name, errLarge)
	}
	return text, err
}

// below reports whether a name from the command line is one below the repository,
// and returns the path there. Links on the way to the repository count, those in it
// do not.
func (r *Repo) below(name string) (string, bool, error) {
	full, err := filepath.Abs(name)
	if err != nil {
		return "", false, err
	}
	root := resolved(r.Root)
	for up, rest := full, ""; ; up, rest = filepath.Dir(up), filepath.Join(filepath.Base(up), rest) {
		if samePath(resolved(up), root) && rest != "" {
			return filepath.ToSlash(rest), true, nil
		}
		if up == filepath.Dir(up) {
			return "", false, nil
		}
	}
}
