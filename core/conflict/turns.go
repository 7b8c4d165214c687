package conflict

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
)

// orders finds fixers that run after the formatter in one go, and so leave text
// that is not formatted.
func orders(g *claim.Group, a *assign.Assignment, into *collector) {
	if a.Formatter == nil {
		return
	}
	formatter := a.Formatter.Program
	for _, last := range g.Signs(formatter) {
		if last.Turn == "" || last.Does != sign.Writes {
			continue
		}
		for _, e := range g.Signed() {
			if !e.Has(catalog.Linter) || e.Has(catalog.Formatter) || e == formatter || !a.InPlay(e, g) {
				continue // of two formatters the rivalry itself is told
			}
			for _, s := range g.Signs(e) {
				if s.Turn != last.Turn || s.Does != sign.Writes || s.Order <= last.Order {
					continue
				}
				into.add(&Finding{Code: RivalryOrder, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g},
					Message: fmt.Sprintf("%s changes what %s has just formatted: it runs after it %s", e.Name, formatter.Name, when(s)),
					Sides:   []Side{signSide(formatter, last, "runs first"), signSide(e, s, "runs after it")}})
			}
		}
	}
}

func when(s claim.Seen) string {
	if s.When == sign.Hand {
		return "in the same script"
	}
	return s.When.Words()
}

// signSide is a sign of a program as a side of a finding.
func signSide(e *catalog.Entry, s claim.Seen, phrase string) Side {
	return Side{Program: e.ID, Name: e.Name, Role: rule.Writes, Basis: claim.Set, Path: s.Path, Line: max(s.Line, 1), Column: 1,
		Phrase: phrase, key: e.ID + "\x1f" + s.Path}
}

// importers finds programs that both order imports. Formatters that only sort
// within blocks live with one that sorts and groups them beforehand the same
// way.
func importers(g *claim.Group, a *assign.Assignment, into *collector) map[*catalog.Entry]bool {
	var sorters []*claim.Claim
	for _, c := range g.Claims {
		if c.Rule.ID == rule.ImportOrder && c.Role != rule.Leaves && !c.Value.IsZero() && a.InPlay(c.Program, g) && (c.Role == rule.Writes || fixes(g, c.Program)) {
			sorters = append(sorters, c)
		}
	}
	rivals := map[*catalog.Entry]bool{}
	pairs(sorters, func(x, y *claim.Claim) {
		both := x.Program.Has(catalog.Formatter) || y.Program.Has(catalog.Formatter)
		if both && x.Value == y.Value {
			return // the same order, or a rivalry of formatters
		}
		rivals[x.Program], rivals[y.Program] = true, true
	})
	if len(rivals) == 0 {
		return nil
	}
	f := &Finding{Code: RivalryImports, Rule: rule.ByID(rule.ImportOrder), Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}}
	var names []string
	for _, c := range sorters {
		if !rivals[c.Program] {
			continue
		}
		side := SideOf(c, g)
		side.key = c.Program.ID
		if side.Path == "" {
			sign := g.Signs(c.Program)[0]
			side.Path, side.Line, side.Column = sign.Path, max(sign.Line, 1), 1
		}
		f.Sides = append(f.Sides, side)
		names = append(names, c.Program.Name)
	}
	f.Message = strings.Join(names, " and ") + " both order the imports"
	into.add(f)
	return rivals
}

// fixes reports whether some run of the program rewrites the group's files.
func fixes(g *claim.Group, e *catalog.Entry) bool {
	return slices.ContainsFunc(g.Signs(e), func(s claim.Seen) bool { return s.Does == sign.Writes && s.When != sign.Never })
}
