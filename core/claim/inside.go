package claim

import (
	"io"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
	"jollytreaty/core/tree"
)

// insideHints are texts that settings within a file cannot do without, whatever their
// case.
var insideHints = regexp.MustCompile(`(?i)\bvi:|\bvim[<=>]?\d*:|\bex:|-\*-|Local Variables:`)

// chosen returns the positions of the files in which settings about themselves are
// looked for.
func (p *Picture) chosen(o Options) []int {
	byType := map[*filetype.Type][]int{}
	for i, f := range p.Tree.Files {
		if !f.Type.Styled {
			continue
		}
		p.Styled++
		if o.Inside(f) && !strings.ContainsAny(f.Path, `[]{}*?!\,`) {
			byType[f.Type] = append(byType[f.Type], i)
		}
	}
	var out []int
	for _, files := range byType {
		if o.Sampled && len(files) > 2*tree.Few {
			files = tree.Drawn(files, tree.Few)
		}
		out = append(out, files...)
	}
	slices.Sort(out)
	p.Looked = len(out)
	return out
}

// inside reads the settings that stand in the very files they are about, those at some
// positions.
func (p *Picture) inside(fsys fs.FS, at []int) {
	var programs []*catalog.Entry
	for _, e := range p.Catalog.Entries {
		if e.Inside != "" {
			programs = append(programs, e)
		}
	}
	var mutex sync.Mutex
	each(len(at), func(i int) {
		f := p.Tree.Files[at[i]]
		if !hints(fsys, f.Path) {
			return
		}
		src, err := readAll(fsys, f.Path)
		if err != nil || len(src) > document.MaxSize {
			return
		}
		for _, e := range programs {
			doc := document.ParseInside(e.Inside, f.Path, src)
			if doc == nil || !speaks(e, doc.Root.Items[0]) {
				continue
			}
			place := &catalog.Place{Files: []string{path.Base(f.Path)}, Syntax: doc.Syntax, Search: "merged",
				Overrides: []*catalog.Overrides{{Key: ".", Files: keyItself, Globs: pattern.Paths}}}
			file := &File{Path: f.Path, Folder: path.Dir(f.Path), Doc: doc, Readers: []Reader{{Program: e, Place: place}}, Inside: true, preset: p.preset}
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

// insideAsIn takes over the settings inside of files that another picture has.
func (p *Picture) insideAsIn(known *Picture) {
	for _, f := range known.Files {
		if f.Inside {
			again := *f
			again.Governs, again.shows, again.preset = 0, nil, p.preset
			p.Files = append(p.Files, &again)
		}
	}
	p.Looked, p.Styled = known.Looked, known.Styled
}

// insideReach is how much of each end of a file may hold settings about it, in bytes.
const insideReach = 4096

// hints reports whether one of the ends of a file has a text that settings in it cannot
// do without.
func hints(fsys fs.FS, path string) bool {
	in, err := fsys.Open(path)
	if err != nil {
		return false
	}
	defer in.Close()
	info, err := in.Stat()
	if err != nil || !info.Mode().IsRegular() {
		return false
	}
	head := make([]byte, insideReach)
	n, _ := io.ReadFull(in, head)
	if insideHints.Match(head[:n]) {
		return true
	}
	if n < len(head) {
		return false
	}
	if seeker, ok := in.(io.Seeker); ok && info.Size() > 2*insideReach {
		if _, err := seeker.Seek(-insideReach, io.SeekEnd); err != nil {
			return false
		}
	} else if info.Size() > document.MaxSize {
		return false
	}
	tail, err := io.ReadAll(io.LimitReader(in, document.MaxSize))
	return err == nil && insideHints.Match(tail)
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
