package settle

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// endFrictions schedules the least change that ends what linters and sorters have
// against the formatter's output: settings by which they agree, else checks switched
// off, as layout is the formatter's.
func (e *editor) endFrictions() {
	for _, f := range e.d.Audit.Findings {
		s := subjectOf(f)
		if f.Friction == nil || f.Waived != nil || e.d.skip[s] != "" || !e.d.Choices.asksFor(s, e.d.Audit) {
			continue
		}
		for _, g := range f.Groups {
			if err := e.endFriction(g, f.Friction); err != nil {
				e.d.blocked[s] = err.Error()
			}
		}
	}
}

// ends reports whether a friction that is ended switches off the check that a claim comes
// from.
func (d *draft) ends(g *claim.Group, c *claim.Claim) bool {
	if c.Role != rule.Accepts || c.Question.On == nil {
		return false
	}
	for i := range g.Frictions {
		f := &g.Frictions[i]
		if f.Other != c.Program || f.Row.Sorter != "" || d.skip[subject{g.Type, "checks of " + f.Other.ID}] != "" {
			continue
		}
		on := f.Other.Checks.On
		if slices.ContainsFunc(f.Checks, func(check claim.Check) bool {
			return c.Question.On.Name == check.Name || slices.ContainsFunc(on.Keys, func(key string) bool {
				return slices.Contains(c.Question.On.Keys, strings.ReplaceAll(key, "{}", document.Escape(check.Name)))
			})
		}) {
			return true
		}
	}
	return false
}

func (e *editor) endFriction(g *claim.Group, f *claim.Friction) error {
	if f.Row.Sorter != "" {
		if len(f.Row.Unless) == 0 {
			return fmt.Errorf("no setting of %s is known by which the two agree", f.Other.Name)
		}
		for _, c := range f.Row.Unless[0] {
			if err := e.set(g, f.Other, c.Key, c.Is[0]); err != nil {
				return err
			}
		}
		return nil
	}
	on := f.Other.Checks.On
	e.d.relieved[f.Other] = true
	for _, c := range f.Checks {
		var err error
		switch {
		case len(on.Disabled) > 0:
			err = e.list(g, f.Other, on.Disabled, c.Name)
		case len(on.Keys) > 0 && len(on.Off) > 0:
			err = e.set(g, f.Other, strings.ReplaceAll(on.Keys[0], "{}", document.Escape(c.Name)), on.Off[0])
		default:
			err = fmt.Errorf("how %s switches %s off is not known", f.Other.Name, c.Name)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// switchCheckOff schedules that a check which cannot be set to what is wanted is switched
// off.
func (e *editor) switchCheckOff(g *claim.Group, program *catalog.Entry, on *catalog.Switch) error {
	if len(on.Disabled) > 0 {
		return e.list(g, program, on.Disabled, on.Name)
	}
	return e.set(g, program, on.Keys[0], on.Off[0])
}

// switchable reports whether switchCheckOff has a way.
func switchable(on *catalog.Switch) bool {
	return on != nil && (len(on.Disabled) > 0 && on.Name != "" || len(on.Keys) > 0 && len(on.Off) > 0)
}

// home returns where a program's own settings for a group are written: the file it
// reads, a file that can have a section of it, or one to be made.
func (e *editor) home(g *claim.Group, program *catalog.Entry) (*fileEdit, *catalog.Place, error) {
	var last error
	for _, place := range slices.Backward(program.Settings) {
		if place.ID != "" || place.Shared {
			continue
		}
		if files := g.FilesOf(program, place); len(files) > 0 {
			f := files[len(files)-1]
			if f.CommandLine || f.Doc == nil || !f.Doc.Adds() {
				last = fmt.Errorf("nothing is added to a file like %s; say it there by hand", f.Path)
				continue
			}
			return e.file(f.Path, f.Doc.Syntax, f), place, nil
		}
	}
	if last != nil {
		return nil, nil, last
	}
	for _, place := range program.Settings { // one that is there for others comes before a new one
		if place.ID != "" || place.Shared || place.Section == "" || place.Search == "given" {
			continue
		}
		for _, name := range place.Files {
			if f := e.sectionless(name, place); f != nil {
				return e.file(name, f.Doc.Syntax, f), place, nil
			}
		}
	}
	for _, place := range program.Settings {
		if place.ID != "" || place.Shared || place.Search == "given" {
			continue
		}
		name := place.Create
		if name == "" && place.Section == "" && !strings.Contains(place.Files[0], "*") && place.When == "" {
			name = place.Files[0]
		}
		if doc, err := document.Parse(place.SyntaxOf(path.Base(name)), name, nil); name != "" && err == nil && doc.Adds() {
			return e.file(name, place.SyntaxOf(path.Base(name)), nil), place, nil
		}
	}
	return nil, nil, fmt.Errorf("%s has no settings file that could be made for it", program.Name)
}

// sectionless returns a file at the root that is there and could have a section of a
// program, or nil.
func (e *editor) sectionless(name string, place *catalog.Place) *claim.File {
	if strings.Contains(name, "*") || !slices.Contains(e.d.Paths, name) {
		return nil
	}
	if f := e.settingsFile(name); f != nil {
		if f.Doc == nil || !f.Doc.Adds() {
			return nil
		}
		return f
	}
	if f := e.opened[name]; f != nil {
		return f
	}
	src, err := readFile(e.d.FS, name)
	if err != nil {
		return nil
	}
	doc, err := document.ParseSettings(place.SyntaxOf(path.Base(name)), name, src)
	if err != nil || !doc.Adds() {
		return nil
	}
	f := &claim.File{Path: name, Folder: ".", Doc: doc}
	e.opened[name] = f
	return f
}

// set schedules a value at a key of a program's own settings.
func (e *editor) set(g *claim.Group, program *catalog.Entry, key string, raw any) error {
	fe, place, err := e.home(g, program)
	if err != nil {
		return err
	}
	if raw == "null" {
		raw = nil
	}
	keys := keyPath(place, key)
	if fe.doc != nil {
		if n := fe.doc.Root.Find(strings.Join(escaped(keys), "/")); n != nil {
			if n.Kind == document.List && len(n.Items) > 0 && n.Items[0].Kind == document.Scalar {
				n = n.Items[0] // its options stay
			}
			if _, err := fe.doc.Set(n, raw); err != nil {
				return err
			}
			fe.sets[n] = raw
			return nil
		}
		if _, err := fe.doc.Add(keys, raw); err != nil {
			return err
		}
	}
	fe.add(keys, raw)
	return nil
}

func escaped(keys []string) []string {
	out := make([]string, len(keys))
	for i, k := range keys {
		out[i] = document.Escape(k)
	}
	return out
}

// list schedules that a list of names of a program's own settings gains one. Of several
// such lists that which is there is taken, or else the last, which adds to others.
func (e *editor) list(g *claim.Group, program *catalog.Entry, keys []string, name string) error {
	fe, place, err := e.home(g, program)
	if err != nil {
		return err
	}
	plain, single := keys, name
	if i := slices.IndexFunc(keys, func(k string) bool { return strings.Contains(k, "_") }); program.Hyphens && i > 0 {
		plain = keys[:i] // the others are the same in another spelling
	}
	last := plain[len(plain)-1]
	if checks := program.Checks; checks != nil && slices.Contains(checks.Lifted, last) {
		name = strings.Join(append(slices.Clone(checks.Off), name), ", ") // which it would switch on
	}
	var at []string
	for _, key := range slices.Backward(keys) {
		at = keyPath(place, key)
		if fe.doc == nil {
			continue
		}
		n := fe.doc.Root.Find(strings.Join(escaped(at), "/"))
		if n == nil {
			continue
		}
		if n.Kind != document.Scalar || strings.Contains(n.Text(), "\n") {
			return fmt.Errorf("add %s to %s in %s by hand", name, key, fe.path)
		}
		text := n.Text()
		if had, ok := fe.sets[n]; ok {
			text = fmt.Sprint(had)
		}
		joint := ", "
		if strings.Contains(text, ",") && !strings.Contains(text, ", ") {
			joint = ","
		}
		text += joint + single
		if _, err := fe.doc.Set(n, text); err != nil {
			return err
		}
		fe.sets[n] = text
		return nil
	}
	at = keyPath(place, last)
	for i, a := range fe.adds {
		if slices.Equal(a.path, at) {
			if text := fmt.Sprint(a.raw); !slices.Contains(strings.Split(text, ", "), single) {
				fe.adds[i].raw = text + ", " + single
			}
			return nil
		}
	}
	fe.add(at, name)
	return nil
}

// mendKeys schedules that mistyped keys get the names that were meant, where there is
// one such name, the file does not have it yet, and the value fits it.
func (e *editor) mendKeys() {
	for _, f := range e.d.Audit.Findings {
		m := f.Meant
		if m == nil || f.Waived != nil || !e.d.Choices.asksForFinding(f) {
			continue
		}
		r := renewal{node: m.Node, to: []string{m.Key}}
		if _, err := r.edits(m.File.Doc); err != nil {
			e.d.notes[f.ID] = err.Error()
			continue
		}
		fe := e.file(m.File.Path, m.File.Doc.Syntax, m.File)
		fe.renewals = append(fe.renewals, r)
		e.d.mended[m.Program] = true
	}
}

// frictionOf is the subject of a friction with a program.
func frictionOf(f *conflict.Finding) subject {
	return subject{f.Type, "checks of " + f.Friction.Other.ID}
}
