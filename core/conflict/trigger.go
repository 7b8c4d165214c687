package conflict

import (
	"fmt"
	"slices"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/sign"
	"jollytreaty/core/treaty"
)

// untriggered finds types whose formatter covers them only in part, and
// formatters that nothing here ever runs.
func untriggered(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, into *collector) {
	for i, g := range p.Groups {
		owner := verdicts[i].Formatter
		if !g.Type.Styled || owner == nil || t.Exemption(g.Type.ID) != nil {
			continue
		}
		if owner.Part != "" {
			side := signSide(owner.Program, owner.Reasons[0], "")
			side.key = owner.Program.ID
			into.add(&Finding{Code: GapPartial, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: []Side{side},
				Message: fmt.Sprintf("%s formats only a part of %s files: %s", owner.Program.Name, g.Type.Name, owner.Part)})
		}
		brought := slices.ContainsFunc(p.Seen[owner.Program], func(s claim.Seen) bool { return s.As.Brings() }) // that nothing does is a finding of its own
		if !p.RunsEverything && brought && !owner.Reasons[0].As.Weak() && !slices.ContainsFunc(g.Signs(owner.Program), runs) {
			side := Side{Program: owner.Program.ID, Name: owner.Program.Name, key: owner.Program.ID}
			if s := owner.Reasons[0]; s.Path != "" {
				side.Path, side.Line, side.Column = s.Path, max(s.Line, 1), 1
			}
			into.add(&Finding{Code: GapNoTrigger, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: []Side{side},
				Message: fmt.Sprintf("nothing here runs %s on these files: no editor setting, hook, CI step or script", owner.Program.Name)})
		}
	}
}

// runs reports whether the sign shows that the program is run, or may be.
func runs(s claim.Seen) bool { return s.When != sign.Never || s.Build || s.As == sign.Mentioned }

// exclusions finds files that the formatter of their type leaves out and a
// linter does not, or the other way round.
func exclusions(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, into *collector) {
	for i, g := range p.Groups {
		if !g.Type.Styled || t.Exemption(g.Type.ID) != nil {
			continue
		}
		for e, where := range g.Excludes {
			if len(g.Signs(e)) == 0 || g.Signs(e)[0].As.Weak() {
				continue
			}
			if e.Has(catalog.Formatter) && verdicts[i].Formatter != nil {
				continue // they are another formatter's
			}
			for _, other := range g.Signed() {
				if other == e || !verdicts[i].InPlay(other, g) || !pairOf(e, other) || !owns(p, verdicts, g, e, other) {
					continue
				}
				side := sideAt(e, where.File, where.Node)
				side.key = e.ID
				into.add(&Finding{Code: DriftExclusions, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g},
					Sides:   []Side{side, {Program: other.ID, Name: other.Name, key: other.ID}},
					Message: fmt.Sprintf("%s leaves out files that %s reads", e.Name, other.Name)})
			}
		}
	}
}

// pairOf reports whether the one is a formatter and the other a linter.
func pairOf(a, b *catalog.Entry) bool {
	return a.Has(catalog.Formatter) && b.Has(catalog.Linter) || a.Has(catalog.Linter) && b.Has(catalog.Formatter)
}

// owns reports whether one of the two is the formatter of some files of the
// group's type, and the other is in play there, too.
func owns(p *claim.Picture, verdicts []assign.Assignment, g *claim.Group, a, b *catalog.Entry) bool {
	for i, other := range p.Groups {
		v := &verdicts[i]
		if other.Type == g.Type && v.Formatter != nil && (v.Formatter.Program == a && v.InPlay(b, other) || v.Formatter.Program == b && v.InPlay(a, other)) {
			return true
		}
	}
	return false
}
