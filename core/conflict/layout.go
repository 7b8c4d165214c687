package conflict

import (
	"fmt"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// layouts finds linters that check what the formatter writes anyway. Where the
// two disagree there is a clash instead.
func layouts(g *claim.Group, a *assign.Assignment, into *collector) {
	if a.Formatter == nil {
		return
	}
	owner := a.Formatter.Program
	repeats := map[*catalog.Entry][]*claim.Claim{}
	var order []*catalog.Entry
	for _, c := range g.Claims {
		if c.Role != rule.Accepts || c.Program == owner || c.Rule.Mirrored || c.Rule.ID == rule.ImportOrder || !a.InPlay(c.Program, g) {
			continue
		}
		own := g.Claim(owner, c.Rule.ID)
		if own == nil || own.Role != rule.Writes || !c.Set.Has(own.Value) || c.Rule.ID == rule.IndentSize && g.UsesTabs(owner) ||
			c.Rule.ID == rule.IndentStyle && differentSizes(g, owner, c.Program) {
			continue
		}
		if repeats[c.Program] == nil {
			order = append(order, c.Program)
		}
		repeats[c.Program] = append(repeats[c.Program], c)
	}
	for _, e := range order {
		f := &Finding{Code: RivalryLayout, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}}
		var titles []string
		for _, c := range repeats[e] {
			side := SideOf(c, g)
			side.key = e.ID
			own := SideOf(g.Claim(owner, c.Rule.ID), g)
			own.key = owner.ID
			f.Sides = append(f.Sides, own, side)
			if title := c.Rule.Title; len(titles) == 0 || titles[len(titles)-1] != title {
				titles = append(titles, title)
			}
		}
		if into.add(f) {
			f.Message = fmt.Sprintf("%s checks layout that %s already writes: %s", e.Name, owner.Name, strings.Join(titles, ", "))
		}
	}
}

// differentSizes reports whether two programs that indent alike do so by
// different numbers of columns, which is a clash.
func differentSizes(g *claim.Group, a, b *catalog.Entry) bool {
	x, y := g.Claim(a, rule.IndentSize), g.Claim(b, rule.IndentSize)
	return x != nil && y != nil && !g.UsesTabs(a) && rule.Compare(x.Stance(), y.Stance()) != rule.Together
}
