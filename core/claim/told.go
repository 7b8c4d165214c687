package claim

import (
	"io/fs"
	"path"
	"slices"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
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
