package settle

import (
	"cmp"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
	"jollytreaty/core/treaty"
)

// writeTreaty schedules the treaty file: an article for every assignment, split
// where parts of the tree have another style. Articles that are there keep
// their word; what they leave unsaid is added.
func (e *editor) writeTreaty(plan *Plan) error {
	var drafts []treaty.Article
	additions := map[int]map[string]rule.Value{} // by the line of an article that is there
	for _, part := range e.parts() {
		style := map[string]rule.Value{}
		for id, w := range e.d.wants[part.groups[0]] {
			if e.d.blocked[subject{part.typ, id}] == "" && !e.restates(part, id, w.value) && !part.unsaid[id] {
				style[id] = w.value
			}
		}
		if a := e.d.Audit.Treaty.For(part.typ.ID, part.groups[0].Examples[0]); a != nil {
			if had, also := additions[a.Line]; also {
				style = common(had, style) // parts that one article is about
			}
			additions[a.Line] = style
			continue
		}
		drafts = append(drafts, treaty.Article{
			Type: part.typ.ID, Formatter: part.formatter.ID, Reason: part.because, Paths: part.paths, Style: style,
		})
	}
	before, after, err := e.d.Audit.Treaty.Extend(drafts, additions)
	if err != nil {
		return err
	}
	if string(before) != string(after) {
		action := Change
		if before == nil {
			action = Create
		}
		plan.Edits = append(plan.Edits, Edit{Path: treaty.Name, Action: action, Before: before, After: after})
	}
	return nil
}

// restates reports whether a value is that of a formatter's one fixed style, so that
// the formatter's name says it.
func (e *editor) restates(p *part, id string, v rule.Value) bool {
	for _, g := range p.groups {
		c := g.Claim(p.formatter, id)
		if c == nil || c.Role != rule.Writes || !c.Question.Fixed() || c.Value != v {
			return false
		}
	}
	return true
}

// common returns what two styles agree on.
func common(a, b map[string]rule.Value) map[string]rule.Value {
	out := map[string]rule.Value{}
	for id, v := range a {
		if b[id] == v {
			out[id] = v
		}
	}
	return out
}

// part is the files of a type that one article is about.
type part struct {
	typ       *filetype.Type
	formatter *catalog.Entry
	because   string
	groups    []*claim.Group
	files     int
	paths     []string
	unsaid    map[string]bool // rules that some files have otherwise, which no pattern describes
}

// parts gathers the groups that have a formatter by type, formatter and style,
// in the order of their articles: each type's largest part first, since later
// articles win. Parts too scattered to describe are left out.
func (e *editor) parts() []*part {
	by := map[string]*part{}
	var list []*part
	owned := map[*filetype.Type]int{}
	total := map[*filetype.Type]int{}
	for i, g := range e.d.groups() {
		v := &e.d.Audit.Verdicts[i]
		if !e.d.concerns(g) {
			continue
		}
		total[g.Type] += g.Files
		owner := e.d.owner(g, v)
		if owner == nil || ofEditor(owner) || !e.d.asked(g) {
			continue
		}
		owned[g.Type] += g.Files
		key := g.Type.ID + "\x00" + owner.Program.ID + "\x00" + e.styleKey(g)
		p := by[key]
		if p == nil {
			p = &part{typ: g.Type, formatter: owner.Program, because: assign.Reason(owner.Reasons[0])}
			by[key] = p
			list = append(list, p)
		}
		p.groups = append(p.groups, g)
		p.files += g.Files
	}
	slices.SortStableFunc(list, func(a, b *part) int {
		return cmp.Or(cmp.Compare(a.typ.Name, b.typ.Name), cmp.Compare(b.files, a.files))
	})
	var out []*part
	for _, p := range list {
		first := len(out) == 0 || out[len(out)-1].typ != p.typ
		if !first || owned[p.typ] < total[p.typ] {
			paths, ok := e.d.pathsOf(p.typ, p.groups)
			if !ok || listed(paths) {
				if !first { // the article about the others says nothing of what these have otherwise
					out[len(out)-1].leave(e, p)
				}
				continue
			}
			for _, path := range paths {
				folder, all := strings.CutSuffix(path, "**")
				literal := pattern.Literal(folder)
				if all {
					literal += "**"
				}
				p.paths = append(p.paths, literal)
			}
		}
		out = append(out, p)
	}
	return out
}

// fewPaths is how many single files an article may name; more are today's files, and no
// pattern that new ones fall into.
const fewPaths = 3

// listed reports whether patterns are a list of files.
func listed(paths []string) bool {
	n := 0
	for _, p := range paths {
		if !strings.HasSuffix(p, "**") {
			n++
		}
	}
	return n > fewPaths
}

// leave takes out of what the part's article says whatever another part has otherwise.
func (p *part) leave(e *editor, other *part) {
	mine, theirs := e.d.wants[p.groups[0]], e.d.wants[other.groups[0]]
	for id, w := range mine {
		if o, ok := theirs[id]; ok && o.value != w.value {
			if p.unsaid == nil {
				p.unsaid = map[string]bool{}
			}
			p.unsaid[id] = true
		}
	}
}

func (e *editor) styleKey(g *claim.Group) string {
	var b strings.Builder
	for _, r := range rule.All() {
		if w, ok := e.d.wants[g][r.ID]; ok {
			b.WriteString(r.ID + "=" + w.value.String() + ";")
		}
	}
	return b.String()
}
