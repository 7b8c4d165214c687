package claim

import (
	"slices"

	"jollytreaty/core/catalog"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
)

// bridged gives the programs that e runs itself the signs of e for the group,
// and returns them.
func (p *Picture) bridged(e *catalog.Entry, g *Group) []*catalog.Entry {
	if len(e.Bridges) == 0 || len(g.signs[e]) == 0 || g.signs[e][0].As.Weak() {
		return nil
	}
	if _, out := excluded(e, g); out {
		return nil
	}
	var out []*catalog.Entry
	s := stackOf(e, g)
	for _, b := range e.Bridges {
		run := p.Catalog.ByID(b.Runs)
		on, where := s.state(b.On)
		if run == nil || on != stateOn || where.File == nil || !slices.Contains(p.covering[g.Type], run) {
			continue
		}
		line, _ := where.Position()
		signs := []Seen{{As: sign.Script, Path: where.Path(), Line: line, Folder: where.File.Folder, Through: e.Name}}
		for _, had := range g.signs[e] {
			if had.When != sign.Never {
				had.Through, had.Version, had.Told = e.Name, "", nil
				signs = append(signs, had)
			}
		}
		s.give(e, b, run, g)
		g.signs[run] = append(g.signs[run], signs...)
		slices.SortStableFunc(g.signs[run], func(a, b Seen) int { return b.As.Strength() - a.As.Strength() })
		out = append(out, run)
	}
	return out
}

// give adds the claims of what a program gives to another one that it runs: it complains
// where the text departs from that.
func (s *stack) give(e *catalog.Entry, b *catalog.Bridge, run *catalog.Entry, g *Group) {
	if b.Settings == "" {
		return
	}
	for i := len(s.layers) - 1; i >= 0; i-- {
		l := s.layers[i]
		if l.node == nil || l.file == nil || l.node.Find(b.Settings) == nil {
			continue
		}
		given := &File{Path: l.file.Path, Folder: l.file.Folder, Readers: []Reader{{Program: run, Place: run.Place("")}}, Doc: l.file.Doc, CommandLine: true}
		told := stack{layers: []layer{{file: given, place: run.Place(""), node: l.node.Find(b.Settings), scope: l.scope, derived: true}}, broken: true}
		own := &Group{Type: g.Type, signs: g.signs}
		for _, q := range run.Rules {
			if q.Concerns(g.Type.ID) && q.Role == rule.Writes && !q.Fixed() {
				told.answer(run, q, own)
			}
		}
		for _, c := range own.Claims {
			if c.Basis == Default || c.Value.IsZero() {
				continue
			}
			c.Program, c.Role, c.Set = e, rule.Accepts, rule.OneOf(c.Value)
			g.Claims = append(g.Claims, c)
		}
		return
	}
}
