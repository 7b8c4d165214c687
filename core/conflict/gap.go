package conflict

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/claim"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
	"jollytreaty/core/treaty"
)

// rivalries finds groups that several formatters in play claim.
func rivalries(g *claim.Group, a *assign.Assignment, into *collector) {
	if len(a.Rivals) == 0 {
		return
	}
	contenders := a.Rivals
	if a.Formatter != nil {
		contenders = append([]assign.Candidate{*a.Formatter}, a.Rivals...)
	}
	rivalry(g, a, contenders, into)
}

// rivalry reports contenders for the same files. Where the editor runs the one
// formatter on save and every other one only runs later, that they run at
// different times is what is wrong.
func rivalry(g *claim.Group, a *assign.Assignment, contenders []assign.Candidate, into *collector) {
	f := &Finding{Code: Rivalry, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}}
	if saved(g, a) && !slices.ContainsFunc(a.Rivals, func(c assign.Candidate) bool { return saves(c) || !gates(c) }) {
		f.Code = RivalryTriggers
	}
	var names []string
	for _, c := range contenders {
		names = append(names, c.Program.Name)
		reason := c.Reasons[0]
		f.Sides = append(f.Sides, Side{
			Program: c.Program.ID, Name: c.Program.Name, Role: rule.Writes, Basis: claim.Set,
			Path: reason.Path, Line: reason.Line, Phrase: assign.Why(reason), key: rivalKey(c),
		})
	}
	f.Message = strings.Join(names, " and ") + " both format these files"
	if len(names) > 2 {
		f.Message = strings.Join(names, ", ") + " all format these files"
	}
	if f.Code == RivalryTriggers {
		f.Message = fmt.Sprintf("%s formats these files on save, and %s %s", names[0], strings.Join(names[1:], " and "), gateWords(a.Rivals))
	}
	into.add(f)
}

// saved reports whether the editor runs the group's formatter on save, and
// nothing runs it later.
func saved(g *claim.Group, a *assign.Assignment) bool {
	return a.Formatter != nil && g.Picked[a.Formatter.Program].OnSave && !gates(*a.Formatter)
}

func saves(c assign.Candidate) bool {
	return slices.ContainsFunc(c.Reasons, func(s claim.Seen) bool { return s.When == sign.Save })
}

// gates reports whether a hook or CI step runs the candidate.
func gates(c assign.Candidate) bool {
	return slices.ContainsFunc(c.Reasons, gate)
}

func gate(s claim.Seen) bool { return s.When.Gate() }

// gateWords says when the candidates run.
func gateWords(list []assign.Candidate) string {
	var words []string
	for _, c := range list {
		for _, s := range c.Reasons {
			if word := when(s); gate(s) && !slices.Contains(words, word) {
				words = append(words, word)
			}
		}
	}
	return strings.Join(words, " and ")
}

// rivalKey names a rival for the finding's id by its program and strongest
// reason, the treaty's word aside, so that the id outlives a new article.
func rivalKey(c assign.Candidate) string {
	for _, reason := range c.Reasons {
		if !assign.ByTreaty(reason) {
			return c.Program.ID + "\x1f" + reason.Path
		}
	}
	return c.Program.ID
}

// gaps finds types that nothing formats. A type whose files are only in part
// left out of their formatter is taken as meant so.
func gaps(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, into *collector) {
	type tally struct {
		total, bare, excluded int
		bareExamples          []string
		groups                []*claim.Group
		by                    string
		where                 claim.Where
	}
	tallies := map[*filetype.Type]*tally{}
	var order []*filetype.Type
	for i, g := range p.Groups {
		if !g.Type.Styled || t.Exemption(g.Type.ID) != nil {
			continue
		}
		n := tallies[g.Type]
		if n == nil {
			n = &tally{}
			tallies[g.Type] = n
			order = append(order, g.Type)
		}
		n.total += g.Files
		a := &verdicts[i]
		if len(a.Candidates) > 0 {
			continue
		}
		if len(a.Excluded) > 0 {
			n.excluded += g.Files
			n.by = a.Excluded[0].Name
			n.where = g.Excludes[a.Excluded[0]]
			continue
		}
		n.bare += g.Files
		n.bareExamples = append(n.bareExamples, g.Examples...)
		n.groups = append(n.groups, g)
	}
	for _, typ := range order {
		n := tallies[typ]
		switch {
		case n.excluded == n.total:
			line, column := n.where.Position()
			into.add(&Finding{Code: GapExcluded, Type: typ, Files: n.total,
				Message: fmt.Sprintf("%s is told to leave out every %s file", n.by, typ.Name),
				Sides:   []Side{{Program: "", Name: n.by, Path: n.where.Path(), Line: line, Column: column}}})
		case n.bare > 0:
			message := fmt.Sprintf("no formatter known here is in play for %s", typ.Name)
			if n.bare < n.total {
				message = fmt.Sprintf("no formatter known here is in play for %d of %d %s files", n.bare, n.total, typ.Name)
			}
			into.add(&Finding{Code: GapNoFormatter, Type: typ, Files: n.bare,
				Examples: n.bareExamples[:min(5, len(n.bareExamples))], Groups: n.groups, Message: message})
		}
	}
}
