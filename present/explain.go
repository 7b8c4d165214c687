package present

import (
	"fmt"

	"jollytreaty/core/assign"
	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// Explain prints every setting in effect for one file, who decided it and what
// it beat.
func Explain(p *Page, x *audit.Explanation) {
	switch v := x.Verdict; {
	case v.Formatter != nil:
		fmt.Fprintf(p.W, "%s is %s, formatted by %s\n", p.bold(clean(x.File.Path)), x.File.Type.Name, v.Formatter.Program.Name)
		fmt.Fprintf(p.W, "  %s\n", clean(assign.Reason(v.Formatter.Reasons[0])))
	case len(v.Rivals) > 0:
		fmt.Fprintf(p.W, "%s is %s, claimed by %s\n", p.bold(clean(x.File.Path)), x.File.Type.Name, count(len(v.Rivals), "formatter", "formatters"))
	case !x.File.Type.Styled:
		fmt.Fprintf(p.W, "%s is %s, which no program formats\n", p.bold(clean(x.File.Path)), x.File.Type.Name)
	default:
		fmt.Fprintf(p.W, "%s is %s; no formatter known here is in play\n", p.bold(clean(x.File.Path)), x.File.Type.Name)
	}
	for _, e := range x.Verdict.Excluded {
		fmt.Fprintf(p.W, "  %s is told to leave it out: %s\n", e.Name, whereText(x.Group.Excludes[e]))
	}
	if len(x.Rules) == 0 {
		fmt.Fprintln(p.W, "\nNo setting in this repository speaks about it.")
		return
	}
	fmt.Fprintln(p.W)
	for _, e := range x.Rules {
		ruleLines(p, e)
	}
	fmt.Fprintf(p.W, "\n%s  where settings cannot both hold\n", p.bold("treaty conflicts"))
}

// ruleLines prints a rule, its value, the claim that decided and the others.
func ruleLines(p *Page, e audit.Effective) {
	value := "left as it is"
	if e.DecidedBy != nil {
		value = e.Rule.Phrase(e.Value)
		if e.DecidedBy.Role == rule.Accepts && e.DecidedBy.Question.AtMost {
			value = "at most " + value
		}
	}
	for _, c := range e.Claims {
		if e.DecidedBy == nil && c.Role == rule.Shows {
			value = e.Rule.Phrase(c.Value) + " on the screen"
		}
	}
	title := e.Rule.Title
	if e.Rule.ID == rule.IndentSize {
		title = "indent size"
	}
	fmt.Fprintf(p.W, "%s  %s\n", p.bold(pad(title, 15)), p.bold(value))
	var rows [][]string
	for _, c := range e.Claims {
		if c == e.DecidedBy {
			rows = append([][]string{claimRow(c, "decided by")}, rows...)
		} else {
			rows = append(rows, claimRow(c, ""))
		}
	}
	for _, line := range p.flow(rows) {
		fmt.Fprintln(p.W, line)
	}
}

func claimRow(c *claim.Claim, lead string) []string {
	note := whereText(c.Where)
	switch {
	case c.Basis == claim.Default && note == "":
		note = "its default"
	case c.Basis == claim.Default:
		note = "its default, see " + note
	case c.Basis == claim.Inherited:
		note += ", inherited"
	}
	if c.Beaten != nil {
		return []string{"    " + pad("beaten", len("decided by")), c.Program.Name + " " + claimVerb(c), note + ", beaten by " + whereText(c.Beaten.Where)}
	}
	return []string{"    " + pad(lead, len("decided by")), c.Program.Name + " " + claimVerb(c), note}
}

func claimVerb(c *claim.Claim) string {
	switch {
	case c.Role == rule.Leaves:
		return "leaves it"
	case c.Role == rule.Accepts && !c.Question.AtMost:
		return "accepts only " + claimValue(c)
	}
	return string(c.Role) + " " + claimValue(c)
}

func claimValue(c *claim.Claim) string {
	if c.Value.IsZero() {
		return "it left alone"
	}
	text := c.Rule.Phrase(c.Value)
	if c.Role == rule.Accepts && c.Question.AtMost {
		return "at most " + text
	}
	return text
}

func whereText(w claim.Where) string {
	line, _ := w.Position()
	if line == 0 {
		return clean(w.Path())
	}
	return fmt.Sprintf("%s:%d", clean(w.Path()), line)
}
