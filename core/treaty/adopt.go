package treaty

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/document"
)

// Load reads the treaty file at the root with the house rules it adopts, and those
// that they adopt. Read is asked for files by their paths from the root, which may
// lead out of it ("../house/treaty.toml"), and returns nil for a treaty file that
// is not there. Errors carry path, line and column.
func Load(read func(path string) ([]byte, error)) (*Treaty, error) {
	return load(Name, read, nil)
}

func load(name string, read func(string) ([]byte, error), above []string) (*Treaty, error) {
	src, err := read(name)
	if err != nil || src == nil {
		return nil, err
	}
	t, err := Parse(name, src)
	if err != nil {
		return nil, err
	}
	above = append(slices.Clip(above), name)
	for _, a := range t.Adopts {
		at := path.Join(path.Dir(name), a.Path)
		fail := func(format string, args ...any) error {
			return &document.SyntaxError{Path: name, Line: a.Line, Column: 1, Message: fmt.Sprintf(format, args...)}
		}
		if path.IsAbs(a.Path) || a.Path == "" {
			return nil, fail("adopts %q: a path from this file is wanted", a.Path)
		}
		if slices.Contains(above, at) {
			return nil, fail("adopts %s, which leads back here: %s", a.Path, strings.Join(append(above[slices.Index(above, at):], at), " adopts "))
		}
		house, err := load(at, read, above)
		switch {
		case err != nil:
			return nil, err
		case house == nil:
			return nil, fail("adopts %s, and there is no such file", a.Path)
		}
		t.House = append(append(t.House, house.House...), house.Articles...)
		for _, e := range house.Exempt {
			if t.Exemption(e.Type) == nil {
				t.Exempt = append(t.Exempt, e)
			}
		}
	}
	return t, nil
}
