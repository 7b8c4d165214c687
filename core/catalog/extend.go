package catalog

import (
	"cmp"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"
)

// Folder is where a repository keeps entries for programs of its own.
const Folder = ".treaty/programs"

// Ending is what the names of entries end in.
const Ending = ".entry.toml"

// Extended returns the catalog with the entries in a folder of fsys. An entry
// with an id that is there already takes its place. The error names the files
// that are not valid.
func (c *Catalog) Extended(fsys fs.FS, folder string) (*Catalog, error) {
	files, err := fs.ReadDir(fsys, folder)
	if err != nil {
		return c, nil // most have none
	}
	out := *c
	out.Entries = slices.Clone(c.Entries)
	var errs []error
	for _, f := range files {
		if !strings.HasSuffix(f.Name(), Ending) {
			continue
		}
		name := path.Join(folder, f.Name())
		text, err := fs.ReadFile(fsys, name)
		if err != nil {
			errs = append(errs, err)
			continue
		}
		e, err := Decode(name, text)
		if err != nil {
			errs = append(errs, err)
			continue
		}
		if want := strings.TrimSuffix(f.Name(), Ending); e.ID != want {
			errs = append(errs, fmt.Errorf("%s: its id is %q; an entry is named after its id: %s%s", name, e.ID, e.ID, Ending))
			continue
		}
		i, found := slices.BinarySearchFunc(out.Entries, e.ID, func(e *Entry, id string) int { return cmp.Compare(e.ID, id) })
		if found {
			out.Entries[i] = e
		} else {
			out.Entries = slices.Insert(out.Entries, i, e)
		}
	}
	return &out, errors.Join(errs...)
}
