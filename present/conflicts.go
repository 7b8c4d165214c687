package present

import (
	"fmt"
	"strings"

	"jollytreaty/core/conflict"
)

// Conflicts prints findings with every side on its own line.
func Conflicts(p *Page, findings []*conflict.Finding) {
	list := topics(findings)
	for _, t := range list {
		fmt.Fprintf(p.W, "%s  %s  %s\n", p.severity(t.Severity), p.bold(t.heading(p.Width-11-len(t.Code))), p.faint(string(t.Code)))
		if len(t.all) > 1 && t.Code == conflict.GapNoFormatter {
			indented(p, "  ", "no formatter known here is in play for "+typesWithFiles(t.all))
		} else {
			indented(p, "  ", clean(t.Message))
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
		if len(t.Examples) > 0 && t.Rule != nil {
			fmt.Fprintf(p.W, "  %s\n", p.faint(cut("for example "+clean(strings.Join(t.Examples[:min(2, len(t.Examples))], ", ")), p.Width-2)))
		}
		if t.Waived != nil {
			indented(p, "  ", "waived: "+clean(t.Waived.Reason))
		} else if t.Proposal != nil {
			value := t.Proposal.Because
			if t.Rule != nil && !t.Proposal.Value.IsZero() {
				value = fmt.Sprintf("%s, because %s", t.Rule.Phrase(t.Proposal.Value), t.Proposal.Because)
			}
			indented(p, "  ", "to settle: "+clean(value))
		} else if why := t.open(); why != "" {
			indented(p, "  ", "stays open: "+clean(why))
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
	where := clean(s.Path)
	if s.Line > 0 {
		where = fmt.Sprintf("%s:%d:%d", where, s.Line, max(s.Column, 1))
	}
	if s.Program == "" && where == "" {
		return nil
	}
	return []string{"    " + clean(s.Phrase), string(s.Role), s.Name, string(s.Basis), where}
}
