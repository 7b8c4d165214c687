package repo

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strconv"
	"strings"
)

// A settlement is carried out by way of a journal. Before the first file changes,
// the journal holds what each was and is to be, safely on disk; what begins after it
// is finished, or taken back, by whoever is told to. When all is done the journal
// becomes the record of the last settlement, by which it can be undone.
const (
	journalName  = "journal"     // a settlement that is being carried out
	buildingName = "journal-new" // one that is not in place yet, or no longer
	lastName     = "last"        // the settlement before
	keptName     = "kept"        // copies of what was overwritten although it was not committed
	recordName   = "record.json"
	tempPrefix   = ".treaty-new-" // of files that are about to take their place
)

// journalVersion is the version of the form of journals.
const journalVersion = 2

// journal is what a settlement changes, in order.
type journal struct {
	undo  bool // it takes a settlement back
	steps []journaled
}

// journaled is one file's change.
type journaled struct {
	Change
	target  string      // where the path leads, links followed
	mode    fs.FileMode // the rights of the file, or which it had or is to have
	temp    string      // beside the target, the name of the file that takes its place
	folders []string    // which are made for it, the deepest first
}

// record is a journal on disk: the texts lie beside it as N.before and N.after.
type record struct {
	Version int        `json:"version"`
	Root    string     `json:"root"`
	Undo    bool       `json:"undo,omitempty"`
	Files   []recorded `json:"files"`
}

// recorded is a file in a record. Paths are quoted, as they need not be valid text.
type recorded struct {
	Path    string      `json:"path"`
	Target  string      `json:"target"`
	Temp    string      `json:"temp"`
	Created bool        `json:"created,omitempty"`
	Deleted bool        `json:"deleted,omitempty"`
	Mode    fs.FileMode `json:"mode"`
	Folders []string    `json:"folders,omitempty"`
}

// put puts a journal in its place in one step. What killed runs began is taken away;
// only one run is here at a time.
func (j *journal) put(state *place, root string) error {
	if err := state.removeAll(buildingName); err != nil {
		return err
	}
	if err := state.makeFolder(buildingName, 0o700); err != nil {
		return err
	}
	rec := record{Version: journalVersion, Root: strconv.QuoteToASCII(root), Undo: j.undo, Files: []recorded{}}
	for i, c := range j.steps {
		f := recorded{Path: strconv.QuoteToASCII(c.Path), Target: strconv.QuoteToASCII(c.target), Temp: strconv.QuoteToASCII(c.temp),
			Created: c.Before == nil, Deleted: c.After == nil, Mode: c.mode.Perm()}
		for _, dir := range c.folders {
			f.Folders = append(f.Folders, strconv.QuoteToASCII(dir))
		}
		rec.Files = append(rec.Files, f)
		for suffix, text := range map[string][]byte{".before": c.Before, ".after": c.After} {
			if text == nil {
				continue
			}
			if err := state.create(buildingName+"/"+strconv.Itoa(i)+suffix, text, 0o600); err != nil {
				return err
			}
		}
	}
	text, err := json.Marshal(rec)
	if err != nil {
		return err
	}
	if err := state.create(buildingName+"/"+recordName, text, 0o600); err != nil {
		return err
	}
	if err := state.keepFolder(buildingName); err != nil {
		return err
	}
	if err := state.rename(buildingName, journalName); err != nil {
		return err
	}
	return state.keepFolder(".")
}

// drop takes a journal, or the record of the last settlement, away, in one step.
func drop(state *place, name string) error {
	if !state.there(name) {
		return nil
	}
	if err := state.removeAll(buildingName); err != nil {
		return err
	}
	if err := state.rename(name, buildingName); err != nil {
		return err
	}
	return state.removeAll(buildingName)
}

// end makes the journal the record of the last settlement, or takes both away where
// it took that back.
func (j *journal) end(state *place) error {
	if err := drop(state, lastName); err != nil {
		return err
	}
	if j.undo {
		return drop(state, journalName)
	}
	if err := state.rename(journalName, lastName); err != nil {
		return err
	}
	return state.keepFolder(".")
}

// readJournal reads a journal, or the record of the last settlement; nil if there is
// none. It takes nothing on trust that could lead out of the repository, into git's
// own folder, or to rights that no settings file has.
func readJournal(state *place, name, root string) (*journal, error) {
	if !state.there(name) {
		return nil, nil
	}
	fail := func(err error) (*journal, error) {
		return nil, fmt.Errorf("the journal %s/%s cannot be used: %w", state.name, name, reason(err))
	}
	text, _, err := state.read(name + "/" + recordName)
	if err != nil {
		return fail(err)
	}
	var rec record
	if err := json.Unmarshal(text, &rec); err != nil {
		return fail(err)
	}
	if rec.Version != journalVersion {
		return fail(errors.New("it was written by another version of this program"))
	}
	if of, err := strconv.Unquote(rec.Root); err != nil || of != root {
		return fail(errors.New("it is about another repository"))
	}
	j := &journal{undo: rec.Undo}
	for i, f := range rec.Files {
		c := journaled{mode: f.Mode.Perm()}
		c.folders = make([]string, len(f.Folders))
		names := []*string{&c.Path, &c.target, &c.temp}
		for i := range c.folders {
			names = append(names, &c.folders[i])
		}
		for i, quoted := range append([]string{f.Path, f.Target, f.Temp}, f.Folders...) {
			if *names[i], err = strconv.Unquote(quoted); err != nil || !valid(*names[i]) || gits(*names[i]) {
				return fail(fmt.Errorf("it names %s, which no settlement changes", quoted))
			}
		}
		if path.Dir(c.temp) != path.Dir(c.target) || !strings.HasPrefix(path.Base(c.temp), tempPrefix) ||
			slices.ContainsFunc(c.folders, func(dir string) bool { return !strings.HasPrefix(c.target, dir+"/") }) {
			return fail(fmt.Errorf("it names %s, which no settlement makes", f.Temp))
		}
		if f.Created && !j.undo && c.mode&0o111 != 0 {
			return fail(fmt.Errorf("it makes %s a program", f.Path))
		}
		read := func(suffix string) ([]byte, error) {
			text, _, err := state.read(name + "/" + strconv.Itoa(i) + suffix)
			return text, err
		}
		if !f.Created {
			if c.Before, err = read(".before"); err != nil {
				return fail(err)
			}
		}
		if !f.Deleted {
			if c.After, err = read(".after"); err != nil {
				return fail(err)
			}
		}
		j.steps = append(j.steps, c)
	}
	return j, nil
}
