package settle

import (
	"bytes"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// editor gathers the edits that carry the draft's wants into settings files.
type editor struct {
	d        *draft
	files    map[string]*fileEdit
	standard *standard
	opened   map[string]*claim.File // shared files that have no section of a program yet

	neighbours map[newcomer]*claim.Group
	sharers    map[shared]*claim.Group
}

// fileEdit is what happens to one settings file.
type fileEdit struct {
	path   string
	syntax document.Syntax
	doc    *document.Document // nil for a new file
	sets   map[*document.Node]any
	adds   []addition
	takes  []*document.Node // that go
	parts  []*document.Node // sections that go
	lines  []string         // patterns that an ignore list gains

	renewals   []renewal
	exceptions []*exception
	sectionAdds
	gone bool
}

type addition struct {
	path []string
	raw  any
}

func newEditor(d *draft) *editor {
	e := &editor{d: d, files: map[string]*fileEdit{}, opened: map[string]*claim.File{}, neighbours: map[newcomer]*claim.Group{}, sharers: map[shared]*claim.Group{}}
	e.standard = newStandard(e)
	return e
}

func (e *editor) file(p string, syntax document.Syntax, f *claim.File) *fileEdit {
	fe := e.files[p]
	if fe == nil {
		fe = &fileEdit{path: p, syntax: syntax, sets: map[*document.Node]any{}}
		if f != nil {
			fe.doc = f.Doc
		}
		e.files[p] = fe
	}
	return fe
}

// carryOut schedules every change that the wants ask for.
func (e *editor) carryOut() {
	for i, g := range e.d.groups() {
		wants := e.d.wants[g]
		v := &e.d.Audit.Verdicts[i]
		owner := e.d.owner(g, v)
		for _, r := range rule.All() {
			w, ok := wants[r.ID]
			if !ok || !e.d.needed(g, r.ID) {
				continue
			}
			for _, c := range e.d.inPlay(g, v, r) {
				if e.d.ends(g, c) {
					continue // its check is switched off
				}
				if rule.Compare(c.Stance(), rule.Stance{Role: rule.Writes, Value: w.value}) != rule.Together && !(owner != nil && c.Role == rule.Types && g.SavedAway(c.Program, owner.Program)) {
					e.change(g, c, w.value)
				}
			}
			// A style of spaces is none without their number.
			if size, ok := wants[rule.IndentSize]; ok && r.ID == rule.IndentStyle && w.value == rule.Word("space") && e.standard.wants[g][rule.IndentStyle] != "" {
				e.standard.state(g, rule.ByID(rule.IndentSize), size.value)
			}
			if bare := len(e.d.Audit.Picture.Files) == 0; (w.code || w.said) && (bare || !heardBy(g, v, e.d, r)) {
				e.standard.state(g, r, w.value)
			}
		}
	}
	if e.d.Gather {
		e.gather()
	}
	e.standard.carryOut()
}

// heardBy reports whether some program in play writes, rejects or types by the rule, so
// that there is a setting that says it.
func heardBy(g *claim.Group, v *assign.Assignment, d *draft, r *rule.Rule) bool {
	return slices.ContainsFunc(d.inPlay(g, v, r), func(c *claim.Claim) bool { return !c.Question.Fixed() })
}

// gather states what formatters write in the standard's file, for everybody.
func (e *editor) gather() {
	for i, g := range e.d.groups() {
		owner := e.d.owner(g, &e.d.Audit.Verdicts[i])
		if owner == nil {
			continue
		}
		for _, r := range rule.All() {
			w, ok := e.d.wants[g][r.ID]
			if c := g.Claim(owner.Program, r.ID); ok && c != nil && c.Role == rule.Writes {
				e.standard.state(g, r, w.value)
			}
		}
	}
}

// change schedules one claim's change for a group.
func (e *editor) change(g *claim.Group, c *claim.Claim, v rule.Value) {
	s, err := stepTo(c, v, g)
	if err != nil {
		e.d.block(g, c.Rule.ID, err.Error())
		return
	}
	if s.off {
		if err := e.switchCheckOff(g, c.Program, c.Question.On); err != nil {
			e.d.block(g, c.Rule.ID, err.Error())
		}
		return
	}
	if s.place.Syntax.IsStandard() {
		e.standard.want(g, c.Rule, s.path[0], fmt.Sprint(s.raw))
		return
	}
	if s.home {
		if err := e.set(g, c.Program, s.way.Key, s.raw); err != nil {
			e.d.block(g, c.Rule.ID, err.Error())
		}
		return
	}
	if s.file == nil {
		fe := e.file(s.place.Create, s.place.SyntaxOf(s.place.Create), nil)
		if other := e.neighbour(c, s, v); other != nil {
			e.apart(g, c, s, fe, other)
			return
		}
		fe.add(s.path, s.raw)
		return
	}
	fe := e.file(s.file.Path, s.file.Doc.Syntax, s.file)
	if s.node == nil {
		if other := e.neighbour(c, s, v); other != nil {
			e.apart(g, c, s, fe, other)
			return
		}
		if fe.adding(s.path) {
			return
		}
		if _, err := s.file.Doc.Add(s.path, s.raw); err != nil {
			e.d.block(g, c.Rule.ID, err.Error())
			return
		}
		fe.add(s.path, s.raw)
		return
	}
	if other := e.sharer(c, v); other != nil {
		e.apart(g, c, s, fe, other)
		return
	}
	if _, err := s.file.Doc.Set(s.node, s.raw); err != nil {
		e.d.block(g, c.Rule.ID, err.Error())
		return
	}
	if had, ok := fe.sets[s.node]; ok && c.Question.AtMost && higher(had, s.raw) {
		return // one limit serves all only if it is the highest
	}
	// A number of columns says more than a style of spaces at the same place.
	if had, ok := fe.sets[s.node]; !ok || c.Rule.ID == rule.IndentSize || had == s.raw || c.Question.AtMost {
		fe.sets[s.node] = s.raw
	}
}

// higher reports whether the first of two limits, as written, is the higher one.
func higher(a, b any) bool {
	x, errX := strconv.Atoi(fmt.Sprint(a))
	y, errY := strconv.Atoi(fmt.Sprint(b))
	return errX == nil && errY == nil && x > y
}

func (fe *fileEdit) add(path []string, raw any) {
	if !fe.adding(path) {
		fe.adds = append(fe.adds, addition{path, raw})
	}
}

func (fe *fileEdit) adding(path []string) bool {
	return slices.ContainsFunc(fe.adds, func(a addition) bool { return slices.Equal(a.path, path) })
}

// sharer returns a group for which the claim's setting has to stay as it is, where it
// is to have another value.
func (e *editor) sharer(c *claim.Claim, v rule.Value) *claim.Group {
	key := shared{c.Where.Node, c.Question, v}
	if found, asked := e.sharers[key]; asked {
		return found
	}
	e.sharers[key] = nil
	for _, h := range e.d.groups() {
		if !e.d.concerns(h) {
			continue
		}
		same := h.Claim(c.Program, c.Rule.ID)
		if same == nil || same.Where.Node != c.Where.Node {
			continue
		}
		if c.Role == rule.Accepts && c.Question.AtMost {
			continue // a higher limit takes nothing from anybody
		}
		if w, ok := e.d.wants[h][c.Rule.ID]; !ok || w.value != v {
			e.sharers[key] = h
			break
		}
	}
	return e.sharers[key]
}

// shared is a setting that is to have another value, for a question.
type shared struct {
	node     *document.Node
	question *catalog.Question
	value    rule.Value
}

// neighbour returns a group whose default would change with a key that is added: one
// that shall have another value.
func (e *editor) neighbour(c *claim.Claim, s step, v rule.Value) *claim.Group {
	if c.Role == rule.Accepts && c.Question.AtMost {
		return nil // a limit is the highest that is asked for
	}
	key := newcomer{c.Question, s.file, v}
	if found, asked := e.neighbours[key]; asked {
		return found
	}
	e.neighbours[key] = nil
	for i, h := range e.d.groups() {
		w, ok := e.d.wants[h][c.Rule.ID]
		if !ok || w.value == v || s.file != nil && !h.Reads(s.file) {
			continue
		}
		same := h.Claim(c.Program, c.Rule.ID)
		if same != nil && same.Basis == claim.Default && same.Question == c.Question && slices.Contains(e.d.inPlay(h, &e.d.Audit.Verdicts[i], c.Rule), same) {
			e.neighbours[key] = h
			break
		}
	}
	return e.neighbours[key]
}

// newcomer is a key that is added, by the question it answers, its file and value.
type newcomer struct {
	question *catalog.Question
	file     *claim.File
	value    rule.Value
}

// apart sets the value for the group's type only, where the settings file has a
// way to say so.
func (e *editor) apart(g *claim.Group, c *claim.Claim, s step, fe *fileEdit, other *claim.Group) {
	switch {
	case s.place.Languages != "":
		section := strings.ReplaceAll(s.place.Languages, "{type}", g.Type.ID)
		fe.add(append([]string{section}, s.path...), s.raw)
	case s.place.Syntax.Form() == document.Rows:
		for _, name := range e.names(g) {
			fe.add([]string{name, s.way.Key}, s.raw)
		}
	case overridesOf(s.place, fe) != nil:
		fe.except(overridesOf(s.place, fe), s, g, c.Rule.ID)
	default:
		at := fe.path
		if line, _ := c.Where.Position(); line > 0 {
			at = fmt.Sprintf("%s:%d", at, line)
		}
		e.d.block(g, c.Rule.ID, fmt.Sprintf("%s also serves %s files, which need another value", at, other.Type.Name))
	}
}

// names returns patterns for the group's type: an extension or a whole name.
func (e *editor) names(g *claim.Group) []string {
	var out []string
	for _, p := range e.d.pathsIn(g) {
		name := path.Base(p)
		if ext := path.Ext(name); e.d.owns(g.Type, ext, "") {
			name = "*" + ext
		}
		if !slices.Contains(out, name) {
			out = append(out, name)
		}
	}
	return out
}

// owns reports whether the extension stands for the type alone among the files
// whose paths have the prefix.
func (d *draft) owns(t *filetype.Type, ext, prefix string) bool {
	return slices.Contains(t.Extensions, strings.ToLower(ext)) && len(d.others(t, ext, prefix)) == 0
}

// others returns the groups of other types that have files with the extension whose
// paths have the prefix.
func (d *draft) others(t *filetype.Type, ext, prefix string) []*claim.Group {
	d.indexFiles()
	var out []*claim.Group
	for _, g := range d.byExt[ext] {
		if g.Type != t && g.Type.Styled && slices.ContainsFunc(d.filesOf[g], func(i int32) bool {
			p := d.Audit.Picture.Tree.Files[i].Path
			return strings.HasPrefix(p, prefix) && path.Ext(p) == ext
		}) {
			out = append(out, g)
		}
	}
	return out
}

// pathsIn returns the paths of the groups' files, in order.
func (d *draft) pathsIn(groups ...*claim.Group) []string {
	d.indexFiles()
	var at []int32
	for _, g := range groups {
		at = append(at, d.filesOf[g]...)
	}
	if len(groups) > 1 {
		slices.Sort(at)
	}
	out := make([]string, len(at))
	for i, n := range at {
		out[i] = d.Audit.Picture.Tree.Files[n].Path
	}
	return out
}

// extensionsIn returns the extensions of the groups' files.
func (d *draft) extensionsIn(groups ...*claim.Group) []string {
	d.indexFiles()
	var out []string
	for _, g := range groups {
		for _, ext := range d.extsOf[g] {
			out = appendNew(out, ext)
		}
	}
	return out
}

// whole reports whether the groups hold every file of the type whose path has the
// prefix.
func (d *draft) whole(t *filetype.Type, groups []*claim.Group, prefix string) bool {
	d.indexFiles()
	for _, g := range d.groups() {
		if g.Type == t && !slices.Contains(groups, g) && slices.ContainsFunc(d.filesOf[g], func(i int32) bool {
			return strings.HasPrefix(d.Audit.Picture.Tree.Files[i].Path, prefix)
		}) {
			return false
		}
	}
	return true
}

// indexFiles finds the files and extensions of each group, once.
func (d *draft) indexFiles() {
	if d.filesOf != nil {
		return
	}
	groups := d.groups()
	d.filesOf, d.byExt, d.extsOf = map[*claim.Group][]int32{}, map[string][]*claim.Group{}, map[*claim.Group][]string{}
	at, exts := make([][]int32, len(groups)), make([][]string, len(groups))
	for i, n := range d.Audit.Picture.GroupOf {
		if at[n] == nil {
			at[n] = make([]int32, 0, groups[n].Files)
		}
		at[n] = append(at[n], int32(i))
		ext := path.Ext(d.Audit.Picture.Tree.Files[i].Path)
		if len(exts[n]) == 0 || exts[n][len(exts[n])-1] != ext {
			exts[n] = appendNew(exts[n], ext)
		}
	}
	for n, g := range groups {
		d.filesOf[g], d.extsOf[g] = at[n], exts[n]
		for _, ext := range exts[n] {
			d.byExt[ext] = append(d.byExt[ext], g)
		}
	}
}

// prune takes out settings that lose everywhere they could apply, where they are
// lines of their own.
func (e *editor) prune() {
	for _, f := range e.d.Audit.Findings {
		if f.Code != conflict.DeadShadowed || f.Waived != nil || f.Sides[0].Claim == nil || f.Type != nil && !e.d.Choices.asksFor(subjectOf(f), e.d.Audit) {
			continue
		}
		at := f.Sides[0].Claim.Where
		if at.File == nil || at.File.Doc == nil || at.File.CommandLine {
			continue
		}
		if _, err := at.File.Doc.Remove(at.Node); err != nil {
			continue // the finding says what to do
		}
		fe := e.file(at.File.Path, at.File.Doc.Syntax, at.File)
		if !slices.Contains(fe.takes, at.Node) {
			fe.takes = append(fe.takes, at.Node)
		}
	}
}

func readFile(fsys fs.FS, name string) ([]byte, error) {
	in, err := fsys.Open(name)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return io.ReadAll(io.LimitReader(in, document.MaxSize))
}

// finish applies the edits to the documents.
func (e *editor) finish() ([]Edit, error) {
	var out []Edit
	for _, fe := range e.files {
		before, err := fs.ReadFile(e.d.FS, fe.path)
		if err != nil && fe.doc != nil {
			return nil, fmt.Errorf("%s cannot be read again: %w", fe.path, err)
		}
		if fe.gone {
			out = append(out, Edit{Path: fe.path, Action: Delete, Before: before})
			continue
		}
		after, err := e.apply(fe)
		if err != nil {
			return nil, err
		}
		switch {
		case fe.doc == nil && before == nil && len(after) == 0: // nothing came of it
		case fe.doc == nil && before == nil:
			out = append(out, Edit{Path: fe.path, Action: Create, After: after})
		case string(after) != string(before):
			out = append(out, Edit{Path: fe.path, Action: Change, Before: before, After: after})
		}
	}
	return out, nil
}

// apply returns the file's new text.
func (e *editor) apply(fe *fileEdit) ([]byte, error) {
	doc := fe.doc
	if doc == nil {
		var err error
		if doc, err = document.Parse(fe.syntax, fe.path, fe.preamble()); err != nil {
			return nil, err
		}
	}
	maps.Copy(fe.sets, fe.contradicted(doc))
	maps.Copy(fe.sets, repeated(doc, fe.sets))
	edits, err := fe.cuts(doc)
	if err != nil {
		return nil, err
	}
	edits = append(edits, fe.renewed(doc)...)
	within := func(e document.Edit) bool {
		return slices.ContainsFunc(edits, func(cut document.Edit) bool { return cut.Start <= e.Start && e.End <= cut.End })
	}
	for n, raw := range fe.sets {
		edit, err := doc.Set(n, raw)
		if err != nil {
			return nil, err
		}
		if !within(edit) {
			edits = append(edits, edit)
		}
	}
	edits = append(edits, doc.RemoveAll(slices.DeleteFunc(fe.takes, func(n *document.Node) bool { _, changes := fe.sets[n]; return changes }))...)
	edits = append(edits, fe.sectionAdds.edits(doc)...)
	text, err := doc.Apply(edits)
	if err != nil {
		return nil, err
	}
	for _, a := range fe.adds {
		again, err := doc.Again(text)
		if err != nil {
			return nil, err
		}
		if again.Root.Find(strings.Join(escaped(a.path), "/")) != nil {
			continue
		}
		edit, err := again.Add(a.path, a.raw)
		if err != nil {
			return nil, err
		}
		if text, err = again.Apply([]document.Edit{edit}); err != nil {
			return nil, err
		}
	}
	text = e.withExceptions(fe, text)
	return fe.withLines(text), nil
}

// cuts returns the edits that take sections out.
func (fe *fileEdit) cuts(doc *document.Document) ([]document.Edit, error) {
	var out []document.Edit
	for _, n := range fe.parts {
		edits, err := doc.RemoveSection(n)
		if err != nil {
			return nil, err
		}
		out = append(out, edits...)
	}
	return out, nil
}

// withLines adds the patterns that an ignore list gains.
func (fe *fileEdit) withLines(text []byte) []byte {
	nl := "\n"
	if bytes.Contains(text, []byte("\r\n")) {
		nl = "\r\n"
	}
	if len(fe.lines) > 0 && len(text) > 0 && text[len(text)-1] != '\n' {
		text = append(text, nl...)
	}
	for _, line := range fe.lines {
		text = append(append(text, line...), nl...)
	}
	return text
}

// repeated returns the other places at which sections of one name set a key that
// changes, so that they do not come to contradict each other.
func repeated(doc *document.Document, sets map[*document.Node]any) map[*document.Node]any {
	out := map[*document.Node]any{}
	for _, section := range doc.Root.Items {
		for _, n := range section.Items {
			raw, changes := sets[n]
			if !changes {
				continue
			}
			for _, other := range doc.Root.Items {
				for _, m := range other.Items {
					if other.Key == section.Key && m.Key == n.Key {
						out[m] = raw
					}
				}
			}
		}
	}
	return out
}

// preamble is what a new file starts with.
func (fe *fileEdit) preamble() []byte {
	if fe.syntax.IsStandard() {
		return []byte("root = true\n")
	}
	return nil
}
