package present

import (
	"fmt"
	"math"
	"strings"

	"jollytreaty/core/conflict"
	"jollytreaty/core/rule"
)

// Conflicts prints findings with every side on its own line.
func Conflicts(p *Page, findings []*conflict.Finding) {
	list := topics(findings)
	for _, t := range list {
		fmt.Fprintf(p.W, "%s  %s  %s\n", p.severity(t.Severity), p.bold(t.heading(p.Width-11-len(t.Code))), p.faint(string(t.Code)))
		if len(t.all) > 1 && t.Code == conflict.GapNoFormatter {
			indented(p, "  ", "no formatter known here is in play for "+typesWithFiles(t.all))
		} else {
			indented(p, "  ", Clean(t.Message))
		}
		var rows [][]string
		for _, s := range t.Sides {
			if row := sideRow(s); row != nil {
				rows = append(rows, row)
			}
		}
		for _, line := range p.flow(rows) {
			fmt.Fprintln(p.W, line)
		}
		if text := weightText(t); text != "" {
			indented(p, "  ", text)
		}
		if len(t.Examples) > 0 && t.Rule != nil {
			fmt.Fprintf(p.W, "  %s\n", p.faint(cut("for example "+Clean(strings.Join(t.Examples[:min(2, len(t.Examples))], ", ")), p.Width-2)))
		}
		if t.Waived != nil {
			indented(p, "  ", "waived: "+Clean(t.Waived.Reason))
		} else if t.Proposal != nil {
			value := t.Proposal.Because
			if t.Rule != nil && !t.Proposal.Value.IsZero() {
				value = fmt.Sprintf("%s, because %s", t.Rule.Phrase(t.Proposal.Value), t.Proposal.Because)
			}
			indented(p, "  ", "to settle: "+Clean(value))
		} else if why := t.open(); why != "" {
			indented(p, "  ", "stays open: "+Clean(why))
		}
		fmt.Fprintf(p.W, "  %s\n\n", p.faint(cut("id "+strings.Join(ids(t.all), " "), p.Width-2)))
	}
	fmt.Fprintln(p.W, counts(findings))
	if len(findings) > 0 {
		fmt.Fprintf(p.W, "%s  decisions and edits for all of them; changes nothing\n", p.bold("treaty settle"))
	}
}

// open says why the topic stays, where one reason is true of all its findings.
func (t *topic) open() string {
	for _, f := range t.all {
		if f.Open != t.Open {
			return "the reason differs by type; see: treaty settle"
		}
	}
	return t.Open
}

// weightText says what the code does, as far as the values at hand are concerned.
func weightText(t *topic) string {
	var parts []string
	files := 0
	for _, w := range t.Evidence {
		parts = append(parts, percent(w.Share, int(math.Round(w.Share*float64(w.Files))), w.Files)+" "+fitPhrase(t.Rule, w.Value))
		files = max(files, w.Files)
	}
	if len(parts) == 0 || len(t.all) > 1 {
		return ""
	}
	return fmt.Sprintf("the code: of %s read, %s", fileCount(files), strings.Join(parts, ", "))
}

// fitPhrase says what files do that are as a value asks.
func fitPhrase(r *rule.Rule, v rule.Value) string {
	switch {
	case r.ID == "max_line_length" || r.ID == "comment_line_length":
		return "fit in " + r.Phrase(v)
	case r.ID == "blank_lines":
		return "have no more than " + r.Phrase(v)
	case r.ID == "trim_trailing_whitespace" && v == rule.Word("false"), r.ID == "insert_final_newline" && v == rule.Word("false"):
		return "may stay as they are"
	}
	return "have " + r.Phrase(v)
}

func ids(findings []*conflict.Finding) []string {
	out := make([]string, len(findings))
	for i, f := range findings {
		out[i] = f.ID
	}
	return out
}

// indented prints text wrapped, its later lines further in.
func indented(p *Page, indent, text string) {
	for i, line := range wrap(text, p.Width-len(indent)-4) {
		if i > 0 {
			line = "    " + line
		}
		fmt.Fprintln(p.W, indent+line)
	}
}

// sideRow is a side as a row: value, role, program, basis and place.
func sideRow(s conflict.Side) []string {
	where := Clean(s.Path)
	if s.Line > 0 {
		where = fmt.Sprintf("%s:%d:%d", where, s.Line, max(s.Column, 1))
	}
	if s.Program == "" && where == "" {
		return nil
	}
	return []string{"    " + Clean(s.Phrase), string(s.Role), s.Name, string(s.Basis), where}
}
