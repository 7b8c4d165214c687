package conflict

import (
	"fmt"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
)

// sideAt is a settings file, or a place in one, as a side of a finding.
func sideAt(e *catalog.Entry, f *claim.File, n *document.Node) Side {
	s := Side{Program: e.ID, Name: e.Name, Path: f.Path, Line: 1, Column: 1}
	if n != nil && f.Doc != nil {
		s.Line, s.Column = f.Doc.Position(n.KeyStart)
	}
	return s
}

// homes finds settings files where their program does not look, and folders
// with two of which it reads one.
func homes(p *claim.Picture, into *collector) {
	for _, l := range p.Lost {
		into.add(&Finding{Code: SlipMisplaced, Message: fmt.Sprintf("%s is not read: %s", l.Path, l.Why),
			Sides: []Side{{Program: l.Program.ID, Name: l.Program.Name, Path: l.Path, Line: 1, Column: 1}}})
	}
	for _, o := range p.Outdone() {
		into.add(&Finding{Code: SlipTwoHomes, Files: o.By.Governs,
			Message: fmt.Sprintf("%s reads %s here, and so not %s", o.Program.Name, o.By.Path, o.File.Path),
			Sides:   []Side{sideAt(o.Program, o.By, nil), sideAt(o.Program, o.File, nil)}})
	}
}

// bases finds what settings files extend and what is not there. A package that
// is declared and not installed here is only not known.
func bases(p *claim.Picture, into *collector) {
	for _, m := range p.Missing {
		side := sideAt(m.Program, m.File, m.Node)
		side.scope = m.Name
		f := &Finding{Code: SlipMissingBase, Files: m.File.Governs, Sides: []Side{side},
			Message: fmt.Sprintf("%s extends %s, which is not there: %s", m.File.Path, m.Name, m.Hint)}
		if m.Declared != "" {
			f.Code = SlipOpaque
			f.Message = fmt.Sprintf("%s extends %s, which is not known here and so not guessed at: %s", m.File.Path, m.Name, m.Hint)
		}
		into.add(f)
	}
}

// needs finds settings files without a key that their program cannot do
// without.
func needs(p *claim.Picture, into *collector) {
	for _, f := range p.Files {
		if f.Doc == nil || f.BaseOf != nil || f.Doc.Empty() {
			continue
		}
		for _, r := range f.Readers {
			if r.Ignores || r.Place.ID != "" {
				continue
			}
			for key, why := range r.Program.Needs {
				if p.Says(r, f, key) {
					continue
				}
				side := sideAt(r.Program, f, nil)
				side.scope = key
				into.add(&Finding{Code: SlipDialect, Files: f.Governs, Sides: []Side{side},
					Message: fmt.Sprintf("%s does not say %s: %s", f.Path, strings.ReplaceAll(key, "/", "."), why)})
			}
		}
	}
}

// reaches finds patterns in settings that no file bears.
func reaches(p *claim.Picture, into *collector) {
	for _, idle := range p.Idle() {
		side := sideAt(idle.Program, idle.File, idle.Node)
		side.scope = idle.Pattern
		into.add(&Finding{Code: DeadNoFiles, Sides: []Side{side},
			Message: fmt.Sprintf("no file here is reached by %s", idle.Pattern)})
	}
}
