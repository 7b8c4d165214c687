package conflict

import (
	"fmt"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// frictions finds what programs have against the output of others where no rule stands
// behind it: checks that the formatter's text fails, and programs that undo each other.
func frictions(g *claim.Group, a *assign.Assignment, into *collector) {
	for _, f := range g.Frictions {
		writes := a.Formatter != nil && a.Formatter.Program == f.Writer
		if !writes || f.Other == f.Writer || !a.InPlay(f.Other, g) {
			continue
		}
		if f.Row.Sorter != "" {
			undoing(g, f, into)
			continue
		}
		var names []string
		finding := &Finding{Code: ClashRejected, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}}
		finding.Sides = append(finding.Sides, programSide(g, f.Writer, rule.Writes, ""))
		for _, c := range f.Checks {
			names = append(names, c.Name)
			side := programSide(g, f.Other, rule.Accepts, c.Name)
			if c.Where.File != nil {
				side.Path = c.Where.Path()
				side.Line, side.Column = c.Where.Position()
			}
			finding.Sides = append(finding.Sides, side)
		}
		finding.Message = fmt.Sprintf("%s complains of what %s writes: %s", f.Other.Name, f.Writer.Name, listed(names))
		finding.Friction = &f
		into.add(finding)
	}
}

// listed names the first few of a list.
func listed(names []string) string {
	const few = 6
	if len(names) > few+1 {
		return fmt.Sprintf("%s and %d more", strings.Join(names[:few], ", "), len(names)-few)
	}
	return strings.Join(names, ", ")
}

func undoing(g *claim.Group, f claim.Friction, into *collector) {
	if !fixes(g, f.Other) && !f.Other.Has(catalog.ImportSorter) {
		return
	}
	into.add(&Finding{Code: ClashWriters, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Friction: &f,
		Sides:   []Side{programSide(g, f.Writer, rule.Writes, ""), programSide(g, f.Other, rule.Writes, "")},
		Message: fmt.Sprintf("%s and %s undo each other: %s", f.Writer.Name, f.Other.Name, f.Row.What)})
}

// programSide is a program as a side, at its strongest sign.
func programSide(g *claim.Group, e *catalog.Entry, role rule.Role, phrase string) Side {
	s := Side{Program: e.ID, Name: e.Name, Role: role, Basis: claim.Default, Phrase: phrase, key: e.ID + "\x1f" + phrase}
	if signs := g.Signs(e); len(signs) > 0 {
		s.Path, s.Line, s.Column = signs[0].Path, max(signs[0].Line, 1), 1
	}
	return s
}
