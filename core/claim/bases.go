package claim

import (
	"bytes"
	"cmp"
	"encoding/json"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/presence"
)

// base is what a settings file extends.
type base struct {
	place *catalog.Place
	named *document.Node // where it is named
	data  map[string]any // settings that are known by name
	file  *File          // a file that was found
	by    *File          // the file that names it
}

// Missing is a base that a settings file names and that was not found.
type Missing struct {
	Program  *catalog.Entry
	File     *File
	Node     *document.Node
	Name     string
	Declared string // the manifest that declares it, though it is not installed here
	Hint     string // what would resolve it
}

// presets finds the settings of bases that programs know by name, in the versions that
// are used here.
type presets func(e *catalog.Entry, name string) (map[string]any, bool)

// preset returns the settings of a base that a program knows by name.
func (p *Picture) preset(e *catalog.Entry, name string) (map[string]any, bool) {
	if _, ok := e.Bases[name]; !ok && e.FoldBases {
		for known := range e.Bases {
			if strings.EqualFold(known, name) {
				name = known
			}
		}
	}
	if version := older(e.BasesBefore[name], p.Seen[e]); version != "" {
		return e.BasesBefore[name][version], true
	}
	data, ok := e.Bases[name]
	return data, ok
}

// older returns the first of the versions that all those the signs say are before, or
// "".
func older[V any](versions map[string]V, signs []Seen) string {
	for _, version := range slices.SortedFunc(maps.Keys(versions), presence.CompareVersions) {
		said, before := false, true
		for _, s := range signs {
			if s.Version != "" && !s.Foreign {
				said, before = true, before && presence.Before(s.Version, version)
			}
		}
		if said && before {
			return version
		}
	}
	return ""
}

// data keeps the settings of a known base that is named among the settings.
func (f *File) data(named *document.Node, settings map[string]any) {
	f.bases = append(f.bases, base{named: named, data: settings})
}

// baseOf returns the known base that is named at a node, or nil.
func (f *File) baseOf(named *document.Node) *document.Node {
	for _, b := range f.bases {
		if b.named == named && b.data != nil {
			return document.FromData(b.data)
		}
	}
	return nil
}

// inheriting resolves what settings files extend.
type inheriting struct {
	fsys    fs.FS
	places  *catalog.Places
	known   map[string]*File
	extra   []*File // files that only others extend
	missing []Missing
}

// maxBases bounds a chain of bases, so that a circle ends, and maxNamed how many a file
// names itself.
const (
	maxBases = 30
	maxNamed = 200
)

// resolve finds the bases of a file; chain is the files that extend it.
func (in *inheriting) resolve(f *File, chain []*File) {
	if f.Doc == nil || f.resolved || len(chain) > maxBases {
		return
	}
	f.resolved = true
	chain = append(slices.Clone(chain), f)
	for _, r := range f.Readers {
		if r.Ignores {
			continue
		}
		root := f.Doc.Root.Find(r.Place.Section)
		for _, i := range r.Place.Extends {
			named := regexp.MustCompile(i.Names) // checked with the entry
			for _, n := range f.at(root, i.Key) {
				if i.Key == "" && n.Kind != document.Scalar {
					continue // the settings themselves, unless a text stands for them
				}
				if n.Kind == document.Map { // packages, each with its file
					for _, item := range n.Items {
						for _, w := range item.Words() {
							in.one(f, r, i, item, item.Key, w.Text(), chain)
						}
					}
					continue
				}
				for _, w := range n.Words() {
					if named.MatchString(w.Text()) {
						in.one(f, r, i, w, w.Text(), i.File, chain)
					}
				}
			}
		}
	}
}

// notInstalled is what to do about a package that is not there.
const notInstalled = "install the packages, or write down here what it sets"

// one resolves a single base.
func (in *inheriting) one(f *File, r Reader, i catalog.Inherit, at *document.Node, name, file string, chain []*File) {
	b := base{place: r.Place, named: at}
	if len(f.bases) > maxNamed {
		return // the last that counts is the opaque one
	}
	if len(f.bases) == maxNamed {
		in.missing = append(in.missing, Missing{Program: r.Program, File: f, Node: at, Name: name, Declared: f.Path, Hint: fmt.Sprintf("the file extends more than %d others, which are not read", maxNamed)})
		f.bases = append(f.bases, b)
		return
	}
	if data, ok := f.preset(r.Program, name); ok {
		b.data = data
		f.bases = append(f.bases, b)
		return
	}
	miss := Missing{Program: r.Program, File: f, Node: at, Name: name}
	found := ""
	local := i.Folder == "" || strings.HasPrefix(name, ".") || strings.HasPrefix(name, "/")
	switch {
	case !i.Paths && i.Folder == "":
		miss.Hint = "no preset of that name is known, as of version " + r.Program.Version
		miss.Declared = f.Path
	case strings.Contains(name, "://"):
		miss.Hint = "it lies outside the repository, where nothing is fetched from"
		miss.Declared = f.Path
	case i.Paths && local:
		found = in.file(path.Join(path.Dir(f.Path), name))
		miss.Hint = "no such file: " + path.Join(path.Dir(f.Path), name)
		for _, pack := range packagesAt(name, cmp.Or(i.Folder, i.Depot)) {
			miss.Declared = cmp.Or(miss.Declared, in.declared(f.Folder, pack))
			miss.Hint = notInstalled
		}
	case i.Plugin != "" && strings.HasPrefix(name, i.PluginMark):
		plugin, _, _ := strings.Cut(strings.TrimPrefix(name, i.PluginMark), "/")
		if strings.HasPrefix(plugin, "@") {
			plugin = path.Dir(strings.TrimPrefix(name, i.PluginMark))
		}
		miss.Declared = in.declared(f.Folder, packageOf(plugin, i.Plugin))
		miss.Hint = "what a plugin sets is not read; write down here what matters of it"
	case i.Folder != "":
		found = in.installed(f.Folder, i, packageOf(name, i.Prefix), file)
		pack, _ := splitPackage(packageOf(name, i.Prefix))
		miss.Declared = in.declared(f.Folder, pack)
		miss.Hint = notInstalled
	}
	if found == "" {
		in.missing = append(in.missing, miss)
		f.bases = append(f.bases, b)
		return
	}
	b.file = in.open(found, f, r)
	if slices.Contains(chain, b.file) {
		miss.Hint = "the files extend each other in a circle"
		in.missing = append(in.missing, miss)
		return
	}
	in.resolve(b.file, chain)
	f.bases = append(f.bases, b)
}

// packageOf returns the name of the package that a base's name stands for, with
// the path of a file in it, if one is named.
func packageOf(name, prefix string) string {
	if prefix == "" || strings.Contains(name, prefix) {
		return name
	}
	if scope, rest, ok := strings.Cut(name, "/"); strings.HasPrefix(name, "@") {
		if !ok {
			return scope + "/" + strings.TrimSuffix(prefix, "-")
		}
		return scope + "/" + prefix + rest
	}
	return prefix + name
}

// splitPackage splits the name of a package, which may have a scope, from the
// path of a file in it, "" if none is named.
func splitPackage(name string) (pack, inside string) {
	parts := strings.Split(name, "/")
	head := 1
	if strings.HasPrefix(name, "@") {
		head = min(2, len(parts))
	}
	return path.Join(parts[:head]...), path.Join(parts[head:]...)
}

// packagesAt returns the packages to which a path below a folder of installed
// packages may lead, whose names have one part or two; none if it leads
// elsewhere.
func packagesAt(name, folder string) []string {
	_, inside, ok := strings.Cut("/"+path.Clean(name), "/"+folder+"/")
	if !ok || folder == "" {
		return nil
	}
	scope, rest, more := strings.Cut(inside, "/")
	if !more {
		return []string{scope}
	}
	second, _, _ := strings.Cut(rest, "/")
	return []string{scope, scope + "/" + second}
}

// file returns the path of a file that is there, with an ending if it needs
// one, or "".
func (in *inheriting) file(p string) string {
	for _, ending := range append([]string{""}, in.places.Unended...) {
		if fs.ValidPath(p + ending) {
			if info, err := fs.Stat(in.fsys, p+ending); err == nil && info.Mode().IsRegular() {
				return p + ending
			}
		}
	}
	return ""
}

// installed returns the settings file of an installed package, or "".
func (in *inheriting) installed(folder string, i catalog.Inherit, name, file string) string {
	pack, inside := splitPackage(name)
	for dir := folder; ; dir = path.Dir(dir) {
		root := path.Join(dir, i.Folder, pack)
		if fs.ValidPath(root) {
			if inside != "" {
				if p := in.file(path.Join(root, inside)); p != "" {
					return p
				}
			} else if file != "" {
				if p := in.file(path.Join(root, file)); p != "" {
					return p
				}
			} else if p := in.mainOf(root, in.places.Depot(i.Folder)); p != "" {
				return p
			}
		}
		if dir == "." {
			return ""
		}
	}
}

// mainOf returns the file that a package's manifest names as its main one.
func (in *inheriting) mainOf(root string, depot catalog.Depot) string {
	if text, err := readAll(in.fsys, path.Join(root, depot.Manifest)); err == nil {
		manifest := map[string]any{}
		if json.Unmarshal(text, &manifest) == nil {
			if main, _ := manifest[depot.Main].(string); main != "" {
				return in.file(path.Join(root, main))
			}
		}
	}
	return in.file(path.Join(root, depot.Index))
}

// declared returns the manifest above the folder that names the package, or "".
func (in *inheriting) declared(folder, name string) string {
	for dir := folder; ; dir = path.Dir(dir) {
		for _, manifest := range in.places.Declaring {
			text, err := readAll(in.fsys, path.Join(dir, manifest))
			if err == nil && (bytes.Contains(text, []byte(`"`+name+`"`)) || bytes.Contains(text, []byte(`'`+name+`'`))) {
				return path.Join(dir, manifest)
			}
		}
		if dir == "." {
			return ""
		}
	}
}

// open reads a base as settings of the program that extends it.
func (in *inheriting) open(p string, by *File, r Reader) *File {
	if f := in.known[p]; f != nil {
		return f
	}
	place := *r.Place
	place.Section = ""
	if syntax := document.ByEnding(path.Ext(p)); syntax != "" {
		place.Syntax, place.Syntaxes = syntax, nil
	}
	f := &File{Path: p, Folder: path.Dir(p), BaseOf: by, preset: by.preset, Readers: []Reader{{Program: r.Program, Place: &place}}}
	in.known[p] = f
	if err := f.read(in.fsys); err != nil {
		f.Doc = nil
	}
	in.extra = append(in.extra, f)
	return f
}

// borrow adds to a file the sections of the bases that f extends: their patterns
// are about the files below the one that extends them.
func (to *File) borrow(f *File) {
	for _, b := range slices.Backward(f.inherits(nil)) {
		if b.file == nil || b.file.Doc == nil {
			continue
		}
		for _, s := range b.file.sections {
			if s.place != b.file.Readers[0].Place {
				continue
			}
			s.place, s.from = b.place, b.file
			if s.reach != everywhere {
				to.reaches = append(to.reaches, b.file.reaches[s.reach])
				s.reach = len(to.reaches) - 1
			}
			to.borrowed = append(to.borrowed, s)
		}
	}
}

// inherits returns the bases of a file with theirs in turn, strongest first, each file
// once, where it counts most: what it sets before is overridden by itself. They are
// told as the place of the file that extends them all; nil stands for every place.
func (f *File) inherits(place *catalog.Place) []base {
	var out []base
	had := map[*File]bool{f: true}
	var add func(f *File, in, as *catalog.Place, depth int)
	add = func(f *File, in, as *catalog.Place, depth int) {
		for _, b := range slices.Backward(f.bases) {
			if in != nil && b.place != in || b.file != nil && had[b.file] || depth > maxBases {
				continue
			}
			b.by, b.place = f, cmp.Or(as, b.place)
			out = append(out, b)
			if b.file == nil || b.file.Doc == nil {
				continue
			}
			had[b.file] = true
			var below *catalog.Place // of a base only what it extends as the same settings counts
			if place != nil {
				below = b.file.Readers[0].Place
			}
			add(b.file, below, b.place, depth+1)
		}
	}
	add(f, place, nil, 0)
	return out
}

// layersOf returns the layers a file's bases give, weakest first; parts gives the
// layers of a base's sections.
func (f *File) layersOf(place *catalog.Place, parts func(base *File) []layer) []layer {
	var out []layer
	for _, b := range slices.Backward(f.inherits(place)) {
		inherited := b.by != f
		switch {
		case b.data != nil:
			out = append(out, layer{file: b.by, place: place, node: document.FromData(b.data), base: b.named, inherited: inherited})
		case b.file == nil || b.file.Doc == nil:
			out = append(out, layer{file: b.by, place: place, opaque: b.named, inherited: inherited})
		default:
			out = append(out, layer{file: b.file, place: place, node: b.file.Doc.Root.Find(b.file.Readers[0].Place.Section), inherited: true})
			for _, l := range parts(b.file) {
				l.place, l.inherited = place, l.inherited || inherited
				out = append(out, l)
			}
		}
	}
	return out
}
