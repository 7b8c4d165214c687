package treaty

import (
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"jollytreaty/core/document"
)

// Sources are where treaty files are read from. Each returns nil for a file that is
// not there.
type Sources struct {
	// Read reads a file of the repository, by its path from the root.
	Read func(path string) ([]byte, error)

	// Outside reads a file that lies outside of the repository, by its path from the
	// root ("../house/treaty.toml"), for the treaty file that adopts it. Its error says
	// what has to be done before it may be read. Nil where there is no outside.
	Outside func(path, by string) ([]byte, error)

	// House is the path of house rules that are adopted whatever the treaty file says,
	// as its weakest; "" for none.
	House string
}

// maxHouses bounds how many files with house rules are read.
const maxHouses = 100

// Load reads the treaty file at the root with the house rules it adopts, and those
// that they adopt, each once. It returns nil if there is neither. Errors carry path,
// line and column.
func Load(from Sources) (*Treaty, error) {
	l := loader{from: from, had: map[string]bool{}}
	t, err := l.first(Name)
	if err != nil || from.House == "" || l.had[from.House] {
		return t, err
	}
	house, err := l.first(from.House)
	switch {
	case err != nil:
		return nil, err
	case house == nil:
		return nil, fmt.Errorf("there are no house rules in %s", from.House)
	case t == nil:
		t = &Treaty{Path: Name}
	}
	t.House = slices.Concat(house.House, house.Articles, t.House)
	t.exempt(house.Exempt)
	return t, nil
}

// loader reads treaty files, each once.
type loader struct {
	from Sources
	had  map[string]bool
}

// first loads a treaty file that no other adopts.
func (l *loader) first(name string) (*Treaty, error) {
	src, err := l.read(name, "")
	if err != nil || src == nil {
		return nil, err
	}
	return l.load(name, src, nil)
}

// load reads the text of a treaty file, and what it adopts; above are the files on
// the way to it.
func (l *loader) load(name string, src []byte, above []string) (*Treaty, error) {
	l.had[name] = true
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
		switch {
		case path.IsAbs(a.Path) || a.Path == "":
			return nil, fail("adopts %q: a path from this file is wanted", a.Path)
		case slices.Contains(above, at):
			return nil, fail("adopts %s, which leads back here: %s", a.Path, strings.Join(append(above[slices.Index(above, at):], at), " adopts "))
		case l.had[at]:
			continue // it is adopted already
		case len(l.had) > maxHouses:
			return nil, fail("adopts %s, and with that more than %d files, which are not read", a.Path, maxHouses)
		}
		text, err := l.read(at, name)
		switch {
		case err != nil:
			return nil, fail("adopts %s: %v", a.Path, err)
		case text == nil:
			return nil, fail("adopts %s, and there is no such file", a.Path)
		}
		house, err := l.load(at, text, above)
		if err != nil {
			return nil, err
		}
		t.House = append(append(t.House, house.House...), house.Articles...)
		t.exempt(house.Exempt)
	}
	return t, nil
}

// Outside reports whether a path from the root leads out of the repository.
func Outside(name string) bool { return name == ".." || strings.HasPrefix(name, "../") }

func (l *loader) read(name, by string) ([]byte, error) {
	if !Outside(name) {
		return l.from.Read(name)
	}
	if l.from.Outside == nil {
		return nil, errors.New("it lies outside of what is looked at")
	}
	return l.from.Outside(name, by)
}

// exempt adds exemptions of types that have none yet.
func (t *Treaty) exempt(more []Exemption) {
	for _, e := range more {
		if t.Exemption(e.Type) == nil {
			t.Exempt = append(t.Exempt, e)
		}
	}
}

// JudgedBy returns the treaty with the waivers, the exemptions and the options of
// another: of the state that a change starts from, as a change is not to say how it
// is judged. A nil judge has none of them; a nil treaty adopts them alone.
func (t *Treaty) JudgedBy(judge *Treaty) *Treaty {
	if t == nil && judge == nil {
		return nil
	}
	out := &Treaty{Path: Name}
	if t != nil {
		*out = *t
	}
	out.Waivers, out.Exempt, out.Audit = nil, nil, Options{}
	if judge != nil {
		out.Waivers, out.Exempt, out.Audit = judge.Waivers, judge.Exempt, judge.Audit
	}
	return out
}

// JudgesAs reports whether two treaties have the same waivers, exemptions and options.
func (t *Treaty) JudgesAs(other *Treaty) bool {
	says := func(t *Treaty) string {
		if t == nil {
			t = &Treaty{}
		}
		text := fmt.Sprintf("%q", t.Audit)
		for _, w := range t.Waivers {
			text += fmt.Sprintf("\n%q until %s", w.Finding, w.Until.Format(time.DateOnly))
		}
		for _, e := range t.Exempt {
			text += fmt.Sprintf("\n%q", e.Type)
		}
		return text
	}
	return says(t) == says(other)
}
