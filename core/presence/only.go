package presence

import (
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
)

// Only tells which of the files in its folder a sign is about: those whose path
// and type both do.
type Only struct {
	Text  string                 // as written, which is the same for the same files
	path  func(path string) bool // nil for all
	types func(id string) bool   // nil for all
}

// Path is the test of paths, from the root of the repository, or nil where
// every path passes.
func (o *Only) Path() func(path string) bool {
	if o == nil {
		return nil
	}
	return o.path
}

// Reaches reports whether the sign is about a file of the type at p.
func (s Seen) Reaches(p, typeID string) bool {
	o := s.Only
	return o == nil || (o.path == nil || o.path(p)) && (o.types == nil || o.types(typeID))
}

// and returns what passes both.
func (o *Only) and(other *Only) *Only {
	switch {
	case o == nil:
		return other
	case other == nil:
		return o
	}
	return &Only{o.Text + " " + other.Text, both(o.path, other.path), both(o.types, other.types)}
}

func both(a, b func(string) bool) func(string) bool {
	switch {
	case a == nil:
		return b
	case b == nil:
		return a
	}
	return func(s string) bool { return a(s) && b(s) }
}

// matching returns the files that patterns of the dialect, relative to the
// folder, are about; nil without patterns.
func matching(d pattern.Dialect, folder string, patterns []string) *Only {
	if len(patterns) == 0 {
		return nil
	}
	list := pattern.Compile(d, patterns)
	return &Only{Text: folder + ":" + strings.Join(patterns, " "), path: func(p string) bool {
		rel, below := relative(p, folder)
		return below && list.Reaches(rel)
	}}
}

func relative(p, folder string) (rel string, below bool) {
	if folder == "." {
		return p, true
	}
	return strings.CutPrefix(p, folder+"/")
}

// onlyNamed returns the files that the arguments of a command line name. It is nil,
// for all, unless every one is a pattern, a file or a folder.
func (r *reading) onlyNamed(files []string, folder string) *Only {
	var patterns, places []string
	if len(files) > maxNames {
		return nil
	}
	for _, name := range files {
		name = strings.Trim(name, `"'`)
		switch p := path.Join(folder, name); {
		case strings.ContainsAny(name, "$@<>") || strings.HasPrefix(name, "{"):
			return nil
		case strings.Contains(name, "*"):
			patterns = append(patterns, name)
		case strings.HasPrefix(name, "!"):
			return nil
		default:
			if _, err := fs.Stat(r.fsys, p); err != nil {
				return nil
			}
			places = append(places, p)
		}
	}
	if len(patterns) == 0 {
		return nil // folders are told by the sign's own
	}
	only := matching(pattern.Paths, folder, patterns)
	inPatterns := only.path
	only.Text += " " + strings.Join(places, " ")
	only.path = func(p string) bool {
		return inPatterns(p) || slices.ContainsFunc(places, func(place string) bool {
			return place == "." || p == place || strings.HasPrefix(p, place+"/")
		})
	}
	return only
}

// onlyHooked returns the files that an item of a list of hooks is about, by
// regular expressions and by kinds of file, some of them with tags of their own.
func onlyHooked(hook *document.Node, tags map[string]string) *Only {
	only := &Only{}
	test := func(key string, want bool) {
		text := textOf(hook, key)
		expr := pattern.Expression(text)
		if text == "" || expr == nil {
			return
		}
		only.Text += " " + key + ":" + text
		only.path = both(only.path, func(p string) bool { return expr.MatchString(p) == want })
	}
	test("files", true)
	test("exclude", false)
	kinds := func(key string, use func(ids []string) func(id string) bool) {
		ids := kindsIn(hook.Get(key), tags)
		if len(ids) == 0 {
			return
		}
		only.Text += " " + key + ":" + strings.Join(ids, " ")
		only.types = both(only.types, use(ids))
	}
	oneOf := func(ids []string) func(string) bool {
		return func(id string) bool { return slices.Contains(ids, id) }
	}
	kinds("types", oneOf)
	kinds("types_or", oneOf)
	kinds("exclude_types", func(ids []string) func(string) bool {
		return func(id string) bool { return !slices.Contains(ids, id) }
	})
	if only.Text == "" {
		return nil
	}
	return only
}

// kindsIn returns the ids of the types that tags name. It is nil, for all, where
// none is of a language, or one is not known.
func kindsIn(n *document.Node, tags map[string]string) []string {
	var ids []string
	for _, tag := range n.Words() {
		id, known := tags[tag.Text()]
		if t := filetype.Named(tag.Text()); !known && t != nil {
			id, known = t.ID, true
		}
		if !known {
			return nil
		}
		if id != "" {
			ids = append(ids, id)
		}
	}
	return ids
}
