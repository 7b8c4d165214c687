package treaty

import (
	"fmt"
	"strconv"
	"strings"

	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

const heading = "# What every program in this repository follows. Meant to be read in review and\n# edited by hand; \"treaty settle\" carries changes into the settings files.\ntreaty = 1\n"

// Extend returns the treaty file's text before and after articles are added at
// its end and styles to articles that are there, given by the line of each.
// Rules that an article already answers are left alone, as is all other text.
// On a nil treaty the text before is nil.
func (t *Treaty) Extend(articles []Article, styles map[int]map[string]rule.Value) (before, after []byte) {
	if t == nil {
		if len(articles) == 0 {
			return nil, nil
		}
		return nil, []byte(heading + text(articles, "\n"))
	}
	before = t.doc.Src
	var edits []document.Edit
	for i := range t.Articles {
		a := &t.Articles[i]
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
			if edit, err := t.doc.Add([]string{"article", strconv.Itoa(i), "style", p[0].(string)}, p[1]); err == nil {
				edits = append(edits, edit)
			}
		}
	}
	nl := "\n"
	if strings.Contains(string(before), "\r\n") {
		nl = "\r\n"
	}
	if len(articles) > 0 {
		edits = append(edits, document.Edit{Start: len(before), End: len(before), Text: text(articles, nl)})
	}
	after, err := t.doc.Apply(edits)
	if err != nil {
		return before, before
	}
	return before, after
}

// text writes articles, each set off by a blank line.
func text(articles []Article, nl string) string {
	var b strings.Builder
	line := func(format string, args ...any) { b.WriteString(fmt.Sprintf(format, args...) + nl) }
	for _, a := range articles {
		b.WriteString(nl)
		line("[[article]]")
		line("type = %q", a.Type)
		line("formatter = %q", a.Formatter)
		if a.Reason != "" {
			line("reason = %q", a.Reason)
		}
		if len(a.Paths) > 0 {
			quoted := make([]string, len(a.Paths))
			for i, p := range a.Paths {
				quoted[i] = strconv.Quote(p)
			}
			line("paths = [%s]", strings.Join(quoted, ", "))
		}
		if len(a.Style) > 0 {
			line("  [article.style]")
		}
		for _, r := range rule.All() {
			if v, ok := a.Style[r.ID]; ok {
				line("  %s = %s", r.ID, literal(v))
			}
		}
	}
	return b.String()
}

func literal(v rule.Value) string {
	if s, ok := v.Plain().(string); ok {
		return strconv.Quote(s)
	}
	return v.String()
}
