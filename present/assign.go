package present

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/sign"
)

// Assign prints the map from file type to formatter, each with its reason.
func Assign(p *Page, r *audit.Result) {
	head := []string{"FILE TYPE", "FILES", "FORMATTER", "WHY"}
	sections := []struct {
		title string
		holds func(audit.TypeSummary) bool
		todo  string
	}{
		{"", func(t audit.TypeSummary) bool { return t.Status == audit.Settled }, ""},
		{"CONTESTED", func(t audit.TypeSummary) bool { return t.Status == audit.Contested },
			"Equal reasons for several: name one in an [[article]] of treaty.toml, then run: treaty settle"},
		{"FORMATTED IN PART", func(t audit.TypeSummary) bool { return t.Status == audit.Partial },
			"The rest of each file stays as it is written; another program may do for the whole."},
		{"FORMATTED IN SOME FOLDERS ONLY", func(t audit.TypeSummary) bool { return t.Status == audit.Unowned && len(t.Regions) > 1 },
			"Let the formatter reach the others, too, or say in articles with paths that it is meant."},
		{"NO KNOWN FORMATTER", func(t audit.TypeSummary) bool { return t.Status == audit.Unowned && len(t.Regions) == 1 },
			"Add a program for these, or exempt the type in treaty.toml with a reason."},
		{"EXEMPT", func(t audit.TypeSummary) bool { return t.Status == audit.Exempt && t.Type.Styled }, ""},
	}
	gap := "" // between the parts that are printed
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
			fmt.Fprintf(p.W, "%s%s\n", gap, p.bold(s.title))
		} else {
			rows = append([][]string{head}, rows...)
		}
		gap = "\n"
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
	rivals(p, r)
	fmt.Fprintf(p.W, "\n%s  the settings in effect for one file\n", p.bold("treaty explain FILE"))
}

// rivals names the types that more than one formatter runs on.
func rivals(p *Page, r *audit.Result) {
	title := "MORE THAN ONE FORMATTER"
	for _, f := range r.Findings {
		if f.Code != conflict.Rivalry || f.Waived != nil {
			continue
		}
		if title != "" {
			fmt.Fprintf(p.W, "\n%s\n", p.bold(title))
			title = ""
		}
		indented(p, "  ", fmt.Sprintf("%s, %s: %s; see: treaty conflicts --code rivalry --type %s", f.Type.Name, fileCount(f.Files), Clean(f.Message), f.Type.ID))
	}
}

// assignRows prints a type: a row for each part that has a formatter of its own,
// then those that are in play beside it.
func assignRows(r *audit.Result, t audit.TypeSummary) [][]string {
	name := t.Type.Name
	if t.Status == audit.Exempt {
		return [][]string{{name, fmt.Sprint(t.Files), "exempt", Clean(t.Reason)}}
	}
	var rows [][]string
	add := func(files int, formatter, why string) {
		rows = append(rows, []string{name, fmt.Sprint(files), formatter, why})
		name = ""
	}
	for _, region := range t.Regions {
		switch {
		case region.Formatter != nil:
			why := Clean(assign.Reason(region.Reason))
			if region.Part != "" {
				why = region.Part + "; " + why
			}
			add(region.Files, region.Formatter.Name, why)
			if text := regionRuns(region); text != "" {
				rows = append(rows, []string{"", "", "", text})
			}
		case region.LeftOut:
			add(region.Files, "left out", "its formatter is told to leave them out")
		case t.Status == audit.Contested:
			add(region.Files, "contested", "")
		default:
			add(region.Files, "none", known(r, t))
		}
	}
	for _, c := range t.Candidates {
		if !slices.ContainsFunc(t.Regions, func(region audit.Region) bool { return region.Formatter == c.Program }) {
			rows = append(rows, []string{"", "", "also " + c.Program.Name, Clean(assign.Reason(c.Reasons[0]))})
		}
	}
	return rows
}

// regionRuns says when a region's formatter runs, where the reason does not.
func regionRuns(region audit.Region) string {
	var words []string
	for _, s := range region.Runs {
		if text := runsText(s); text != "" && !slices.Contains(words, text) {
			words = append(words, text)
		}
	}
	told := region.Reason.As == sign.Hook || region.Reason.As == sign.CI // by the reason
	switch {
	case len(words) == 1 && told:
		return ""
	case len(words) == 0 && slices.ContainsFunc(region.Runs, func(s claim.Seen) bool { return s.Build }):
		return "run by the build, it may be"
	case len(words) == 0:
		return "nothing here runs it"
	}
	return strings.Join(words, ", ")
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
