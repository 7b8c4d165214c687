package present

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
)

// Explain prints every setting in effect for one file, who decided it and what
// it beat.
func Explain(p *Page, x *audit.Explanation) {
	switch v := x.Verdict; {
	case v.Formatter != nil:
		fmt.Fprintf(p.W, "%s is %s, formatted by %s\n", p.bold(Clean(x.File.Path)), x.File.Type.Name, v.Formatter.Program.Name)
		fmt.Fprintf(p.W, "  %s\n", Clean(assign.Reason(v.Formatter.Reasons[0])))
		whenLines(p, x)
	case len(v.Rivals) > 0:
		fmt.Fprintf(p.W, "%s is %s, claimed by %s\n", p.bold(Clean(x.File.Path)), x.File.Type.Name, count(len(v.Rivals), "formatter", "formatters"))
	case !x.File.Type.Styled:
		fmt.Fprintf(p.W, "%s is %s, which no program formats\n", p.bold(Clean(x.File.Path)), x.File.Type.Name)
	default:
		fmt.Fprintf(p.W, "%s is %s; no formatter known here is in play\n", p.bold(Clean(x.File.Path)), x.File.Type.Name)
	}
	for _, e := range x.Verdict.Excluded {
		fmt.Fprintf(p.W, "  %s is told to leave it out: %s\n", e.Name, whereText(x.Group.Excludes[e]))
	}
	for _, e := range x.Group.Signed() {
		if where, idle := x.Group.Idle[e]; idle {
			fmt.Fprintf(p.W, "  %s has its formatting switched off: %s\n", e.Name, whereText(where))
		}
	}
	if len(x.Rules) == 0 {
		fmt.Fprintln(p.W, "\nNo setting in this repository speaks about it.")
		idleLines(p, x)
		return
	}
	fmt.Fprintln(p.W)
	for _, e := range x.Rules {
		ruleLines(p, x, e)
	}
	idleLines(p, x)
	fmt.Fprintf(p.W, "\n%s  one of them, step by step\n%s  where settings cannot both hold\n",
		pad(p.bold("treaty explain FILE --rule RULE"), 31), pad(p.bold("treaty conflicts"), 31))
}

// whenLines says when the file's formatter runs.
func whenLines(p *Page, x *audit.Explanation) {
	e := x.Verdict.Formatter.Program
	var parts []string
	for _, s := range x.Group.Signs(e) {
		if text := runsText(s); text != "" {
			parts = append(parts, fmt.Sprintf("%s (%s)", text, Clean(where(s))))
		}
	}
	text := "nothing here runs it"
	if len(parts) > 0 {
		text = strings.Join(parts[:min(3, len(parts))], ", ")
	}
	indented(p, "  ", text)
}

// idleLines lists what looks relevant and has no effect.
func idleLines(p *Page, x *audit.Explanation) {
	if len(x.Idle) == 0 {
		return
	}
	fmt.Fprintf(p.W, "\n%s\n", p.bold("WITHOUT EFFECT"))
	for _, i := range x.Idle {
		at := Clean(i.Path)
		if i.Line > 0 {
			at = fmt.Sprintf("%s:%d", at, i.Line)
		}
		indented(p, "  ", at+"  "+Clean(i.Why))
	}
}

// ExplainRule prints how one rule of a file comes to its value, step by step.
func ExplainRule(p *Page, x *audit.Explanation, r *rule.Rule) {
	fmt.Fprintf(p.W, "%s of %s\n", p.bold(ruleTitle(r)), Clean(x.File.Path))
	indented(p, "  ", r.Sentence)
	i := slices.IndexFunc(x.Rules, func(e audit.Effective) bool { return e.Rule == r })
	if i < 0 {
		fmt.Fprintln(p.W, "\nNo program in play here says anything about it.")
		return
	}
	e := x.Rules[i]
	var programs []string
	for _, c := range e.Claims {
		if !slices.Contains(programs, c.Program.Name) {
			programs = append(programs, c.Program.Name)
		}
	}
	for _, name := range programs {
		fmt.Fprintf(p.W, "\n%s\n", p.bold(name))
		var rows [][]string
		for _, c := range e.Claims {
			if c.Program.Name == name {
				rows = append(rows, stepRow(c))
			}
		}
		for _, line := range p.flow(rows) {
			fmt.Fprintln(p.W, line)
		}
	}
	fmt.Fprintf(p.W, "\n%s  %s\n", p.bold("so the file has"), p.bold(e.Phrase()))
	if c := e.DecidedBy; c != nil {
		why := "nobody else has a stronger word"
		if f := x.Verdict.Formatter; f != nil && f.Program == c.Program {
			why = "its formatter has the last word"
		}
		indented(p, "  ", fmt.Sprintf("%s decides: %s", c.Program.Name, why))
	}
	for _, f := range x.Clashes {
		if f.Rule == r {
			indented(p, "  ", fmt.Sprintf("%s, %s: %s", f.Severity, f.Code, f.Message))
		}
	}
}

// stepRow is one claim as a step of a chain.
func stepRow(c *claim.Claim) []string {
	row := claimRow(c, "in effect")
	if c.Beaten == nil && c.Basis == claim.Default && c.Where.File == nil {
		row[2] = "its default; nothing here sets it"
	}
	if c.Where.Scope != "" {
		row[2] += ", in " + Clean(c.Where.Scope)
	}
	row[1] = claimVerb(c)
	return row
}

// ExplainSeveral prints where files differ.
func ExplainSeveral(p *Page, list []*audit.Explanation) {
	rows := [][]string{}
	for _, x := range list {
		owner := "no formatter"
		if x.Verdict.Formatter != nil {
			owner = x.Verdict.Formatter.Program.Name
		}
		rows = append(rows, []string{Clean(x.File.Path), x.File.Type.Name, owner})
	}
	for _, line := range p.flow(rows) {
		fmt.Fprintln(p.W, line)
	}
	var same []string
	for _, r := range rule.All() {
		values := make([]string, len(list))
		var rows [][]string
		said, differ := false, false
		for i, x := range list {
			values[i] = "nothing said"
			source := ""
			for _, e := range x.Rules {
				if e.Rule == r {
					said = e.DecidedBy != nil
					values[i] = e.Phrase()
					if c := e.DecidedBy; c != nil {
						source = c.Program.Name + ", " + cmp.Or(whereText(c.Where), "its default")
					}
				}
			}
			differ = differ || values[i] != values[0]
			rows = append(rows, []string{"  " + values[i], Clean(x.File.Path), source})
		}
		switch {
		case differ:
			fmt.Fprintf(p.W, "\n%s\n", p.bold(ruleTitle(r)))
			for _, line := range p.flow(rows) {
				fmt.Fprintln(p.W, line)
			}
		case said:
			same = append(same, ruleTitle(r)+": "+values[0])
		}
	}
	if len(same) > 0 {
		fmt.Fprintln(p.W)
		indented(p, "", "the same for all: "+strings.Join(same, "; "))
	}
}

// ruleTitle tells the two rules of indentation apart.
func ruleTitle(r *rule.Rule) string {
	if r.ID == rule.IndentSize {
		return "indent size"
	}
	return r.Title
}

// ruleLines prints a rule, its value, the claim that decided and the others.
func ruleLines(p *Page, x *audit.Explanation, e audit.Effective) {
	value := e.Phrase()
	for _, c := range e.Claims {
		if e.DecidedBy == nil && c.Role == rule.Shows {
			value = e.Rule.Phrase(c.Value) + " on the screen"
		}
	}
	fmt.Fprintf(p.W, "%s  %s\n", p.bold(pad(ruleTitle(e.Rule), 15)), p.bold(value))
	var rows [][]string
	for _, c := range e.Claims {
		if c == e.DecidedBy {
			rows = append([][]string{claimRow(c, "decided by")}, rows...)
		} else {
			rows = append(rows, claimRow(c, ""))
		}
	}
	if text := doesText(x, e); text != "" {
		rows = append(rows, []string{"    " + pad("the file", len("decided by")), text, ""})
	}
	for _, line := range p.flow(rows) {
		fmt.Fprintln(p.W, line)
	}
}

// doesText says what the file itself does about a rule, "" where it says nothing.
func doesText(x *audit.Explanation, e audit.Effective) string {
	if x.Facts == nil {
		return ""
	}
	has, answer := x.Facts.Value(e.Rule.ID)
	text := ""
	switch {
	case answer == evidence.Silent:
		return ""
	case answer == evidence.Mixed:
		text = "is mixed"
	case answer == evidence.Neither:
		text = "has neither"
	case e.Rule.ID == "max_line_length" || e.Rule.ID == "comment_line_length":
		text = "has lines of up to " + e.Rule.Phrase(has)
	case e.Rule.ID == "blank_lines":
		text = "has up to " + count(has.Int(), "blank line", "blank lines") + " in a row"
	default:
		text = "has " + e.Rule.Phrase(has)
	}
	if fits, told := x.Facts.Fits(e.Rule.ID, e.Value); told && !fits && !e.Value.IsZero() {
		text += ", which differs"
	}
	return text
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
	case c.Machine:
		return "leaves it to the machine"
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
		return Clean(w.Path())
	}
	return fmt.Sprintf("%s:%d", Clean(w.Path()), line)
}
