package pattern

import (
	"regexp"
	"slices"
	"strings"
)

// Dialect is a way of writing patterns in settings. Paths they are compared
// with are relative to the folder of the settings file.
type Dialect string

// The dialects.
const (
	Lines    Dialect = ""         // lines of an ignore list, gitignore(5)
	Names    Dialect = "names"    // globs; one without a slash is about base names
	Paths    Dialect = "paths"    // globs from the settings file's folder
	Loose    Dialect = "loose"    // shell patterns whose stars cross slashes, about the path, a folder above or the base name
	Regexp   Dialect = "regexp"   // regular expressions found in the path, which has a slash before it
	Contains Dialect = "contains" // a part of the path, "*" for any characters
	Type     Dialect = "type"     // names of languages, not patterns
)

// Dialects are the names of all dialects.
var Dialects = []Dialect{Lines, Names, Paths, Loose, Regexp, Contains, Type}

// List is patterns that reach files together. The zero List reaches none.
type List struct {
	ignore  IgnoreList
	globs   IgnoreList // the last that is about a file or a folder above it decides
	tests   []func(string) bool
	simple  bool // the extension alone decides
	Entries int
}

// Compile makes a list of patterns written in the dialect.
func Compile(d Dialect, patterns []string) List {
	l := List{simple: len(patterns) > 0, Entries: len(patterns)}
	for _, p := range patterns {
		l.add(d, p)
	}
	for _, ig := range slices.Concat(l.ignore, l.globs) {
		l.simple = l.simple && !ig.FolderOnly && !ig.Negated && ig.ByExtension()
	}
	l.simple = l.simple && len(l.tests) == 0
	return l
}

func (l *List) add(d Dialect, p string) {
	switch d {
	case Names, Paths:
		var ig Ignore
		if rest, negated := strings.CutPrefix(p, "!"); negated {
			ig.Negated, p = true, rest
		}
		p = strings.TrimPrefix(p, "./")
		if rest, folder := strings.CutSuffix(p, "/"); folder {
			ig.FolderOnly, p = true, rest
		}
		if p == "." || p == "" {
			p = "**"
		}
		ig.Pattern = glob(p, d == Names)
		l.globs = append(l.globs, ig)
	case Loose:
		p = strings.TrimSuffix(strings.TrimPrefix(p, "./"), "/")
		whole := compileParts(p)
		l.tests = append(l.tests, func(rel string) bool {
			for part := rel; ; {
				if whole.MatchString(part) || whole.MatchString(part[strings.LastIndexByte(part, '/')+1:]) {
					return true
				}
				i := strings.LastIndexByte(part, '/')
				if i < 0 {
					return false
				}
				part = part[:i]
			}
		})
	case Regexp:
		if expr, err := regexp.Compile(strings.TrimPrefix(p, "(?x)")); err == nil {
			l.tests = append(l.tests, func(rel string) bool { return expr.MatchString("/" + rel) })
		}
	case Contains:
		expr := compileContains(p)
		l.tests = append(l.tests, func(rel string) bool { return expr.MatchString("/" + rel) })
	default:
		if ig, ok := ParseIgnore(p); ok {
			l.ignore = append(l.ignore, ig)
		}
	}
}

// glob compiles a glob with braces. One without a slash is about base names
// where names says so; "**/" stands for any folder or none.
func glob(text string, names bool) *Pattern {
	var nodes []node
	if names && !strings.Contains(text, "/") {
		nodes = append(nodes, anyFolder())
	}
	text = strings.TrimPrefix(text, "/")
	for strings.HasPrefix(text, "**/") {
		nodes = []node{anyFolder()}
		text = text[3:]
	}
	c := &ecParser{src: text, paired: bracesPaired(text)}
	return compile(append(nodes, c.sequence(false)...))
}

// compileParts makes a shell pattern's regular expression; its stars cross
// slashes.
func compileParts(p string) *regexp.Regexp {
	var b strings.Builder
	b.WriteString("^(?s:")
	for i := 0; i < len(p); i++ {
		switch c := p[i]; c {
		case '*':
			b.WriteString(".*")
		case '?':
			b.WriteByte('.')
		case '[':
			if end := strings.IndexByte(p[i+1:], ']'); end > 0 {
				b.WriteString("[" + strings.Replace(p[i+1:i+1+end], "!", "^", 1) + "]")
				i += end + 1
				continue
			}
			b.WriteString(`\[`)
		default:
			b.WriteString(regexp.QuoteMeta(string(c)))
		}
	}
	b.WriteString(")$")
	expr, err := regexp.Compile(b.String())
	if err != nil {
		return regexp.MustCompile("^" + regexp.QuoteMeta(p) + "$")
	}
	return expr
}

func compileContains(p string) *regexp.Regexp {
	parts := strings.Split(p, "*")
	for i := range parts {
		parts[i] = regexp.QuoteMeta(parts[i])
	}
	return regexp.MustCompile(strings.Join(parts, ".*"))
}

// Reaches reports whether the list is about the file at rel, or a folder above
// it.
func (l List) Reaches(rel string) bool {
	for _, test := range l.tests {
		if test(rel) {
			return true
		}
	}
	for i := len(l.globs) - 1; i >= 0; i-- {
		g := l.globs[i]
		for part, folder := rel, false; ; folder = true {
			if (folder || !g.FolderOnly) && g.Match(part) {
				return !g.Negated
			}
			slash := strings.LastIndexByte(part, '/')
			if slash < 0 {
				break
			}
			part = part[:slash]
		}
	}
	return len(l.ignore) > 0 && l.ignore.Ignores(rel)
}

// ByExtension reports whether two files with the same extension are always
// both reached or both not.
func (l List) ByExtension() bool { return l.simple }
