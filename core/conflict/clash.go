package conflict

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// clashes compares the claims in play on one group, rule by rule. That the
// importers order imports differently goes without saying: they are rivals, and
// of one that does nothing else nothing else is said.
func clashes(g *claim.Group, a *assign.Assignment, importers map[*catalog.Entry]bool, into *collector) {
	for rest := g.Claims; len(rest) > 0; { // in rule order
		r, n := rest[0].Rule, 1
		for n < len(rest) && rest[n].Rule == r {
			n++
		}
		var claims []*claim.Claim
		for _, c := range rest[:n] {
			if n > 1 && (c.Role == rule.Writes || c.Role == rule.Accepts || c.Role == rule.Types) && a.InPlay(c.Program, g) &&
				(r.ID != rule.IndentSize || !g.UsesTabs(c.Program)) && (r.ID != rule.ImportOrder && !c.Program.Has(catalog.ImportSorter) || !importers[c.Program]) {
				claims = append(claims, c)
			}
		}
		rest = rest[n:]
		claims = slices.DeleteFunc(claims, func(c *claim.Claim) bool { return c.Program.Has(catalog.ImportSorter) && echoes(c, claims) })
		if len(claims) < 2 {
			continue
		}
		for code, sides := range compare(claims, g) {
			if r.Mirrored {
				code = SlipDialect
			}
			f := &Finding{Code: code, Rule: r, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: sides}
			if into.add(f) {
				f.Message = clashMessage(code, r, sides)
			}
		}
	}
}

// echoes reports whether a program that rewrites every line writes the same.
func echoes(c *claim.Claim, claims []*claim.Claim) bool {
	return slices.ContainsFunc(claims, func(d *claim.Claim) bool {
		return d.Role == rule.Writes && !d.Program.Has(catalog.ImportSorter) && d.Value == c.Value
	})
}

// compare returns, for each code, the sides that cannot live together.
func compare(claims []*claim.Claim, g *claim.Group) map[Code][]Side {
	var writers, typists, others []*claim.Claim
	for _, c := range claims {
		switch c.Role {
		case rule.Writes:
			writers = append(writers, c)
		case rule.Types:
			typists = append(typists, c)
		default:
			others = append(others, c)
		}
	}
	involved := map[Code]map[*claim.Claim]bool{}
	judge := func(a, b *claim.Claim) {
		if apart(a, b, g) {
			return
		}
		var code Code
		switch rule.Compare(a.Stance(), b.Stance()) {
		case rule.Writers:
			code = ClashWriters
		case rule.Rejected:
			code = ClashRejected
		case rule.Impossible:
			code = ClashImpossible
		case rule.Typing:
			if g.SavedAway(a.Program, b.Program) || g.SavedAway(b.Program, a.Program) {
				return
			}
			code = ClashTyping
			if keepsCopy(a) && keepsCopy(b) {
				code = DriftMirror
			}
		default:
			return
		}
		if involved[code] == nil {
			involved[code] = map[*claim.Claim]bool{}
		}
		involved[code][a], involved[code][b] = true, true
	}
	pairs(slices.Concat(writers, others), judge)
	switch {
	case involved[ClashWriters] != nil: // nobody can type to please them all
	case len(writers) > 0:
		for _, t := range typists {
			judge(writers[0], t)
		}
	default:
		pairs(slices.Concat(others, typists), func(a, b *claim.Claim) {
			if a.Role == rule.Types || b.Role == rule.Types {
				judge(a, b)
			}
		})
	}
	out := map[Code][]Side{}
	for code, set := range involved {
		for _, c := range claims {
			if set[c] {
				out[code] = append(out[code], SideOf(c, g))
			}
		}
		slices.SortStableFunc(out[code], func(a, b Side) int { return cmp.Compare(sideOrder(a.Role), sideOrder(b.Role)) })
	}
	return out
}

// apart reports whether two programs look at different parts of the files.
func apart(a, b *claim.Claim, g *claim.Group) bool {
	x, _ := a.Program.Covering(g.Type.ID)
	y, _ := b.Program.Covering(g.Type.ID)
	return x != "" && y != "" && x != y
}

// keepsCopy reports whether the claim is an editor's own, one of several copies
// that are kept by hand, and not of the standard that editors share.
func keepsCopy(c *claim.Claim) bool {
	return c.Role == rule.Types && c.Program.Has(catalog.Editor) && c.Where.File != nil && !c.Where.File.Doc.Syntax.IsStandard()
}

func sideOrder(r rule.Role) int {
	return slices.Index([]rule.Role{rule.Writes, rule.Accepts, rule.Types}, r)
}

func pairs(claims []*claim.Claim, judge func(a, b *claim.Claim)) {
	for i, a := range claims {
		for _, b := range claims[i+1:] {
			judge(a, b)
		}
	}
}

// SideOf is a claim as a side of a finding about the group.
func SideOf(c *claim.Claim, g *claim.Group) Side {
	line, column := c.Where.Position()
	s := Side{
		Program: c.Program.ID, Name: c.Program.Name, Role: c.Role, Basis: c.Basis,
		Path: c.Where.Path(), Line: line, Column: column, Claim: c, scope: c.Where.Scope,
	}
	if !c.Value.IsZero() {
		s.Value = c.Value
		s.Phrase = indentation(c, g)
	}
	if c.Where.File != nil && c.Where.File.Inside { // one cause, however many files say so
		s.key = strings.Join([]string{s.Program, string(s.Role), s.Phrase}, "\x1f")
	}
	if c.Machine {
		s.Phrase = "to the machine"
	}
	if c.Role == rule.Accepts && c.Question.AtMost {
		s.AtMost = true
		s.Phrase = "at most " + s.Phrase
	}
	return s
}

// indentation is the claim's value in words; a style of spaces names their
// number where the program gives one.
func indentation(c *claim.Claim, g *claim.Group) string {
	if c.Rule.ID == rule.IndentStyle && c.Value == rule.Word("space") {
		if size := g.Claim(c.Program, rule.IndentSize); size != nil && size.Value.Int() > 0 {
			return size.Rule.Phrase(size.Value)
		}
	}
	return c.Rule.Phrase(c.Value)
}

func clashMessage(code Code, r *rule.Rule, sides []Side) string {
	var parts []string
	for i, s := range sides {
		verb := string(s.Role)
		if s.Role == rule.Accepts {
			verb = "accepts only"
		}
		if s.AtMost {
			verb = "accepts"
		}
		if r.Mirrored {
			verb = "says"
		}
		same := slices.IndexFunc(sides[:i], func(t Side) bool { return t.Role == s.Role && t.Phrase == s.Phrase })
		if same >= 0 {
			continue
		}
		parts = append(parts, fmt.Sprintf("%s %s %s", sidesNamed(sides, s), plural(verb, sides, s), s.Phrase))
	}
	joint := ", "
	if code == ClashTyping || code == DriftMirror {
		joint = ", but "
		slices.Reverse(parts)
	}
	return strings.Join(parts, joint)
}

// sidesNamed names every side that says the same.
func sidesNamed(sides []Side, s Side) string {
	var names []string
	for _, t := range sides {
		if t.Role == s.Role && t.Phrase == s.Phrase && !slices.Contains(names, t.Name) {
			names = append(names, t.Name)
		}
	}
	return strings.Join(names, " and ")
}

func plural(verb string, sides []Side, s Side) string {
	if !strings.Contains(sidesNamed(sides, s), " and ") {
		return verb
	}
	first, rest, _ := strings.Cut(verb, " ")
	return strings.TrimRight(strings.TrimSuffix(first, "s")+" "+rest, " ")
}
