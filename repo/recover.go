package repo

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"strings"
)

// howToGoOn is what a person may do about a journal that is there.
const howToGoOn = `"treaty settle --write" finishes it, "treaty settle --undo" takes it back`

// Interrupted says in one line that a settlement was interrupted here and what
// finishes or undoes it; "" where none was.
func (r *Repo) Interrupted() string {
	state, err := r.state(false)
	if err != nil {
		return ""
	}
	defer state.close()
	if !state.there(journalName) {
		return ""
	}
	return "a settlement was interrupted here; " + howToGoOn
}

// Recover finishes a settlement, or the undoing of one, that was interrupted, and
// returns what was done, in words; "" where there was nothing to do. Files that
// somebody changed in between are left as they are, and named.
func (r *Repo) Recover() (string, error) { return r.recover(false) }

// recover finishes what was interrupted, or takes it back.
func (r *Repo) recover(back bool) (string, error) {
	state, err := r.state(false)
	if errors.Is(err, errNoState) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	defer state.close()
	if !state.there(journalName) {
		return "", nil
	}
	unlock, err := lock(state)
	if err != nil {
		return "", err
	}
	defer unlock()
	j, err := readJournal(state, journalName, resolved(r.Root))
	if err != nil || j == nil { // another run has finished it
		return "", err
	}
	done := "is finished now"
	steps := j.steps
	if back = back && !j.undo; back {
		done = "is taken back now"
		steps = nil
		for _, c := range j.steps {
			steps = append([]journaled{c.reversed()}, steps...)
		}
	}
	var skipped []string
	for _, c := range steps {
		err := r.carry(c)
		if errors.Is(err, errChanged) {
			skipped = append(skipped, c.Path)
		} else if err != nil {
			return "", fmt.Errorf("a settlement that was interrupted cannot be gone on with, as %s cannot be written (%w); the journal is kept in %s", c.Path, reason(err), state.name)
		}
	}
	r.keepFolders(steps)
	if back {
		err = drop(state, journalName)
	} else {
		err = j.end(state)
	}
	if err != nil {
		return "", fmt.Errorf("the files of a settlement that was interrupted are written, but the journal in %s cannot be put away: %w", state.name, reason(err))
	}
	said := fmt.Sprintf("a settlement of %d files that was interrupted %s", len(steps), done)
	if j.undo {
		said = fmt.Sprintf("the undoing of a settlement of %d files that was interrupted %s", len(steps), done)
	}
	if skipped != nil {
		said += ", but for what somebody changed in between and which was left as it is: " + strings.Join(skipped, ", ")
	}
	return said, nil
}

// Undo restores the files as they were before the last settlement, with their
// rights, and returns their paths. One that was interrupted is taken back. If a file
// has changed since, nothing is restored and the error says which.
func (r *Repo) Undo() (paths []string, said string, err error) {
	if said, err = r.recover(true); said != "" || err != nil {
		return nil, said, err
	}
	j, err := r.last()
	if err != nil {
		return nil, "", err
	}
	back := &journal{undo: true}
	var changed []string
	for _, c := range j.steps {
		if real, err := r.place.resolve(c.target); err != nil || real != c.target {
			changed = append(changed, c.Path)
			continue
		}
		now, there, err := r.now(c.target)
		if err != nil {
			return nil, "", err
		}
		if there != (c.After != nil) || !bytes.Equal(now, c.After) {
			changed = append(changed, c.Path)
		}
		step := c.reversed()
		step.temp = tempBeside(c.target)
		back.steps = append([]journaled{step}, back.steps...)
		paths = append(paths, c.Path)
	}
	if changed != nil {
		return nil, "", fmt.Errorf("%s changed since the settlement; nothing was undone. Put the change aside, or take the settlement back with git", strings.Join(changed, ", "))
	}
	if err := r.carryOut(back); err != nil {
		return nil, "", err
	}
	return paths, "", nil
}

// last reads the record of the last settlement.
func (r *Repo) last() (*journal, error) {
	state, err := r.state(false)
	var j *journal
	if err == nil {
		defer state.close()
		j, err = readJournal(state, lastName, resolved(r.Root))
	}
	if err != nil && !errors.Is(err, errNoState) {
		return nil, err
	}
	if j == nil {
		return nil, errors.New("no settlement is known that could be undone")
	}
	return j, nil
}

// Keep copies files into the state folder before they are overwritten, and returns
// where they lie.
func (r *Repo) Keep(paths []string, name string) (string, error) {
	state, err := r.state(true)
	if err != nil {
		return "", err
	}
	defer state.close()
	dir := path.Join(keptName, name)
	for n := 2; state.there(dir); n++ { // what was kept in the same second stays
		dir = path.Join(keptName, fmt.Sprintf("%s-%d", name, n))
	}
	for _, p := range paths {
		target, err := r.target(p)
		if err != nil {
			return "", err
		}
		text, mode, err := r.place.read(target)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return "", err
		}
		to := path.Join(dir, p)
		if err := state.makeFolder(path.Dir(to), 0o700); err != nil {
			return "", err
		}
		if err := state.create(to, text, mode&0o700); err != nil {
			return "", err
		}
	}
	return path.Join(state.name, dir), nil
}
