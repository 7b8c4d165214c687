package repo

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"

	"github.com/google/renameio/v2/maybe"
)

// A settlement is carried out by way of a journal. Before the first file changes,
// the journal holds what each was and is to be, safely on disk. Whoever finds one
// at its start finishes what it says, so that a run that was killed leaves all
// files as they were, before the journal was there, or all as they are to be. When
// all is done the journal becomes the record of the last settlement, by which it
// can be undone.
const (
	stateFolder = "treaty"      // within git's folder
	besideIt    = ".treaty"     // at the root, where there is no git
	journalName = "journal"     // a settlement that is being carried out
	lastName    = "last"        // the one before
	keptName    = "kept"        // copies of what was overwritten although it was not committed
	tempPrefix  = ".treaty-new" // of files that are about to take their place
)

// record is a journal on disk: its files lie beside it as N.before and N.after.
type record struct {
	Files []recorded `json:"files"`
}

type recorded struct {
	Path    string      `json:"path"`
	Created bool        `json:"created,omitempty"`
	Deleted bool        `json:"deleted,omitempty"`
	Mode    fs.FileMode `json:"mode"`
}

// state returns the folder in which journals lie.
func (r *Repo) state() (string, error) {
	if r.Git {
		out, err := git(r.Root, "rev-parse", "--absolute-git-dir")
		if err != nil {
			return "", gitError(err)
		}
		return filepath.Join(strings.TrimRight(string(out), "\r\n"), stateFolder), nil
	}
	return filepath.Join(r.Root, besideIt, "state"), nil // which a walk passes over
}

// writeRecord puts a journal in its place in one step. What killed runs began is
// taken away; only one run is here at a time.
func writeRecord(state string, changes []Change, modes []fs.FileMode) error {
	building := filepath.Join(state, journalName+"-new")
	if err := os.RemoveAll(building); err != nil {
		return err
	}
	if err := os.MkdirAll(building, 0o755); err != nil {
		return err
	}
	defer os.RemoveAll(building) // nothing is there once it is renamed
	var rec record
	for i, c := range changes {
		rec.Files = append(rec.Files, recorded{Path: c.Path, Created: c.Before == nil, Deleted: c.After == nil, Mode: modes[i]})
		for suffix, text := range map[string][]byte{".before": c.Before, ".after": c.After} {
			if text == nil {
				continue
			}
			if err := writeSynced(filepath.Join(building, strconv.Itoa(i)+suffix), text); err != nil {
				return err
			}
		}
	}
	text, err := json.Marshal(rec)
	if err != nil {
		return err
	}
	if err := writeSynced(filepath.Join(building, "record.json"), text); err != nil {
		return err
	}
	if err := syncFolder(building); err != nil {
		return err
	}
	// Where the folder is no git's, git shall not take it for the repository's.
	if err := os.WriteFile(filepath.Join(state, ".gitignore"), []byte("*\n"), 0o644); err != nil {
		return err
	}
	if err := os.Rename(building, filepath.Join(state, journalName)); err != nil {
		return err
	}
	return syncFolder(state)
}

func writeSynced(path string, text []byte) error {
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	_, err = f.Write(text)
	return errors.Join(err, f.Sync(), f.Close())
}

func syncFolder(dir string) error {
	if runtime.GOOS == "windows" {
		return nil // it refuses to
	}
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	err = f.Sync()
	if errors.Is(err, fs.ErrInvalid) || errors.Is(err, errors.ErrUnsupported) {
		err = nil // not every system can
	}
	return errors.Join(err, f.Close())
}

// readRecord reads a journal, or the last settlement; nil if there is none.
func readRecord(dir string) ([]Change, []fs.FileMode, error) {
	text, err := os.ReadFile(filepath.Join(dir, "record.json"))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil, nil
	}
	if err != nil {
		return nil, nil, err
	}
	var rec record
	if err := json.Unmarshal(text, &rec); err != nil {
		return nil, nil, fmt.Errorf("%s cannot be read: %w", dir, err)
	}
	var changes []Change
	var modes []fs.FileMode
	for i, f := range rec.Files {
		c := Change{Path: f.Path}
		if !f.Created {
			if c.Before, err = os.ReadFile(filepath.Join(dir, strconv.Itoa(i)+".before")); err != nil {
				return nil, nil, err
			}
		}
		if !f.Deleted {
			if c.After, err = os.ReadFile(filepath.Join(dir, strconv.Itoa(i)+".after")); err != nil {
				return nil, nil, err
			}
		}
		changes, modes = append(changes, c), append(modes, f.Mode)
	}
	return changes, modes, nil
}

// carry brings a file to its new text, if it is not there already. Of one that
// somebody changed in between it says so and leaves it.
func carry(target string, c Change, mode fs.FileMode) error {
	now, err := os.ReadFile(target)
	there := err == nil
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	switch {
	case there && c.After != nil && bytes.Equal(now, c.After), !there && c.After == nil:
		return nil
	case there != (c.Before != nil) || there && !bytes.Equal(now, c.Before):
		return errChanged
	case c.After == nil:
		return os.Remove(target)
	}
	temp := tempBeside(target)
	defer os.Remove(temp)
	if err := writeSynced(temp, c.After); err != nil {
		return err
	}
	if err := os.Chmod(temp, mode.Perm()); err != nil {
		return err
	}
	return os.Rename(temp, target)
}

// tempBeside is the file in which a target's new text is written.
func tempBeside(target string) string {
	name := filepath.Base(target)
	return filepath.Join(filepath.Dir(target), tempPrefix+"-"+name[:min(len(name), 200)])
}

var errChanged = errors.New("somebody changed it in between")

// Recover finishes a settlement that was interrupted, and returns what was done,
// in words; "" where there was nothing to do.
func (r *Repo) Recover() (string, error) {
	state, err := r.state()
	if err != nil {
		return "", nil // without git's folder there is no journal
	}
	dir := filepath.Join(state, journalName)
	if _, err := os.Lstat(dir); errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	unlock, err := lock(state)
	if err != nil {
		return "", err
	}
	defer unlock()
	changes, modes, err := readRecord(dir)
	if err != nil || changes == nil {
		return "", err // another run has finished it
	}
	if err := r.finish(state, changes, modes); err != nil {
		return "", fmt.Errorf("a settlement that was interrupted cannot be finished: %w", err)
	}
	return fmt.Sprintf("a settlement of %d files that was interrupted is finished now", len(changes)), nil
}

// finish carries out what a journal says and makes it the last settlement.
func (r *Repo) finish(state string, changes []Change, modes []fs.FileMode) error {
	for i, c := range changes {
		target, err := r.target(c.Path)
		if err != nil {
			return err
		}
		os.Remove(tempBeside(target))
		if err := carry(target, c, modes[i]); err != nil && !errors.Is(err, errChanged) {
			return notWritten(c.Path, err)
		}
	}
	return r.close(state)
}

// close makes the journal the record of the last settlement.
func (r *Repo) close(state string) error {
	last := filepath.Join(state, lastName)
	if err := os.RemoveAll(last); err != nil {
		return err
	}
	return os.Rename(filepath.Join(state, journalName), last)
}

// Undo restores the files as they were before the last settlement, and returns
// their paths. If one of them has changed since, nothing is restored and the error
// says which.
func (r *Repo) Undo() ([]string, error) {
	state, err := r.state()
	if err != nil {
		return nil, err
	}
	last := filepath.Join(state, lastName)
	changes, _, err := readRecord(last)
	if err != nil {
		return nil, err
	}
	if changes == nil {
		return nil, errors.New("no settlement is known that could be undone")
	}
	var back []Change
	var paths, changed []string
	for _, c := range changes {
		target, err := r.target(c.Path)
		if err != nil {
			return nil, err
		}
		now, err := os.ReadFile(target)
		if errors.Is(err, fs.ErrNotExist) {
			now, err = nil, nil
		}
		if err != nil {
			return nil, err
		}
		if (now == nil) != (c.After == nil) || !bytes.Equal(now, c.After) {
			changed = append(changed, c.Path)
		}
		back = append(back, Change{Path: c.Path, Before: c.After, After: c.Before})
		paths = append(paths, c.Path)
	}
	if changed != nil {
		return nil, fmt.Errorf("%s changed since the settlement; nothing was undone. Put the change aside, or take the settlement back with git", strings.Join(changed, ", "))
	}
	if err := r.Write(back); err != nil {
		return nil, err
	}
	return paths, os.RemoveAll(last)
}

// Keep copies files into the state folder before they are overwritten, and returns
// where they lie.
func (r *Repo) Keep(paths []string, name string) (string, error) {
	state, err := r.state()
	if err != nil {
		return "", err
	}
	dir := filepath.Join(state, keptName, name)
	for _, path := range paths {
		text, err := fs.ReadFile(r.FS(), path)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return "", err
		}
		to := filepath.Join(dir, filepath.FromSlash(path))
		if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
			return "", err
		}
		if err := maybe.WriteFile(to, text, 0o644); err != nil {
			return "", err
		}
	}
	return dir, nil
}

// Uncommitted returns those of the paths that have changes git does not have in a
// commit; none outside of git.
func (r *Repo) Uncommitted(paths []string) ([]string, error) {
	if !r.Git || len(paths) == 0 {
		return nil, nil
	}
	args := append([]string{"status", "--porcelain", "-z", "--untracked-files=all", "--ignored=matching", "--no-renames", "--"}, literal(paths)...)
	out, err := git(r.Root, args...)
	if err != nil {
		return nil, gitError(err)
	}
	var dirty []string
	for line := range strings.SplitSeq(string(out), "\x00") {
		if len(line) > 3 {
			dirty = append(dirty, line[3:])
		}
	}
	return dirty, nil
}

// literal keeps git from reading patterns in paths.
func literal(paths []string) []string {
	out := make([]string, len(paths))
	for i, p := range paths {
		out[i] = ":(literal,top)" + p
	}
	return out
}
