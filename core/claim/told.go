package claim

import (
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/presence"
	"jollytreaty/core/sign"
)

// tell reads what command lines set for the group. Where every run of the program sets
// the same, that is the strongest of its settings; where runs set different things, it
// returns what each sets, nil for one that sets nothing. Where that is not to be had, the
// group keeps the place, as nothing can be said.
func (p *Picture) tell(e *catalog.Entry, g *Group) []*File {
	var runs []Seen
	var told []*File
	for _, s := range g.signs[e] {
		if s.When == sign.Never || slices.ContainsFunc(runs, func(had Seen) bool { return text(had) == text(s) }) {
			continue
		}
		runs = append(runs, s)
		if s.Told != nil && p.told[s.Told] == nil {
			g.opaque[e] = s
			return nil
		}
		told = append(told, p.told[s.Told])
	}
	if len(told) == 1 {
		g.told[e] = told[0]
		return nil
	}
	return told
}

// argument is what settings of an editor give its runs of a program.
type argument struct {
	program *catalog.Entry
	node    *document.Node
}

// readArguments reads the arguments that editors give their own runs of programs.
func (p *Picture) readArguments() {
	for _, f := range p.Files {
		for _, r := range f.Readers {
			if r.Program.Picks == nil || f.Doc == nil {
				continue
			}
			for _, e := range p.Catalog.Entries {
				for _, key := range e.Arguments[r.Program.ID] {
					for _, settings := range SettingsIn(f, r) {
						n := settings.Find(key)
						var words []string
						for _, w := range n.Words() {
							words = append(words, strings.Fields(w.Text())...)
						}
						t := presence.ToldBy(e, words)
						if t == nil {
							continue
						}
						line, _ := f.Doc.Position(n.KeyStart)
						p.arguments[argument{e, n}] = t
						p.told[t] = &File{Path: f.Path, Folder: f.Folder, CommandLine: true, Doc: document.OnLine(f.Path, f.Doc.Src, line, t.Keys)}
					}
				}
			}
		}
	}
}

// argued returns how an editor runs a program with arguments of its own, if it does.
func (p *Picture) argued(e *catalog.Entry, g *Group) (Seen, bool) {
	for _, editor := range p.covering[g.Type] {
		if len(e.Arguments[editor.ID]) == 0 || p.Seen[editor] == nil {
			continue
		}
		s := stackOf(editor, g)
		for _, key := range e.Arguments[editor.ID] {
			n, l := s.find(key)
			if t := p.arguments[argument{e, n}]; n != nil && t != nil {
				line, _ := l.file.Doc.Position(n.KeyStart)
				does := sign.Writes
				if !e.Has(catalog.Formatter) && !e.Has(catalog.ImportSorter) {
					does = sign.Checks
				}
				return Seen{As: sign.Script, Path: l.file.Path, Line: line, Folder: l.file.Folder, When: sign.Save, Does: does, Told: t}, true
			}
		}
	}
	return Seen{}, false
}

func text(s Seen) string {
	if s.Told == nil {
		return ""
	}
	return s.Told.Text
}

// readTold makes the settings of a command line a file of their own.
func (p *Picture) readTold(fsys fs.FS, s Seen) {
	src, err := readAll(fsys, s.Path)
	if err != nil {
		return // it was there a moment ago; positions are then unknown
	}
	p.told[s.Told] = &File{Path: s.Path, Folder: path.Dir(s.Path), CommandLine: true, Doc: document.OnLine(s.Path, src, s.Line, s.Told.Keys)}
}
