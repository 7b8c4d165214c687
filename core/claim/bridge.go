package claim

import (
	"slices"

	"jollytreaty/core/catalog"
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
		g.signs[run] = append(g.signs[run], signs...)
		slices.SortStableFunc(g.signs[run], func(a, b Seen) int { return b.As.Strength() - a.As.Strength() })
		out = append(out, run)
	}
	return out
}
