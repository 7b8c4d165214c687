package treaty

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

const heading = "# What every program in this repository follows. Meant to be read in review and\n# edited by hand; \"treaty settle\" carries changes into the settings files.\ntreaty = 1\n"

// Extend returns the treaty file's text before and after articles are added at
// its end and styles to articles that are there, given by the line of each.
// Rules that an article already answers are left alone, as is all other text.
// On a nil treaty the text before is nil.
func (t *Treaty) Extend(articles []Article, styles map[int]map[string]rule.Value) (before, after []byte, err error) {
	if t == nil || t.doc == nil {
		if len(articles) == 0 {
			return nil, nil, nil
		}
		style, articles := lifted(articles)
		return nil, []byte(heading + styleText("", "[style]", style, "\n") + text(articles, "\n")), nil
	}
	before = t.doc.Src
	var edits []document.Edit
	done := map[int]bool{}
	for i := range t.Articles {
		a := &t.Articles[i]
		if done[a.index] {
			continue
		}
		done[a.index] = true
		var pairs [][2]any
		for _, r := range rule.All() {
			if v, ok := styles[a.Line][r.ID]; ok && a.Style[r.ID].IsZero() {
				pairs = append(pairs, [2]any{r.ID, v.Plain()})
			}
		}
		if len(pairs) == 0 {
			continue
		}
		if a.node.Get("style") == nil {
			edits = append(edits, t.doc.AddTable(a.node, "  [article.style]", "  ", pairs))
			continue
		}
		for _, p := range pairs {
			edit, err := t.doc.Add([]string{"article", strconv.Itoa(a.index), "style", p[0].(string)}, p[1])
			if err != nil {
				return before, nil, fmt.Errorf("%s:%d: the article cannot be added to: %w", a.Path, a.Line, err)
			}
			edits = append(edits, edit)
		}
	}
	nl := "\n"
	if strings.Contains(string(before), "\r\n") {
		nl = "\r\n"
	}
	if len(articles) > 0 {
		edits = append(edits, document.Edit{Start: len(before), End: len(before), Text: text(articles, nl)})
	}
	after, err = t.doc.Apply(edits)
	return before, after, err
}

// Source returns the text of the file, nil where there is none.
func (t *Treaty) Source() []byte {
	if t == nil || t.doc == nil {
		return nil
	}
	return t.doc.Src
}

// Words are what is put into a treaty file from outside.
type Words struct {
	House      string            // a file with house rules, by its path
	Formatters map[string]string // by file type
	Exempt     []Exemption
	Waivers    []Waiver
}

// None reports whether there are none.
func (w Words) None() bool {
	return w.House == "" && len(w.Formatters) == 0 && len(w.Exempt) == 0 && len(w.Waivers) == 0
}

// With returns the text of the treaty file, or of a new one for a nil treaty, with
// the words in it.
func (t *Treaty) With(w Words) ([]byte, error) {
	src := t.Source()
	if src == nil {
		src = []byte(heading)
	}
	if w.House != "" {
		var err error
		if src, err = adopting(src, w.House); err != nil {
			return nil, err
		}
	}
	for _, typeID := range slices.Sorted(maps.Keys(w.Formatters)) {
		now, err := Parse(Name, src)
		if err != nil {
			return nil, err
		}
		if src, err = now.naming(typeID, w.Formatters[typeID]); err != nil {
			return nil, err
		}
	}
	nl := "\n"
	if strings.Contains(string(src), "\r\n") {
		nl = "\r\n"
	}
	var b strings.Builder
	for _, e := range w.Exempt {
		fmt.Fprintf(&b, "%[1]s[[exempt]]%[1]stype = %[2]s%[1]sreason = %[3]s%[1]s", nl, document.Quoted(e.Type), document.Quoted(e.Reason))
	}
	for _, v := range w.Waivers {
		fmt.Fprintf(&b, "%[1]s[[waiver]]%[1]sfinding = %[2]s%[1]sreason = %[3]s%[1]s", nl, document.Quoted(v.Finding), document.Quoted(v.Reason))
		if !v.Until.IsZero() {
			fmt.Fprintf(&b, "until = %s%s", v.Until.Format(time.DateOnly), nl)
		}
	}
	return append(slices.Clip(src), b.String()...), nil
}

// adopting adds a path to what the file adopts.
func adopting(src []byte, house string) ([]byte, error) {
	t, err := Parse(Name, src)
	if err != nil {
		return nil, err
	}
	for _, a := range t.Adopts {
		if a.Path == house {
			return src, nil
		}
	}
	list := t.doc.Root.Get("adopts")
	if list != nil && len(t.Adopts) > 0 {
		at := list.Items[len(list.Items)-1].End
		return t.doc.Apply([]document.Edit{{Start: at, End: at, Text: ", " + document.Quoted(house)}})
	}
	if list != nil {
		return nil, fmt.Errorf("%s adopts nothing, in a list of its own; write %q into it", Name, house)
	}
	version := t.doc.Root.Get("treaty")
	at := version.End
	return t.doc.Apply([]document.Edit{{Start: at, End: at, Text: "\nadopts = [" + document.Quoted(house) + "]"}})
}

// naming gives a file type its formatter: in the article about all its files, or
// in a new one.
func (t *Treaty) naming(typeID, formatter string) ([]byte, error) {
	for i := range t.Articles {
		a := &t.Articles[i]
		if a.Type != typeID || len(a.Paths) > 0 {
			continue
		}
		if len(a.Types) > 1 { // the others keep theirs
			_, after, err := t.Extend([]Article{{Type: typeID, Formatter: formatter, Reason: "chosen by hand", Style: a.own}}, nil)
			return after, err
		}
		if n := a.node.Get("formatter"); n != nil {
			edit, err := t.doc.Set(n, formatter)
			if err != nil {
				return nil, err
			}
			return t.doc.Apply([]document.Edit{edit})
		}
		edit, err := t.doc.Add([]string{"article", strconv.Itoa(a.index), "formatter"}, formatter)
		if err != nil {
			return nil, err
		}
		return t.doc.Apply([]document.Edit{edit})
	}
	_, after, err := t.Extend([]Article{{Type: typeID, Formatter: formatter, Reason: "chosen by hand"}}, nil)
	return after, err
}

// Draft returns the text of a treaty file with the articles that are about all
// files of a type, without their reasons, to be adopted elsewhere.
func Draft(t *Treaty) []byte {
	var articles []Article
	for _, a := range t.Articles {
		if len(a.Paths) == 0 {
			a.Reason = ""
			articles = append(articles, a)
		}
	}
	return []byte("# House rules, to be adopted by repositories: adopts = [\"path/to/this/file\"]\ntreaty = 1\n" + text(articles, "\n"))
}

// lifted takes out of the articles what the style of every one of them says, where there
// are several.
func lifted(articles []Article) (style map[string]rule.Value, rest []Article) {
	style = map[string]rule.Value{}
	for _, r := range rule.All() {
		if len(articles) < 2 {
			break
		}
		v := articles[0].Style[r.ID]
		if !v.IsZero() && !slices.ContainsFunc(articles, func(a Article) bool { return a.Style[r.ID] != v }) {
			style[r.ID] = v
		}
	}
	for _, a := range articles {
		own := map[string]rule.Value{}
		for id, v := range a.Style {
			if style[id] != v {
				own[id] = v
			}
		}
		a.Style = own
		rest = append(rest, a)
	}
	return style, joined(rest)
}

// joined makes one article of those that differ in nothing but their type.
func joined(articles []Article) []Article {
	var out []Article
	for _, a := range articles {
		if len(a.Types) == 0 {
			a.Types = []string{a.Type}
		}
		i := slices.IndexFunc(out, func(o Article) bool {
			return o.Formatter == a.Formatter && o.Reason == a.Reason && slices.Equal(o.Paths, a.Paths) && maps.Equal(o.Style, a.Style)
		})
		if i >= 0 && slices.ContainsFunc(out[i:], func(o Article) bool { return slices.Contains(o.Types, a.Types[0]) }) {
			i = -1 // of several about a type the last counts
		}
		if i < 0 {
			out = append(out, a)
			continue
		}
		for _, id := range a.Types {
			if !slices.Contains(out[i].Types, id) {
				out[i].Types = append(out[i].Types, id)
			}
		}
	}
	return out
}

// styleText writes a style under a heading; nothing for none.
func styleText(indent, heading string, style map[string]rule.Value, nl string) string {
	if len(style) == 0 {
		return ""
	}
	text := indent + heading + nl
	if indent == "" {
		text = nl + text
	}
	for _, r := range rule.All() {
		if v, ok := style[r.ID]; ok {
			text += fmt.Sprintf("%s%s = %s%s", indent, r.ID, literal(v), nl)
		}
	}
	return text
}

// text writes articles, each set off by a blank line.
func text(articles []Article, nl string) string {
	var b strings.Builder
	line := func(format string, args ...any) { b.WriteString(fmt.Sprintf(format, args...) + nl) }
	for _, a := range joined(articles) {
		b.WriteString(nl)
		line("[[article]]")
		if len(a.Types) > 1 {
			quoted := make([]string, len(a.Types))
			for i, id := range a.Types {
				quoted[i] = document.Quoted(id)
			}
			line("types = [%s]", strings.Join(quoted, ", "))
		} else {
			line("type = %s", document.Quoted(a.Types[0]))
		}
		if a.Formatter != "" {
			line("formatter = %s", document.Quoted(a.Formatter))
		}
		if a.Reason != "" {
			line("reason = %s", document.Quoted(a.Reason))
		}
		if len(a.Paths) > 0 {
			quoted := make([]string, len(a.Paths))
			for i, p := range a.Paths {
				quoted[i] = document.Quoted(p)
			}
			line("paths = [%s]", strings.Join(quoted, ", "))
		}
		b.WriteString(styleText("  ", "[article.style]", a.Style, nl))
	}
	return b.String()
}

func literal(v rule.Value) string {
	if s, ok := v.Plain().(string); ok {
		return document.Quoted(s)
	}
	return v.String()
}
