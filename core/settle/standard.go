package settle

import (
	"bytes"
	"cmp"
	"fmt"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
)

// standard reconciles the open standard's settings files: existing sections
// stay, values change where every file they serve agrees, and what is new goes
// into the section of its type.
type standard struct {
	e     *editor
	entry *catalog.Entry
	place *catalog.Place
	wants map[*claim.Group]map[string]string // by property
	rules map[string]*rule.Rule              // of a property
	globs map[string]string                  // section names by the groups they reach
}

func newStandard(e *editor) *standard {
	s := &standard{e: e, wants: map[*claim.Group]map[string]string{}, rules: map[string]*rule.Rule{}, globs: map[string]string{}}
	for _, entry := range e.d.catalog().Entries {
		if isStandard(entry) {
			s.entry, s.place = entry, entry.Place("")
		}
	}
	return s
}

// state wants the formatter's value written down for editors, unless the file
// already leaves the matter alone on purpose.
func (s *standard) state(g *claim.Group, r *rule.Rule, v rule.Value) {
	if !s.has(r) {
		return
	}
	if c := g.Claim(s.entry, r.ID); c != nil && (c.Role == rule.Leaves || c.Value == v) {
		return
	}
	s.want(g, r, r.ID, v.String())
}

// has reports whether the standard has a property for the rule.
func (s *standard) has(r *rule.Rule) bool {
	return s.entry != nil && slices.ContainsFunc(s.entry.Rules, func(q *catalog.Question) bool { return q.Rule == r.ID && q.Role != rule.Shows })
}

func (s *standard) want(g *claim.Group, r *rule.Rule, property, value string) {
	if s.wants[g] == nil {
		s.wants[g] = map[string]string{}
	}
	s.wants[g][property] = value
	s.rules[property] = r
}

// batch is the groups of a type that shall have the same value of a property
// in the same file.
type batch struct {
	path     string
	file     *claim.File // nil for a file to be made
	typ      *filetype.Type
	property string
	value    string
	groups   []*claim.Group
	nodes    []*document.Node // that set the property now
	anchor   int              // index of the last section, of those that set it now; -1 for none
}

// carryOut schedules the changes. New sections are named from the last to the first,
// as those before others may reach more than their own files.
func (s *standard) carryOut() {
	var rest []*batch
	for _, b := range s.batches() {
		switch {
		case b.file != nil && b.file.Doc == nil:
			for _, g := range b.groups {
				s.e.d.block(g, s.rules[b.property].ID, b.path+" cannot be read, so it is not touched")
			}
		case s.inPlace(b):
		case s.inSection(b):
		default:
			rest = append(rest, b)
		}
	}
	names := make([]string, len(rest))
	for i, b := range slices.Backward(rest) {
		names[i] = s.sectionFor(b)
	}
	for i, b := range rest {
		if names[i] != "" {
			s.e.file(b.path, document.EditorConfig, b.file).section(names[i], b)
		}
	}
}

func (s *standard) batches() []*batch {
	type key struct {
		path     string
		typ      *filetype.Type
		property string
		value    string
	}
	by := map[key]*batch{}
	var order []*batch
	for _, g := range s.e.d.groups() {
		properties := make([]string, 0, len(s.wants[g]))
		for p := range s.wants[g] {
			properties = append(properties, p)
		}
		slices.SortFunc(properties, s.byRule)
		for _, property := range properties {
			value := s.wants[g][property]
			file, node, anchor := s.now(g, property)
			if node != nil && strings.EqualFold(node.Text(), value) {
				continue
			}
			p := s.place.Create
			if file != nil {
				p = file.Path
			}
			k := key{p, g.Type, property, value}
			b := by[k]
			if b == nil {
				b = &batch{path: p, file: file, typ: g.Type, property: property, value: value, anchor: -1}
				by[k] = b
				order = append(order, b)
			}
			b.groups = append(b.groups, g)
			b.anchor = max(b.anchor, anchor)
			if !slices.Contains(b.nodes, node) {
				b.nodes = append(b.nodes, node)
			}
		}
	}
	slices.SortStableFunc(order, func(a, b *batch) int {
		return cmp.Or(cmp.Compare(a.path, b.path), cmp.Compare(a.typ.Name, b.typ.Name), s.byRule(a.property, b.property))
	})
	return order
}

func (s *standard) byRule(a, b string) int {
	return cmp.Or(ruleIndex(s.rules[a])-ruleIndex(s.rules[b]), cmp.Compare(a, b))
}

// now returns the file to write the property into, the node that sets it for
// the group, and the index of that node's section in its file.
func (s *standard) now(g *claim.Group, property string) (*claim.File, *document.Node, int) {
	for _, part := range slices.Backward(g.Applying(s.entry, s.place)) {
		if n := part.Keys.Get(property); n != nil {
			return part.File, n, slices.Index(part.File.Doc.Root.Items, part.Section)
		}
	}
	if files := g.FilesOf(s.entry, s.place); len(files) > 0 {
		return files[0], nil, -1
	}
	return nil, nil, -1
}

// agrees reports whether the group may come to have the value: it is wanted or
// already there.
func (s *standard) agrees(g *claim.Group, b *batch) bool {
	if !s.e.d.concerns(g) || slices.Contains(b.groups, g) {
		return true
	}
	if v, ok := s.wants[g][b.property]; ok {
		return strings.EqualFold(v, b.value)
	}
	_, n, _ := s.now(g, b.property)
	return n != nil && strings.EqualFold(n.Text(), b.value)
}

// inPlace replaces the one value that all the groups have now, if every file
// it serves agrees.
func (s *standard) inPlace(b *batch) bool {
	if len(b.nodes) != 1 || b.nodes[0] == nil {
		return false
	}
	for _, g := range s.e.d.groups() {
		if _, n, _ := s.now(g, b.property); n == b.nodes[0] && !s.agrees(g, b) {
			return false
		}
	}
	fe := s.e.file(b.path, document.EditorConfig, b.file)
	fe.sets[b.nodes[0]] = b.value
	return true
}

// inSection adds the property to an existing section that reaches all the
// groups and nobody who disagrees, and that later sections do not overrule.
func (s *standard) inSection(b *batch) bool {
	if b.file == nil {
		return false
	}
	for i, section := range slices.Backward(b.file.Doc.Root.Items) {
		if section.Kind != document.Map || i < b.anchor || len(setters(b.file.Doc, section.Key, b.property)) > 0 {
			continue
		}
		fits := true
		for _, g := range s.e.d.groups() {
			reached := s.reaches(g, section)
			if reached && !s.agrees(g, b) || !reached && slices.Contains(b.groups, g) {
				fits = false
				break
			}
		}
		if fits {
			fe := s.e.file(b.path, document.EditorConfig, b.file)
			fe.pairs = append(fe.pairs, pairAdd{section, b.property, b.value})
			return true
		}
	}
	return false
}

func (s *standard) reaches(g *claim.Group, section *document.Node) bool {
	return slices.ContainsFunc(g.Applying(s.entry, s.place), func(part claim.Settings) bool { return part.Section == section })
}

// sectionFor names a new section for the groups' files; "" where that cannot be.
func (s *standard) sectionFor(b *batch) string {
	folder := "."
	if b.file != nil {
		folder = b.file.Folder
	}
	prefix := ""
	if folder != "." {
		prefix = folder + "/"
	}
	exts := s.extensions(b, prefix)
	which := []byte(b.typ.ID + " " + folder + " " + strings.Join(exts, " "))
	for _, g := range b.groups {
		which = fmt.Appendf(which, " %p", g)
	}
	key := string(which)
	name, known := s.globs[key]
	if !known {
		if name = s.glob(b, prefix, exts); len(name) > document.MaxSectionName {
			name = ""
		}
		s.globs[key] = name
	}
	if name == "" {
		for _, g := range b.groups {
			s.e.d.block(g, s.rules[b.property].ID, "the files it is about are too scattered for a section of "+b.path)
		}
	}
	return name
}

// extensions returns those of the batch's files that may stand for all of them in
// the name of a new section: files of other types below the folder bear to be reached.
func (s *standard) extensions(b *batch, prefix string) []string {
	d := s.e.d
	var out []string
	for _, ext := range d.extensionsIn(b.groups...) {
		if slices.Contains(b.typ.Extensions, strings.ToLower(ext)) && !slices.ContainsFunc(d.others(b.typ, ext, prefix), func(g *claim.Group) bool { return !s.bears(g, b) }) {
			out = append(out, ext)
		}
	}
	return out
}

// bears reports whether a new section may reach a group of another type: it has the
// value or is to have it, or neither a program nor the code has another; or a later
// section will say what it is to have.
func (s *standard) bears(g *claim.Group, b *batch) bool {
	if s.agrees(g, b) {
		return true
	}
	if len(g.Applying(s.entry, s.place)) > 0 {
		return false
	}
	d, r := s.e.d, s.rules[b.property]
	if _, wanted := s.wants[g][b.property]; wanted { // sections are in the order of their types
		return g.Type.Name > b.typ.Name && d.blocked[subject{g.Type, r.ID}] == ""
	}
	v, err := r.Domain.Parse(b.value)
	if err != nil {
		return false
	}
	if share, telling := d.Audit.Measured(g).Fit(r.ID, v); telling > 0 && share < 0.5 {
		return false
	}
	verdict := &d.Audit.Verdicts[slices.Index(d.groups(), g)]
	return !slices.ContainsFunc(d.inPlay(g, verdict, r), func(c *claim.Claim) bool {
		return rule.Compare(c.Stance(), rule.Stance{Role: rule.Writes, Value: v}) != rule.Together
	})
}

// setters returns the nodes that set the property in sections of a name.
func setters(doc *document.Document, name, property string) []*document.Node {
	var out []*document.Node
	for _, section := range doc.Root.Items {
		if n := section.Get(property); section.Kind == document.Map && section.Key == name && n != nil {
			out = append(out, n)
		}
	}
	return out
}

// glob returns a section name for the files of the batch, relative to the folder with
// the prefix, in which the given extensions stand for them; "" where they are too
// scattered.
func (s *standard) glob(b *batch, prefix string, standing []string) string {
	d := s.e.d
	whole := d.whole(b.typ, b.groups, prefix)
	var exts, names, paths []string
	for _, ext := range standing {
		exts = append(exts, ext[1:])
	}
	if len(exts) < len(d.extensionsIn(b.groups...)) { // some go by their names
		var shared []string
		for _, p := range d.pathsIn(b.groups...) {
			switch name, ext := path.Base(p), path.Ext(p); {
			case slices.Contains(standing, ext):
			case whole && slices.Contains(b.typ.Names, name):
				names = appendNew(names, name)
			case ext != "":
				shared = appendNew(shared, ext)
			default:
				paths = append(paths, pattern.Literal(strings.TrimPrefix(p, prefix)))
			}
		}
		for _, ext := range shared {
			for _, p := range d.spread(ext, prefix, b.groups) {
				dir, isFolder := strings.CutSuffix(p, "/**")
				if p = pattern.Literal(strings.TrimPrefix(dir, prefix)); isFolder {
					p += "/**" + ext
				}
				paths = append(paths, p)
			}
		}
	}
	if len(paths) > maxPaths {
		return ""
	}
	slices.Sort(paths)
	slices.Sort(exts)
	slices.Sort(names)
	if !whole {
		patterns, ok := d.pathsOf(b.typ, b.groups)
		if !ok {
			return ""
		}
		var parts []string
		for _, p := range patterns {
			p = strings.TrimPrefix(p, prefix)
			dir, isFolder := strings.CutSuffix(p, "/**")
			switch {
			case !isFolder && !slices.Contains(standing, path.Ext(p)): // among the paths
			case !isFolder:
				parts = append(parts, pattern.Literal(p))
			case len(exts) > 0:
				parts = append(parts, pattern.Literal(dir)+"/"+extGlob("**", exts))
			}
		}
		return anchored(append(parts, paths...))
	}
	if len(names) == 0 && len(paths) == 0 {
		return extGlob("*", exts)
	}
	star := "*"
	if len(paths) > 0 {
		star = "**" // a section name with a slash anywhere is relative to the folder
		for _, n := range slices.Clone(names) {
			names = append(names, "**/"+n)
		}
	}
	var parts []string
	if len(exts) > 0 {
		parts = append(parts, extGlob(star, exts))
	}
	parts = append(append(parts, names...), paths...)
	if len(paths) == 0 {
		return braces(parts)
	}
	return anchored(parts)
}

// anchored makes a section name of paths relative to the folder. A name without
// any slash would reach files at every depth.
func anchored(parts []string) string {
	name := braces(parts)
	if !strings.Contains(name, "/") {
		return "/" + name
	}
	return name
}

func appendNew(list []string, s string) []string {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}

func extGlob(star string, exts []string) string {
	if len(exts) == 0 {
		return star
	}
	return star + "." + braces(exts)
}

func braces(parts []string) string {
	if len(parts) == 1 {
		return parts[0]
	}
	return "{" + strings.Join(parts, ",") + "}"
}

// sectionAdds is what is added to an EditorConfig file.
type sectionAdds struct {
	pairs    []pairAdd
	sections []*newSection
}

type pairAdd struct {
	section         *document.Node
	property, value string
}

type newSection struct {
	name  string
	pairs [][2]string
}

func (a *sectionAdds) section(name string, b *batch) {
	for _, s := range a.sections {
		if s.name == name {
			s.pairs = append(s.pairs, [2]string{b.property, b.value})
			return
		}
	}
	a.sections = append(a.sections, &newSection{name, [][2]string{{b.property, b.value}}})
}

// edits returns the insertions. New sections go to the end: each reaches only
// files that shall have its values, so it may overrule all before it.
func (a *sectionAdds) edits(doc *document.Document) []document.Edit {
	var out []document.Edit
	for _, p := range a.pairs {
		out = append(out, doc.AddPair(p.section, p.property, p.value))
	}
	nl := "\n"
	if bytes.Contains(doc.Src, []byte("\r\n")) {
		nl = "\r\n"
	}
	for i, s := range joined(a.sections) {
		edit := doc.AddSection(nil, s.name, s.pairs)
		if i > 0 && strings.HasPrefix(edit.Text, "[") {
			edit.Text = nl + edit.Text // set off from the one before, which is not in the file yet
		}
		out = append(out, edit)
	}
	return out
}

// contradicted returns values in sections that bear the name of a new one and
// say something else, with what they have to say.
func (a *sectionAdds) contradicted(doc *document.Document) map[*document.Node]any {
	out := map[*document.Node]any{}
	for _, s := range joined(a.sections) {
		for _, p := range s.pairs {
			for _, n := range setters(doc, s.name, p[0]) {
				out[n] = p[1]
			}
		}
	}
	return out
}

// joined makes one section of those that say the same for single extensions.
func joined(sections []*newSection) []*newSection {
	var out []*newSection
	for _, s := range sections {
		ext, single := strings.CutPrefix(s.name, "*.")
		i := slices.IndexFunc(out, func(o *newSection) bool {
			return single && strings.HasPrefix(o.name, "*.") && slices.Equal(o.pairs, s.pairs)
		})
		if i < 0 {
			out = append(out, &newSection{s.name, s.pairs})
			continue
		}
		exts := strings.Split(strings.Trim(strings.TrimPrefix(out[i].name, "*."), "{}"), ",")
		exts = append(exts, strings.Split(strings.Trim(ext, "{}"), ",")...)
		slices.Sort(exts)
		out[i].name = extGlob("*", slices.Compact(exts))
	}
	return out
}
