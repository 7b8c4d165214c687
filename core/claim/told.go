package claim

import (
	"io/fs"
	"path"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/sign"
)

// tell reads what command lines set for the group. Where every run of the
// program sets the same, that is the strongest of its settings; where one run
// sets what another does not, nothing can be said, and the group keeps the
// place.
func (p *Picture) tell(e *catalog.Entry, g *Group) {
	var runs []Seen
	differ, any := false, false
	for _, s := range g.signs[e] {
		if s.When == sign.Never {
			continue
		}
		if s.Told != nil && !any {
			any = true
			runs = append([]Seen{s}, runs...)
		} else {
			runs = append(runs, s)
		}
		differ = differ || text(s) != text(runs[0])
	}
	switch {
	case !any:
	case differ || p.told[runs[0].Told] == nil:
		g.opaque[e] = runs[0]
	default:
		g.told[e] = p.told[runs[0].Told]
	}
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
