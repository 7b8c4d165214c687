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
			out = withText(out, c.char())
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
			out = append(withText(out, "/"), node{op: opStarStar})
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
				out = withText(out, c.char())
			}
		default:
			out = withText(out, c.char())
		}
	}
	return out
}

// Bounds of a list: of its lines, and of those of them that have to be compared with
// every path one by one.
const (
	maxLines    = 20_000
	maxCompared = 2000
)

// IgnoreList is the lines of one ignore file, or patterns that are compared likewise,
// in order. Those that name one path, one base name or one extension are looked up,
// the others compared one by one.
type IgnoreList struct {
	lines  []Ignore
	lookup *lookup
}

// lookup is the numbers of lines, ascending.
type lookup struct {
	paths, names, extensions map[string][]int32
	rest                     []int32
}

// ParseIgnoreList compiles an ignore file, as far as it does not grow Crowded.
func ParseIgnoreList(text string) IgnoreList {
	var list IgnoreList
	for line := range strings.Lines(text) {
		if list.Crowded() {
			break
		}
		if ig, ok := ParseIgnore(strings.TrimSuffix(line, "\n")); ok {
			list.Add(ig)
		}
	}
	return list
}

// Len is how many lines there are.
func (l IgnoreList) Len() int { return len(l.lines) }

// Crowded reports whether the list has so many lines that no more should be added.
func (l IgnoreList) Crowded() bool {
	return len(l.lines) >= maxLines || l.lookup != nil && len(l.lookup.rest) >= maxCompared
}

// Add adds a line.
func (l *IgnoreList) Add(ig Ignore) {
	if l.lookup == nil {
		l.lookup = &lookup{paths: map[string][]int32{}, names: map[string][]int32{}, extensions: map[string][]int32{}}
	}
	n, by := int32(len(l.lines)), l.lookup
	l.lines = append(l.lines, ig)
	switch {
	case ig.only != "":
		by.paths[ig.only] = append(by.paths[ig.only], n)
	case ig.names != nil && ig.byExtension() || ig.names != nil && len(ig.names.suffixes) == 0:
		for name := range ig.names.exact {
			by.names[name] = append(by.names[name], n)
		}
		for _, suffix := range ig.names.suffixes {
			if suffix == "" {
				by.rest = append(by.rest, n)
				break
			}
			by.extensions[suffix] = append(by.extensions[suffix], n)
		}
	default:
		by.rest = append(by.rest, n)
	}
}

// byExtension reports whether the line is about extensions alone, if about anything
// but names.
func (ig *Ignore) byExtension() bool {
	for _, suffix := range ig.names.suffixes {
		if suffix != "" && strings.LastIndexByte(suffix, '.') != 0 {
			return false
		}
	}
	return true
}

// last returns the number of the last line, behind a given one, that reaches exactly
// the path; the given one where none does.
func (l IgnoreList) last(p string, folder bool, behind int32) int32 {
	if l.lookup == nil {
		return behind
	}
	name := p[strings.LastIndexByte(p, '/')+1:]
	counts := func(i int32) bool { return folder || !l.lines[i].FolderOnly }
	take := func(list []int32) {
		for i := len(list) - 1; i >= 0 && list[i] > behind; i-- {
			if counts(list[i]) {
				behind = list[i]
				return
			}
		}
	}
	if len(l.lookup.paths) > 0 {
		take(l.lookup.paths[p])
	}
	if len(l.lookup.names) > 0 {
		take(l.lookup.names[name])
	}
	if dot := strings.LastIndexByte(name, '.'); dot >= 0 && len(l.lookup.extensions) > 0 {
		take(l.lookup.extensions[name[dot:]])
	}
	for i := len(l.lookup.rest) - 1; i >= 0 && l.lookup.rest[i] > behind; i-- {
		if n := l.lookup.rest[i]; counts(n) && l.lines[n].Match(p) {
			return n
		}
	}
	return behind
}

// Decides returns whether the list speaks about exactly this path, and if so
// whether it ignores it. The last line that reaches the path decides.
func (l IgnoreList) Decides(p string, folder bool) (ignored, spoken bool) {
	n := l.last(p, folder, -1)
	return n >= 0 && !l.lines[n].Negated, n >= 0
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

// reaches reports whether the last line that is about the file at p, or a folder above
// it, is none that takes back.
func (l IgnoreList) reaches(p string) bool {
	n := l.last(p, false, -1)
	for i := strings.LastIndexByte(p, '/'); i > 0; i = strings.LastIndexByte(p[:i], '/') {
		n = l.last(p[:i], true, n)
	}
	return n >= 0 && !l.lines[n].Negated
}

// mayReach reports whether the start of a path does not rule out that some line
// reaches it or a folder above it.
func (l IgnoreList) mayReach(p string) bool {
	if l.lookup == nil {
		return false
	}
	if len(l.lookup.paths)+len(l.lookup.names)+len(l.lookup.extensions) > 0 {
		return true
	}
	for _, i := range l.lookup.rest {
		if l.lines[i].names != nil || l.lines[i].Pattern.mayReach(p) {
			return true
		}
	}
	return false
}
