package pattern

import "strings"

// Ignore is one line of an ignore list in the manner of gitignore(5).
type Ignore struct {
	*Pattern
	Negated    bool // the line starts with "!": what it reaches is taken back
	FolderOnly bool // the line ends in "/": it reaches folders only
}

// ParseIgnore compiles one line of an ignore or attributes file. It returns
// false for lines that hold no pattern: blank lines and comments.
func ParseIgnore(line string) (Ignore, bool) {
	line = trimBlanks(strings.TrimSuffix(line, "\r"))
	if line == "" || line[0] == '#' {
		return Ignore{}, false
	}
	var ig Ignore
	if line[0] == '!' {
		ig.Negated = true
		line = line[1:]
	}
	if strings.HasSuffix(line, "/") && !strings.HasSuffix(line, `\/`) {
		ig.FolderOnly = true
		line = strings.TrimRight(line, "/")
	}
	var nodes []node
	if strings.Contains(line, "/") {
		line = strings.TrimPrefix(line, "/")
	} else {
		nodes = append(nodes, anyFolder())
	}
	if line == "" {
		return Ignore{}, false
	}
	ig.Pattern = compile(append(nodes, ignoreNodes(line)...))
	return ig, true
}

// trimBlanks drops trailing blanks that no backslash keeps.
func trimBlanks(s string) string {
	for strings.HasSuffix(s, " ") && !strings.HasSuffix(s, `\ `) {
		s = s[:len(s)-1]
	}
	return s
}

func ignoreNodes(src string) []node {
	var out []node
	c := &ecParser{src: src}
	for c.pos < len(src) {
		rest := src[c.pos:]
		switch {
		case rest[0] == '\\' && len(rest) > 1:
			c.pos++
			out = append(out, c.char())
		case rest[0] == '?':
			c.pos++
			out = append(out, node{op: opAny})
		case c.pos == 0 && strings.HasPrefix(rest, "**/"):
			c.pos += 3
			out = append(out, anyFolder())
		case strings.HasPrefix(rest, "/**/"):
			c.pos += 4
			out = append(out, betweenFolders())
		case rest == "/**":
			c.pos += 3
			out = append(out, node{op: opChar, char: '/'}, node{op: opStarStar})
		case rest[0] == '*':
			for c.pos < len(src) && src[c.pos] == '*' {
				c.pos++
			}
			out = append(out, node{op: opStar})
		case rest[0] == '[':
			if cl, n, ok := parseClass(rest, "!^"); ok {
				c.pos += n
				out = append(out, node{op: opClass, class: cl})
			} else {
				out = append(out, c.char())
			}
		default:
			out = append(out, c.char())
		}
	}
	return out
}

// IgnoreList is the lines of one ignore file, in order.
type IgnoreList []Ignore

// ParseIgnoreList compiles an ignore file.
func ParseIgnoreList(text string) IgnoreList {
	var list IgnoreList
	for line := range strings.Lines(text) {
		if ig, ok := ParseIgnore(strings.TrimSuffix(line, "\n")); ok {
			list = append(list, ig)
		}
	}
	return list
}

// Decides returns whether the list speaks about exactly this path, and if so
// whether it ignores it. The last line that reaches the path decides.
func (l IgnoreList) Decides(p string, folder bool) (ignored, spoken bool) {
	for i := len(l) - 1; i >= 0; i-- {
		if (folder || !l[i].FolderOnly) && l[i].Match(p) {
			return !l[i].Negated, true
		}
	}
	return false, false
}

// Ignores reports whether the list takes out the file at p, directly or by
// taking out a folder above it.
func (l IgnoreList) Ignores(p string) bool {
	if !l.mayReach(p) {
		return false
	}
	for i := strings.LastIndexByte(p, '/'); i > 0; i = strings.LastIndexByte(p[:i], '/') {
		if ignored, _ := l.Decides(p[:i], true); ignored {
			return true
		}
	}
	ignored, _ := l.Decides(p, false)
	return ignored
}

// mayReach reports whether the start of a path does not rule out that some line
// reaches it or a folder above it.
func (l IgnoreList) mayReach(p string) bool {
	for i := range l {
		if l[i].names != nil || l[i].Pattern.mayReach(p) {
			return true
		}
	}
	return false
}
