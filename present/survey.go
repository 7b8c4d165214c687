package present

import (
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/sign"
)

// Survey prints what is in a repository: file types, settings files, programs,
// and what stands out about them.
func Survey(p *Page, root string, r *audit.Result) {
	fmt.Fprintf(p.W, "%s: %s, %s, %s\n\n", p.bold(Clean(path.Base(root))), fileCount(len(r.Picture.Tree.Files)),
		count(settingsFiles(r), "settings file", "settings files"), count(len(r.Programs), "program", "programs"))
	if len(r.Picture.Tree.Files) == 0 {
		fmt.Fprintln(p.W, "There is nothing here yet. Add files, then run: treaty survey")
		return
	}
	surveyTypes(p, r)
	surveyFiles(p, r)
	surveyPrograms(p, r)
	standsOut(p, r)
	fmt.Fprintf(p.W, "\n%s  where settings cannot both hold\n%s  every key of a program, with its value here\n",
		pad(p.bold("treaty conflicts"), 26), pad(p.bold("treaty rules --program ID"), 26))
}

func (p *Page) titled(rows [][]string, right ...int) {
	for i, line := range p.flow(rows, right...) {
		if i == 0 {
			line = p.bold(line)
		}
		fmt.Fprintln(p.W, line)
	}
}

// surveyTypes lists the types with the endings of their files.
func surveyTypes(p *Page, r *audit.Result) {
	endings := map[string][]string{}
	for _, f := range r.Picture.Tree.Files {
		base := f.Path[strings.LastIndexByte(f.Path, '/')+1:]
		ending := base
		if dot := strings.LastIndexByte(base, '.'); dot > 0 {
			ending = base[dot:]
		}
		if list := endings[f.Type.ID]; len(list) < 8 && !slices.Contains(list, ending) {
			endings[f.Type.ID] = append(list, ending)
		}
	}
	rows := [][]string{{"FILE TYPE", "FILES", "NAMES"}}
	others, files := 0, 0
	for _, t := range r.Types {
		if !t.Type.Styled {
			others++
			files += t.Files
			continue
		}
		list := endings[t.Type.ID]
		slices.Sort(list)
		text := strings.Join(list, " ")
		if len(list) == 8 {
			text += " …"
		}
		rows = append(rows, []string{t.Type.Name, fmt.Sprint(t.Files), Clean(text)})
	}
	if others > 0 {
		rows = append(rows, []string{count(others, "other type", "other types"), fmt.Sprint(files), "nothing a program could format"})
	}
	p.titled(rows, 1)
}

func surveyFiles(p *Page, r *audit.Result) {
	if len(r.Picture.Files) == 0 {
		fmt.Fprintln(p.W, "\nNo settings file that is known here was found.")
		return
	}
	rows := [][]string{{"STATUS", "FILES", "READ BY", "SETTINGS FILE"}}
	inside := map[string]int{}
	for _, f := range r.Picture.Files {
		if f.Inside {
			inside[f.Readers[0].Program.Name]++
			continue
		}
		rows = append(rows, []string{statusOf(r, f), fmt.Sprint(f.Governs), cut(strings.Join(readersOf(r, f), ", "), 30), Clean(f.Path)})
	}
	for _, name := range sortedKeys(inside) {
		rows = append(rows, []string{"read", fmt.Sprint(inside[name]), name, "in the text of " + count(inside[name], "file", "files") + ", about itself"})
	}
	fmt.Fprintln(p.W)
	for i, line := range table(rows, 1) {
		if i == 0 {
			line = p.bold(line)
		}
		fmt.Fprintln(p.W, line)
	}
}

// settingsFiles counts the files that are settings files and nothing else.
func settingsFiles(r *audit.Result) int {
	n := 0
	for _, f := range r.Picture.Files {
		if !f.Inside {
			n++
		}
	}
	return n
}

// readersOf names the programs that read a settings file: those it is for, and
// those in play that honour it.
func readersOf(r *audit.Result, f *claim.File) []string {
	var out []string
	for _, e := range r.ReadersOf(f) {
		out = append(out, e.Name)
	}
	return out
}

// statusOf says how a settings file stands.
func statusOf(r *audit.Result, f *claim.File) string {
	switch {
	case f.Err != nil:
		return "invalid"
	case r.Picture.Misplaced(f) != "":
		return "misplaced"
	case f.IsCode() || r.Picture.IsOutdone(f):
		return "unread"
	case f.Doc.Empty():
		return "empty"
	}
	return "read"
}

// mostSigns is how many signs of one program are listed.
const mostSigns = 8

func surveyPrograms(p *Page, r *audit.Result) {
	if len(r.Programs) == 0 {
		return
	}
	rows := [][]string{{"PROGRAM", "VERSION", "RUNS", "WHERE"}}
	roles := map[int]string{}
	for _, program := range r.Programs {
		roles[len(rows)] = strings.Join(program.Entry.Roles, ", ")
		rows = append(rows, []string{program.Entry.Name, "", "", ""})
		seen := merged(program.Seen)
		for i, s := range seen {
			if i == mostSigns && len(seen) > mostSigns+1 {
				rows = append(rows, []string{"  and more", "", "", fmt.Sprintf("in %d places", len(seen)-i)})
				break
			}
			rows = append(rows, []string{"  " + s.As.Label(), Clean(s.Version), runsText(s), Clean(where(s))})
		}
	}
	fmt.Fprintln(p.W)
	for i, line := range table(rows) {
		if roles[i] != "" {
			line = p.bold(rows[i][0]) + "  " + p.faint(roles[i])
		} else if i == 0 {
			line = p.bold(line)
		}
		fmt.Fprintln(p.W, line)
	}
}

// merged joins signs that differ in the part of the tree they concern only, and
// those that stand in the files themselves.
func merged(seen []claim.Seen) []claim.Seen {
	var out []claim.Seen
	inside := 0
	for _, s := range seen {
		if s.As == sign.Inside {
			if inside++; inside > 1 {
				continue
			}
		}
		s.Folder = ""
		s.Files = ""
		s.Turn, s.Order = "", 0
		if !slices.Contains(out, s) {
			out = append(out, s)
		}
	}
	return out
}

func where(s claim.Seen) string {
	if s.As == sign.Toolchain {
		return "comes with the language"
	}
	through := ""
	if s.Through != "" {
		through = ", through " + s.Through
	}
	if s.Line > 0 {
		return fmt.Sprintf("%s:%d%s", s.Path, s.Line, through)
	}
	return s.Path + through
}

func runsText(s claim.Seen) string {
	when := s.When.Words()
	switch {
	case when == "":
		return ""
	case s.Does == sign.Unsaid:
		return when
	}
	return s.Does.String() + " " + when
}

// Standouts returns the findings about what is here, rather than about what
// conflicts.
func Standouts(findings []*conflict.Finding) []*conflict.Finding {
	var out []*conflict.Finding
	for _, f := range findings {
		if f.Code.Is(conflict.Place|conflict.State) && !f.Code.Is(conflict.Contest) {
			out = append(out, f)
		}
	}
	return out
}

func standsOut(p *Page, r *audit.Result) {
	list := Standouts(r.Findings)
	if len(list)+len(r.Picture.Unread) == 0 {
		return
	}
	fmt.Fprintf(p.W, "\n%s\n", p.bold("WHAT STANDS OUT"))
	for _, t := range topics(list) {
		f := t.Finding
		if f.Waived != nil {
			continue
		}
		message := f.Message
		switch f.Code {
		case conflict.SlipUnknownKey, conflict.SlipBadValue, conflict.ClashInternal:
			message = f.Sides[0].Name + ": " + message
		case conflict.SlipDialect:
			if f.Rule != nil {
				message = f.Rule.Title + " of " + f.Type.Name + ": " + message
			}
		}
		for i, line := range wrap(Clean(message), p.Width-9) {
			lead := strings.Repeat(" ", 7)
			if i == 0 {
				lead = pad(p.severity(f.Severity), 7)
			}
			fmt.Fprintf(p.W, "%s  %s\n", lead, line)
		}
		if places := sidePlaces(f.Sides); places != "" {
			fmt.Fprintf(p.W, "         %s\n", p.faint(cut(places, p.Width-9)))
		}
	}
	for _, path := range r.Picture.Unread {
		fmt.Fprintf(p.W, "%s  %s\n", pad("unknown", 7), Clean(path)+" looks like settings of style; no program known here reads it")
	}
}

// SurveyJSON prints the audit as one object, with the findings about what is
// here.
func SurveyJSON(w io.Writer, root string, r *audit.Result) error {
	return AuditJSON(w, root, r, Standouts(r.Findings))
}
