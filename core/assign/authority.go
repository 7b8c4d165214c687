package assign

import (
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// Authority orders claims by whose word the text of the files ends up with, lowest
// first: the formatter's, then anybody else's who writes, then who rejects, then
// who types.
func (a *Assignment) Authority(c *claim.Claim) int {
	switch {
	case a.Formatter != nil && c.Program == a.Formatter.Program:
		return 0
	case c.Role == rule.Writes && c.Program.Has(catalog.Formatter):
		return 1
	case c.Role == rule.Writes:
		return 2
	case c.Role == rule.Accepts:
		return 3
	}
	return 4
}

// Decider returns the claim on a rule that the text of the group's files ends up
// with, or nil where everybody leaves things as they are.
func (a *Assignment) Decider(g *claim.Group, r *rule.Rule) *claim.Claim {
	var out *claim.Claim
	for _, c := range g.Claims {
		if c.Rule == r && c.Role != rule.Leaves && c.Role != rule.Shows && a.InPlay(c.Program, g) &&
			(out == nil || a.Authority(c) < a.Authority(out)) {
			out = c
		}
	}
	return out
}
