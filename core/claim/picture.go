package claim

import (
	"cmp"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/presence"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
	"jollytreaty/core/tree"
)

// Options say what is read of a repository beside its settings. The zero Options are
// those of one without a treaty.
type Options struct {
	Parts  []func(path string) bool // files that these tell apart do not share a group
	Inside func(tree.File) bool     // in which settings about themselves are looked for; nil for none

	// Known are settings inside of files as they were found before; they are not looked
	// for again then.
	Known *Picture

	// Sampled says that of each type only so many are looked at as the code itself is
	// measured in at first.
	Sampled bool

	// Before is the tree of a state from which only the files at the paths Changed
	// differ.
	Before  *tree.Tree
	Changed []string
}

// Read makes the picture of a repository: its files are those at paths below
// fsys, its programs those of the catalog.
func Read(fsys fs.FS, paths []string, c *catalog.Catalog, o Options) *Picture {
	p := &Picture{Catalog: c, Seen: map[*catalog.Entry][]Seen{}, styled: map[*catalog.Entry][]Seen{}, told: map[*presence.Told]*File{}, arguments: map[argument]*presence.Told{}, elsewhere: map[*catalog.Entry][]Seen{}, starts: map[string]bool{}}
	var wait sync.WaitGroup
	wait.Go(func() {
		if o.Before != nil {
			p.Tree = o.Before.On(fsys, paths, o.Changed)
		} else {
			p.Tree = tree.Build(fsys, paths)
		}
	})
	wait.Go(func() {
		finder := presence.NewFinder(c)
		found := finder.Look(fsys, paths)
		p.take(fsys, found)
		p.discover(fsys, paths, givenFiles(found.Signs), finder.Reads)
	})
	wait.Wait()
	for _, f := range p.Files {
		f.Starts = p.starts[f.Folder]
		f.notBy = p.startedElsewhere(f)
	}
	p.remap()
	p.readArguments()
	if o.Known != nil {
		p.insideAsIn(o.Known)
	} else if o.Inside != nil {
		p.inside(fsys, p.chosen(o))
	}
	g := newGrouper(p.Files, p.Seen, o.Parts)
	p.GroupOf = g.group(p.Tree)
	p.Groups = g.groups
	p.notice()
	p.mention(fsys)
	p.cover()
	each(len(p.Groups), func(i int) { p.resolve(p.Groups[i]) })
	p.govern()
	p.lose()
	p.listOpaque()
	return p
}

// startedElsewhere returns the programs that look for the file only in the folder in which
// they are started, and whose runs that reach it are all started in other ones.
func (p *Picture) startedElsewhere(f *File) map[*catalog.Entry]bool {
	var out map[*catalog.Entry]bool
	for _, r := range f.Readers {
		if r.Place.Search != "root" {
			continue
		}
		runs, here := false, false
		for _, s := range p.Seen[r.Program] {
			if s.Started != "" && s.When != sign.Never && Within(f.Folder, s.Folder) {
				runs, here = true, here || s.Started == f.Folder
			}
		}
		if runs && !here {
			if out == nil {
				out = map[*catalog.Entry]bool{}
			}
			out[r.Program] = true
		}
	}
	return out
}

// take sorts the signs by what they say.
func (p *Picture) take(fsys fs.FS, found presence.Found) {
	p.RunsEverything, p.Mistyped, p.Ecosystems = found.Anything, found.Mistyped, found.Ecosystems
	for _, cut := range found.Cut {
		p.Broken = append(p.Broken, Broken{Path: cut.Path, Line: cut.Line,
			Why: fmt.Sprintf("cannot be read in full: it starts more than %d programs; those behind are passed over", cut.Most)})
	}
	for _, folder := range found.Projects {
		p.starts[folder] = true
	}
	for _, f := range found.InCode {
		p.starts[f.Seen.Folder] = true
		if f.Styled {
			p.styled[f.Program] = append(p.styled[f.Program], f.Seen)
		} else {
			p.elsewhere[f.Program] = append(p.elsewhere[f.Program], f.Seen)
		}
	}
	for _, f := range found.Signs {
		if f.Seen.As.Brings() {
			p.starts[f.Seen.Folder] = true
			if f.Seen.Started != "" {
				p.starts[f.Seen.Started] = true
			}
		}
		p.Seen[f.Program] = append(p.Seen[f.Program], f.Seen)
		if f.Seen.Told != nil && p.told[f.Seen.Told] == nil {
			p.readTold(fsys, f.Seen)
		}
		if f.Styled {
			p.styled[f.Program] = append(p.styled[f.Program], f.Seen)
		}
	}
}

// notice adds the signs of presence that the settings files give.
func (p *Picture) notice() {
	for _, f := range p.Files {
		for _, r := range f.Readers {
			if r.showsIn(f) {
				f.shows = append(f.shows, r)
				p.Seen[r.Program] = append(p.Seen[r.Program], f.seenAs(r.Place))
			}
		}
	}
	types := map[string]bool{}
	for _, g := range p.Groups {
		types[g.Type.ID] = true
	}
	for _, e := range p.Catalog.Entries {
		if slices.ContainsFunc(e.Toolchain, func(t string) bool { return types[t] }) {
			p.Seen[e] = append(p.Seen[e], Seen{As: sign.Toolchain, Folder: "."})
		}
	}
	for e := range p.Seen {
		slices.SortStableFunc(p.Seen[e], func(a, b Seen) int {
			return cmp.Or(cmp.Compare(a.Path, b.Path), cmp.Compare(a.Line, b.Line))
		})
	}
}

// cover lists the programs that cover each type that is present.
func (p *Picture) cover() {
	p.covering = map[*filetype.Type][]*catalog.Entry{}
	for _, g := range p.Groups {
		if _, done := p.covering[g.Type]; done {
			continue
		}
		list := []*catalog.Entry{}
		for _, e := range p.Catalog.Entries {
			if _, covers := e.Covering(g.Type.ID); covers {
				list = append(list, e)
			}
		}
		p.covering[g.Type] = list
	}
}

// Covering returns the programs that cover the group's type, in id order.
func (p *Picture) Covering(g *Group) []*catalog.Entry { return p.covering[g.Type] }

func (p *Picture) resolve(g *Group) {
	g.Excludes = map[*catalog.Entry]Where{}
	g.Idle = map[*catalog.Entry]Where{}
	g.Picked = map[*catalog.Entry]Pick{}
	g.Actions = map[*catalog.Entry]Pick{}
	g.signs = map[*catalog.Entry][]Seen{}
	g.opaque = map[*catalog.Entry]Seen{}
	g.told = map[*catalog.Entry]*File{}
	g.applies = map[*catalog.Place][]Settings{}
	for _, e := range p.covering[g.Type] {
		if e.Picks != nil && p.Seen[e] != nil {
			p.pick(e, g)
		}
	}
	var here []*catalog.Entry
	for _, e := range p.covering[g.Type] {
		if (p.Seen[e] != nil || hasPick(g, e) || hasAction(g, e)) && g.plugs(e) {
			g.signs[e] = p.findSigns(e, g)
			here = append(here, e)
		}
	}
	for _, e := range here {
		for _, run := range p.bridged(e, g) {
			if !slices.Contains(here, run) {
				here = append(here, run)
			}
		}
	}
	for _, e := range here {
		p.claims(e, g)
	}
	for _, editor := range p.covering[g.Type] {
		if editor.Picks != nil && p.Seen[editor] != nil {
			p.pass(editor, g, here)
		}
	}
	p.rubs(g, here)
	slices.SortStableFunc(g.Claims, func(a, b *Claim) int { return a.Rule.Order - b.Rule.Order })
}

// configured reports whether the program has a settings file of its own for the
// group.
func (g *Group) configured(e *catalog.Entry) bool {
	return slices.ContainsFunc(e.Settings, func(place *catalog.Place) bool {
		return place.Syntax != document.EditorConfig && len(g.FilesOf(e, place)) > 0
	})
}

// plugs reports whether the program can read the group's type, by itself or with
// a plugin of which its settings speak.
func (g *Group) plugs(e *catalog.Entry) bool {
	word := e.Plugged[g.Type.ID]
	if word == "" {
		return true
	}
	for _, place := range e.Settings {
		for _, f := range g.FilesOf(e, place) {
			if f.Doc != nil && strings.Contains(string(f.Doc.Src), word) {
				return true
			}
		}
	}
	return false
}

func hasPick(g *Group, e *catalog.Entry) bool   { _, ok := g.Picked[e]; return ok }
func hasAction(g *Group, e *catalog.Entry) bool { _, ok := g.Actions[e]; return ok }

// pick notes which formatter an editor's settings name for the group, and what
// else it runs when a file is saved.
func (p *Picture) pick(editor *catalog.Entry, g *Group) {
	find := func(key string) (*document.Node, Where) {
		if key == "" {
			return nil, Where{}
		}
		layers := stackOf(editor, g).layers
		for i := len(layers) - 1; i >= 0; i-- {
			if l := layers[i]; l.node != nil {
				if n := l.node.Find(key); n != nil {
					return n, Where{File: l.file, Node: n, Scope: l.scope}
				}
			}
		}
		return nil, Where{}
	}
	is := func(key string) bool {
		n, _ := find(key)
		return n != nil && isTrue(n)
	}
	k := editor.Picks
	if named, where := find(k.Formatter); named != nil {
		g.named = true
		for _, e := range p.covering[g.Type] {
			idle := is(e.Configured[editor.ID]) && !g.configured(e)
			if (e.Has(catalog.Formatter) || e.Has(catalog.Linter)) && slices.Contains(e.EditorNames, named.Text()) && !idle {
				g.Picked[e] = Pick{Editor: editor, Where: where, OnSave: is(k.OnSave), OnPaste: is(k.OnPaste), OnType: is(k.OnType)}
			}
		}
	}
	if actions, where := find(k.Actions); actions != nil {
		for _, e := range p.covering[g.Type] {
			if hasPick(g, e) {
				continue
			}
			names := e.EditorNames
			if slices.ContainsFunc(p.Seen[e], func(s Seen) bool { return s.As != sign.Lock }) {
				names = slices.Concat(names, e.Serves)
			}
			for _, name := range names {
				if n := actions.Get(name); n != nil && n.Value != false && n.Text() != "never" {
					where.Node = n
					g.Actions[e] = Pick{Editor: editor, Where: where, OnSave: true}
				}
			}
		}
	}
}

// pass adds the claims of an editor that sets keys of programs for its own runs of them.
func (p *Picture) pass(editor *catalog.Entry, g *Group, here []*catalog.Entry) {
	for _, e := range here {
		if len(e.Passes[editor.ID]) == 0 {
			continue
		}
		s := stackOf(editor, g)
		for key, target := range e.Passes[editor.ID] {
			n, l := s.find(key)
			if n == nil || l.file == nil {
				continue
			}
			given := &File{Path: l.file.Path, Folder: l.file.Folder, Readers: []Reader{{Program: e, Place: e.Place("")}}, Doc: l.file.Doc, CommandLine: true}
			node := &document.Node{Kind: document.Map}
			copied := *n
			copied.Key = target
			node.Items = append(node.Items, &copied)
			told, own := stack{layers: []layer{{file: given, place: e.Place(""), node: node, derived: true}}, broken: true}, &Group{Type: g.Type, signs: g.signs}
			for _, q := range e.Rules {
				if q.Concerns(g.Type.ID) {
					told.answer(e, q, own)
				}
			}
			for _, c := range own.Claims {
				if c.Basis != Default && !c.Value.IsZero() {
					c.Program, c.Where.Node = editor, n
					g.Claims = append(g.Claims, c)
				}
			}
		}
	}
}

// listOpaque lists where settings are given that are not read.
func (p *Picture) listOpaque() {
	for _, f := range p.Files {
		if f.Doc == nil && f.Err == nil && f.BaseOf == nil {
			p.Opaque = append(p.Opaque, Opaque{Program: f.Readers[0].Program, Path: f.Path, Files: f.Governs})
		}
	}
	p.listComputed()
	at := map[Opaque]int{}
	var order []Opaque
	for _, g := range p.Groups {
		for e, seen := range g.opaque {
			o := Opaque{Program: e, Path: seen.Path, Line: seen.Line}
			if at[o] == 0 {
				order = append(order, o)
			}
			at[o] += g.Files
		}
	}
	slices.SortFunc(order, func(a, b Opaque) int {
		return cmp.Or(cmp.Compare(a.Program.ID, b.Program.ID), cmp.Compare(a.Path, b.Path), cmp.Compare(a.Line, b.Line))
	})
	for _, o := range order {
		o.Files = at[o]
		p.Opaque = append(p.Opaque, o)
	}
}

// listComputed lists where code decides what a setting is, each place once.
func (p *Picture) listComputed() {
	files := map[openAt]int{}
	var order []openAt
	for _, g := range p.Groups {
		for _, at := range g.unknown {
			if p.isMissing(at) {
				continue // told of as a base that is not there
			}
			if files[at] == 0 {
				order = append(order, at)
			}
			files[at] += g.Files
		}
	}
	for _, at := range order {
		line, column := at.file.Doc.Position(at.node.KeyStart)
		text := string(at.file.Doc.Src[at.node.Start:min(at.node.End, len(at.file.Doc.Src))])
		text, _, _ = strings.Cut(text, "\n")
		if len(text) > 60 {
			text = strings.ToValidUTF8(text[:60], "") + "…"
		}
		p.Opaque = append(p.Opaque, Opaque{Program: at.program, Path: at.file.Path, Line: line, Column: column, Files: files[at], Text: text})
	}
}

func (p *Picture) isMissing(at openAt) bool {
	return slices.ContainsFunc(p.Missing, func(m Missing) bool { return m.Node == at.node })
}

// govern counts, for each settings file, the files it speaks about.
func (p *Picture) govern() {
	for _, g := range p.Groups {
		for _, f := range g.chain.files {
			if p.speaks(f, g) {
				f.Governs += g.Files
			}
		}
	}
	for _, f := range p.Files {
		above := f.BaseOf
		for above != nil && above.BaseOf != nil {
			above = above.BaseOf
		}
		if above != nil {
			f.Governs = above.Governs
		}
	}
}

// Reached counts the files that a section of a settings file is about, or all
// that the file governs where it has no such section.
func (p *Picture) Reached(f *File, section *document.Node) int {
	for _, sec := range f.sections {
		if sec.node != section {
			continue
		}
		files := 0
		for _, g := range p.Groups {
			if g.Type.Styled && g.Reads(f) && sec.applies(g, g.chain.offset(f)) {
				files += g.Files
			}
		}
		return files
	}
	return f.Governs
}

// speaks reports whether a program reads the file for the group.
func (p *Picture) speaks(f *File, g *Group) bool {
	for _, r := range f.Readers {
		if !g.Type.Styled || !slices.Contains(p.covering[g.Type], r.Program) {
			continue
		}
		if _, out := g.Excludes[r.Program]; out && !r.Ignores {
			continue
		}
		if f.Inside {
			return f.sections[0].applies(g, g.chain.offset(f))
		}
		if r.Ignores || slices.Contains(g.FilesOf(r.Program, r.Place), f) {
			if f.Doc == nil || !f.Doc.Syntax.ByFiles() {
				return true
			}
			offset := g.chain.offset(f)
			if slices.ContainsFunc(f.sections, func(sec section) bool { return sec.applies(g, offset) }) {
				return true
			}
		}
	}
	return false
}

// Signs returns the signs, strongest kind first, that the program is in play
// for the group: those that concern its folder, and the editor's pick.
func (g *Group) Signs(e *catalog.Entry) []Seen { return g.signs[e] }

func (p *Picture) findSigns(e *catalog.Entry, g *Group) []Seen {
	var out []Seen
	argued, told := p.argued(e, g)
	if pick, ok := g.Picked[e]; ok {
		seen := pick.Seen()
		if told {
			seen.Told = argued.Told
		}
		out = append(out, seen)
	} else if told && p.Seen[e] != nil {
		out = append(out, argued)
	}
	if pick, ok := g.Actions[e]; ok {
		out = append(out, pick.seen(sign.Script))
	}
	for _, f := range g.insideOf(e) {
		if f.sections[0].applies(g, g.chain.offset(f)) {
			out = append(out, f.seen())
		}
	}
	for _, place := range e.Settings {
		for _, f := range g.FilesOf(e, place) {
			if slices.ContainsFunc(f.shows, func(r Reader) bool { return r.Program == e && r.Place == place }) {
				out = append(out, f.seenAs(place))
			}
		}
	}
	for _, s := range p.Seen[e] {
		switch {
		case s.As == sign.Settings, s.As == sign.BuiltIn, s.As == sign.Toolchain && !slices.Contains(e.Toolchain, g.Type.ID):
		case Within(g.chain.folder, s.Folder) && s.Reaches(g.Examples[0], g.Type.ID):
			out = append(out, s)
		}
	}
	if _, picked := g.Picked[e]; g.named && !picked { // the editor runs another one
		out = slices.DeleteFunc(out, func(s Seen) bool { return s.As == sign.BuiltIn })
	}
	out = p.unlessRun(e, g, out)
	slices.SortStableFunc(out, func(a, b Seen) int { return b.As.Strength() - a.As.Strength() })
	return out
}

// unlessRun returns the signs without settings and declarations of a program that is
// run, but never on the group's files: then these do not speak for them.
func (p *Picture) unlessRun(e *catalog.Entry, g *Group, signs []Seen) []Seen {
	runs := func(s Seen) bool {
		return (s.As == sign.Hook || s.As == sign.CI || s.As == sign.Script) && s.When != sign.Never
	}
	if slices.ContainsFunc(signs, runs) {
		return signs
	}
	return slices.DeleteFunc(signs, func(s Seen) bool {
		return (s.As == sign.Settings || s.As == sign.Dependency) && slices.ContainsFunc(p.Seen[e], func(run Seen) bool {
			return runs(run) && (Within(run.Folder, s.Folder) || Within(s.Folder, run.Folder))
		})
	})
}

// OnlyLints reports whether the program, which could rewrite the files, is only ever
// run to look at other things.
func (g *Group) OnlyLints(e *catalog.Entry) bool {
	lints := false
	for _, s := range g.signs[e] {
		switch {
		case s.Does == sign.Lints:
			lints = true
		case s.When != sign.Never || s.As == sign.Editor:
			return false
		}
	}
	return lints
}

// Fixes reports whether some run of the program, or the editor on save, rewrites the
// files, though it is a linter, so that its checks leave them in their layout.
func (g *Group) Fixes(e *catalog.Entry) bool {
	if !e.Has(catalog.Linter) {
		return false
	}
	return g.rewrites(e) && (g.Claim(e, rule.IndentStyle) != nil || g.Claim(e, rule.IndentSize) != nil || g.Claim(e, rule.Braces) != nil)
}

func (g *Group) rewrites(e *catalog.Entry) bool {
	return slices.ContainsFunc(g.signs[e], func(s Seen) bool {
		return s.Does == sign.Writes && s.When != sign.Never && s.Through == ""
	})
}

// Within reports whether folder is dir or below it.
func Within(folder, dir string) bool {
	return dir == "." || folder == dir || strings.HasPrefix(folder, dir+"/")
}
