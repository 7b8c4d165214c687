package claim

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
)

// layer is one part of a program's settings that applies to a group. Later
// layers win over earlier ones.
type layer struct {
	file  *File
	place *catalog.Place
	node  *document.Node // the map in which keys are looked up
	scope string
	base  *document.Node // where a base is named; its claims stand there

	derived   bool           // stands in no file as such
	inherited bool           // stands in a file that another extends
	opaque    *document.Node // sets what is not known; there is no node then
	lets      *spare         // lets the files off some rules; says nothing else
}

// stack is a program's layers for a group, weakest first.
type stack struct {
	layers []layer
	broken bool // a file could not be parsed or a base is not known, so defaults are unknown
	files  int  // settings files of the program's own that apply
}

// stackOf gathers the layers of a program for a group.
func stackOf(e *catalog.Entry, g *Group) stack {
	var s stack
	for _, place := range e.Settings {
		for _, f := range g.FilesOf(e, place) {
			if f.Doc == nil {
				s.broken = true
				continue
			}
			s.files++
			s.addFile(e, place, f, g)
		}
		if place.Syntax.IsStandard() {
			s.pair(place)
		}
	}
	if e.Inside != "" {
		for _, f := range g.insideOf(e) {
			s.files++
			s.addFile(e, f.Readers[0].Place, f, g)
		}
	}
	if s.files == 0 && !s.broken {
		s.addCopies(e, g)
	}
	if f := g.told[e]; f != nil {
		if e.Runs.Alone {
			s.layers = nil
		}
		for _, place := range []*catalog.Place{e.Place(""), e.Place(catalog.OptionsPlace)} {
			if place != nil {
				s.layers = append(s.layers, layer{file: f, place: place, node: f.Doc.Root, derived: true})
			}
		}
	}
	if s.files == 0 && !s.broken && e.Bare != "" {
		s.layers = append(s.layers, layer{place: e.Place(""), node: document.FromData(e.Bases[e.Bare])})
	}
	return s
}

// FilesOf returns the files of a place that apply to the group, from the root
// down, by the place's way of searching.
func (g *Group) FilesOf(e *catalog.Entry, place *catalog.Place) []*File {
	c := g.chain
	if len(c.byPlace[place]) == 0 {
		return nil
	}
	c.mutex.Lock()
	files, known := c.applies[place]
	c.mutex.Unlock()
	if !known {
		files = g.filesOf(e, place)
		c.mutex.Lock()
		c.applies[place] = files
		c.mutex.Unlock()
	}
	if place.When != "" && !g.says(e, place.When) {
		return nil
	}
	if !slices.ContainsFunc(files, func(f *File) bool { return f.isForOthers(place, g) }) {
		return files
	}
	return slices.DeleteFunc(slices.Clone(files), func(f *File) bool { return f.isForOthers(place, g) })
}

// says reports whether a key of the program's own settings is true for the group.
func (g *Group) says(e *catalog.Entry, key string) bool {
	for _, own := range e.Settings {
		if own.ID != "" || own.When != "" {
			continue
		}
		for _, f := range g.FilesOf(e, own) {
			if f.Doc != nil && isTrue(f.Doc.Root.Find(own.Section).Find(key)) {
				return true
			}
		}
	}
	return false
}

// isForOthers reports whether the whole of a file is parts that name types, and none of
// them the group's.
func (f *File) isForOthers(place *catalog.Place, g *Group) bool {
	if f.Doc == nil || !slices.ContainsFunc(place.Overrides, func(o *catalog.Overrides) bool { return o.Key == "." && o.Item == "" && o.Globs == pattern.Type }) {
		return false
	}
	parts := false
	for _, s := range f.sections {
		if s.place != place || s.kind == excludeSection {
			continue
		}
		if s.types == nil || slices.Contains(s.types, "*") || slices.Contains(s.types, g.Type.ID) {
			return false
		}
		parts = true
	}
	return parts
}

func (g *Group) filesOf(e *catalog.Entry, place *catalog.Place) []*File {
	var files []*File
	for _, f := range g.chain.byPlace[place] {
		if f.found(e, place) {
			if place.Search == "root" && len(files) > 0 && files[0].Folder != f.Folder {
				files = nil // the program is started in either folder
			}
			if f.isTop(place) {
				files = nil
			}
			files = append(files, f)
		}
	}
	if len(files) == 0 {
		return nil
	}
	if place.Search == "root" && place.Pool != "" && g.outdone(e, place, files[len(files)-1]) {
		return nil
	}
	if place.Search != "nearest" {
		return g.merged(e, place, files)
	}
	best := files[len(files)-1]
	for _, f := range files {
		if f.Folder == best.Folder && (f.Named && !best.Named || f.Named == best.Named && preference(place, f.Path) < preference(place, best.Path)) {
			best = f
		}
	}
	if place.Pool != "" && g.outdone(e, place, best) {
		return nil
	}
	return []*File{best}
}

// found reports whether the program's search comes to the file at all.
func (f *File) found(e *catalog.Entry, place *catalog.Place) bool {
	if place.Nested != "" && f.Doc != nil {
		if n := f.Doc.Root.Find(place.Section).Find(place.Nested); n != nil && n.Value == false {
			return true
		}
	}
	return place.Search != "root" || f.Named || (f.Folder == "." || f.Starts) && !f.notBy[e]
}

// merged returns the files of a place that are merged: in each folder the one
// with the best name, and none where a place of the pool that is not merged has
// a file.
func (g *Group) merged(e *catalog.Entry, place *catalog.Place, files []*File) []*File {
	var out []*File
	for _, f := range files {
		better := func(other *File) bool {
			return other.Folder == f.Folder && preference(place, other.Path) < preference(place, f.Path)
		}
		if !slices.ContainsFunc(files, better) {
			out = append(out, f)
		}
	}
	if place.Pool == "" {
		return out
	}
	for _, other := range e.Settings {
		if other == place {
			break
		}
		if other.Pool != place.Pool {
			continue
		}
		for _, f := range g.chain.byPlace[other] {
			if other.Search != place.Search {
				return nil
			}
			out = slices.DeleteFunc(out, func(had *File) bool { return had.Folder == f.Folder })
		}
	}
	return out
}

// Ends reports whether the program's search for a place's settings goes no
// further up than the file.
func (f *File) Ends(e *catalog.Entry, place *catalog.Place) bool {
	if !f.readAs(e, place) {
		return false
	}
	return place.Search != "merged" || f.isTop(place)
}

// isTop reports whether the file says that nothing above it counts.
func (f *File) isTop(place *catalog.Place) bool {
	return f.Doc != nil && place.Root != "" && isTrue(f.Doc.Root.Find(place.Section).Find(place.Root))
}

// outdone reports whether another place of the pool has a closer file.
func (g *Group) outdone(e *catalog.Entry, place *catalog.Place, best *File) bool {
	before := true
	for _, other := range e.Settings {
		if other == place {
			before = false
		}
		if other == place || other.Pool != place.Pool {
			continue
		}
		for _, f := range g.chain.byPlace[other] {
			if !f.found(e, other) {
				continue
			}
			closer := len(f.Folder) > len(best.Folder) || f.Folder != "." && best.Folder == "."
			if closer || f.Folder == best.Folder && before {
				return true
			}
		}
	}
	return false
}

// readAs reports whether the program reads the file's settings as this place's.
func (f *File) readAs(e *catalog.Entry, place *catalog.Place) bool {
	return slices.ContainsFunc(f.Readers, func(r Reader) bool { return r.Program == e && r.Place == place && !r.Ignores })
}

func isTrue(n *document.Node) bool { return n != nil && strings.EqualFold(n.Text(), "true") }

// addFile adds a file's layers: what it extends, its general settings, its
// overrides, and the section for the group's language.
func (s *stack) addFile(e *catalog.Entry, place *catalog.Place, f *File, g *Group) {
	root := f.Doc.Root.Find(place.Section)
	s.layers = append(s.layers, f.layersOf(place, func(base *File) []layer { return f.sectionLayers(f.borrowed, base, place, g) })...)
	flat := f.Doc.Syntax.ByFiles()
	parts := slices.ContainsFunc(place.Overrides, func(o *catalog.Overrides) bool { return o.Key == "." && o.Files != keyItself && o.Item == "" })
	switch {
	case root != nil && root.Kind == document.Opaque:
		s.layers = append(s.layers, layer{file: f, place: place, opaque: root})
	case root != nil && root.Kind == document.Map && !flat && !parts:
		s.layers = append(s.layers, layer{file: f, place: place, node: root})
	}
	s.layers = append(s.layers, f.sectionLayers(f.sections, nil, place, g)...)
	if place.Languages != "" && root != nil {
		for _, n := range root.Items {
			if n.Kind == document.Map && names(n.Key, place.Languages, g.Type.ID) {
				s.layers = append(s.layers, layer{file: f, place: place, node: n, scope: n.Key})
			}
		}
	}
}

// sectionLayers returns the layers of those sections, out of the file or of one
// of its bases, that are about the group.
func (f *File) sectionLayers(sections []section, base *File, place *catalog.Place, g *Group) []layer {
	var out []layer
	offset := g.chain.offset(f)
	for i := range sections {
		sec := &sections[i]
		if sec.from != base || sec.kind == excludeSection || sec.place != nil && sec.place != place || !sec.applies(g, offset) {
			continue
		}
		l := layer{file: f, place: place, node: sec.node, scope: sec.node.Key}
		if sec.from != nil {
			l.file, l.inherited = sec.from, true
		}
		if len(sec.shown) > 0 {
			l.scope = strings.Join(sec.shown, ", ")
		}
		switch sec.kind {
		case opaqueSection:
			l.node, l.opaque = nil, sec.node
		case baseSection:
			l.node, l.base = l.file.baseOf(sec.node), sec.node
		case spareSection:
			l.node, l.lets = nil, sec.lets
		}
		out = append(out, l)
	}
	return out
}

// names reports whether the key of a language section names the type; a key
// may put several sections' names one behind the other.
func names(key, template, typeID string) bool {
	want := strings.ReplaceAll(template, "{type}", typeID)
	return key == want || strings.HasPrefix(want, "[") && strings.Contains(key, want)
}

// offset returns where the reaches of a file start in the chain's list.
func (c *chain) offset(f *File) int {
	n := 0
	for _, in := range c.files {
		if in == f {
			return n
		}
		n += len(in.reaches)
	}
	return n
}

// excluded returns where the program is told to leave the group's files out.
func excluded(e *catalog.Entry, g *Group) (Where, bool) {
	if !g.chain.leaves {
		return Where{}, false
	}
	for _, f := range g.chain.files {
		for _, r := range f.Readers {
			if r.Program != e || f.Doc == nil {
				continue
			}
			if !r.Ignores && !slices.Contains(g.FilesOf(e, r.Place), f) {
				continue
			}
			offset := g.chain.offset(f)
			for _, sec := range slices.Concat(f.sections, f.borrowed) {
				if sec.kind == excludeSection && sec.place == r.Place && sec.applies(g, offset) {
					return Where{File: cmp.Or(sec.from, f), Node: sec.node}, true
				}
			}
		}
	}
	return Where{}, false
}

// pair completes the layers of an EditorConfig place as the specification says
// under "property pairs": the size of a tab and of an indent stand in for each
// other where only one is given.
func (s *stack) pair(place *catalog.Place) {
	find := func(key string) (*document.Node, layer) {
		for i := len(s.layers) - 1; i >= 0; i-- {
			l := s.layers[i]
			if l.place != place || l.node == nil {
				continue
			}
			if n := l.node.Get(key); n != nil {
				return n, l
			}
		}
		return nil, layer{}
	}
	size, sizeLayer := find(rule.IndentSize)
	width, widthLayer := find(rule.TabWidth)
	switch {
	case size != nil && strings.EqualFold(size.Text(), "tab") && width != nil:
		s.derive(len(s.layers), widthLayer, rule.IndentSize, width)
	case size != nil && width == nil && !strings.EqualFold(size.Text(), "tab"):
		s.derive(0, sizeLayer, rule.TabWidth, size)
	}
}

// derive inserts a layer that gives key the value of another key's node.
func (s *stack) derive(at int, from layer, key string, n *document.Node) {
	copied := *n
	copied.Key = key
	from.derived = true
	from.node = &document.Node{Kind: document.Map, Items: []*document.Node{&copied}}
	s.layers = slices.Insert(s.layers, at, from)
}

// preference is the rank of a file among the names a place looks for.
func preference(p *catalog.Place, file string) int {
	for i, name := range p.Files {
		if path.Base(name) == path.Base(file) {
			return i
		}
	}
	return len(p.Files)
}

// Applying returns the parts of the program's settings files, of one of its
// places, that apply to the group, weakest first.
func (g *Group) Applying(e *catalog.Entry, place *catalog.Place) []Settings {
	if known, ok := g.applies[place]; ok {
		return known
	}
	var out []Settings
	for _, l := range stackOf(e, g).layers {
		if l.place != place || l.derived || l.inherited || l.base != nil || l.file == nil || l.node == nil {
			continue
		}
		s := Settings{File: l.file, Keys: l.node}
		if l.scope != "" {
			s.Section = l.node
		}
		out = append(out, s)
	}
	g.applies[place] = out
	return out
}
