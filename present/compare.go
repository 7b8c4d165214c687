package present

import (
	"fmt"
	"io"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/rule"
)

// Compared is one side of a comparison.
type Compared struct {
	Name    string
	Profile *audit.Profile
}

// comparedRow is one question with both answers.
type comparedRow struct {
	rule    *rule.Rule // nil for the formatter
	answers [2][]audit.Holding
}

func (r comparedRow) title() string {
	if r.rule == nil {
		return "formatter"
	}
	return ruleTitle(r.rule)
}

// differs reports whether the sides do not have the same answers.
func (r comparedRow) differs() bool {
	a, b := r.answers[0], r.answers[1]
	if len(a) != len(b) {
		return true
	}
	for i := range a {
		if a[i].Text != b[i].Text {
			return true
		}
	}
	return false
}

// comparedType is a type that one or both sides have.
type comparedType struct {
	sides [2]*audit.TypeProfile
	rows  []comparedRow
}

// compared lines up the types of two sides. Where each has a single one, the two
// are compared whatever they are.
func compared(sides [2]Compared, every bool) (both []comparedType, alone [2][]audit.TypeProfile, same int) {
	a, b := sides[0].Profile.Types, sides[1].Profile.Types
	used := map[int]bool{}
	for i := range a {
		match := -1
		for j := range b {
			if a[i].Type == b[j].Type || len(a) == 1 && len(b) == 1 {
				match = j
			}
		}
		if match < 0 {
			alone[0] = append(alone[0], a[i])
			continue
		}
		used[match] = true
		t := comparedType{sides: [2]*audit.TypeProfile{&a[i], &b[match]}}
		rows := []comparedRow{{answers: [2][]audit.Holding{a[i].Formatters, b[match].Formatters}}}
		for _, r := range rule.All() {
			rows = append(rows, comparedRow{r, [2][]audit.Holding{a[i].Rules[r.ID], b[match].Rules[r.ID]}})
		}
		for _, row := range rows {
			switch {
			case len(row.answers[0])+len(row.answers[1]) == 0:
			case every || row.differs():
				t.rows = append(t.rows, row)
			default:
				same++
			}
		}
		both = append(both, t)
	}
	for j := range b {
		if !used[j] {
			alone[1] = append(alone[1], b[j])
		}
	}
	return both, alone, same
}

// Compare prints two sides side by side, rule by rule.
func Compare(p *Page, sides [2]Compared, every bool) {
	both, alone, same := compared(sides, every)
	rows := [][]string{{"", Clean(sides[0].Name), Clean(sides[1].Name)}}
	quiet := 0
	heads, sources := map[int]bool{}, map[int]string{}
	for _, t := range both {
		if len(t.rows) == 0 {
			quiet++
			continue
		}
		heads[len(rows)] = true
		name := t.sides[0].Type.Name
		if t.sides[1].Type != t.sides[0].Type {
			name += " and " + t.sides[1].Type.Name
		}
		rows = append(rows, []string{name, fileCount(t.sides[0].Files), fileCount(t.sides[1].Files)})
		for _, row := range t.rows {
			rows = append(rows, []string{"  " + row.title(), answerText(row.answers[0]), answerText(row.answers[1])})
			sources[len(rows)-1] = answerSources(row.answers)
		}
	}
	if len(rows) > 1 {
		for i, line := range table(rows) {
			line = strings.TrimRight(cut(line, p.Width), " ")
			if i == 0 || heads[i] {
				line = p.bold(line)
			}
			fmt.Fprintln(p.W, line)
			if sources[i] != "" {
				for _, text := range wrap(sources[i], p.Width-6) {
					fmt.Fprintf(p.W, "      %s\n", p.faint(text))
				}
			}
		}
		fmt.Fprintln(p.W)
	}
	switch {
	case len(both) == 0:
		fmt.Fprintln(p.W, "They have no file type in common.")
	case len(rows) == 1:
		fmt.Fprintln(p.W, "Every file type that both have has the same formatter and the same style.")
	case same > 0:
		fmt.Fprintf(p.W, "%s the same; all of it: --all\n", count(same, "answer is", "answers are"))
	}
	for i, list := range alone {
		if len(list) > 0 && len(both) > 0 {
			var names []string
			for _, t := range list {
				names = append(names, fmt.Sprintf("%s (%d)", t.Type.Name, t.Files))
			}
			indented(p, "", fmt.Sprintf("only in %s: %s", Clean(sides[i].Name), strings.Join(names, ", ")))
		}
	}
}

// answerText lists the answers of a side, with files where there are several.
func answerText(list []audit.Holding) string {
	if len(list) == 0 {
		return "-"
	}
	if len(list) == 1 {
		return Clean(list[0].Text)
	}
	var parts []string
	for _, h := range list {
		parts = append(parts, fmt.Sprintf("%s (%d)", Clean(h.Text), h.Files))
	}
	return strings.Join(parts, ", ")
}

// answerSources says who decides the first answer of each side, and where.
func answerSources(answers [2][]audit.Holding) string {
	var parts []string
	for _, list := range answers {
		if len(list) == 0 || list[0].Effective.DecidedBy == nil {
			continue
		}
		c := list[0].Effective.DecidedBy
		where := whereText(c.Where)
		if where == "" {
			where = "its default"
		}
		if text := c.Program.Name + ", " + where; len(parts) == 0 || parts[0] != text {
			parts = append(parts, text)
		}
	}
	return strings.Join(parts, "; ")
}

// CompareJSON prints a comparison as one object.
func CompareJSON(w io.Writer, sides [2]Compared, every bool) error {
	both, alone, _ := compared(sides, every)
	types := []object{}
	for _, t := range both {
		rows := []object{}
		for _, row := range t.rows {
			o := object{"differs": row.differs(), "a": holdings(row.answers[0]), "b": holdings(row.answers[1])}
			if row.rule != nil {
				o["rule"] = row.rule.ID
			}
			rows = append(rows, o)
		}
		types = append(types, object{"a": profileObject(*t.sides[0]), "b": profileObject(*t.sides[1]), "answers": rows})
	}
	only := [2][]object{{}, {}}
	for i := range alone {
		for _, t := range alone[i] {
			only[i] = append(only[i], profileObject(t))
		}
	}
	return write(w, object{"format": "jolly-treaty/compare", "version": 1, "a": sides[0].Name, "b": sides[1].Name, "types": types, "only_a": only[0], "only_b": only[1]})
}

func profileObject(t audit.TypeProfile) object {
	return object{"type": t.Type.ID, "name": t.Type.Name, "files": t.Files}
}

func holdings(list []audit.Holding) []object {
	out := []object{}
	for _, h := range list {
		o := object{"files": h.Files}
		switch c := h.Effective.DecidedBy; {
		case c != nil:
			o["value"], o["program"], o["basis"] = h.Effective.Value, c.Program.ID, string(c.Basis)
			if path := c.Where.Path(); path != "" {
				o["path"] = path
				o["line"], _ = c.Where.Position()
			}
		case h.Formatter != nil:
			o["formatter"] = h.Formatter.ID
		default:
			o["formatter"] = nil
		}
		out = append(out, o)
	}
	return out
}
