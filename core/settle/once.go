package settle

import (
	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// copied is a formatter's own setting that goes, as the standard settings file says
// the same and the formatter hears it.
type copied struct {
	file    string // one that it is about
	program *catalog.Entry
	rule    *rule.Rule
	value   rule.Value
}

// sayOnce takes settings out of a formatter's own files that the standard's file
// says for everybody. Where a file without the key would be another one, as in one
// line or beside a comment, the copy stays.
func (e *editor) sayOnce() {
	type copies struct {
		claim *claim.Claim
		moved []copied
		stays bool // for some file it serves
	}
	by := map[*document.Node]*copies{}
	var order []*document.Node
	var written []*claim.Claim // of one group after the other
	for i, g := range e.d.groups() {
		owner := e.d.owner(g, &e.d.Audit.Verdicts[i])
		written = written[:0]
		for _, c := range g.Claims {
			if c.Basis == claim.Set && c.Where.File != nil && c.Where.File.Doc != nil && !c.Where.File.CommandLine && c.Way != nil {
				written = append(written, c)
			}
		}
		for _, r := range rule.All() {
			for _, c := range written {
				if c.Rule != r {
					continue
				}
				n := c.Where.Node
				if by[n] == nil {
					by[n] = &copies{claim: c}
					order = append(order, n)
				}
				w, wanted := e.d.wants[g][r.ID]
				if !wanted || owner == nil || owner.Program != c.Program || !e.d.concerns(g) || e.d.blocked[subject{g.Type, r.ID}] != "" || !e.standard.hears(c) || !e.standard.says(g, r, w.value) {
					by[n].stays = true
					continue
				}
				by[n].moved = append(by[n].moved, copied{g.Examples[0], c.Program, r, w.value})
			}
		}
	}
	for _, n := range order {
		c := by[n]
		if c.stays {
			continue
		}
		f := c.claim.Where.File
		if _, err := f.Doc.Remove(n); err != nil {
			continue
		}
		fe := e.file(f.Path, f.Doc.Syntax, f)
		delete(fe.sets, n)
		fe.takes = append(fe.takes, n)
		e.d.moved = append(e.d.moved, c.moved...)
	}
}

// hears reports whether the claim's program takes the answer from the standard's
// file where it has none of its own.
func (s *standard) hears(c *claim.Claim) bool {
	if c.Program.Place(c.Way.Place).Syntax.IsStandard() {
		return false // it is from there
	}
	for _, w := range c.Question.From {
		if place := c.Program.Place(w.Place); place != nil && place.Syntax.IsStandard() && place.Pool == "" && w.Key == c.Rule.ID {
			return true
		}
	}
	return false
}

// says reports whether the standard's file says so of the group once the plan is
// carried out.
func (s *standard) says(g *claim.Group, r *rule.Rule, v rule.Value) bool {
	if value, wanted := s.wants[g][r.ID]; wanted {
		return value == v.String()
	}
	c := g.Claim(s.entry, r.ID)
	return c != nil && c.Value == v && c.Basis == claim.Set
}

// heard reports whether every formatter whose own setting went still does as that
// said.
func (d *draft) heard(after *audit.Result) bool {
	for _, m := range d.moved {
		x, ok := after.Explain(m.file)
		if !ok {
			return false
		}
		if c := x.Group.Claim(after.Picture.Catalog.ByID(m.program.ID), m.rule.ID); c == nil || c.Value != m.value {
			return false
		}
	}
	return true
}
