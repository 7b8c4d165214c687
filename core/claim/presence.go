package claim

import (
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
)

// signs is what to look for in one file that runs or brings programs.
type signs struct {
	path   string
	as     string
	folder string // the part of the tree it concerns
	marks  []programMark
	runs   bool // look for every program's commands
}

type programMark struct {
	program   *catalog.Entry
	text      string
	elsewhere bool // shows where its settings are, not that it is there
}

// signFinder recognises the files in which programs show.
type signFinder struct {
	catalog *catalog.Catalog
	runs    []runPattern
	byBase  map[string][]markedFile
	// A cheap first test: base names and endings any run pattern can match.
	bases    map[string]bool
	parents  map[string]bool
	commands []programMark
}

type runPattern struct {
	as string
	pattern.Ignore
	depth int // slashes in the pattern
}

type markedFile struct {
	file string
	as   string
	programMark
}

func newSignFinder(c *catalog.Catalog) *signFinder {
	s := &signFinder{catalog: c, byBase: map[string][]markedFile{}, bases: map[string]bool{}, parents: map[string]bool{}}
	for _, run := range c.Runs {
		for _, text := range run.Files {
			line := text
			if strings.Contains(text, "/") {
				line = "**/" + text
				s.parents[path.Base(path.Dir(text))] = true
			} else {
				s.bases[strings.TrimSuffix(text, ".*")] = true
			}
			if ig, ok := pattern.ParseIgnore(line); ok {
				s.runs = append(s.runs, runPattern{run.As, ig, strings.Count(text, "/")})
			}
		}
	}
	for _, e := range c.Entries {
		for _, m := range e.Marks {
			for _, f := range m.Files {
				s.byBase[path.Base(f)] = append(s.byBase[path.Base(f)], markedFile{f, m.As, programMark{e, m.Text, m.As == "elsewhere"}})
			}
		}
		for _, command := range e.Commands {
			s.commands = append(s.commands, programMark{program: e, text: command})
		}
	}
	return s
}

// of returns what to look for in the file at p, or nil.
func (s *signFinder) of(p string) *signs {
	slash := strings.LastIndexByte(p, '/')
	base, parent := p[slash+1:], ""
	if slash > 0 {
		parent = p[strings.LastIndexByte(p[:slash], '/')+1 : slash]
	}
	marked := s.byBase[base]
	stem := base
	if base != "" {
		if i := strings.IndexByte(base[1:], '.'); i >= 0 && base[0] == '.' {
			stem = base[:i+1]
		}
	}
	if marked == nil && !s.parents[parent] && !s.bases[base] && !s.bases[stem] {
		return nil
	}
	out := &signs{path: p, folder: folderAbove(p, 0)}
	for _, m := range marked {
		if p == m.file || strings.HasSuffix(p, "/"+m.file) {
			if out.as = m.as; m.elsewhere {
				out.as = "dependency"
			}
			if wider := folderAbove(p, strings.Count(m.file, "/")); Within(out.folder, wider) {
				out.folder = wider // of several patterns the longest says where the project is
			}
			out.marks = append(out.marks, m.programMark)
		}
	}
	for _, r := range s.runs {
		if r.Match(p) {
			out.as, out.runs, out.folder = r.as, true, folderAbove(p, r.depth)
			break
		}
	}
	if out.marks == nil && !out.runs {
		return nil
	}
	return out
}

// folderAbove returns the folder of p, less so many more levels.
func folderAbove(p string, levels int) string {
	dir := path.Dir(p)
	for ; levels > 0 && dir != "."; levels-- {
		dir = path.Dir(dir)
	}
	return dir
}

// look reads the files that run or bring programs.
func (s *signFinder) look(fsys fs.FS, paths []string, p *Picture) {
	var all []*signs
	for _, p := range paths {
		if sg := s.of(p); sg != nil {
			all = append(all, sg)
		}
	}
	found := make([][]programSeen, len(all))
	each(len(all), func(i int) {
		if src, err := readAll(fsys, all[i].path); err == nil && len(src) <= document.MaxSize {
			found[i] = s.read(all[i], string(src))
		}
	})
	p.Seen, p.flagged, p.elsewhere = map[*catalog.Entry][]Seen{}, map[*catalog.Entry][]Seen{}, map[*catalog.Entry][]Seen{}
	for _, list := range found {
		for _, f := range list {
			if f.elsewhere {
				p.elsewhere[f.program] = append(p.elsewhere[f.program], f.seen)
				continue
			}
			p.Seen[f.program] = append(p.Seen[f.program], f.seen)
			if f.flagged {
				p.flagged[f.program] = append(p.flagged[f.program], f.seen)
			}
		}
	}
}

type programSeen struct {
	program   *catalog.Entry
	seen      Seen
	flagged   bool // its command line gives settings
	elsewhere bool // shows where its settings are, not that it is there
}

// read returns the first sign of each program in the text.
func (s *signFinder) read(sg *signs, text string) []programSeen {
	var out []programSeen
	had := map[*catalog.Entry]bool{}
	number := 0
	for line := range strings.Lines(text) {
		number++
		line = withoutComment(line)
		here := Seen{As: sg.as, Path: sg.path, Line: number, Folder: sg.folder}
		for _, m := range sg.marks {
			if strings.Contains(line, m.text) && (m.elsewhere || !had[m.program]) {
				had[m.program] = had[m.program] || !m.elsewhere
				out = append(out, programSeen{program: m.program, seen: here, elsewhere: m.elsewhere})
			}
		}
		if !sg.runs || isTitle(line) {
			continue
		}
		for _, c := range s.commands {
			if at := wordAt(line, c.text); at >= 0 {
				rest := line[at+len(c.text):]
				flagged := slices.ContainsFunc(c.program.Flags, func(flag string) bool { return wordAt(rest, flag) >= 0 })
				if flagged || !had[c.program] {
					had[c.program] = true
					out = append(out, programSeen{program: c.program, seen: here, flagged: flagged})
				}
			}
		}
	}
	return out
}

// withoutComment cuts a line at a comment sign that stands at its start or
// behind a blank.
func withoutComment(line string) string {
	for _, sign := range []string{"#", "//"} {
		for at := 0; ; {
			i := strings.Index(line[at:], sign)
			if i < 0 {
				break
			}
			at += i
			if before := strings.TrimRight(line[:at], " \t"); before == "" || len(before) < at {
				return line[:at]
			}
			at += len(sign)
		}
	}
	return line
}

// isTitle reports whether a line of a CI file only gives a step its name.
func isTitle(line string) bool {
	text := strings.TrimPrefix(strings.TrimSpace(line), "- ")
	return strings.HasPrefix(text, "name:")
}

// wordAt returns where the command stands in the line as words of its own, or
// -1.
func wordAt(line, command string) int {
	for at := 0; ; {
		i := strings.Index(line[at:], command)
		if i < 0 {
			return -1
		}
		start, end := at+i, at+i+len(command)
		if (start == 0 || !wordByte(line[start-1])) && (end == len(line) || !wordByte(line[end]) && line[end] != '/') {
			return start
		}
		at = start + 1
	}
}

func wordByte(b byte) bool {
	return b == '-' || b == '_' || b == '.' || b == '@' || '0' <= b && b <= '9' || 'a' <= b && b <= 'z' || 'A' <= b && b <= 'Z'
}

// showsIn reports whether a settings file shows that a program is in play.
func (r Reader) showsIn(f *File) bool {
	if r.Ignores || r.Place.Shared {
		return false
	}
	if len(r.Place.OnlyKeys) == 0 {
		return true
	}
	if f.Doc == nil {
		return false
	}
	return slices.ContainsFunc(f.Doc.Root.Items, func(section *document.Node) bool {
		return slices.ContainsFunc(section.Items, func(n *document.Node) bool {
			return slices.ContainsFunc(r.Place.OnlyKeys, func(key string) bool {
				prefix, star := strings.CutSuffix(key, "*")
				return n.Key == key || star && strings.HasPrefix(n.Key, prefix)
			})
		})
	})
}
