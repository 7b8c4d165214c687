package present

import (
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/charmbracelet/lipgloss"

	"jollytreaty/core/audit"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
)

// mostHabits is how many types are shown where nobody asked for one.
const mostHabits = 6

// Evidence prints what the code does. Whole says that the rows are asked for, so
// that rules on which everybody agrees are shown one by one, too.
func Evidence(p *Page, root string, s *evidence.Sample, habits []audit.Habits, whole bool) {
	fmt.Fprintf(p.W, "%s: %s\n", p.bold(Clean(filepath.Base(root))), sampleText(s))
	if text := skippedText(s); text != "" {
		indented(p, "", text)
	}
	if len(habits) == 0 {
		fmt.Fprintln(p.W, "\nNo code says anything about that.")
		return
	}
	for i, h := range habits {
		if !whole && i == mostHabits && len(habits) > mostHabits+1 {
			var names []string
			for _, rest := range habits[i:] {
				names = append(names, fmt.Sprintf("%s (%d)", rest.Type.Name, rest.Set.Total()))
			}
			fmt.Fprintf(p.W, "\n%s\n", p.bold("MORE TYPES"))
			indented(p, "  ", strings.Join(names, ", "))
			break
		}
		habitLines(p, h, whole)
	}
	fmt.Fprintf(p.W, "\n%s  files and lines a choice would change\n%s  one type, every rule\n",
		pad(p.bold("treaty evidence --if RULE=VALUE"), 31), pad(p.bold("treaty evidence --type TYPE"), 31))
}

func sampleText(s *evidence.Sample) string {
	if s.Files() == 0 {
		return "no files with code"
	}
	left := s.Skipped.Large + s.Skipped.Binary + s.Skipped.Generated + s.Skipped.Unreadable
	if n, of := s.Measured(), s.Files(); n+left < of {
		return fmt.Sprintf("%s of %d with code read, so many of each type that shares are within 2 points", fileCount(n), of)
	}
	return fmt.Sprintf("all of %s with code read", fileCount(s.Measured()))
}

func skippedText(s *evidence.Sample) string {
	var parts []string
	for _, part := range []struct {
		n    int
		what string
	}{
		{s.Skipped.Generated, "generated"}, {s.Foreign, "of others (vendored or minified)"}, {s.Skipped.Binary, "binary"},
		{s.Skipped.Large, "over 1 MiB"}, {s.Skipped.Unreadable, "that cannot be read, or links"},
	} {
		if part.n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", part.n, part.what))
		}
	}
	if len(parts) == 0 {
		return ""
	}
	return "Left out: " + strings.Join(parts, ", ")
}

func habitLines(p *Page, h audit.Habits, whole bool) {
	files := h.Set.Total()
	head := fileCount(files)
	if len(h.Set.Of) < files {
		head += fmt.Sprintf(", %d read", len(h.Set.Of))
	}
	fmt.Fprintf(p.W, "\n%s  %s\n", p.bold(h.Type.Name), p.faint(head))
	var same []string
	var rows [][]string
	for _, habit := range h.Rules {
		switch habit.Rule.ID {
		case rule.IndentSize, rule.TabWidth, "comment_line_length":
			if !whole {
				continue
			}
		case rule.IndentStyle:
			if !whole {
				habit = withSizes(h, habit)
			}
		}
		if text := unanimous(habit); text != "" && !whole {
			same = append(same, text)
			continue
		}
		rows = append(rows, habitRows(habit)...)
		if l := h.Lengths; habit.Rule.ID == "max_line_length" {
			rows = append(rows, []string{"", fmt.Sprintf("half of %s within %d, 95 %% within %d, 99 %% within %d, longest %d", count(l.Lines, "line", "lines"), l.Median, l.P95, l.P99, l.Max)})
		}
	}
	for _, line := range p.evidenceTable(rows) {
		fmt.Fprintln(p.W, line)
	}
	if len(same) > 0 {
		indented(p, "  ", "all alike: "+strings.Join(same, ", "))
	}
	for i, d := range h.Differ {
		lead := "  differ most: "
		if i > 0 {
			lead = "               "
		}
		var names []string
		for _, r := range d.Rules {
			if title := ruleTitle(r); len(names) < 4 {
				names = append(names, title)
			}
		}
		more := ""
		if len(d.Rules) > 4 {
			more = fmt.Sprintf(" and %d more", len(d.Rules)-4)
		}
		fmt.Fprintln(p.W, p.faint(cut(lead+Clean(d.Path)+" ("+strings.Join(names, ", ")+more+")", p.Width)))
	}
}

// withSizes puts the sizes of spaces into the shares of the style, as the two are
// one question.
func withSizes(h audit.Habits, style audit.Habit) audit.Habit {
	out := style
	out.Shares = nil
	for _, s := range style.Shares {
		if s.Value != rule.Word("space") {
			out.Shares = append(out.Shares, s)
			continue
		}
		rest := s.Files
		for _, size := range h.Rules {
			if size.Rule.ID != rule.IndentSize {
				continue
			}
			for _, n := range size.Shares {
				out.Shares = append(out.Shares, n)
				rest -= n.Files
			}
			if out.Folders == nil {
				out.Folders = size.Folders
			}
		}
		if rest > 0 {
			out.Shares = append(out.Shares, evidence.Share{Value: s.Value, Files: rest})
		}
	}
	return out
}

// unanimous says what all files do, in words; "" where they do not agree.
func unanimous(h audit.Habit) string {
	if len(h.Shares) > 0 && h.Shares[0].Files == h.Telling && (isLimit(h.Rule) || len(h.Shares) == 1) {
		return phraseOf(h.Rule, h.Shares[0].Value)
	}
	return ""
}

// isLimit reports whether shares are of the files that stay within a value.
func isLimit(r *rule.Rule) bool {
	return r.ID == "max_line_length" || r.ID == "comment_line_length" || r.ID == "blank_lines"
}

// phraseOf is a value in words; of indentation it may be a style or a size.
func phraseOf(r *rule.Rule, v rule.Value) string {
	if r.ID == rule.IndentStyle && v.Int() > 0 {
		return rule.ByID(rule.IndentSize).Phrase(v)
	}
	switch r.ID {
	case "max_line_length":
		return "lines within " + r.Phrase(v)
	case "comment_line_length":
		return "comments within " + r.Phrase(v)
	case "blank_lines":
		return "at most " + count(v.Int(), "blank line", "blank lines")
	}
	return r.Phrase(v)
}

func folderName(folder string) string {
	if folder == "." {
		return "the root"
	}
	return folder
}

// shortPhrase is a value in words, beside the title of its rule.
func shortPhrase(r *rule.Rule, v rule.Value) string {
	switch r.ID {
	case "trailing_comma", "argument_comma":
		return map[string]string{"always": "everywhere", "multiline": "in broken lists", "never": "none"}[v.String()]
	case "max_line_length", "comment_line_length":
		return "within " + v.String()
	}
	return phraseOf(r, v)
}

// habitRows are the rows of one rule: title, value, share, files. A row of two
// cells is a remark.
func habitRows(h audit.Habit) [][]string {
	var rows [][]string
	title := ruleTitle(h.Rule)
	add := func(files int, text string) {
		rows = append(rows, []string{title, text, percent(h.Of(files), files, h.Telling), strconv.Itoa(files)})
		title = ""
	}
	for _, s := range h.Headers {
		add(s.Files, strconv.Quote(cut(Clean(s.Text), 40)))
	}
	small, smallFiles := 0, 0
	for i, s := range h.Shares {
		switch {
		case isLimit(h.Rule) && i > 0 && s.Files == h.Shares[i-1].Files:
			continue // the next limit lets no more files in
		case i >= 4 && len(h.Shares) > 5 && !isLimit(h.Rule):
			small++
			smallFiles += s.Files
			continue
		}
		add(s.Files, shortPhrase(h.Rule, s.Value))
	}
	if small > 0 {
		add(smallFiles, fmt.Sprintf("%d other values", small))
	}
	if h.Mixed > 0 {
		add(h.Mixed, "mixed within the file")
	}
	if h.Neither > 0 {
		add(h.Neither, "neither")
	}
	if margin := h.Margin(); margin > 2 {
		rows = append(rows, []string{"", fmt.Sprintf("few files say anything: ± %.0f points", math.Ceil(margin))})
	}
	for i, f := range h.Folders {
		if i == 4 && len(h.Folders) > 5 {
			rows = append(rows, []string{"", fmt.Sprintf("and %d more folders", len(h.Folders)-i)})
			break
		}
		rows = append(rows, []string{"", fmt.Sprintf("in %s: %s, %.0f %% of %d", Clean(folderName(f.Folder)), shortPhrase(h.Rule, f.Value), math.Round(f.Share*100), f.Files)})
	}
	return rows
}

// percent is a share in words; what is not all is never shown as all.
func percent(share float64, files, of int) string {
	n := math.Round(share * 100)
	switch {
	case n == 100 && files < of:
		return "> 99 %"
	case n == 0 && files > 0:
		return "< 1 %"
	}
	return fmt.Sprintf("%.0f %%", n)
}

// barWidth is how wide a bar of all files is.
const barWidth = 16

// evidenceTable lines rows up, with a bar for each share.
func (p *Page) evidenceTable(rows [][]string) []string {
	titles, values := 0, 0
	for _, row := range rows {
		titles = max(titles, lipgloss.Width(row[0]))
		if len(row) > 2 {
			values = max(values, lipgloss.Width(row[1]))
		}
	}
	values = min(values, p.Width-titles-barWidth-21)
	var out []string
	for _, row := range rows {
		if len(row) == 2 {
			for i, line := range wrap(row[1], p.Width-titles-6) {
				if i > 0 {
					line = "  " + line
				}
				out = append(out, "  "+strings.Repeat(" ", titles)+"  "+p.faint(line))
			}
			continue
		}
		share, _ := strconv.ParseFloat(strings.Trim(row[2], "<>% "), 64)
		out = append(out, strings.TrimRight(fmt.Sprintf("  %s  %s  %s  %s  %s", pad(row[0], titles), pad(cut(row[1], values), values), drawnBar(share/100, barWidth), pad(row[2], -6), pad(row[3], -5)), " "))
	}
	return out
}

// drawnBar draws a share in eighths of a column.
func drawnBar(share float64, width int) string {
	eighths := int(math.Round(share * float64(width) * 8))
	full := eighths / 8
	bar := strings.Repeat("█", full)
	if rest := eighths % 8; rest > 0 {
		bar += string([]rune("▏▎▍▌▋▊▉")[rest-1])
	}
	return pad(bar, width)
}

// EvidenceCSV prints a line for each value of each rule of each type.
func EvidenceCSV(w io.Writer, habits []audit.Habits) error {
	out := csv.NewWriter(w)
	out.Write([]string{"type", "rule", "value", "files", "share", "telling", "read", "of"})
	for _, h := range habits {
		for _, habit := range h.Rules {
			row := func(value string, files int) {
				out.Write([]string{h.Type.ID, habit.Rule.ID, value, strconv.Itoa(files), strconv.FormatFloat(habit.Of(files), 'f', 4, 64),
					strconv.Itoa(habit.Telling), strconv.Itoa(habit.Read), strconv.Itoa(h.Set.Total())})
			}
			for _, s := range habit.Shares {
				row(s.Value.String(), s.Files)
			}
			for _, s := range habit.Headers {
				row(cellText(s.Text), s.Files)
			}
			if habit.Mixed > 0 {
				row("mixed", habit.Mixed)
			}
			if habit.Neither > 0 {
				row("neither", habit.Neither)
			}
		}
	}
	out.Flush()
	return out.Error()
}

// cellText is a text from the repository in a table that programs calculate with, none
// of which takes it for a formula.
func cellText(text string) string {
	var b strings.Builder
	fmt.Fprint(Safe(&b, false), text)
	if text = b.String(); text != "" && strings.IndexByte("=+-@", text[0]) >= 0 {
		return "'" + text
	}
	return text
}

// EvidenceJSON prints the evidence as one object.
func EvidenceJSON(w io.Writer, s *evidence.Sample, habits []audit.Habits) error {
	types := []object{}
	for _, h := range habits {
		rules := []object{}
		for _, habit := range h.Rules {
			values := []object{}
			for _, share := range habit.Shares {
				values = append(values, object{"value": share.Value, "files": share.Files, "share": rounded(habit.Of(share.Files))})
			}
			for _, share := range habit.Headers {
				values = append(values, object{"value": share.Text, "files": share.Files, "share": rounded(habit.Of(share.Files))})
			}
			o := object{"rule": habit.Rule.ID, "telling": habit.Telling, "values": values, "mixed": habit.Mixed, "neither": habit.Neither, "margin": rounded(habit.Margin() / 100)}
			if len(habit.Folders) > 0 {
				folders := []object{}
				for _, f := range habit.Folders {
					folders = append(folders, object{"folder": f.Folder, "value": f.Value, "share": rounded(f.Share), "telling": f.Files})
				}
				o["folders"] = folders
			}
			rules = append(rules, o)
		}
		differ := []object{}
		for _, d := range h.Differ {
			ids := []string{}
			for _, r := range d.Rules {
				ids = append(ids, r.ID)
			}
			differ = append(differ, object{"path": d.Path, "rules": ids})
		}
		types = append(types, object{"type": h.Type.ID, "files": h.Set.Total(), "read": len(h.Set.Of), "rules": rules, "differ": differ,
			"line_length": object{"lines": h.Lengths.Lines, "median": h.Lengths.Median, "p95": h.Lengths.P95, "p99": h.Lengths.P99, "longest": h.Lengths.Max}})
	}
	return write(w, object{"format": "jolly-treaty/evidence", "version": 1, "files": s.Files(), "read": s.Measured(),
		"left_out": object{"generated": s.Skipped.Generated, "foreign": s.Foreign, "binary": s.Skipped.Binary, "large": s.Skipped.Large, "unreadable": s.Skipped.Unreadable},
		"types":    types})
}

func rounded(share float64) float64 { return math.Round(share*10000) / 10000 }
