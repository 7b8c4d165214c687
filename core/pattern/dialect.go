package pattern

import (
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
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

// Literal is a pattern, in any dialect of globs, for exactly a path. A character that no
// line of settings can hold, such as a line break, or a byte that is no text, may be
// any other one.
func Literal(path string) string {
	var b strings.Builder
	for i := 0; i < len(path); {
		r, size := utf8.DecodeRuneInString(path[i:])
		switch {
		case r < ' ' || r >= 0x7f && r < 0xa0 || r == 0x2028 || r == 0x2029 || r == utf8.RuneError && size == 1:
			b.WriteByte('?')
		case strings.ContainsRune(`\*?[]{},!`, r), r == ' ' && i+1 == len(path):
			b.WriteByte('\\')
			b.WriteRune(r)
		default:
			b.WriteRune(r)
		}
		i += size
	}
	return b.String()
}

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
	for _, ig := range slices.Concat(l.ignore.lines, l.globs.lines) {
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
		l.globs.Add(ig)
	case Loose:
		p = strings.TrimSuffix(strings.TrimPrefix(p, "./"), "/")
		whole := loose(p)
		l.tests = append(l.tests, func(rel string) bool {
			for part := rel; ; {
				if whole.Match(part) || whole.Match(part[strings.LastIndexByte(part, '/')+1:]) {
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
		if expr := Expression(strings.TrimPrefix(p, "(?x)")); expr != nil {
			l.tests = append(l.tests, func(rel string) bool { return expr.MatchString("/" + rel) })
		}
	case Contains:
		expr := compileContains(p)
		l.tests = append(l.tests, func(rel string) bool { return expr.MatchString("/" + rel) })
	default:
		if ig, ok := ParseIgnore(p); ok {
			l.ignore.Add(ig)
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

// loose compiles a shell pattern; its stars and question marks cross slashes.
func loose(src string) *Pattern {
	var out []node
	c := &ecParser{src: src}
	for c.pos < len(src) {
		switch rest := src[c.pos:]; rest[0] {
		case '*':
			c.pos++
			if last := len(out) - 1; last < 0 || out[last].op != opStarStar {
				out = append(out, node{op: opStarStar})
			}
		case '?':
			c.pos++
			out = append(out, node{op: opOne})
		case '[':
			if cl, n, ok := parseClass(rest, "!^"); ok {
				c.pos += n
				out = append(out, node{op: opClass, class: cl})
			} else {
				out = withText(out, c.char())
			}
		default:
			out = withText(out, c.char())
		}
	}
	return compile(out)
}

// longestExpression is how long a regular expression in settings may be, in bytes.
const longestExpression = 20_000

// Expression compiles a regular expression; nil where it is none that is known here,
// or longer than anybody writes.
func Expression(text string) *regexp.Regexp {
	if len(text) > longestExpression {
		return nil
	}
	expr, err := regexp.Compile(text)
	if err != nil {
		return nil
	}
	return expr
}

// compileContains makes the expression of a part of a path.
func compileContains(p string) *regexp.Regexp {
	p = p[:min(len(p), longestExpression)]
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
	return l.globs.reaches(rel) || l.ignore.Len() > 0 && l.ignore.Ignores(rel)
}

// ByExtension reports whether two files with the same extension are always
// both reached or both not.
func (l List) ByExtension() bool { return l.simple }
