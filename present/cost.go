package present

import (
	"encoding/csv"
	"fmt"
	"io"
	"strconv"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/rule"
)

// Cost prints what a value of a rule would cost, by type.
func Cost(p *Page, r *rule.Rule, v rule.Value, costs []audit.Cost) {
	fmt.Fprintf(p.W, "%s\n", p.bold(ruleTitle(r)+": "+phraseOf(r, v)+", in every file"))
	if len(costs) == 0 {
		fmt.Fprintln(p.W, "\nNo code says anything about that.")
		return
	}
	rows := [][]string{{"FILE TYPE", "FILES", "WOULD CHANGE", "LINES", ""}}
	estimated := false
	var same []string
	for _, c := range costs {
		if c.Files == 0 {
			same = append(same, fmt.Sprintf("%s (%d)", c.Type.Name, c.Telling))
			continue
		}
		note := "certain"
		if !c.Certain {
			note, estimated = "estimate", true
		}
		rows = append(rows, []string{c.Type.Name, strconv.Itoa(c.Telling), strconv.Itoa(c.Files), strconv.Itoa(c.Lines), note})
	}
	if len(rows) > 1 {
		fmt.Fprintln(p.W)
		for i, line := range table(rows, 1, 2, 3) {
			if i == 0 {
				line = p.bold(line)
			}
			fmt.Fprintln(p.W, line)
		}
	}
	if len(same) > 0 {
		fmt.Fprintln(p.W)
		indented(p, "", "nothing to change in "+strings.Join(same, ", "))
	}
	if estimated {
		fmt.Fprintln(p.W)
		indented(p, "", estimateText(r))
	}
	shown := 0
	for _, c := range costs {
		for _, e := range c.Excerpts {
			if shown == 3 {
				break
			}
			shown++
			lines := Excerpt(e, r)
			fmt.Fprintf(p.W, "\n%s\n", p.bold(lines[0]))
			for _, line := range lines[1:] {
				fmt.Fprintln(p.W, cut("  "+line, p.Width))
			}
		}
	}
	fmt.Fprintf(p.W, "\n%s  what the code does today\n", p.bold("treaty evidence --rule "+r.ID))
}

// Excerpt is a piece of the code before and after a change, its place first.
func Excerpt(e audit.Excerpt, r *rule.Rule) []string {
	lines := []string{fmt.Sprintf("%s:%d", Clean(e.Path), e.Line)}
	for _, line := range e.Before {
		lines = append(lines, "was  "+visible(line, r))
	}
	for _, line := range e.After {
		lines = append(lines, "now  "+visible(line, r))
	}
	if len(e.After) == 0 {
		lines = append(lines, "now  the line is gone")
	}
	return lines
}

// estimateText says what the numbers of a rule count whose rewriting is up to a
// formatter.
func estimateText(r *rule.Rule) string {
	switch r.ID {
	case "max_line_length", "comment_line_length":
		return "The lines are those that are too long today; how a formatter breaks them, and what it joins, is up to it."
	}
	return "The lines are places that do otherwise today; a formatter may change more around them."
}

// visible shows blanks and line ends, where the rule is about them.
func visible(line string, r *rule.Rule) string {
	text := strings.TrimRight(line, "\r\n")
	ending := strings.NewReplacer("\r", "␍", "\n", "␊").Replace(line[len(text):])
	lead := text[:len(text)-len(strings.TrimLeft(text, " \t"))]
	rest := text[len(lead):]
	switch r.ID {
	case rule.IndentStyle, rule.IndentSize:
		return strings.NewReplacer("\t", "→   ", " ", "·").Replace(lead) + Clean(rest)
	case "trim_trailing_whitespace":
		kept := strings.TrimRight(text, " \t")
		return Clean(kept) + strings.NewReplacer("\t", "→", " ", "·").Replace(text[len(kept):])
	case rule.EndOfLine, "insert_final_newline", "blank_lines":
		return Clean(text) + ending
	}
	return Clean(text)
}

// CostJSON prints the cost as one object.
func CostJSON(w io.Writer, r *rule.Rule, v rule.Value, costs []audit.Cost) error {
	types := []object{}
	for _, c := range costs {
		excerpts := []object{}
		for _, e := range c.Excerpts {
			after := e.After
			if after == nil {
				after = []string{}
			}
			excerpts = append(excerpts, object{"path": e.Path, "line": e.Line, "before": e.Before, "after": after})
		}
		types = append(types, object{"type": c.Type.ID, "telling": c.Telling, "files": c.Files, "lines": c.Lines, "certain": c.Certain, "excerpts": excerpts})
	}
	return write(w, object{"format": "jolly-treaty/cost", "version": 1, "rule": r.ID, "value": v, "types": types})
}

// CostCSV prints a line for each type.
func CostCSV(w io.Writer, r *rule.Rule, v rule.Value, costs []audit.Cost) error {
	out := csv.NewWriter(w)
	out.Write([]string{"type", "rule", "value", "telling", "files", "lines", "certain"})
	for _, c := range costs {
		out.Write([]string{c.Type.ID, r.ID, v.String(), strconv.Itoa(c.Telling), strconv.Itoa(c.Files), strconv.Itoa(c.Lines), strconv.FormatBool(c.Certain)})
	}
	out.Flush()
	return out.Error()
}
