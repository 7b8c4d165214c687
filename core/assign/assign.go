// Package assign gives each group of files its one formatter, with the reason.
package assign

import (
	"cmp"
	"fmt"
	"slices"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
	"jollytreaty/core/treaty"
)

// Candidate is a formatter that could have the files.
type Candidate struct {
	Program *catalog.Entry
	Part    string // the part of the files it covers, "" for the whole
	Reasons []claim.Seen
}

// strength ranks the candidate by its strongest reason; full coverage beats
// partial at equal strength.
func (c Candidate) strength() int {
	s := 0
	if len(c.Reasons) > 0 {
		s = 2 * c.Reasons[0].As.Strength()
	}
	if c.Part == "" {
		s++
	}
	return s
}

// onlyAvailable reports whether the program is at hand, but nobody here chose
// it.
func (c Candidate) onlyAvailable() bool {
	return len(c.Reasons) > 0 && c.Reasons[0].As.Weak()
}

// Assignment is the verdict for one group.
type Assignment struct {
	Formatter  *Candidate  // nil when contested or unowned
	Candidates []Candidate // strongest first
	Rivals     []Candidate // in play for the same files, beside the formatter or each other
	Excluded   []*catalog.Entry
}

// InPlay reports whether the program's claims count for the group: some sign
// other than the toolchain shows it, or it is the formatter.
func (a *Assignment) InPlay(e *catalog.Entry, g *claim.Group) bool {
	if _, out := g.Excludes[e]; out {
		return false
	}
	if a.Formatter != nil && a.Formatter.Program == e {
		return true
	}
	signs := g.Signs(e)
	return len(signs) > 0 && !signs[0].As.Weak()
}

// For gives a group its formatter.
func For(p *claim.Picture, t *treaty.Treaty, g *claim.Group) Assignment {
	var a Assignment
	article := t.For(g.Type.ID, g.Examples[0])
	var fixers []Candidate
	for _, e := range p.Covering(g) {
		_, picked := g.Picked[e]
		formats := e.Has(catalog.Formatter) || picked || article != nil && article.Formatter == e.ID
		if _, idle := g.Idle[e]; idle || !formats && !g.Fixes(e) || g.OnlyLints(e) {
			continue
		}
		c := Candidate{Program: e, Reasons: g.Signs(e)}
		if article != nil && article.Formatter == e.ID {
			c.Reasons = append([]claim.Seen{{As: sign.Treaty, Path: article.Path, Line: article.Line}}, c.Reasons...)
		}
		if len(c.Reasons) == 0 || c.Reasons[0].As == sign.Lock {
			continue
		}
		c.Part, _ = e.Covering(g.Type.ID)
		if _, out := g.Excludes[e]; out {
			a.Excluded = append(a.Excluded, e)
			continue
		}
		if !formats {
			fixers = append(fixers, c)
			continue
		}
		a.Candidates = append(a.Candidates, c)
	}
	if len(a.Candidates) == 0 {
		a.Candidates = fixers // which leave the files in their layout where nobody else does
	}
	slices.SortStableFunc(a.Candidates, func(x, y Candidate) int {
		return cmp.Or(cmp.Compare(y.strength(), x.strength()), cmp.Compare(x.Program.ID, y.Program.ID))
	})
	if len(a.Candidates) == 0 {
		return a
	}
	var chosen []Candidate
	for _, c := range a.Candidates {
		if !c.onlyAvailable() {
			chosen = append(chosen, c)
		}
	}
	if len(chosen) == 0 {
		chosen = a.Candidates
	}
	chosen = slices.DeleteFunc(slices.Clone(chosen), func(c Candidate) bool {
		return slices.ContainsFunc(chosen, func(d Candidate) bool { return slices.Contains(d.Program.Refines, c.Program.ID) })
	})
	if len(chosen) == 1 || chosen[0].strength() > chosen[1].strength() {
		a.Formatter = &chosen[0]
		chosen = slices.DeleteFunc(chosen[1:], func(c Candidate) bool { return beside(g, a.Formatter, c) })
	}
	a.Rivals = chosen
	return a
}

// beside reports whether a candidate that covers a part of the files is no rival of
// their formatter: where the editor names that one, or both write the part alike.
func beside(g *claim.Group, formatter *Candidate, c Candidate) bool {
	if c.Part == "" || formatter.Part != "" {
		return false
	}
	if _, named := g.Picked[formatter.Program]; named {
		return true
	}
	shared := false
	for _, own := range g.Claims {
		if own.Program != formatter.Program || own.Role != rule.Writes {
			continue
		}
		if other := g.Claim(c.Program, own.Rule.ID); other != nil && other.Role == rule.Writes {
			if other.Value != own.Value {
				return false
			}
			shared = true
		}
	}
	return shared
}

// ByTreaty reports whether the reason is the treaty's word.
func ByTreaty(s claim.Seen) bool { return s.As == sign.Treaty }

// Why says in a few words what a sign shows.
func Why(s claim.Seen) string {
	switch {
	case s.Through != "" && s.When == sign.Never:
		return "told to by the settings of " + s.Through
	case s.Through != "":
		s.Through = ""
		return Why(s) + ", through another program"
	case s.As == sign.Script && s.When == sign.Save:
		return "run by the editor on save"
	}
	return s.As.Reason()
}

// Reason is Why with the place where the sign stands.
func Reason(s claim.Seen) string {
	switch {
	case s.Line > 0:
		return fmt.Sprintf("%s, %s:%d", Why(s), s.Path, s.Line)
	case s.Path != "":
		return Why(s) + ", " + s.Path
	}
	return Why(s)
}
