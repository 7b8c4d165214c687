package repo

import (
	"bytes"
	"crypto/rand"
	"errors"
	"fmt"
	"io/fs"
	"path"
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
	j := &journal{}
	for _, c := range changes {
		step, err := r.prepare(c)
		if err != nil {
			return err
		}
		j.steps = append(j.steps, step)
	}
	return r.carryOut(j)
}

// prepare finds out what a change needs, and whether it can be made.
func (r *Repo) prepare(c Change) (journaled, error) {
	target, err := r.target(c.Path)
	if err != nil {
		return journaled{}, err
	}
	step := journaled{Change: c, target: target, mode: 0o644, temp: tempBeside(target)}
	for dir := path.Dir(target); c.Before == nil && !r.place.there(dir); dir = path.Dir(dir) {
		step.folders = append(step.folders, dir)
	}
	if err := r.unchanged(step); err != nil {
		return journaled{}, err
	}
	if c.Before == nil {
		return step, nil
	}
	info, err := r.place.root.Lstat(target)
	if err != nil {
		return journaled{}, notWritten(c.Path, err)
	}
	if info.Mode().Perm()&0o222 == 0 {
		return journaled{}, notWritten(c.Path, errors.New("it is read-only"))
	}
	step.mode = info.Mode().Perm()
	return step, nil
}

// tempBeside is a name that nobody can have foreseen, in the same folder.
func tempBeside(target string) string {
	return path.Join(path.Dir(target), tempPrefix+strings.ToLower(rand.Text()))
}

// target returns where a path leads, links followed, and refuses places outside
// the repository and in git's own folder.
func (r *Repo) target(name string) (string, error) {
	if !valid(name) {
		return "", fmt.Errorf("%s leads out of the repository and is not written", name)
	}
	real, err := r.place.resolve(name)
	var link *fs.PathError
	switch {
	case errors.Is(err, errLeadsOut) && errors.As(err, &link) && link.Path != name:
		return "", fmt.Errorf("%s leads out of the repository, by the link %s, and is not written", name, link.Path)
	case errors.Is(err, errLeadsOut):
		return "", fmt.Errorf("%s leads out of the repository and is not written: it is a link", name)
	case err != nil:
		return "", notWritten(name, err)
	case gits(real):
		return "", fmt.Errorf("%s lies in git's own folder and is not written", name)
	}
	return real, nil
}

// unchanged checks that a file still is what the change was made from.
func (r *Repo) unchanged(c journaled) error {
	now, there, err := r.now(c.target)
	switch {
	case err != nil:
		return notWritten(c.Path, err)
	case !there && c.Before == nil:
		return nil
	case !there:
		return notWritten(c.Path, fs.ErrNotExist)
	case c.Before == nil || !bytes.Equal(now, c.Before):
		return fmt.Errorf("%s changed while the plan was made; nothing was written. Run the command again", c.Path)
	}
	return nil
}

// now reads a file that may be missing.
func (r *Repo) now(target string) (text []byte, there bool, err error) {
	text, _, err = r.place.read(target)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, false, nil
	}
	return text, err == nil, err
}

// carryOut carries out a journal that is not written yet.
func (r *Repo) carryOut(j *journal) error {
	state, err := r.state(true)
	if err != nil {
		return fmt.Errorf("%w; nothing was changed", err)
	}
	defer state.close()
	unlock, err := lock(state)
	if err != nil {
		return err
	}
	defer unlock()
	if state.there(journalName) {
		return errors.New("another settlement was interrupted here; nothing was changed. " + howToGoOn)
	}
	for _, c := range j.steps { // another run may have written while this one waited
		if err := r.unchanged(c); err != nil {
			return err
		}
	}
	if err := j.put(state, resolved(r.Root)); err != nil {
		if drop(state, journalName) != nil {
			return fmt.Errorf("the journal in %s cannot be written (%w), nor taken away; nothing was changed yet. %s", state.name, reason(err), howToGoOn)
		}
		return fmt.Errorf("the journal in %s cannot be written (%w); nothing was changed", state.name, reason(err))
	}
	for i, c := range j.steps {
		if err := r.carry(c); err != nil {
			return r.rollBack(state, j.steps[:i+1], err)
		}
	}
	r.keepFolders(j.steps)
	if err := j.end(state); err != nil {
		return fmt.Errorf("everything is written, but what undoes it cannot be kept: %w", err)
	}
	return nil
}

// keepFolders brings to disk which files the folders hold. Where that fails, the
// files are there all the same.
func (r *Repo) keepFolders(steps []journaled) {
	done := map[string]bool{}
	for _, c := range steps {
		if dir := path.Dir(c.target); !done[dir] {
			done[dir] = true
			_ = r.place.keepFolder(dir)
		}
	}
}

// rollBack puts back what was changed after the last of the steps failed. Where that
// is not possible either, the journal stays.
func (r *Repo) rollBack(state *place, steps []journaled, why error) error {
	failed := steps[len(steps)-1].Path
	for i := len(steps) - 1; i >= 0; i-- {
		if err := r.carry(steps[i].reversed()); err != nil && !(i == len(steps)-1 && errors.Is(why, errChanged)) {
			return fmt.Errorf("%s cannot be written (%w), and %s cannot be put back (%w), so that a part is changed; the journal is kept in %s. %s",
				failed, reason(why), steps[i].Path, reason(err), state.name, howToGoOn)
		}
	}
	if err := drop(state, journalName); err != nil {
		return fmt.Errorf("%w; the journal in %s cannot be taken away (%w). %s", notWritten(failed, why), state.name, reason(err), howToGoOn)
	}
	return notWritten(failed, why)
}

// reversed is the change back.
func (c journaled) reversed() journaled {
	c.Before, c.After = c.After, c.Before
	return c
}

// carry brings a file to its new text, if it is not there already. Of one that
// somebody changed in between it says so and leaves it.
func (r *Repo) carry(c journaled) error {
	if r.place.there(c.temp) { // a run that was stopped has left it
		if err := r.place.remove(c.temp); err != nil {
			return err
		}
	}
	if real, err := r.place.resolve(c.target); err != nil {
		return err
	} else if real != c.target || gits(real) {
		return errChanged
	}
	now, there, err := r.now(c.target)
	switch {
	case err != nil:
		return err
	case there && c.After != nil && bytes.Equal(now, c.After):
		return nil
	case !there && c.After == nil:
		return r.removeFolders(c)
	case there != (c.Before != nil) || there && !bytes.Equal(now, c.Before):
		return errChanged
	case c.After == nil:
		if err := r.place.remove(c.target); err != nil {
			return err
		}
		return r.removeFolders(c)
	}
	if !there && len(c.folders) > 0 {
		if err := r.place.makeFolder(c.folders[0], 0o755); err != nil {
			return err
		}
	}
	err = r.place.create(c.temp, c.After, c.mode)
	if err == nil {
		if there {
			if was, err := r.place.root.Lstat(c.target); err == nil {
				sameOwner(r.place.root, c.temp, was)
			}
		}
		err = r.place.rename(c.temp, c.target)
	}
	if err != nil {
		_ = r.place.remove(c.temp)
	}
	return err
}

// removeFolders takes away the folders that were made for a file, unless something
// else has come to lie in them.
func (r *Repo) removeFolders(c journaled) error {
	for _, dir := range c.folders {
		if !r.place.there(dir) {
			continue
		}
		entries, err := fs.ReadDir(r.FS(), dir)
		if err != nil || len(entries) > 0 {
			return err
		}
		if err := r.place.remove(dir); err != nil {
			return err
		}
	}
	return nil
}

var errChanged = errors.New("somebody changed it in between")

// Replace gives one file that is there other contents, in one step and with no way
// back. A file that no longer has the contents before is an error.
func (r *Repo) Replace(path string, before, after []byte) error {
	c, err := r.prepare(Change{path, before, after})
	if err == nil {
		if err = r.carry(c); err != nil {
			err = notWritten(path, err)
		}
	}
	return err
}

// notWritten says that a file stands in the way of all changes.
func notWritten(path string, err error) error {
	return fmt.Errorf("%s cannot be written (%w); nothing was changed. Make it writable and run the command again", path, reason(err))
}
