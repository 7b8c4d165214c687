package present

import (
	"fmt"

	"jollytreaty/core/assign"
	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
)

// Assign prints the map from file type to formatter, each with its reason.
func Assign(p *Page, r *audit.Result) {
	head := []string{"FILE TYPE", "FILES", "FORMATTER", "WHY"}
	sections := []struct {
		title string
		holds func(audit.TypeSummary) bool
		todo  string
	}{
		{"", func(t audit.TypeSummary) bool { return t.Status == audit.Settled || t.Status == audit.Partial }, ""},
		{"CONTESTED", func(t audit.TypeSummary) bool { return t.Status == audit.Contested },
			"Equal reasons for several: name one in an [[article]] of treaty.toml, then run: treaty settle"},
		{"FORMATTED IN SOME FOLDERS ONLY", func(t audit.TypeSummary) bool { return t.Status == audit.Unowned && len(t.Regions) > 1 }, ""},
		{"NO KNOWN FORMATTER", func(t audit.TypeSummary) bool { return t.Status == audit.Unowned && len(t.Regions) == 1 },
			"Add a program for these, or exempt the type in treaty.toml with a reason."},
		{"EXEMPT", func(t audit.TypeSummary) bool { return t.Status == audit.Exempt && t.Type.Styled }, ""},
	}
	for _, s := range sections {
		rows := [][]string{}
		for _, t := range r.Types {
			if s.holds(t) {
				rows = append(rows, assignRows(r, t)...)
			}
		}
		if len(rows) == 0 {
			continue
		}
		if s.title != "" {
			fmt.Fprintf(p.W, "\n%s\n", p.bold(s.title))
		} else {
			rows = append([][]string{head}, rows...)
		}
		for i, line := range p.flow(rows, 1) {
			if i == 0 && s.title == "" {
				line = p.bold(line)
			}
			fmt.Fprintln(p.W, line)
		}
		if s.todo != "" {
			indented(p, "  ", s.todo)
		}
	}
	fmt.Fprintf(p.W, "\n%s  the settings in effect for one file\n", p.bold("treaty explain FILE"))
}

func assignRows(r *audit.Result, t audit.TypeSummary) [][]string {
	first := []string{t.Type.Name, fmt.Sprint(t.Files), formatterOf(t), ""}
	switch t.Status {
	case audit.Exempt:
		first[3] = clean(t.Reason)
		return [][]string{first}
	case audit.Unowned:
		if len(t.Regions) == 1 {
			first[3] = known(r, t)
		}
	}
	rows := [][]string{first}
	for i, c := range t.Candidates {
		why := reason(c.Reasons[0])
		switch {
		case i == 0 && t.Formatter != nil:
			first[3] = why
		case t.Formatter != nil:
			rows = append(rows, []string{"", "", "also " + c.Program.Name, why})
		default:
			rows = append(rows, []string{"", "", "  " + c.Program.Name, why})
		}
	}
	return rows
}

// known names formatters the catalog has for a type that nothing formats.
func known(r *audit.Result, t audit.TypeSummary) string {
	names := ""
	for _, e := range r.Picture.Catalog.FormattersOf(t.Type.ID) {
		if names != "" {
			names += ", "
		}
		names += e.Name
	}
	if names == "" {
		return ""
	}
	return "the catalog knows " + names
}

func reason(s claim.Seen) string {
	text := assign.Why(s)
	switch {
	case s.Line > 0:
		return fmt.Sprintf("%s, %s:%d", text, clean(s.Path), s.Line)
	case s.Path != "":
		return fmt.Sprintf("%s, %s", text, clean(s.Path))
	}
	return text
}
