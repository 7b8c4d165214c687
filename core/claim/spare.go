package claim

import (
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
)

// spare is the rules that a part of a settings file lets some files off: one
// rule, or those that a list names.
type spare struct {
	on    *catalog.Switch
	names *document.Node
	at    *document.Node
}

func (s *spare) covers(on *catalog.Switch) bool {
	return s.on == on || s.names != nil && switched{on}.listed(s.names) != nil
}

// findSpares lists the parts of the file that let files off some rules.
func (f *File) findSpares(r Reader, root *document.Node) {
	let := func(globs pattern.Dialect, patterns []string, lets *spare) {
		list := pattern.Compile(globs, patterns)
		f.add(section{place: r.Place, node: lets.at, kind: spareSection, shown: patterns, lets: lets}, reach{list.Reaches, list.ByExtension()})
	}
	for _, s := range r.Place.Spares {
		n := root.Find(s.Key)
		switch {
		case n == nil:
		case n.Kind == document.Scalar:
			for _, line := range sparingLines(n.Text()) {
				let(s.Globs, line.patterns, &spare{names: line.names, at: n})
			}
		default:
			for _, item := range n.Items {
				names, patterns := item.Find(s.Names), []string{item.Key}
				if s.Files != keyItself {
					patterns = lines(item.Find(s.Files))
				}
				if names != nil && len(patterns) > 0 {
					let(s.Globs, patterns, &spare{names: names, at: item})
				}
			}
		}
	}
	for _, q := range r.Program.Rules {
		if q.On == nil {
			continue
		}
		for _, key := range q.On.Spared {
			if n := root.Find(key); n != nil && len(n.Words()) > 0 {
				let(r.Place.Globs, lines(n), &spare{on: q.On, at: n})
			}
		}
	}
}

type sparingLine struct {
	patterns []string
	names    *document.Node
}

// sparingLines reads "pattern,pattern: name, name", one behind the other.
func sparingLines(text string) []sparingLine {
	var out []sparingLine
	for _, word := range strings.Fields(text) {
		patterns, names, starts := strings.Cut(word, ":")
		if starts {
			out = append(out, sparingLine{strings.Split(patterns, ","), &document.Node{Kind: document.List}})
			word = names
		}
		if len(out) == 0 {
			continue
		}
		last := out[len(out)-1].names
		for name := range strings.SplitSeq(word, ",") {
			if name != "" {
				last.Items = append(last.Items, &document.Node{Kind: document.Scalar, Value: name})
			}
		}
	}
	return out
}
