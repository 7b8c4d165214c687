package pattern

import (
	"strconv"
	"strings"
	"unicode/utf8"
)

// EditorConfig compiles a section name of the EditorConfig specification.
// Braces that do not pair, that hold a single choice, or that are empty stand
// for themselves, as do brackets that do not close or that hold a slash.
func EditorConfig(glob string) *Pattern {
	var nodes []node
	if slash := outsideBrackets(glob, '/'); !slash {
		nodes = append(nodes, anyFolder())
	} else {
		glob = strings.TrimPrefix(glob, "/")
	}
	c := &ecParser{src: glob, paired: bracesPaired(glob)}
	return compile(append(nodes, c.sequence(false)...))
}

type ecParser struct {
	src    string
	pos    int
	paired bool
}

func (c *ecParser) sequence(inBraces bool) []node {
	var out []node
	for c.pos < len(c.src) {
		switch ch := c.src[c.pos]; {
		case inBraces && (ch == ',' || ch == '}'):
			return out
		case ch == '\\' && c.pos+1 < len(c.src):
			c.pos++
			out = withText(out, c.char())
		case ch == '?':
			c.pos++
			out = append(out, node{op: opAny})
		case strings.HasPrefix(c.src[c.pos:], "/**/"):
			c.pos += 3 // the closing slash may open the next "/**/"
			out = append(out, betweenFolders())
			for strings.HasPrefix(c.src[c.pos:], "/**/") {
				c.pos += 3
			}
			c.pos++
		case strings.HasPrefix(c.src[c.pos:], "**"):
			for c.pos < len(c.src) && c.src[c.pos] == '*' {
				c.pos++
			}
			out = append(out, node{op: opStarStar})
		case ch == '*':
			c.pos++
			out = append(out, node{op: opStar})
		case ch == '[':
			if cl, n, ok := parseClass(c.src[c.pos:], "!"); ok {
				c.pos += n
				out = append(out, node{op: opClass, class: cl})
			} else {
				out = withText(out, c.char())
			}
		case ch == '{' && c.paired:
			if braced := c.braces(); braced[0].op == opText { // they stand for themselves
				out = append(withText(out, string(braced[0].text)), braced[1:]...)
			} else {
				out = append(out, braced...)
			}
		default:
			out = withText(out, c.char())
		}
	}
	return out
}

// char returns the next character.
func (c *ecParser) char() string {
	_, size := utf8.DecodeRuneInString(c.src[c.pos:])
	c.pos += size
	return c.src[c.pos-size : c.pos]
}

// braces reads "{a,b}", "{1..9}" or braces that stand for themselves.
func (c *ecParser) braces() []node {
	if lo, hi, n, ok := numberRange(c.src[c.pos:]); ok {
		c.pos += n
		return []node{{op: opNumber, lo: lo, hi: hi}}
	}
	c.pos++
	var alts [][]node
	for {
		alts = append(alts, c.sequence(true))
		if c.pos >= len(c.src) || c.src[c.pos] == '}' {
			break
		}
		c.pos++ // the comma
	}
	c.pos++ // the closing brace
	if len(alts) == 1 {
		out := []node{literal("{")}
		for _, n := range alts[0] {
			if n.op == opText {
				out = withText(out, string(n.text))
			} else {
				out = append(out, n)
			}
		}
		return withText(out, "}")
	}
	return []node{{op: opSplit, alts: alts}}
}

// Bounds of what a pair of brackets holds, in bytes: two whole numbers, and the
// characters of a class.
const (
	longestRange = 64
	longestClass = 1024
)

// numberRange reads "{num1..num2}"; the ends may come in either order.
func numberRange(s string) (lo, hi int64, n int, ok bool) {
	end := strings.IndexByte(s[:min(len(s), longestRange)], '}')
	if end < 0 {
		return
	}
	a, b, found := strings.Cut(s[1:end], "..")
	if !found {
		return
	}
	lo, errLo := strconv.ParseInt(a, 10, 64)
	hi, errHi := strconv.ParseInt(b, 10, 64)
	if errLo != nil || errHi != nil {
		return 0, 0, 0, false
	}
	return min(lo, hi), max(lo, hi), end + 1, true
}

// bracesPaired reports whether every brace outside escapes has its partner.
func bracesPaired(s string) bool {
	depth := 0
	for i := 0; i < len(s); i++ {
		switch s[i] {
		case '\\':
			i++
		case '{':
			depth++
		case '}':
			if depth--; depth < 0 {
				return false
			}
		}
	}
	return depth == 0
}

// outsideBrackets reports whether s holds ch outside a character class.
func outsideBrackets(s string, ch byte) bool {
	for i := 0; i < len(s); i++ {
		switch s[i] {
		case '\\':
			i++
		case '[':
			if _, n, ok := parseClass(s[i:], "!"); ok {
				i += n - 1
			}
		case ch:
			return true
		}
	}
	return false
}

// parseClass reads a character class at the start of s, where any of the
// characters in negators right after the bracket negates it. It returns the
// bytes read.
func parseClass(s, negators string) (*class, int, bool) {
	cl := &class{}
	s = s[:min(len(s), longestClass)]
	i := 1
	if i < len(s) && strings.IndexByte(negators, s[i]) >= 0 {
		cl.negated = true
		i++
	}
	first := true
	for i < len(s) {
		if s[i] == ']' && !first {
			return cl, i + 1, true
		}
		if strings.HasPrefix(s[i:], "[:") {
			if name, _, closed := strings.Cut(s[i+2:], ":]"); closed {
				if named, ok := namedClasses[name]; ok {
					cl.ranges = append(cl.ranges, named...)
					i += len("[:" + name + ":]")
					first = false
					continue
				}
			}
		}
		lo, size, ok := classChar(s[i:])
		if !ok {
			return nil, 0, false
		}
		i += size
		hi := lo
		if i+1 < len(s) && s[i] == '-' && s[i+1] != ']' {
			h, size, ok := classChar(s[i+1:])
			if !ok {
				return nil, 0, false
			}
			hi = h
			i += 1 + size
		}
		cl.ranges = append(cl.ranges, [2]rune{lo, hi})
		first = false
	}
	return nil, 0, false
}

func classChar(s string) (rune, int, bool) {
	skip := 0
	if len(s) > 1 && s[0] == '\\' {
		skip = 1
	}
	r, size := utf8.DecodeRuneInString(s[skip:])
	return r, size + skip, r != '/' && size > 0
}

var namedClasses = map[string][][2]rune{
	"alpha":  {{'a', 'z'}, {'A', 'Z'}},
	"digit":  {{'0', '9'}},
	"alnum":  {{'a', 'z'}, {'A', 'Z'}, {'0', '9'}},
	"lower":  {{'a', 'z'}},
	"upper":  {{'A', 'Z'}},
	"space":  {{' ', ' '}, {'\t', '\r'}},
	"xdigit": {{'0', '9'}, {'a', 'f'}, {'A', 'F'}},
	"punct":  {{'!', '/'}, {':', '@'}, {'[', '`'}, {'{', '~'}},
}
