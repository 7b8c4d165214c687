package conflict

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/claim"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/treaty"
)

// voice is what a program says about a rule for files of a type.
type voice struct {
	program string
	rule    *rule.Rule
	typ     *filetype.Type
}

// stand is one value that a voice has, and where it first says so.
type stand struct {
	claim *claim.Claim
	group *claim.Group
	files int
	in    []*claim.Group
}

// voices gathers the written values in effect by program, rule and type, those
// of most files first, where same tells which are alike.
func voices(p *claim.Picture, verdicts []assign.Assignment, keep func(*claim.Claim, *claim.Group) bool, same func(a, b *claim.Claim) bool) ([]voice, map[voice][]*stand) {
	by := map[voice][]*stand{}
	var order []voice
	for i, g := range p.Groups {
		if !g.Type.Styled {
			continue
		}
		for _, c := range g.Claims {
			if !keep(c, g) || !verdicts[i].InPlay(c.Program, g) {
				continue
			}
			v := voice{c.Program.ID, c.Rule, g.Type}
			if by[v] == nil {
				order = append(order, v)
			}
			at := slices.IndexFunc(by[v], func(s *stand) bool { return same(s.claim, c) })
			if at < 0 {
				at = len(by[v])
				by[v] = append(by[v], &stand{claim: c, group: g})
			}
			by[v][at].files += g.Files
			by[v][at].in = append(by[v][at].in, g)
		}
	}
	for _, v := range order {
		slices.SortStableFunc(by[v], func(a, b *stand) int { return cmp.Compare(b.files, a.files) })
	}
	return order, by
}

// regions finds programs that settings files in different folders give different
// values for the same type. Where articles tell the folders apart it is meant.
func regions(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, into *collector) {
	order, by := voices(p, verdicts, func(c *claim.Claim, g *claim.Group) bool {
		return c.Basis == claim.Set && !c.Value.IsZero() && c.Role != rule.Shows && !g.Several(c) && !c.Rule.Mirrored && !c.Where.File.Inside && t.Exemption(g.Type.ID) == nil &&
			(c.Rule.ID != rule.IndentSize && c.Rule.ID != rule.TabWidth || !g.UsesTabs(c.Program))
	}, func(a, b *claim.Claim) bool { return a.Value == b.Value })
	for _, v := range order {
		first := by[v][0]
		f := &Finding{Code: DriftRegion, Rule: v.rule, Type: v.typ, Sides: []Side{SideOf(first.claim, first.group)}}
		parts := []string{fmt.Sprintf("%s in %s", v.rule.Phrase(first.claim.Value), folderName(first.claim))}
		for _, s := range by[v][1:] {
			meant := t.For(v.typ.ID, s.group.Examples[0]) != t.For(v.typ.ID, first.group.Examples[0])
			if s.claim.Where.File.Folder == first.claim.Where.File.Folder || meant {
				continue
			}
			f.Files += s.files
			f.Groups = append(f.Groups, s.in...)
			f.Examples = append(f.Examples, s.group.Examples...)
			f.Sides = append(f.Sides, SideOf(s.claim, s.group))
			parts = append(parts, fmt.Sprintf("%s in %s", v.rule.Phrase(s.claim.Value), folderName(s.claim)))
		}
		if len(f.Sides) < 2 {
			continue
		}
		f.Examples = f.Examples[:min(5, len(f.Examples))]
		f.Message = fmt.Sprintf("%s is set to %s", first.claim.Program.Name, strings.Join(parts, ", "))
		into.add(f)
	}
}

func folderName(c *claim.Claim) string {
	if c.Where.File.Folder == "." {
		return "the root"
	}
	return c.Where.File.Folder
}

// levels finds rules that a linter takes for a failure in one place and for less
// in another.
func levels(p *claim.Picture, verdicts []assign.Assignment, into *collector) {
	order, by := voices(p, verdicts, func(c *claim.Claim, _ *claim.Group) bool {
		return c.Role == rule.Accepts && c.Level != ""
	}, func(a, b *claim.Claim) bool { return a.Level == b.Level })
	for _, v := range order {
		first := by[v][0]
		f := &Finding{Code: ClashSeverity, Rule: v.rule, Type: v.typ}
		for _, s := range by[v] {
			if s != first && s.claim.LevelAt.Path() == first.claim.LevelAt.Path() {
				continue // as one file says on purpose
			}
			f.Files += s.files
			f.Groups = append(f.Groups, s.in...)
			side := sideAt(s.claim.Program, s.claim.LevelAt.File, s.claim.LevelAt.Node)
			side.Role, side.Basis, side.Phrase = rule.Accepts, claim.Set, s.claim.Level
			f.Sides = append(f.Sides, side)
		}
		if len(f.Sides) < 2 {
			continue
		}
		f.Message = fmt.Sprintf("%s takes departures for %s here and %s there", first.claim.Program.Name, levelWords[f.Sides[0].Phrase], levelWords[f.Sides[1].Phrase])
		into.add(f)
	}
}

var levelWords = map[string]string{"error": "an error", "warning": "a warning", "note": "a note"}
