package settle

import (
	"fmt"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/rule"
)

// succession says how the settings of a retired program go over to the one that
// follows it: key by key, and what the follower has no key for. It is "" where
// nothing is set or nobody follows.
func (d *draft) succession(f *conflict.Finding) string {
	old := d.Catalog.ByID(f.Sides[0].Program)
	if old == nil || old.Retired == nil || len(old.Retired.By) == 0 {
		return ""
	}
	next := d.Catalog.ByID(old.Retired.By[0])
	if next == nil {
		return ""
	}
	var carried, lost []string
	for _, g := range d.groups() {
		for _, c := range g.Claims {
			if c.Program != old || c.Basis != claim.Set || c.Value.IsZero() || c.Rule.ID == rule.IndentStyle && g.Claim(old, rule.IndentSize) != nil {
				continue // a size of spaces says both
			}
			what := fmt.Sprintf("%s, %s", c.Rule.Title, c.Rule.Phrase(c.Value))
			if key := keyFor(next, c, g); key != "" {
				carried = appendNew(carried, what+": "+key)
			} else {
				lost = appendNew(lost, what)
			}
		}
	}
	if len(carried)+len(lost) == 0 {
		return ""
	}
	text := "move to " + next.Name
	if place := next.Place(""); place != nil && len(carried) > 0 {
		text += ", in " + place.Files[0] + ": " + strings.Join(carried, "; ")
	}
	if len(lost) > 0 {
		text += "; it has no setting for " + strings.Join(lost, "; ")
	}
	return text
}

// keyFor returns the key by which a program is set to a claim's value, with the
// value as it is written; "" where it has none.
func keyFor(e *catalog.Entry, c *claim.Claim, g *claim.Group) string {
	for _, q := range e.Rules {
		if q.Rule != c.Rule.ID || !q.Concerns(g.Type.ID) {
			continue
		}
		asked := *c
		asked.Program, asked.Question, asked.Way = e, q, nil
		for _, w := range q.From {
			place := e.Place(w.Place)
			if place == nil || place.ID != "" {
				continue
			}
			if raw, ok := rawFor(&asked, w, c.Value, place); ok {
				return fmt.Sprintf("%s = %v", strings.ReplaceAll(w.Key, "~1", "/"), raw)
			}
		}
		if q.Fixed() && q.Default != nil && fmt.Sprint(q.Default) == c.Value.String() {
			return "always so"
		}
	}
	return ""
}
