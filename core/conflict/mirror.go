package conflict

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// leastAlike is how many written values two programs have to share before the
// one is taken for meant to mirror the other.
const leastAlike = 2

// mirrors finds formatters of different types, the one of which could format
// what the other does, that agree in what they are told but for one thing: the
// one was set to imitate the other, and no longer does.
func mirrors(p *claim.Picture, verdicts []assign.Assignment, into *collector) {
	type told struct {
		claims map[string]*claim.Claim // the one value of a rule, by its id; nil for several
		group  map[string]*claim.Group
		types  map[*filetype.Type]int
	}
	by := map[*catalog.Entry]*told{}
	var order []*catalog.Entry
	for i, g := range p.Groups {
		if verdicts[i].Formatter == nil || !g.Type.Styled {
			continue
		}
		e := verdicts[i].Formatter.Program
		if by[e] == nil {
			by[e] = &told{map[string]*claim.Claim{}, map[string]*claim.Group{}, map[*filetype.Type]int{}}
			order = append(order, e)
		}
		by[e].types[g.Type] += g.Files
		for _, c := range g.Claims {
			if c.Program != e || c.Role != rule.Writes || c.Basis != claim.Set || c.Way == nil || c.Where.File.Doc.Syntax.IsStandard() {
				continue
			}
			if had, ok := by[e].claims[c.Rule.ID]; ok && (had == nil || had.Value != c.Value) {
				by[e].claims[c.Rule.ID] = nil
				continue
			}
			by[e].claims[c.Rule.ID], by[e].group[c.Rule.ID] = c, g
		}
	}
	slices.SortFunc(order, func(a, b *catalog.Entry) int { return strings.Compare(a.ID, b.ID) })
	for i, a := range order {
		for _, b := range order[i+1:] {
			if !overlap(a, by[b].types) && !overlap(b, by[a].types) {
				continue
			}
			alike := 0
			var off []*rule.Rule
			for _, r := range rule.All() {
				x, y := by[a].claims[r.ID], by[b].claims[r.ID]
				switch {
				case x == nil || y == nil:
				case x.Value == y.Value:
					alike++
				default:
					off = append(off, r)
				}
			}
			if alike < leastAlike || len(off) != 1 {
				continue
			}
			r := off[0]
			x, y := by[a].claims[r.ID], by[b].claims[r.ID]
			files := 0
			for _, n := range by[b].types {
				files += n
			}
			into.add(&Finding{Code: DriftMirror, Rule: r, Files: files,
				Sides: []Side{SideOf(x, by[a].group[r.ID]), SideOf(y, by[b].group[r.ID])},
				Message: fmt.Sprintf("%s and %s are told the same but for one thing: %s against %s", a.Name, b.Name,
					r.Phrase(x.Value), r.Phrase(y.Value))})
		}
	}
}

// overlap reports whether the program could format some of the types.
func overlap(e *catalog.Entry, types map[*filetype.Type]int) bool {
	for t := range types {
		if _, covers := e.Covering(t.ID); covers {
			return true
		}
	}
	return false
}
