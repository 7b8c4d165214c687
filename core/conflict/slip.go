package conflict

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
)

// slips finds what is wrong within single settings files.
func slips(p *claim.Picture, into *collector) {
	for _, b := range p.Broken {
		into.add(&Finding{Code: SlipUnreadable, Message: b.Path + " " + b.Why, Sides: []Side{{Path: b.Path, Line: b.Line, Column: b.Column}}})
	}
	for _, m := range p.Mistyped {
		into.add(&Finding{Code: SlipUnknownKey, Files: p.FilesOf(m.Program), Message: fmt.Sprintf("%q is no option of %s; the nearest is %q", m.Option, m.Program.Name, m.Near),
			Sides: []Side{{Program: m.Program.ID, Name: m.Program.Name, Path: m.Path, Line: m.Line, Column: 1, scope: m.Option}}})
	}
	for _, f := range p.Files {
		reader := f.Readers[0]
		if f.Err != nil {
			into.add(&Finding{Code: SlipUnreadable, Files: f.Governs,
				Message: fmt.Sprintf("%s cannot be read: %s", f.Path, f.Err.Message),
				Sides:   []Side{{Program: reader.Program.ID, Name: reader.Program.Name, Path: f.Path, Line: f.Err.Line, Column: f.Err.Column}}})
			continue
		}
		if f.Doc == nil {
			continue // among the opaque
		}
		if f.Doc.Empty() && !reader.Ignores {
			into.add(&Finding{Code: SlipEmpty, Files: f.Governs,
				Message: fmt.Sprintf("%s is empty: %s", f.Path, reader.Program.Empty),
				Sides:   []Side{{Program: reader.Program.ID, Name: reader.Program.Name, Path: f.Path, Line: 1, Column: 1}}})
			continue
		}
		contradictions(p, f, into)
		undone(f, into)
		for _, r := range f.Readers {
			if !r.Ignores {
				k := &keyCheck{picture: p, file: f, reader: r, into: into}
				k.run()
				k.presets()
			}
		}
	}
}

// undone finds lists of names in which a later word takes back what an earlier one
// switched on.
func undone(f *claim.File, into *collector) {
	for _, r := range f.Readers {
		root := f.Doc.Root.Find(r.Place.Section)
		for _, o := range r.Place.Ordered {
			list := root.Find(o.Key)
			words := list.Words()
			for i := len(words) - 1; i > 0; i-- {
				off, minus := strings.CutPrefix(words[i].Text(), o.Minus)
				lost := slices.IndexFunc(words[:i], func(w *document.Node) bool {
					text := w.Text()
					return !strings.HasPrefix(text, o.Minus) && (off == o.All || strings.TrimSuffix(off, o.All) != off && strings.HasPrefix(text, strings.TrimSuffix(off, o.All)) || off == text)
				})
				if !minus || lost < 0 {
					continue
				}
				line, column := f.Doc.Position(list.KeyStart)
				message := fmt.Sprintf("%s in %s switches off what stands before it, such as %s: of such a list the last word counts", words[i].Text(), list.Key, words[lost].Text())
				into.add(&Finding{Code: ClashInternal, Files: f.Governs, Message: message,
					Sides: []Side{{Program: r.Program.ID, Name: r.Program.Name, Path: f.Path, Line: line, Column: column, Basis: claim.Set, Phrase: words[i].Text(), scope: list.Key}}})
				break
			}
		}
	}
}

// opaque lists the places whose settings are not guessed at.
func opaque(p *claim.Picture, into *collector) {
	for _, o := range p.Opaque {
		message := fmt.Sprintf("the settings of %s are computed by code here, which is not guessed at; nothing is claimed for it", o.Program.Name)
		switch {
		case o.Text != "":
			message = fmt.Sprintf("what %s is set to is decided by code here (%s), which is not guessed at; nothing is claimed where it matters", o.Program.Name, o.Text)
		case o.Line > 0:
			message = fmt.Sprintf("%s is given settings here, which are not guessed at; nothing is claimed for it", o.Program.Name)
		}
		into.add(&Finding{Code: SlipOpaque, Files: o.Files, Message: message,
			Sides: []Side{{Program: o.Program.ID, Name: o.Program.Name, Path: o.Path, Line: max(o.Line, 1), Column: max(o.Column, 1), scope: o.Text}}})
	}
}

// keyCheck compares the keys of a settings file with those its program knows.
type keyCheck struct {
	picture *claim.Picture
	file    *claim.File
	section *document.Node // the section the check is in, if any
	reader  claim.Reader
	into    *collector
	looked  int // how often the nearest known key was looked for
}

// maxLooked bounds that: a file with so many unknown keys is none of the program's.
const maxLooked = 1000

func (k *keyCheck) run() {
	root := k.file.Doc.Root.Find(k.reader.Place.Section)
	switch k.file.Doc.Syntax.Form() {
	case document.Sections:
		k.sections(root)
	case document.Rows:
		for _, line := range root.Items {
			k.section = line
			k.check(line, "")
		}
	default:
		k.check(root, "")
		for _, o := range k.reader.Place.Overrides {
			for _, options := range claim.OptionsOf(root, o) {
				k.check(options, "")
			}
		}
		if template := k.reader.Place.Languages; template != "" {
			for _, n := range root.Items {
				if strings.HasPrefix(n.Key, "[") && n.Kind == document.Map {
					k.check(n, "")
				}
			}
		}
	}
}

// presets compares the names of bases that come with the program with those it has: one
// that is near is taken for mistyped.
func (k *keyCheck) presets() {
	e, place := k.reader.Program, k.reader.Place
	if !e.Unknown.Tells(e.Unknown.Presets) || len(e.Bases) == 0 {
		return
	}
	known := slices.Sorted(maps.Keys(e.Bases))
	look := func(n *document.Node) {
		for _, w := range n.Words() {
			text := w.Text()
			if slices.ContainsFunc(known, func(name string) bool { return name == text || e.FoldBases && strings.EqualFold(name, text) }) || strings.ContainsAny(text, "/:@.") {
				continue
			}
			if near := nearest.Of(text, known); near != "" && len(text) > 3 {
				named := *w
				named.Key = n.Key
				k.report(SlipBadValue, &named, fmt.Sprintf("%q is no preset it knows; the nearest is %q", text, near))
			}
		}
	}
	root := k.file.Doc.Root.Find(place.Section)
	for _, i := range place.Extends {
		if !i.Paths && i.Folder == "" && i.Key != "" && i.Names == "" {
			look(root.Find(i.Key))
		}
	}
	for _, o := range place.Overrides {
		if o.Extends != "" && o.Globs == pattern.Type {
			for _, item := range claim.OptionsOf(root, o) {
				look(item.Find(o.Extends))
			}
		}
	}
}

// sections checks an EditorConfig file, where "root" counts before the first
// section only and everything else within sections only.
func (k *keyCheck) sections(root *document.Node) {
	own := !k.reader.Place.Shared && len(k.reader.Place.OnlyKeys) == 0
	for _, n := range root.Items {
		switch {
		case n.Kind == document.Map:
			if own {
				if r := n.Get("root"); r != nil {
					k.report(SlipUnknownKey, r, `"root" only counts before the first section`)
				}
			}
			k.section = n
			k.check(n, "")
			k.section = nil
		case own && n.Key != "root":
			k.report(SlipUnknownKey, n, fmt.Sprintf("%q stands before the first section, where it has no effect", n.Key))
		case own:
			k.value(n, "root")
		}
	}
}

// check compares the items of a map, at the given path of keys.
func (k *keyCheck) check(n *document.Node, path string) {
	if n == nil || n.Kind != document.Map {
		return
	}
	for _, item := range n.Items {
		at := document.Escape(item.Key)
		if path != "" {
			at = path + "/" + at
		}
		if item.Kind == document.Opaque {
			continue
		}
		if key, retired := k.reader.Program.RetiredKeys[at]; retired && k.picture.Reaches(k.reader.Program, key.Since) {
			k.retired(item, item, key)
			continue
		} else if retired {
			continue
		}
		domain, known := k.reader.Program.Takes(at)
		if !known {
			if k.reader.Program.Known.Below(at) == nil {
				k.unknown(item, path)
				continue
			}
		} else if k.bad(item, domain) {
			k.value(item, at)
			continue
		}
		if item.Kind == document.List {
			for i, part := range item.Items {
				if below := at + "/" + strconv.Itoa(i); part.Kind == document.Map && k.reader.Program.Known.Below(below) != nil {
					k.check(part, below)
				}
			}
		}
		if item.Kind == document.Map {
			k.check(item, at)
		} else if words, ok := domain.(document.ListOf); ok {
			k.words(item, at, document.Texts(words))
		}
	}
}

// words compares the items of a list with the words that are known in it. As
// such lists grow with every release, only a single letter's slip is told.
func (k *keyCheck) words(list *document.Node, path string, known []string) {
	for _, w := range list.Words() {
		if key, retired := k.reader.Program.RetiredKeys[path+"/"+w.Text()]; retired {
			if k.picture.Reaches(k.reader.Program, key.Since) {
				named := *w
				named.Key = w.Text()
				k.retired(&named, w, key)
			}
			continue
		}
		if near := nearest.Closest(w.Text(), known); near != w.Text() && nearest.Within(1, w.Text(), near) && k.reader.Program.Unknown.Tells(k.reader.Program.Unknown.Values) {
			k.report(SlipBadValue, w, fmt.Sprintf("%q is no value it knows in %s; the nearest is %q", w.Text(), list.Key, near))
		}
	}
}

// value reports a value outside the key's domain, if it is.
func (k *keyCheck) value(n *document.Node, path string) {
	domain, known := k.reader.Program.Takes(path)
	if !known || !k.bad(n, domain) {
		return
	}
	text := n.Text()
	what := fmt.Sprintf("%s = %s", n.Key, text)
	if n.Kind != document.Scalar {
		what = n.Key
	}
	hint := "it takes " + document.DomainText(domain)
	if i := strings.IndexAny(text, "#;"); n.Folds() && i > 0 && text[i-1] == ' ' {
		hint = "a comment has to stand on a line of its own; " + hint
	} else if words, ok := domain.([]any); ok {
		if near := nearest.Of(strings.ToLower(text), document.Texts(words)); near != "" {
			hint = fmt.Sprintf("the nearest it takes is %q", near)
		}
	}
	k.report(SlipBadValue, n, fmt.Sprintf("%s is no value it takes: %s", what, hint))
}

// unknown reports a key that is not known, as far as the program's keys can be
// known.
func (k *keyCheck) unknown(n *document.Node, path string) {
	policy := &k.reader.Program.Unknown
	if !policy.Tells(policy.Keys) || n.Key == "" || k.reader.Place.ID != "" || k.reader.Place.Shared || slices.ContainsFunc(k.reader.Place.Overrides, func(o *catalog.Overrides) bool {
		return n.Key == o.Key || o.Key == "." && o.Files == "#key" || o.Options == "" && (n.Key == o.Files || n.Key == o.Except || n.Key == o.Extends)
	}) {
		return
	}
	if k.into.enough(SlipUnknownKey, k.file.Path) {
		return
	}
	if k.looked++; k.looked > maxLooked {
		return
	}
	siblings := k.reader.Program.Known.Below(path)
	near := ""
	close := false // one letter from it
	for _, word := range []string{n.Key, strings.ReplaceAll(n.Key, "-", "_"), strings.ReplaceAll(n.Key, "_", "-")} {
		if of := nearest.Of(word, siblings); of != "" && !close {
			near, close = of, nearest.Within(1, word, of)
		}
	}
	if !policy.Complete && !policy.Listed && !close {
		return
	}
	switch {
	case near != "":
		f := k.report(SlipUnknownKey, n, fmt.Sprintf("%q is not a key it knows%s; the nearest is %q", n.Key, does[policy.Keys], near))
		f.Meant = k.meant(n, path, near)
	case policy.Listed && !k.plugged():
		k.report(SlipUnknownKey, n, fmt.Sprintf("%q is not a key it knows%s", n.Key, does[policy.Keys]))
	}
}

// meant returns how a mistyped key is mended: where one known key is nearer than all
// others, stands nowhere beside it, and takes the value.
func (k *keyCheck) meant(n *document.Node, path, near string) *MeantAt {
	at := document.Escape(near)
	if path != "" {
		at = path + "/" + at
	}
	domain, known := k.reader.Program.Takes(at)
	others := slices.DeleteFunc(slices.Clone(k.reader.Program.Known.Below(path)), func(s string) bool { return s == near })
	if !known || k.bad(n, domain) || nearest.Within(1, n.Key, nearest.Closest(n.Key, others)) || k.beside(n, near) {
		return nil
	}
	return &MeantAt{Program: k.reader.Program, File: k.file, Node: n, Key: near}
}

// beside reports whether a key stands in the map in which a node does.
func (k *keyCheck) beside(n *document.Node, key string) bool {
	found := false
	var walk func(m *document.Node)
	walk = func(m *document.Node) {
		if slices.Contains(m.Items, n) {
			found = found || m.Get(key) != nil
			return
		}
		for _, item := range m.Items {
			walk(item)
		}
	}
	walk(k.file.Doc.Root)
	return found
}

// does says what programs do with words that they do not know.
var does = map[string]string{"stops": ", which stops it", "ignores": ", which it passes over"}

// plugged reports whether the file brings in programs of others that may know more.
func (k *keyCheck) plugged() bool {
	root := k.file.Doc.Root.Find(k.reader.Place.Section)
	return slices.ContainsFunc(k.reader.Program.Unknown.Plugins, func(key string) bool { return root.Find(key) != nil })
}

// retired reports a key that is no longer to be used, at its node.
func (k *keyCheck) retired(n, at *document.Node, key catalog.RetiredKey) {
	message := fmt.Sprintf("%q is no longer to be used", n.Key)
	if key.Use != "" {
		message += "; use " + key.Use
	}
	f := k.report(DriftRetired, n, message)
	f.Retired = &RetiredAt{File: k.file, Node: at, Key: key}
}

func (k *keyCheck) report(code Code, n *document.Node, message string) *Finding {
	line, column := k.file.Doc.Position(n.KeyStart)
	files := k.file.Governs
	if k.section != nil {
		files = k.picture.Reached(k.file, k.section)
	}
	f := &Finding{Code: code, Files: files, Message: message,
		Sides: []Side{{Program: k.reader.Program.ID, Name: k.reader.Program.Name, Path: k.file.Path, Line: line, Column: column,
			Value: scalarOf(n), scope: n.Key}}}
	k.into.add(f)
	return f
}

func scalarOf(n *document.Node) any {
	if n.Kind == document.Scalar {
		return n.Value
	}
	return nil
}

// bad reports whether the node's value is outside the domain.
func (k *keyCheck) bad(n *document.Node, domain any) bool {
	text := n.Text()
	if k.file.Doc.Syntax.Form() == document.Rows && (n.Value == false || n.Resets() || strings.HasPrefix(text, "!")) {
		return false // taken away, as any attribute may be
	}
	isText := n.Folds() || k.file.Doc.Syntax.Loose()
	whole := func() bool {
		if v, ok := n.Value.(int64); ok {
			return v >= 0
		}
		v, err := strconv.Atoi(text)
		return isText && err == nil && v >= 0
	}
	if words, ok := domain.([]any); ok {
		if n.Kind != document.Scalar {
			return true
		}
		for _, w := range document.Texts(words) {
			if w == text || (n.Folds() || k.reader.Program.FoldCase) && strings.EqualFold(w, text) || w == document.WholeWord && whole() {
				return false
			}
		}
		return true
	}
	if _, ok := domain.(document.ListOf); ok {
		return n.Kind == document.Map
	}
	switch domain {
	case "whole":
		return n.Kind != document.Scalar || !whole()
	case "bool":
		_, isBool := n.Value.(bool)
		return n.Kind != document.Scalar || !isBool && !(isText && (text == "true" || text == "false")) && !k.file.Doc.Syntax.OldTruth(text)
	case "text":
		_, isString := n.Value.(string)
		return n.Kind != document.Scalar || !isString
	case "list":
		return n.Kind == document.Map
	case "map":
		return n.Kind != document.Map
	}
	return false
}

// contradictions finds keys that a file sets twice to different values, and
// names that it lists as both on and off.
func contradictions(p *claim.Picture, f *claim.File, into *collector) {
	c := contradiction{picture: p, file: f, into: into, told: map[string]bool{}}
	c.walk(f.Doc.Root, "")
	for _, r := range f.Readers {
		c.lists(r.Program, f.Doc.Root.Find(r.Place.Section))
	}
}

type contradiction struct {
	picture *claim.Picture
	file    *claim.File
	into    *collector
	told    map[string]bool // by section and key
}

// walk compares items of one map that bear the same key. Sections with the same
// name are compared as one map.
func (c *contradiction) walk(n *document.Node, scope string) {
	if n == nil {
		return
	}
	c.walkInto(firsts{}, n, scope)
}

// firsts are the items of a map, or of maps that are taken for one, by key: the first
// with a value of its own, and those of maps in turn.
type firsts map[string]*first

type first struct {
	node  *document.Node
	items firsts // of a map
}

func (c *contradiction) walkInto(known firsts, n *document.Node, scope string) {
	for _, item := range n.Items {
		had := known[item.Key]
		if n.Kind != document.Map {
			had = nil
		}
		if had == nil {
			had = &first{items: firsts{}}
			if n.Kind == document.Map {
				known[item.Key] = had
			}
		}
		before := had.node
		switch {
		case before == nil:
			had.node = item
		case before.Kind == document.Scalar && item.Kind == document.Scalar && before.Text() != item.Text() && c.single(item):
			c.report(before, item, scope)
		}
		if n.Kind == document.Map || item.Kind == document.Map {
			c.walkInto(had.items, item, item.Key)
		}
	}
}

// single reports whether a key that comes twice replaces its first value. In
// lists of options and in code many keys add to each other; only those that
// answer a rule are known to replace.
func (c *contradiction) single(n *document.Node) bool {
	switch c.file.Doc.Syntax.Repeats() {
	case document.Replaces:
		return true
	case document.Adds:
		return false
	}
	for _, r := range c.file.Readers {
		for _, q := range r.Program.Rules {
			for _, w := range q.From {
				if w.Key == n.Key {
					return true
				}
			}
		}
	}
	return false
}

func (c *contradiction) report(a, b *document.Node, scope string) {
	in := ""
	if scope != "" && c.file.Doc.Syntax.ByFiles() {
		in = fmt.Sprintf(" for %s", scope)
	}
	c.add(a, b, scope, fmt.Sprintf("%s is set twice%s: %s, then %s; the last one wins", b.Key, in, a.Text(), b.Text()))
}

func (c *contradiction) add(a, b *document.Node, scope, message string) {
	id := scope + "\x1f" + b.Key + "\x1f" + b.Text()
	if c.told[id] || c.into.enough(ClashInternal, c.file.Path) {
		return
	}
	c.told[id] = true
	r := c.file.Readers[0].Program
	f := &Finding{Code: ClashInternal, Files: c.file.Governs, Message: message}
	if section := c.file.Doc.Root.Get(scope); section != nil {
		f.Files = c.picture.Reached(c.file, section)
	}
	for _, n := range []*document.Node{a, b} {
		line, column := c.file.Doc.Position(n.KeyStart)
		f.Sides = append(f.Sides, Side{Program: r.ID, Name: r.Name, Path: c.file.Path, Line: line, Column: column,
			Basis: claim.Set, Value: scalarOf(n), Phrase: n.Text(), scope: scope + "\x1f" + b.Key})
	}
	c.into.add(f)
}

// lists finds rule names that one list switches on and another off.
func (c *contradiction) lists(e *catalog.Entry, root *document.Node) {
	on, off := map[string]*document.Node{}, map[string]bool{}
	for _, q := range e.Rules {
		if q.On == nil {
			continue
		}
		for _, key := range q.On.Enabled {
			for _, w := range root.Get(key).Words() {
				on[w.Text()] = w
			}
		}
	}
	for _, q := range e.Rules {
		if q.On == nil {
			continue
		}
		for _, key := range q.On.Disabled {
			for _, w := range root.Get(key).Words() {
				if n := on[w.Text()]; n != nil && !off[w.Text()] {
					off[w.Text()] = true
					c.add(n, w, w.Text(), fmt.Sprintf("%s is switched on and off in the same file", w.Text()))
				}
			}
		}
	}
}
