package conflict

import (
	"fmt"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// personal finds what depends on whose machine it is.
func personal(p *claim.Picture, g *claim.Group, a *assign.Assignment, into *collector) {
	for _, c := range g.Claims {
		if !c.Machine || c.Role == rule.Shows || !a.InPlay(c.Program, g) {
			continue
		}
		f := &Finding{Code: DriftPersonal, Rule: c.Rule, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: []Side{SideOf(c, g)}}
		var insists *claim.Claim
		if c.Program.Has(catalog.VersionControl) {
			// Harmless unless somebody insists on one of them.
			if insists = insister(g, a, c.Rule); insists == nil {
				continue
			}
			side := SideOf(insists, g)
			side.key = "insists" // whoever it is, it is the same finding
			f.Sides = append(f.Sides, side)
		}
		switch isNew := into.add(f); {
		case isNew && insists != nil:
			f.Message = fmt.Sprintf("which line endings git checks out depends on the machine, and %s %s %s", insists.Program.Name, verbOf(insists), insists.Rule.Phrase(insists.Value))
		case isNew:
			f.Message = fmt.Sprintf("%s leaves %s to the machine: %s", c.Program.Name, c.Rule.Title, c.Where.Node.Text())
		}
	}
	if a.Formatter == nil {
		return
	}
	e := a.Formatter.Program
	pick, ok := g.Picked[e]
	if !ok || !pick.OnSave || !e.Personal.Editor || !g.Bare(e) {
		return
	}
	side := signSide(e, pick.Seen(), "runs on save")
	into.add(&Finding{Code: DriftPersonal, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: []Side{side},
		Message: fmt.Sprintf("%s runs on save without settings in the repository, so with those of whoever saves", e.Name)})
}

// insister returns the claim of a program, version control aside, that has one
// value of the rule, or nil.
func insister(g *claim.Group, a *assign.Assignment, r *rule.Rule) *claim.Claim {
	for _, c := range g.Claims {
		if c.Rule == r && !c.Value.IsZero() && !c.Program.Has(catalog.VersionControl) && (c.Role == rule.Writes || c.Role == rule.Accepts) && a.InPlay(c.Program, g) {
			return c
		}
	}
	return nil
}

func verbOf(c *claim.Claim) string {
	if c.Role == rule.Accepts {
		return "accepts only"
	}
	return string(c.Role)
}
