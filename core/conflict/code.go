package conflict

import (
	"fmt"
	"slices"

	"jollytreaty/core/assign"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
)

// fewest is how many files have to tell before their majority means anything.
const fewest = 3

// disagreements finds rules whose value in effect most of the code does not have.
// Where programs do not agree on the value, that is said instead.
func disagreements(p *claim.Picture, verdicts []assign.Assignment, measured []evidence.Set, into *collector) {
	if measured == nil {
		return
	}
	type subject struct {
		group *claim.Group
		rule  *rule.Rule
	}
	disputed := map[subject]bool{}
	for _, f := range into.list {
		if f.Code.Is(Values) && f.Rule != nil {
			for _, g := range f.Groups {
				disputed[subject{g, f.Rule}] = true
			}
		}
	}
	type cause struct {
		typ   string
		rule  *rule.Rule
		value rule.Value
		node  *document.Node
	}
	type dispute struct {
		claim  *claim.Claim
		groups []*claim.Group
		sets   []*evidence.Set
	}
	by := map[cause]*dispute{}
	var order []cause
	for i, g := range p.Groups {
		a := &verdicts[i]
		if !g.Type.Styled || len(measured[i].Of) == 0 || a.Formatter != nil && onlyToolchain(a.Formatter.Reasons) {
			continue
		}
		for _, r := range rule.All() {
			c := a.Decider(g, r)
			if c == nil || c.Value.IsZero() || disputed[subject{g, r}] || r.ID == rule.IndentSize && g.UsesTabs(c.Program) || r.ID == rule.TabWidth {
				continue
			}
			k := cause{g.Type.ID, r, c.Value, c.Where.Node}
			if by[k] == nil {
				by[k] = &dispute{claim: c}
				order = append(order, k)
			}
			by[k].groups = append(by[k].groups, g)
			by[k].sets = append(by[k].sets, &measured[i])
		}
	}
	for _, k := range order {
		d := by[k]
		set := evidence.Join(d.sets...)
		departing, telling := 0, 0
		var examples []string
		for i, f := range set.Of {
			departs, told := set.Departs(f, k.rule.ID, k.value)
			if told {
				telling++
			}
			if told && departs {
				departing++
				examples = append(examples, p.Tree.Files[set.Index[i]].Path)
			}
		}
		if telling < fewest || departing*2 <= telling {
			continue
		}
		slices.Sort(examples)
		g := d.groups[0]
		side := SideOf(d.claim, g)
		into.add(&Finding{Code: CodeDisagrees, Rule: k.rule, Type: g.Type, Files: set.Total(), Examples: examples[:min(len(examples), 5)], Groups: d.groups, Sides: []Side{side},
			Message: fmt.Sprintf("%s %s %s, and %s do otherwise%s", side.Name, roleVerb(side), side.Phrase, portion(departing, telling, g.Type.Name), instead(set, k.rule, k.value))})
	}
}

func roleVerb(s Side) string {
	if s.Role == rule.Accepts && !s.AtMost {
		return "accepts only"
	}
	return string(s.Role)
}

// portion is so many files of those that tell, in words.
func portion(files, telling int, typeName string) string {
	if files == telling {
		return fmt.Sprintf("all %d %s files that tell", files, typeName)
	}
	return fmt.Sprintf("%s of %d %s files that tell", evidence.Percent(float64(files)/float64(telling)), telling, typeName)
}

// instead says what most of the files that differ do.
func instead(set evidence.Set, r *rule.Rule, v rule.Value) string {
	t := set.Count(r, v)
	for _, s := range t.Shares {
		if s.Value != v && s.Files*2 > t.Telling {
			return ", most with " + r.Phrase(s.Value)
		}
	}
	return ""
}

// onlyToolchain reports whether nothing but the language's toolchain brings the
// formatter.
func onlyToolchain(reasons []claim.Seen) bool {
	return !slices.ContainsFunc(reasons, func(s claim.Seen) bool { return s.As != sign.Toolchain })
}
