package presence

import (
	"regexp"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
)

// declared reads a manifest with structure.
func (r *reading) declared(m *catalog.Manifest, d *document.Document, folder string) {
	for _, key := range m.Keys {
		for _, n := range at(d.Root, key) {
			r.declaration(m, d, n, folder)
		}
	}
}

// at returns the nodes at a path of keys; "*" stands for any key.
func at(n *document.Node, path string) []*document.Node {
	nodes := []*document.Node{n}
	for key := range strings.SplitSeq(path, "/") {
		var next []*document.Node
		for _, n := range nodes {
			if key == "*" {
				next = append(next, n.Items...)
			} else if item := n.Get(key); item != nil {
				next = append(next, item)
			}
		}
		nodes = next
	}
	return nodes
}

// requirement is a package's name with what is said of its version.
var requirement = regexp.MustCompile(`^\s*"?(@?[A-Za-z0-9][A-Za-z0-9._/-]*)(?:\[[^\]]*\])?\s*([^;#]*)`)

// declaration reads a map from names to versions, or a list of requirements.
func (r *reading) declaration(m *catalog.Manifest, d *document.Document, n *document.Node, folder string) {
	item := func(name, version string, node *document.Node) {
		line, _ := d.Position(node.KeyStart)
		r.declares(m, name, version, line, folder)
	}
	switch {
	case n.Kind == document.Map:
		for _, p := range n.Items {
			version := p.Text()
			if p.Kind == document.Map {
				version = textOf(p, m.Versions...)
			}
			item(p.Key, version, p)
		}
	case n.Kind == document.List:
		for _, p := range n.Items {
			if p.Kind == document.Map {
				item(textOf(p, m.Names...), textOf(p, m.Versions...), p)
			} else if match := requirement.FindStringSubmatch(p.Text()); match != nil {
				item(match[1], strings.TrimSpace(match[2]), p)
			}
		}
	default:
		line, _ := d.Position(n.KeyStart)
		for text := range strings.Lines(n.Text()) {
			if match := requirement.FindStringSubmatch(strings.TrimSpace(text)); match != nil {
				r.declares(m, match[1], referred(d.Root, strings.TrimSpace(match[2])), line, folder)
			}
		}
	}
}

// elsewhere is a reference to a key of another section, as tox has them.
var elsewhere = regexp.MustCompile(`\{\[([^\]{}]+)\]([^{}]+)\}`)

// referred puts in what the keys say that a text refers to.
func referred(root *document.Node, text string) string {
	return elsewhere.ReplaceAllStringFunc(text, func(reference string) string {
		parts := elsewhere.FindStringSubmatch(reference)
		if n := root.Get(parts[1]).Get(parts[2]); n != nil {
			return strings.TrimLeft(n.Text(), "= ") // of "name==1.2" the name is the key
		}
		return reference
	})
}

func textOf(n *document.Node, keys ...string) string {
	for _, k := range keys {
		if item := n.Get(k); item != nil {
			return item.Text()
		}
	}
	return ""
}

// declaredInLines reads a manifest or lockfile line by line.
func (r *reading) declaredInLines(m *catalog.Manifest, folder string) {
	if len(r.packages[m.Ecosystem]) == 0 {
		return
	}
	itemExpr := r.compiled(m.Item)
	var versionExpr *regexp.Regexp
	if m.Version != "" {
		versionExpr = r.compiled(m.Version)
	}
	name, at, number := "", 0, 0
	end := func(version string) {
		if name != "" {
			r.declares(m, name, version, at, folder)
		}
		name = ""
	}
	for line := range strings.Lines(r.text) {
		number++
		line = strings.TrimRight(line, "\r\n")
		matches := itemExpr.FindAllStringSubmatch(line, -1)
		if comments(line) {
			matches = nil
		}
		for _, match := range matches {
			end("")
			name, at = match[itemExpr.SubexpIndex("name")], number
			version := ""
			if i := itemExpr.SubexpIndex("version"); i >= 0 {
				version = match[i]
			}
			if versionExpr == nil || version != "" {
				end(version)
			}
		}
		if matches != nil {
			continue
		}
		if versionExpr != nil && name != "" {
			if match := versionExpr.FindStringSubmatch(line); match != nil {
				end(match[versionExpr.SubexpIndex("version")])
			}
		}
	}
	end("")
}

// comments reports whether a line of a manifest is a comment.
func comments(line string) bool {
	text := strings.TrimSpace(line)
	return strings.HasPrefix(text, "#") || strings.HasPrefix(text, "//") || strings.HasPrefix(text, "<!--")
}

func (f *Finder) compiled(expr string) *regexp.Regexp {
	if known, ok := f.expr.Load(expr); ok {
		return known.(*regexp.Regexp)
	}
	compiled := regexp.MustCompile(expr) // a test compiles every one
	f.expr.Store(expr, compiled)
	return compiled
}

// declares adds the programs that come with a package.
func (r *reading) declares(m *catalog.Manifest, name, version string, line int, folder string) {
	version = r.catalog.Places.Ecosystem(m.Ecosystem).Version(strings.TrimSpace(version))
	if m.Least && version != "" && version[0] >= '0' && version[0] <= '9' {
		version = "^" + version
	}
	if strings.ContainsAny(version, "(){}$") {
		version = "" // said elsewhere
	}
	for _, b := range r.named(m.Ecosystem, name) {
		r.add(Sign{Program: b.program, Seen: Seen{As: m.As, Build: m.Build, Line: line, Folder: folder, Version: version, Foreign: b.foreign}})
	}
}

// named returns the programs that a package of an ecosystem brings.
func (f *Finder) named(ecosystem, name string) []bringer {
	kind, by := f.catalog.Places.Ecosystem(ecosystem), f.packages[ecosystem]
	for _, name := range kind.Names(name) {
		if list := by[name]; list != nil {
			return list
		}
	}
	if kind == nil || !kind.Commands {
		return nil
	}
	var out []bringer
	name = kind.Package(name)
	for _, e := range f.commands[name] {
		if slices.Contains(e.Commands, name) {
			out = append(out, bringer{program: e})
		}
	}
	return out
}
