package conflict

import (
	"fmt"
	"time"

	"jollytreaty/core/assign"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
	"jollytreaty/core/treaty"
)

// breaches finds what departs from the treaty's word on a style: settings, and the
// defaults of the formatter.
func breaches(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, into *collector) {
	if t == nil {
		return
	}
	for i, g := range p.Groups {
		if !g.Type.Styled || t.Exemption(g.Type.ID) != nil || len(g.Examples) == 0 {
			continue
		}
		article := t.For(g.Type.ID, g.Examples[0])
		if article == nil {
			continue
		}
		a := &verdicts[i]
		for _, c := range g.Claims {
			value, said := article.Style[c.Rule.ID]
			if !said || !a.InPlay(c.Program, g) || departsFrom(c, value, article, g, a) == rule.Together {
				continue
			}
			word := Side{Program: "treaty", Name: "the treaty", Value: value, Phrase: c.Rule.Phrase(value), Path: article.Path, Line: article.Line, Column: 1, key: "treaty " + article.Path}
			side := SideOf(c, g)
			into.add(&Finding{Code: TreatyBreach, Rule: c.Rule, Type: g.Type, Files: g.Files, Examples: g.Examples, Groups: []*claim.Group{g}, Sides: []Side{word, side},
				Message: fmt.Sprintf("the treaty says %s, and %s %s %s", word.Phrase, side.Name, roleVerb(side), side.Phrase)})
		}
	}
}

// departsFrom compares a claim with the treaty's word.
func departsFrom(c *claim.Claim, value rule.Value, article *treaty.Article, g *claim.Group, a *assign.Assignment) rule.Verdict {
	owns := a.Formatter != nil && a.Formatter.Program == c.Program
	switch {
	case c.Where.File == nil && !owns: // a silent default is no settings file
		return rule.Together
	case c.Rule.ID == rule.IndentSize && (g.UsesTabs(c.Program) || article.Style[rule.IndentStyle] == rule.Word("tab")):
		return rule.Together
	case c.Role == rule.Types && a.Formatter != nil && g.SavedAway(c.Program, a.Formatter.Program):
		return rule.Together
	}
	return rule.Compare(c.Stance(), rule.Stance{Role: rule.Writes, Value: value})
}

// expired finds waivers past their end.
func expired(t *treaty.Treaty, day time.Time, into *collector) {
	for _, w := range t.Expired(day) {
		into.add(&Finding{Code: TreatyExpired, Sides: []Side{{Path: treaty.Name, Line: w.Line, Column: 1, key: "waiver " + w.Finding}},
			Message: fmt.Sprintf("the waiver of %s ended on %s (%s)", w.Finding, w.Until.Format(time.DateOnly), w.Reason)})
	}
}
