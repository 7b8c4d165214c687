package present

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/conflict"
	"jollytreaty/core/rule"
)

// Limits of a first screen.
const (
	mostTypes     = 9
	mostDecisions = 4
)

// Audit prints where the repository at root stands.
func Audit(p *Page, root string, r *audit.Result) {
	fmt.Fprintf(p.W, "%s: %s, %s, %s, %s\n\n", p.bold(Clean(filepath.Base(root))),
		fileCount(len(r.Picture.Tree.Files)), count(styled(r), "file type", "file types"),
		count(settingsFiles(r), "settings file", "settings files"), count(len(r.Programs), "program", "programs"))
	if len(r.Picture.Tree.Files) == 0 {
		fmt.Fprintln(p.W, "There is nothing here yet. Add files, then run: treaty audit")
		return
	}
	typeTable(p, r)
	open, gaps, notes := split(r.Findings)
	decisions(p, topics(open))
	noteLines(p, gaps, topics(notes))
	fmt.Fprintln(p.W)
	fmt.Fprintf(p.W, "%s\n", counts(r.Findings))
	next(p, r, len(open), len(gaps), len(notes))
}

// styled counts the types a program could format.
func styled(r *audit.Result) int {
	n := 0
	for _, t := range r.Types {
		if t.Type.Styled {
			n++
		}
	}
	return n
}

func typeTable(p *Page, r *audit.Result) {
	rows := [][]string{{"FILE TYPE", "FILES", "FORMATTER", "OPEN"}}
	others, otherFiles, hidden, hiddenFiles := 0, 0, 0, 0
	for _, t := range r.Types {
		switch {
		case !t.Type.Styled:
			others++
			otherFiles += t.Files
		case len(rows) > mostTypes:
			hidden++
			hiddenFiles += t.Files
		default:
			rows = append(rows, []string{t.Type.Name, fmt.Sprint(t.Files), formatterOf(t), openOf(r, t)})
		}
	}
	if hidden > 0 {
		rows = append(rows, []string{count(hidden, "more type", "more types"), fmt.Sprint(hiddenFiles), "see: treaty assign", ""})
	}
	if others > 0 {
		rows = append(rows, []string{count(others, "other type", "other types"), fmt.Sprint(otherFiles), "nothing to format", "-"})
	}
	for i, line := range table(rows, 1) {
		if i == 0 {
			line = p.bold(line)
		}
		fmt.Fprintln(p.W, line)
	}
}

// formatterOf says in a few words who formats a type.
func formatterOf(t audit.TypeSummary) string {
	switch {
	case t.Status == audit.Exempt:
		return "exempt"
	case t.Formatter != nil && t.Status == audit.Partial:
		return t.Formatter.Name + ", in part"
	case t.Formatter != nil:
		return t.Formatter.Name
	case len(t.Regions) > 1:
		var parts []string
		for _, region := range t.Regions {
			name := "none"
			if region.Formatter != nil {
				name = region.Formatter.Name
			} else if region.LeftOut {
				name = "left out"
			} else if t.Status == audit.Contested {
				name = "contested"
			}
			parts = append(parts, fmt.Sprintf("%s (%d)", name, region.Files))
		}
		return strings.Join(parts, ", ")
	case t.Status == audit.Contested:
		return fmt.Sprintf("%d claim it", len(t.Candidates))
	}
	return "none"
}

func openOf(r *audit.Result, t audit.TypeSummary) string {
	n := 0
	for _, f := range r.Findings {
		if f.Type == t.Type && isConflict(f) && f.Waived == nil {
			n++
		}
	}
	if n == 0 {
		return "-"
	}
	return count(n, "conflict", "conflicts")
}

func isConflict(f *conflict.Finding) bool {
	return f.Code.Is(conflict.Contest)
}

// split sorts findings that are not waived by what they ask for.
func split(findings []*conflict.Finding) (open, gaps, notes []*conflict.Finding) {
	for _, f := range findings {
		switch {
		case f.Waived != nil:
		case f.Code == conflict.GapNoFormatter:
			gaps = append(gaps, f)
		case f.Severity == conflict.Note:
			notes = append(notes, f)
		default:
			open = append(open, f)
		}
	}
	return open, gaps, notes
}

func decisions(p *Page, list []*topic) {
	if len(list) == 0 {
		return
	}
	fmt.Fprintf(p.W, "\n%s\n", p.bold("TO DECIDE"))
	for i, t := range list {
		if i == mostDecisions && len(list) > mostDecisions+1 {
			fmt.Fprintf(p.W, "    and %d more: treaty conflicts\n", len(list)-i)
			return
		}
		fmt.Fprintf(p.W, "%2d  %s  %s\n", i+1, p.severity(t.Severity), t.heading(p.Width-12))
		if t.Rule == nil && t.Code != conflict.Rivalry {
			for _, line := range wrap(Clean(t.Message), p.Width-6) {
				fmt.Fprintf(p.W, "      %s\n", line)
			}
			fmt.Fprintf(p.W, "      %s\n", p.faint(cut(sidePlaces(t.Sides), p.Width-6)))
			continue
		}
		var rows [][]string
		for _, s := range t.Sides {
			rows = append(rows, []string{"      " + voice(s), placed(s)})
		}
		for _, line := range p.flow(rows) {
			fmt.Fprintln(p.W, line)
		}
	}
}

func sidePlaces(sides []conflict.Side) string {
	var out []string
	for _, s := range sides {
		if at := place(s); s.Path != "" && !slices.Contains(out, at) {
			out = append(out, at)
		}
	}
	return strings.Join(out, ", ")
}

// voice is a side as half a sentence.
func voice(s conflict.Side) string {
	if s.Claim == nil {
		return s.Name + ": " + s.Phrase
	}
	verb := string(s.Role)
	if s.Role == rule.Accepts && !s.AtMost {
		verb = "accepts only"
	}
	return Clean(s.Name + " " + verb + " " + s.Phrase)
}

// typesWithFiles lists the types of findings with their numbers of files.
func typesWithFiles(findings []*conflict.Finding) string {
	var parts []string
	for _, f := range findings {
		parts = append(parts, fmt.Sprintf("%s (%d)", f.Type.Name, f.Files))
	}
	if len(parts) > 12 {
		parts = append(parts[:11], fmt.Sprintf("%d more types", len(parts)-11))
	}
	return strings.Join(parts, ", ")
}

// counts sums findings up by severity.
func counts(findings []*conflict.Finding) string {
	n := conflict.Count(findings)
	text := fmt.Sprintf("%s, %s, %s", count(n.Errors, "error", "errors"), count(n.Warnings, "warning", "warnings"), count(n.Notes, "note", "notes"))
	if n.Waived > 0 {
		text += fmt.Sprintf(", %d waived", n.Waived)
	}
	return text
}

// noteLines names what nobody has to act on now: types without a formatter, and the
// kinds of other notes, each in a line.
func noteLines(p *Page, gaps []*conflict.Finding, list []*topic) {
	if len(gaps)+len(list) == 0 {
		return
	}
	fmt.Fprintf(p.W, "\n%s\n", p.bold("NOTES"))
	if len(gaps) > 0 {
		fmt.Fprintf(p.W, "    %s\n", cut("no formatter known here: "+typesWithFiles(gaps), p.Width-4))
	}
	n := map[string]int{}
	var kinds []string
	for _, t := range list {
		kind := t.Code.Meaning().Title
		if n[kind]++; n[kind] == 1 {
			kinds = append(kinds, kind)
		}
	}
	for i, kind := range kinds {
		kinds[i] = fmt.Sprintf("%s (%d)", kind, n[kind])
	}
	if len(kinds) > 0 {
		fmt.Fprintf(p.W, "    %s\n", cut(strings.Join(kinds, ", "), p.Width-4))
	}
}

func next(p *Page, r *audit.Result, open, gaps, notes int) {
	step := func(command, why string) { fmt.Fprintf(p.W, "%s  %s\n", pad(p.bold(command), 18), why) }
	switch {
	case open > 0:
		step("treaty conflicts", "every side of every conflict, and what would settle it")
		step("treaty settle", "the proposal for all of them; changes nothing")
	case r.Treaty == nil && len(r.Picture.Files) == 0:
		fmt.Fprintln(p.W, "No settings file that is known here was found; programs may go by their defaults.")
		step("treaty settle", "proposes a treaty and one configuration; changes nothing")
	case r.Treaty == nil:
		step("treaty settle", "writes down what already holds; changes nothing until --write")
	case gaps+notes > 0:
		step("treaty conflicts", "what is left")
	default:
		step("treaty explain FILE", "the settings in effect for one file")
	}
}
