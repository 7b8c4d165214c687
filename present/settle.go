package present

import (
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"github.com/aymanbagabas/go-udiff"

	"jollytreaty/core/conflict"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
)

// Patch returns an edit as a unified diff that git can apply.
func Patch(e settle.Edit) string {
	a, b := "a/"+e.Path, "b/"+e.Path
	header := fmt.Sprintf("diff --git %s %s\n", quoted(a), quoted(b))
	switch e.Action {
	case settle.Create:
		header += "new file mode 100644\n"
		a = "/dev/null"
	case settle.Delete:
		header += "deleted file mode 100644\n"
		b = "/dev/null"
	}
	return header + unified(quoted(a), quoted(b), e)
}

func unified(a, b string, e settle.Edit) string {
	before := string(e.Before)
	text, err := udiff.ToUnified(a, b, before, udiff.Lines(before, string(e.After)), udiff.DefaultContextLines)
	if err != nil { // the edits come from the same two texts
		panic(err)
	}
	return text
}

// quoted writes a path as git does in patches: in quotes, with numbers for bytes, where
// it holds anything unusual.
func quoted(p string) string {
	if !strings.ContainsAny(p, "\"\\") && Clean(p) == p {
		return p
	}
	var b strings.Builder
	for i := range len(p) {
		switch c := p[i]; {
		case c == '"' || c == '\\':
			b.WriteString("\\" + string(rune(c)))
		case c >= '\a' && c <= '\r':
			b.WriteString("\\" + string("abtnvfr"[c-'\a']))
		case c < ' ' || c >= 0x7f:
			fmt.Fprintf(&b, "\\%03o", c)
		default:
			b.WriteByte(c)
		}
	}
	return `"` + b.String() + `"`
}

// SettlementPatch prints all edits of a plan as one diff.
func SettlementPatch(w io.Writer, plan *settle.Plan) {
	for _, e := range plan.Edits {
		fmt.Fprint(w, Patch(e))
	}
}

// Settlement prints a plan: decisions with reasons, edits, what stays open. Asked are the
// flags that it was asked for with, as they are typed.
func Settlement(p *Page, plan *settle.Plan, written bool, asked string) {
	if leaving := slices.ContainsFunc(plan.Assignments, func(a settle.Assignment) bool { return len(a.Leaving) > 0 }); leaving {
		fmt.Fprintln(p.W, p.bold("FORMATTERS"))
		var rows [][]string
		for _, a := range plan.Assignments {
			if len(a.Leaving) == 0 {
				continue // it has the files already
			}
			rows = append(rows, []string{"  " + a.Type.Name + in(a.Paths), a.Formatter.Name, Clean(strings.Join(append([]string{a.Because}, a.Leaving...), "; "))})
		}
		for _, line := range p.flow(rows) {
			fmt.Fprintln(p.W, line)
		}
		fmt.Fprintln(p.W)
	}
	settleDecisions(p, plan)
	settleMends(p, plan)
	settleEdits(p, plan, written)
	settleOpen(p, plan)
	settled, left := causes(plan)
	fmt.Fprintf(p.W, "%s settled, %d left open\n", count(settled, "finding", "findings"), left)
	switch {
	case len(plan.Edits) == 0 && needsPerson(plan):
		fmt.Fprintln(p.W, "Nothing to write: what is left open needs you.")
	case len(plan.Edits) == 0:
		fmt.Fprintln(p.W, "Nothing has to change: every settings file agrees.")
	case written:
		fmt.Fprintf(p.W, "%s  what is left\n", p.bold("treaty audit"))
	default:
		fmt.Fprintf(p.W, "%s  the edits as one diff\n", pad(p.bold("treaty settle --patch"+asked), 23))
		fmt.Fprintf(p.W, "%s  writes them\n", pad(p.bold("treaty settle --write"+asked), 23))
	}
}

// causes counts what the plan settles and what it leaves open as every view counts: a
// cause that is gone from some of its file types only is left open.
func causes(plan *settle.Plan) (settled, left int) {
	var open []*conflict.Finding
	for _, o := range plan.LeftOpen {
		open = append(open, o.Finding)
	}
	left = conflict.Count(open).All()
	return conflict.Count(slices.Concat(open, plan.Settles)).All() - left, left
}

// needsPerson reports whether more than gaps and notes is left open.
func needsPerson(plan *settle.Plan) bool {
	for _, o := range plan.LeftOpen {
		if o.Finding.Code != conflict.GapNoFormatter && o.Finding.Severity != conflict.Note {
			return true
		}
	}
	return false
}

func in(paths []string) string {
	switch len(paths) {
	case 0:
		return ""
	case 1:
		return " in " + Clean(paths[0])
	}
	return fmt.Sprintf(" in %d places", len(paths))
}

func printCut(p *Page, lines []string) {
	for _, line := range lines {
		fmt.Fprintln(p.W, cut(line, p.Width))
	}
}

// settleDecisions prints the decisions that settle something; the others only
// write down what already holds.
func settleDecisions(p *Page, plan *settle.Plan) {
	rest := 0
	head := false
	habits, order := map[string]*habit{}, []string{}
	for _, d := range plan.Decisions {
		if len(d.Settles) == 0 {
			if d.FromCode {
				what := d.Type.Name + in(d.Paths)
				if habits[what] == nil {
					habits[what] = &habit{share: 1}
					order = append(order, what)
				}
				habits[what].add(d)
				continue
			}
			rest++
			continue
		}
		if !head {
			fmt.Fprintln(p.W, p.bold("DECISIONS"))
			head = true
		}
		fmt.Fprintf(p.W, "  %s\n", cut(fmt.Sprintf("%s %s: %s", d.Type.Name+in(d.Paths), d.Rule.Title, d.Rule.Phrase(d.Value)), p.Width-2))
		for _, line := range wrap(decisionText(d), p.Width-6) {
			fmt.Fprintf(p.W, "      %s\n", p.faint(line))
		}
	}
	for i, what := range order {
		if !head && i == 0 {
			fmt.Fprintln(p.W, p.bold("DECISIONS"))
			head = true
		}
		indented(p, "  ", what+": "+strings.Join(habits[what].phrases, ", "))
		because := "because the code does so, without exception"
		if share := habits[what].share; share < 1 {
			because = fmt.Sprintf("because the code does so, each in at least %.0f %% of the files", math.Floor(share*100))
		}
		fmt.Fprintf(p.W, "      %s\n", p.faint(because))
	}
	if rest > 0 {
		fmt.Fprintf(p.W, "  %s\n", fmt.Sprintf("and %s down what already holds", count(rest, "that writes", "that write")))
	}
	if head || rest > 0 {
		fmt.Fprintln(p.W)
	}
}

// settleMends names what the edits settle besides decisions: keys that are mended, and
// checks that are switched off.
func settleMends(p *Page, plan *settle.Plan) {
	var list []*conflict.Finding
	for _, f := range plan.Settles {
		decided := slices.ContainsFunc(plan.Decisions, func(d settle.Decision) bool { return slices.Contains(d.Settles, f.ID) })
		if !decided && f.Code != conflict.Rivalry && f.Code != conflict.RivalryLayout && f.Severity != conflict.Note {
			list = append(list, f)
		}
	}
	if len(list) == 0 {
		return
	}
	fmt.Fprintln(p.W, p.bold("MENDED"))
	for _, t := range topics(list) {
		indented(p, "  ", Clean(t.Message))
		what := "settles " + strings.Join(ids(t.all), ", ")
		if t.files > 0 && t.Meant != nil {
			what = "comes into effect for " + fileCount(t.files) + "; " + what
		}
		fmt.Fprintf(p.W, "      %s\n", p.faint(cut(what, p.Width-6)))
	}
	fmt.Fprintln(p.W)
}

// habit is what the code of some files does and what is written down for it.
type habit struct {
	phrases []string
	share   float64
}

func (h *habit) add(d settle.Decision) {
	h.share = min(h.share, d.Share)
	if d.Rule.ID == rule.IndentSize && len(h.phrases) > 0 && h.phrases[len(h.phrases)-1] == "spaces" {
		h.phrases = h.phrases[:len(h.phrases)-1] // the two are one question
	}
	h.phrases = append(h.phrases, phraseOf(d.Rule, d.Value))
}

// decisionText says why a decision is as it is, what it touches and what it settles.
func decisionText(d settle.Decision) string {
	text := "because " + Clean(d.Because)
	if d.Touched > 0 {
		text += "; touches " + count(d.Touched, "file", "files")
	} else if d.Touched == 0 && !d.FromCode {
		text += "; no file has to change"
	}
	if len(d.Settles) > 0 {
		text += "; settles " + strings.Join(d.Settles, ", ")
	}
	return text
}

func settleEdits(p *Page, plan *settle.Plan, written bool) {
	if len(plan.Edits) == 0 {
		return
	}
	title := "EDITS"
	if written {
		title = "WRITTEN"
	}
	fmt.Fprintln(p.W, p.bold(title))
	var rows [][]string
	for _, e := range plan.Edits {
		added, gone := diffLines(e)
		rows = append(rows, []string{"  " + string(e.Action), Clean(e.Path), fmt.Sprintf("+%d", added), fmt.Sprintf("-%d", gone)})
	}
	printCut(p, table(rows, 2, 3))
	fmt.Fprintln(p.W)
}

func diffLines(e settle.Edit) (added, gone int) {
	for line := range strings.Lines(unified("a", "b", e)) {
		switch {
		case strings.HasPrefix(line, "+++"), strings.HasPrefix(line, "---"):
		case strings.HasPrefix(line, "+"):
			added++
		case strings.HasPrefix(line, "-"):
			gone++
		}
	}
	return added, gone
}

func settleOpen(p *Page, plan *settle.Plan) {
	if len(plan.LeftOpen) == 0 {
		return
	}
	fmt.Fprintln(p.W, p.bold("LEFT OPEN"))
	var order []string
	whys := map[string][]string{}
	notes := map[string]bool{}
	for _, o := range plan.LeftOpen {
		if o.Finding.Severity == conflict.Note {
			notes[o.Finding.Cause] = true
			continue
		}
		what := o.Message
		if whys[o.Why] == nil {
			order = append(order, o.Why)
		}
		if !slices.Contains(whys[o.Why], what) {
			whys[o.Why] = append(whys[o.Why], what)
		}
	}
	for _, why := range order {
		list := whys[why]
		for i, what := range list {
			if i == 4 && len(list) > 5 {
				fmt.Fprintf(p.W, "  and %d more like it\n", len(list)-i)
				break
			}
			for j, line := range wrap(Clean(what), p.Width-4) {
				indent := "  "
				if j > 0 {
					indent = "    "
				}
				fmt.Fprintln(p.W, indent+line)
			}
		}
		for _, line := range wrap(Clean(why), p.Width-6) {
			fmt.Fprintf(p.W, "      %s\n", p.faint(line))
		}
	}
	if len(notes) > 0 {
		fmt.Fprintf(p.W, "  %s: treaty conflicts\n", count(len(notes), "note", "notes"))
	}
	fmt.Fprintln(p.W)
}
