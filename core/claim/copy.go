package claim

import (
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
)

// Superseded is a setting of an editor for its own runs of a program, which has
// no effect since the program has settings of its own.
type Superseded struct {
	Program *catalog.Entry
	Editor  *catalog.Entry
	File    *File
	Node    *document.Node
	By      *File
	Files   int
}

// addCopies adds what an editor that runs the program tells it, where nothing
// else does.
func (s *stack) addCopies(e *catalog.Entry, g *Group) {
	pick, ok := g.Picked[e]
	if !ok || e.Copies[pick.Editor.ID] == nil {
		return
	}
	for _, l := range stackOf(pick.Editor, g).layers {
		if l.node == nil || l.file == nil {
			continue
		}
		m := &document.Node{Kind: document.Map, KeyStart: l.node.KeyStart, Start: l.node.Start, End: l.node.End}
		for _, item := range l.node.Items {
			if key, ok := e.Copies[pick.Editor.ID][item.Key]; ok {
				renamed := *item
				renamed.Key = key
				m.Items = append(m.Items, &renamed)
			}
		}
		if len(m.Items) > 0 {
			s.layers = append(s.layers, layer{file: l.file, place: e.Place(""), node: m, scope: l.scope, derived: true})
		}
	}
}

// Superseded returns the settings of editors for their runs of programs that
// have settings of their own wherever the editor's could count.
func (p *Picture) Superseded() []Superseded {
	var out []Superseded
	for _, e := range p.Catalog.Entries {
		for _, editor := range p.Catalog.Entries {
			if e.Copies[editor.ID] == nil || p.Seen[editor] == nil {
				continue
			}
			for _, f := range p.Files {
				place := slices.IndexFunc(f.Readers, func(r Reader) bool { return r.Program == editor && !r.Ignores })
				if place < 0 || f.Doc == nil {
					continue
				}
				by, files := p.settled(e, f)
				if by == nil {
					continue
				}
				for _, m := range SettingsIn(f, f.Readers[place]) {
					for _, item := range m.Items {
						if e.Copies[editor.ID][item.Key] != "" && !slices.ContainsFunc(out, func(had Superseded) bool { return had.Node == item }) {
							out = append(out, Superseded{e, editor, f, item, by, files})
						}
					}
				}
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Superseded) int { return strings.Compare(a.File.Path, b.File.Path) })
	return out
}

// settled returns a settings file of the program if it has some for every file
// that the editor's speak about, and how many files these are.
func (p *Picture) settled(e *catalog.Entry, f *File) (by *File, files int) {
	for _, g := range p.Groups {
		if _, covers := e.Covering(g.Type.ID); !covers || !g.Reads(f) || !g.Type.Styled {
			continue
		}
		var own *File
		for _, place := range e.Settings {
			if list := g.FilesOf(e, place); len(list) > 0 {
				own = list[len(list)-1]
			}
		}
		if own == nil {
			return nil, 0
		}
		by = own
		files += g.Files
	}
	return by, files
}
