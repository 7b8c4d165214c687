package claim

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
)

// reach decides which files below the folder a part of a settings file is
// about.
type reach struct {
	match       func(rel string) bool
	byExtension bool
}

// everywhere is the reach of a section that is about every file, or about file
// types.
const everywhere = -1

// section is a part of a settings file that is about some files only.
type section struct {
	reach int            // index of its reach, or everywhere
	types []string       // the types it is about; nil for all
	place *catalog.Place // nil for sections that every reader sees
	node  *document.Node // its settings or patterns
	kind  sectionKind
	shown []string // the patterns as written
	from  *File    // the base it stands in; nil for the file itself
	lets  *spare   // the rules it lets files off
}

type sectionKind uint8

const (
	settingsSection sectionKind = iota // holds settings for what it reaches
	excludeSection                     // takes out what it reaches
	opaqueSection                      // sets what is not known
	baseSection                        // a known base that is named among the settings
	spareSection                       // lets what it reaches off some rules
)

// applies reports whether the section is about the group's files; offset is
// where the file's reaches start in the group's answers.
func (s *section) applies(g *Group, offset int) bool {
	if s.types != nil && !slices.Contains(s.types, g.Type.ID) && !slices.Contains(s.types, "*") {
		return false
	}
	return s.reach == everywhere || g.matched[offset+s.reach]
}

// findSections lists the parts of the file that are about some files only.
func (f *File) findSections() {
	root := f.Doc.Root
	switch f.Doc.Syntax.Form() {
	case document.Sections:
		for _, n := range root.Items {
			if n.Kind == document.Map && n.Key != "" {
				p := pattern.EditorConfig(n.Key)
				f.add(section{node: n}, reach{p.Match, p.ByExtension()})
			}
		}
	case document.Rows:
		for _, n := range root.Items {
			ig, ok := pattern.ParseIgnore(n.Key)
			if ok && !ig.FolderOnly && !strings.HasPrefix(n.Key, "[attr]") {
				f.add(section{node: n}, reach{ig.Match, ig.ByExtension()})
			}
		}
	case document.Patterns:
		var list pattern.IgnoreList
		for _, n := range root.Items {
			if list.Crowded() {
				f.tooMany(n, list.Len())
				return
			}
			if ig, ok := pattern.ParseIgnore(n.Text()); ok {
				list.Add(ig)
			}
		}
		for _, r := range f.Readers {
			match := list.Ignores
			if d := r.Place.IgnoreGlobs; d != pattern.Lines {
				globs := pattern.Compile(d, lines(root))
				match = globs.Reaches
			}
			f.add(section{place: r.Place, node: root, kind: excludeSection}, reach{match: match})
		}
	default:
		for _, r := range f.Readers {
			f.findPlaceSections(r, root.Find(r.Place.Section))
		}
		if len(f.sections) > maxParts {
			at := f.sections[maxParts].node
			if at == nil {
				at = root
			}
			f.tooMany(at, maxParts)
		}
	}
}

// maxParts bounds the parts of a settings file that are about some files only: each
// is compared with every file below.
const maxParts = 2000

// tooMany says that a settings file is not read, as it has more patterns than are
// compared with every file.
func (f *File) tooMany(at *document.Node, most int) {
	line, column := f.Doc.Position(at.KeyStart)
	f.Err = &document.SyntaxError{Path: f.Path, Line: line, Column: column, Message: fmt.Sprintf("has more than %d patterns, more than are compared with every file", most)}
	f.Doc, f.sections, f.reaches = nil, nil, nil
}

func (f *File) add(s section, r reach) {
	s.reach = len(f.reaches)
	f.sections = append(f.sections, s)
	f.reaches = append(f.reaches, r)
}

func (f *File) findPlaceSections(r Reader, root *document.Node) {
	if root == nil {
		return
	}
	place := r.Place
	for _, o := range place.Overrides {
		for _, item := range overridesIn(root, o) {
			f.override(r, o, item)
		}
	}
	for _, key := range place.Excludes {
		for _, n := range f.at(root, key) {
			list := pattern.Compile(place.Globs, lines(n))
			f.add(section{place: place, node: n, kind: excludeSection}, reach{list.Reaches, list.ByExtension()})
		}
	}
	f.findSpares(r, root)
	for _, key := range place.Includes {
		if n := root.Find(key); n != nil && len(n.Words()) > 0 {
			list := pattern.Compile(place.Globs, lines(n))
			f.add(section{place: place, node: n, kind: excludeSection}, reach{func(rel string) bool { return !list.Reaches(rel) }, list.ByExtension()})
		}
	}
}

// at returns what stands at a path of keys: in XML every element of that name.
func (f *File) at(root *document.Node, key string) []*document.Node {
	if f.Doc.Syntax.Form() == document.Elements && root != nil {
		return root.FindAll(key)
	}
	if n := root.Find(key); n != nil {
		return []*document.Node{n}
	}
	return nil
}

// overridesIn returns the items of the file's overrides.
func overridesIn(root *document.Node, o *catalog.Overrides) []*document.Node {
	container := root
	if o.Key != "." {
		container = root.Find(o.Key)
	}
	switch {
	case container == nil:
		return nil
	case o.Key == "." && container.Kind == document.Map && o.Files != keyItself && o.Item == "":
		return []*document.Node{container}
	}
	return container.Items
}

// keyItself says that an override's own key is its pattern.
const keyItself = "#key"

// override adds the section of one override.
func (f *File) override(r Reader, o *catalog.Overrides, item *document.Node) {
	s := section{place: r.Place, node: item}
	switch {
	case o.Item != "" && item.Key != o.Item:
		return
	case item.Kind == document.Opaque:
		s.reach, s.kind = everywhere, opaqueSection
		if base, ok := f.preset(r.Program, item.Text()); ok {
			s.kind, s.node = baseSection, item
			f.data(item, base)
		}
		f.sections = append(f.sections, s)
		return
	}
	if o.Options != "" {
		if s.node = item.Find(o.Options); s.node == nil {
			return
		}
	}
	if o.Files == keyItself {
		s.shown = []string{item.Key}
	} else {
		s.shown = lines(item.Find(o.Files))
	}
	except := lines(findIn(item, o.Except))
	switch {
	case o.Globs == pattern.Type && len(s.shown) > 0:
		s.reach, s.types = everywhere, typesNamed(r.Place, s.shown)
		f.sections = append(append(f.sections, f.based(r, o, item, s)...), s)
	case len(s.shown) == 0 && len(except) > 0 && onlyKeys(item, o.Except, "name"):
		list := pattern.Compile(o.Globs, except)
		s.kind, s.node = excludeSection, item.Find(o.Except)
		f.add(s, reach{list.Reaches, list.ByExtension()})
	case len(s.shown) == 0 && !o.All:
	case len(s.shown) == 0 && len(except) == 0:
		s.reach = everywhere
		f.sections = append(append(f.sections, f.based(r, o, item, s)...), s)
	default:
		list, out := pattern.Compile(o.Globs, s.shown), pattern.Compile(o.Globs, except)
		s.reach = len(f.reaches)
		f.sections = append(f.sections, f.based(r, o, item, s)...)
		f.add(s, reach{func(rel string) bool { return (len(s.shown) == 0 || list.Reaches(rel)) && !out.Reaches(rel) }, list.ByExtension() && len(except) == 0})
	}
}

// based returns the sections of the bases that an override names, which reach
// what it reaches.
func (f *File) based(r Reader, o *catalog.Overrides, item *document.Node, s section) []section {
	var out []section
	for _, named := range findIn(item, o.Extends).Words() {
		s.node, s.kind = named, opaqueSection
		if base, ok := f.preset(r.Program, named.Text()); ok {
			s.kind = baseSection
			f.data(named, base)
		}
		out = append(out, s)
	}
	return out
}

func findIn(n *document.Node, path string) *document.Node {
	if path == "" {
		return nil
	}
	return n.Find(path)
}

// onlyKeys reports whether a map has none but the given keys.
func onlyKeys(n *document.Node, keys ...string) bool {
	return !slices.ContainsFunc(n.Items, func(item *document.Node) bool { return !slices.Contains(keys, item.Key) })
}

// lines returns the patterns at n: a list, lists in a list, or lines of text.
func lines(n *document.Node) []string {
	if n == nil {
		return nil
	}
	if n.Kind == document.List {
		var out []string
		for _, item := range n.Items {
			out = append(out, lines(item)...)
		}
		return out
	}
	if n.Kind == document.Scalar && strings.Contains(n.Text(), "\n") {
		return strings.Split(n.Text(), "\n")
	}
	var out []string
	for _, w := range n.Words() {
		out = append(out, w.Text())
	}
	return out
}

// typesNamed returns the ids of the types that names of languages stand for.
func typesNamed(place *catalog.Place, names []string) []string {
	out := []string{}
	for _, name := range names {
		if ids, ok := place.TypeNames[name]; ok {
			out = append(out, ids...)
		} else if t := filetype.Named(name); t != nil {
			out = append(out, t.ID)
		}
	}
	return out
}

// OptionsOf returns the maps of settings of a file's overrides.
func OptionsOf(root *document.Node, o *catalog.Overrides) []*document.Node {
	var out []*document.Node
	for _, item := range overridesIn(root, o) {
		if o.Item != "" && item.Key != o.Item || item.Kind == document.Opaque {
			continue
		}
		if n := item.Find(o.Options); n != nil {
			out = append(out, n)
		}
	}
	return out
}

// SettingsIn returns the maps in which a reader of the file looks keys up: its
// general settings, and those of its sections.
func SettingsIn(f *File, r Reader) []*document.Node {
	root := f.Doc.Root.Find(r.Place.Section)
	if root == nil {
		return nil
	}
	out := []*document.Node{root}
	for _, sec := range f.sections {
		if sec.kind == settingsSection && (sec.place == nil || sec.place == r.Place) {
			out = append(out, sec.node)
		}
	}
	if r.Place.Languages != "" {
		for _, n := range root.Items {
			if n.Kind == document.Map && strings.HasPrefix(n.Key, "[") {
				out = append(out, n)
			}
		}
	}
	return out
}
