package conflict

import (
	"fmt"

	"jollytreaty/core/assign"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// restated finds settings that say what holds without them, for every file they
// are about.
func restated(p *claim.Picture, verdicts []assign.Assignment, into *collector) {
	needed := map[*document.Node]bool{}
	for i, g := range p.Groups {
		beats := map[*claim.Claim]bool{}
		for _, c := range g.Beaten {
			beats[c.Beaten] = beats[c.Beaten] || c.Value != c.Beaten.Value
		}
		for _, c := range g.Claims {
			if c.Basis == claim.Set && (!verdicts[i].InPlay(c.Program, g) || beats[c] || !c.Restates()) {
				needed[c.Where.Node] = true
			}
		}
	}
	for _, g := range p.Groups {
		if !g.Type.Styled {
			continue
		}
		for _, c := range g.Claims {
			if c.Basis != claim.Set || needed[c.Where.Node] || c.Role == rule.Leaves {
				continue
			}
			side := SideOf(c, g)
			into.add(&Finding{Code: DeadDefault, Rule: c.Rule, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: []Side{side},
				Message: fmt.Sprintf("%s %s = %s is what holds without it", c.Program.Name, c.Where.Node.Key, c.Where.Node.Text())})
		}
	}
}
