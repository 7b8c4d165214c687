package catalog

import (
	"cmp"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"

	"github.com/pelletier/go-toml/v2"

	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
)

//go:embed programs/*.toml places.toml friction.toml
var files embed.FS

// Catalog is a set of entries.
type Catalog struct {
	Entries  []*Entry // in id order
	Places   *Places
	Friction []*Friction
}

// BuiltIn returns the catalog that comes with the program. It is decoded once,
// on all cores, and must not be changed.
var BuiltIn = sync.OnceValues(func() (*Catalog, error) {
	names, err := fs.Glob(files, "programs/*.toml")
	if err != nil {
		return nil, err
	}
	c := &Catalog{Entries: make([]*Entry, len(names))}
	errs := make([]error, len(names)+2)
	var wait sync.WaitGroup
	for i, name := range names {
		wait.Go(func() {
			text, err := files.ReadFile(name)
			if err == nil {
				c.Entries[i], err = decode(path.Base(name), text)
			}
			errs[i] = err
		})
	}
	text, err := files.ReadFile("places.toml")
	if err == nil {
		c.Places = &Places{}
		if err = strict(text, c.Places); err == nil {
			err = c.Places.check()
		}
	}
	errs[len(names)] = err
	c.Friction, errs[len(names)+1] = readFriction()
	wait.Wait()
	if err := errors.Join(errs...); err != nil {
		return nil, err
	}
	slices.SortFunc(c.Entries, func(a, b *Entry) int { return cmp.Compare(a.ID, b.ID) })
	return c, nil
})

// ByID returns the entry with the given id, or nil.
func (c *Catalog) ByID(id string) *Entry {
	i, found := slices.BinarySearchFunc(c.Entries, id, func(e *Entry, id string) int { return cmp.Compare(e.ID, id) })
	if !found {
		return nil
	}
	return c.Entries[i]
}

// FormattersOf returns the formatters that cover the type, in id order.
func (c *Catalog) FormattersOf(typeID string) []*Entry {
	var out []*Entry
	for _, e := range c.Entries {
		if _, ok := e.Covering(typeID); ok && e.Has(Formatter) {
			out = append(out, e)
		}
	}
	return out
}

func strict(text []byte, into any) error {
	return toml.NewDecoder(strings.NewReader(string(text))).DisallowUnknownFields().Decode(into)
}

// Decode reads and checks one entry. The error is a *document.SyntaxError.
func Decode(name string, text []byte) (*Entry, error) {
	e, err := decode(name, text)
	if err != nil {
		return nil, err
	}
	for what, text := range map[string]string{"name": e.Name, "version": e.Version, "source": e.Source} {
		if strings.ContainsAny(text, "\r\n") || len(text) > longestName {
			return nil, invalid(name, fmt.Errorf("%s has to be one line of at most %d bytes", what, longestName))
		}
	}
	var all map[string]any
	if err := toml.Unmarshal(text, &all); err == nil {
		if odd, found := unprintable(all); found {
			return nil, invalid(name, fmt.Errorf("%q holds characters that do not show", odd))
		}
	}
	if err := e.Known.Check(); err != nil {
		return nil, invalid(name, err)
	}
	return e, nil
}

// decode is Decode but for the known keys, which are read when they are needed.
func decode(name string, text []byte) (*Entry, error) {
	e := &Entry{}
	if err := strict(text, e); err != nil {
		at := invalid(name, err)
		at.Message = strings.TrimPrefix(at.Message, "toml: ")
		var missing *toml.StrictMissingError
		var wrong *toml.DecodeError
		switch {
		case errors.As(err, &missing) && len(missing.Errors) > 0:
			wrong = &missing.Errors[0]
			at.Message = fmt.Sprintf("unknown key %q", strings.Join(wrong.Key(), "."))
			at.Line, at.Column = wrong.Position()
		case errors.As(err, &wrong):
			at.Line, at.Column = wrong.Position()
		}
		return nil, at
	}
	if err := e.check(); err != nil {
		return nil, invalid(name, err)
	}
	e.expand()
	return e, nil
}

// longestName bounds what an entry says of itself, in bytes.
const longestName = 300

// unprintable returns the first text in data that holds a character that does anything
// but show: what entries say is printed.
func unprintable(data any) (string, bool) {
	switch v := data.(type) {
	case string:
		return v, strings.IndexFunc(v, func(r rune) bool { return r != '\n' && r != '\t' && !unicode.IsPrint(r) }) >= 0
	case []any:
		for _, item := range v {
			if odd, found := unprintable(item); found {
				return odd, true
			}
		}
	case map[string]any:
		for _, key := range slices.Sorted(maps.Keys(v)) {
			for _, part := range []any{key, v[key]} {
				if odd, found := unprintable(part); found {
					return odd, true
				}
			}
		}
	}
	return "", false
}

// idForm is the form of ids: they name files, and stand in commands that people type.
var idForm = regexp.MustCompile(`^[a-z0-9][a-z0-9._+-]*$`)

func (e *Entry) check() error {
	if e.ID == "" || e.Name == "" || e.Version == "" || e.Source == "" || len(e.Roles) == 0 {
		return errors.New("id, name, version, source and roles are needed")
	}
	if !idForm.MatchString(e.ID) {
		return fmt.Errorf("id = %q has other characters than small letters, digits and . _ + -", e.ID)
	}
	for _, r := range e.Roles {
		if !slices.Contains([]string{Formatter, Linter, Editor, VersionControl, ImportSorter, Language}, r) {
			return fmt.Errorf("unknown role %q", r)
		}
	}
	for _, t := range slices.Concat(e.Covers, e.Toolchain, slices.Sorted(maps.Keys(e.Plugged))) {
		if t != "*" && filetype.ByID(t) == nil {
			return unknownType(t)
		}
	}
	for what, does := range map[string]string{"keys": e.Unknown.Keys, "values": e.Unknown.Values, "presets": e.Unknown.Presets} {
		if does != "" && !slices.Contains(unknownWords, does) {
			return fmt.Errorf("unknown %s = %q is none of %v", what, does, unknownWords)
		}
	}
	if _, ok := e.Bases[e.Bare]; e.Bare != "" && !ok {
		return fmt.Errorf("bare = %q is none of its bases", e.Bare)
	}
	for _, p := range e.Settings {
		if len(p.Files) == 0 || p.Syntax == "" {
			return fmt.Errorf("settings %q need files and a syntax", p.ID)
		}
		if !slices.Contains([]string{"nearest", "merged", "root", "given"}, p.Search) {
			return fmt.Errorf("settings %q: search is nearest, merged, root or given, not %q", p.ID, p.Search)
		}
		if !p.Syntax.Known() {
			return fmt.Errorf("settings %q: syntax %q is none of %v", p.ID, p.Syntax, document.SyntaxNames())
		}
		if !slices.Contains(pattern.Dialects, p.IgnoreGlobs) {
			return fmt.Errorf("settings %q: ignore_globs %q is none of %v", p.ID, p.IgnoreGlobs, pattern.Dialects)
		}
		if !slices.Contains(pattern.Dialects, p.Globs) {
			return fmt.Errorf("settings %q: globs %q is none of %v", p.ID, p.Globs, pattern.Dialects)
		}
		for _, o := range p.Overrides {
			if o.Key == "" || !slices.Contains(pattern.Dialects, o.Globs) {
				return fmt.Errorf("settings %q: overrides need a key, and globs out of %v", p.ID, pattern.Dialects)
			}
		}
	}
	for _, b := range e.Bridges {
		if b.Runs == "" || b.On == nil {
			return errors.New("a bridge needs the program it runs, and when")
		}
	}
	for _, place := range e.Settings {
		for _, i := range place.Extends {
			if _, err := regexp.Compile(i.Names); err != nil {
				return fmt.Errorf("extends %s: %w", i.Key, err)
			}
		}
	}
	for _, f := range e.Formats {
		if f.On == nil {
			return errors.New("formats needs what switches it")
		}
		for _, t := range f.Types {
			if filetype.ByID(t) == nil {
				return unknownType(t)
			}
		}
	}
	for _, q := range e.Rules {
		if err := e.checkQuestion(q); err != nil {
			return fmt.Errorf("rule %s: %w", q.Rule, err)
		}
	}
	return nil
}

func unknownType(id string) error {
	return fmt.Errorf("unknown file type %q; the nearest is %q", id, nearest.Closest(id, filetype.IDs()))
}

func (e *Entry) checkQuestion(q *Question) error {
	r := rule.ByID(q.Rule)
	if r == nil {
		return errors.New("no such rule")
	}
	if !slices.Contains([]rule.Role{rule.Writes, rule.Accepts, rule.Types, rule.Shows}, q.Role) {
		return fmt.Errorf("unknown role %q", q.Role)
	}
	for _, t := range q.Types {
		if filetype.ByID(t) == nil {
			return unknownType(t)
		}
	}
	for _, value := range append(slices.Collect(maps.Values(q.Before)), q.Default) {
		if value == nil || noValue(value) {
			continue
		}
		if _, err := r.Domain.Parse(value); err != nil {
			return fmt.Errorf("default: %w", err)
		}
	}
	ways := q.From
	if q.Preset != nil {
		ways = append(slices.Clone(ways), q.Preset)
	}
	for _, w := range ways {
		if e.Place(w.Place) == nil {
			return fmt.Errorf("no settings with id %q", w.Place)
		}
		if expr, err := regexp.Compile(w.Match); err != nil || w.Match != "" && expr.NumSubexp() != 1 {
			return fmt.Errorf("key %s: match needs one group", w.Key)
		}
		for _, raw := range w.Values {
			if err := checkValue(r, raw); err != nil {
				return fmt.Errorf("key %s: %w", w.Key, err)
			}
		}
	}
	return nil
}

// The words that stand for no value in Question and Way.
const (
	LeavesWord  = "leaves"
	UnknownWord = "unknown" // none that is known here
	MachineWord = "machine" // whatever the machine has
)

func checkValue(r *rule.Rule, raw any) error {
	if list, ok := raw.([]any); ok {
		for _, item := range list {
			if err := checkValue(r, item); err != nil {
				return err
			}
		}
		return nil
	}
	if noValue(raw) {
		return nil
	}
	_, err := r.Domain.Parse(raw)
	return err
}

func noValue(raw any) bool { return raw == LeavesWord || raw == UnknownWord || raw == MachineWord }
