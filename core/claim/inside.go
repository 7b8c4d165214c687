package claim

import (
	"bytes"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
	"jollytreaty/core/tree"
)

// insideHints are texts that settings within a file cannot do without.
var insideHints = [][]byte{[]byte("vi:"), []byte("vim:"), []byte("ex:"), []byte("-*-"), []byte("Local Variables:")}

// inside reads the settings that stand in the very files they are about, for
// the files that want says.
func (p *Picture) inside(fsys fs.FS, want func(tree.File) bool) {
	var programs []*catalog.Entry
	for _, e := range p.Catalog.Entries {
		if e.Inside != "" {
			programs = append(programs, e)
		}
	}
	var mutex sync.Mutex
	each(len(p.Tree.Files), func(i int) {
		f := p.Tree.Files[i]
		if !f.Type.Styled || !want(f) || strings.ContainsAny(f.Path, `[]{}*?!\,`) {
			return
		}
		src, err := readAll(fsys, f.Path)
		if err != nil || len(src) > document.MaxSize || !slices.ContainsFunc(insideHints, func(hint []byte) bool { return bytes.Contains(src, hint) }) {
			return
		}
		for _, e := range programs {
			doc := document.ParseInside(e.Inside, f.Path, src)
			if doc == nil || !speaks(e, doc.Root.Items[0]) {
				continue
			}
			place := &catalog.Place{Files: []string{path.Base(f.Path)}, Syntax: doc.Syntax, Search: "merged",
				Overrides: []*catalog.Overrides{{Key: ".", Files: keyItself, Globs: pattern.Paths}}}
			file := &File{Path: f.Path, Folder: path.Dir(f.Path), Doc: doc, Readers: []Reader{{Program: e, Place: place}}, Inside: true}
			file.findSections()
			mutex.Lock()
			p.Files = append(p.Files, file)
			mutex.Unlock()
		}
	})
	slices.SortStableFunc(p.Files, func(a, b *File) int {
		return strings.Compare(a.Path+a.Readers[0].Program.ID, b.Path+b.Readers[0].Program.ID)
	})
}

// speaks reports whether a map holds a key that answers one of the program's
// rules.
func speaks(e *catalog.Entry, settings *document.Node) bool {
	return slices.ContainsFunc(e.Rules, func(q *catalog.Question) bool {
		return slices.ContainsFunc(q.From, func(w *catalog.Way) bool { return settings.Find(w.Key) != nil })
	})
}

// insideOf returns the files that hold settings about the group's own files.
func (g *Group) insideOf(e *catalog.Entry) []*File {
	var out []*File
	for _, f := range g.chain.files {
		if f.Inside && f.Readers[0].Program == e {
			out = append(out, f)
		}
	}
	return out
}

// remap gives files the types that editors and version control declare for them.
func (p *Picture) remap() {
	for _, f := range p.Files {
		for _, r := range f.Readers {
			if r.Program.Maps == "" || r.Ignores || f.Doc == nil {
				continue
			}
			for _, m := range mappings(f, r) {
				p.retype(f.Folder, m)
			}
		}
	}
}

// mapping is a pattern with the type of what it reaches.
type mapping struct {
	list pattern.List
	typ  *filetype.Type
}

func mappings(f *File, r Reader) []mapping {
	var out []mapping
	add := func(dialect pattern.Dialect, glob, name string) {
		if t := filetype.Named(name); t != nil {
			out = append(out, mapping{pattern.Compile(dialect, []string{glob}), t})
		}
	}
	if f.Doc.Syntax.Form() == document.Rows {
		for _, line := range f.Doc.Root.Items {
			if n := line.Get(r.Program.Maps); n != nil {
				add(pattern.Lines, line.Key, n.Text())
			}
		}
		return out
	}
	if m := f.Doc.Root.Find(r.Program.Maps); m != nil {
		for _, n := range m.Items {
			add(pattern.Names, n.Key, n.Text())
		}
	}
	return out
}

func (p *Picture) retype(folder string, m mapping) {
	prefix := ""
	if folder != "." {
		prefix = folder + "/"
	}
	for i := range p.Tree.Files {
		f := &p.Tree.Files[i]
		if rel, in := strings.CutPrefix(f.Path, prefix); in && f.Type != m.typ && m.list.Reaches(rel) {
			f.Type = m.typ
		}
	}
}
