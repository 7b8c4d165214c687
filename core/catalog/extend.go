package catalog

import (
	"cmp"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/document"
)

// Folder is where a repository keeps entries for programs of its own.
const Folder = ".treaty/programs"

// Ending is what the names of entries end in.
const Ending = ".entry.toml"

// Bounds of entries in a folder: of each, in bytes, of which the largest built-in one
// has a tenth, and of how many are read.
const (
	maxEntry   = 1 << 20
	maxEntries = 500
)

// Extended returns the catalog with the entries in a folder of fsys. An entry
// with an id that is there already takes its place. Entries that are not valid are
// left out, and told with their positions.
func (c *Catalog) Extended(fsys fs.FS, folder string) (*Catalog, []*document.SyntaxError) {
	return c.extended(fsys, folder, true)
}

// Completed is Extended, but an entry with an id that is there already is left out.
func (c *Catalog) Completed(fsys fs.FS, folder string) (*Catalog, []*document.SyntaxError) {
	return c.extended(fsys, folder, false)
}

func (c *Catalog) extended(fsys fs.FS, folder string, replace bool) (*Catalog, []*document.SyntaxError) {
	files, err := fs.ReadDir(fsys, folder)
	if err != nil {
		return c, nil // most have none
	}
	out := *c
	out.Entries = slices.Clone(c.Entries)
	var wrong []*document.SyntaxError
	read := 0
	for _, f := range files {
		if !strings.HasSuffix(f.Name(), Ending) {
			continue
		}
		name := path.Join(folder, f.Name())
		if read++; read > maxEntries {
			wrong = append(wrong, invalid(name, fmt.Errorf("there are more than %d entries; the others are left out", maxEntries)))
			break
		}
		e, err := readEntry(fsys, name)
		if err != nil {
			wrong = append(wrong, invalid(name, err))
			continue
		}
		i, found := slices.BinarySearchFunc(out.Entries, e.ID, func(e *Entry, id string) int { return cmp.Compare(e.ID, id) })
		switch {
		case !found:
			out.Entries = slices.Insert(out.Entries, i, e)
		case replace:
			out.Entries[i] = e
		}
	}
	return &out, wrong
}

// readEntry reads the entry in a file that is named after its id.
func readEntry(fsys fs.FS, name string) (*Entry, error) {
	f, err := fsys.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	text, err := io.ReadAll(io.LimitReader(f, maxEntry+1))
	if err != nil {
		return nil, err
	}
	if len(text) > maxEntry {
		return nil, fmt.Errorf("larger than %d kB, too large for an entry", maxEntry>>10)
	}
	e, err := Decode(name, text)
	if err != nil {
		return nil, err
	}
	if want := strings.TrimSuffix(path.Base(name), Ending); e.ID != want {
		return nil, fmt.Errorf("its id is %q; an entry is named after its id: %s%s", e.ID, e.ID, Ending)
	}
	return e, nil
}

// invalid is what is wrong with an entry, with its place.
func invalid(name string, err error) *document.SyntaxError {
	var at *document.SyntaxError
	if errors.As(err, &at) {
		return at
	}
	var opening *fs.PathError
	if errors.As(err, &opening) {
		err = opening.Err
	}
	return &document.SyntaxError{Path: name, Line: 1, Column: 1, Message: err.Error()}
}
