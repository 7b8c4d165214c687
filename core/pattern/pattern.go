// Package pattern decides which paths a pattern reaches.
//
// Two dialects are compiled here to one small program: the globs of
// EditorConfig section names (https://spec.editorconfig.org, 0.17.2) and the
// patterns of git's ignore and attributes files (gitignore(5)). A match takes
// time in proportion to the length of the pattern times that of the path,
// whatever the pattern looks like.
package pattern

import (
	"strings"
	"unicode/utf8"
)

// Pattern is a compiled glob. Paths given to it are relative to the folder the
// pattern speaks for, with forward slashes and no leading one.
type Pattern struct {
	prog     []instr
	prefixes []string // every path it reaches starts with one of them; none if that is not known
	part     string   // stands in every path it reaches
	only     string   // the one path it reaches, if it is one
	names    *nameSet // set when the last path element alone decides
}

type op uint8

const (
	opMatch    op = iota // end of pattern
	opText               // a given text
	opWords              // one of many given texts
	opAny                // one character but the slash
	opOne                // one character
	opStar               // any characters but the slash
	opStarStar           // any characters
	opClass              // one character of a class
	opSplit              // try next, then each of alts
	opJump               // go to next
	opNumber             // a whole number from lo to hi
)

type instr struct {
	op     op
	text   string
	words  *words
	class  *class
	alts   []int
	next   int
	lo, hi int64
}

type class struct {
	negated bool
	ranges  [][2]rune
}

func (c *class) has(r rune) bool {
	for _, rg := range c.ranges {
		if rg[0] <= r && r <= rg[1] {
			return !c.negated
		}
	}
	return c.negated
}

// Match reports whether the pattern reaches path.
func (p *Pattern) Match(path string) bool {
	if p.names != nil {
		return p.names.match(path[strings.LastIndexByte(path, '/')+1:])
	}
	if !p.mayReach(path) || !strings.Contains(path, p.part) {
		return false
	}
	var few [64]uint64
	m := matcher{prog: p.prog, path: path, seen: few[:]}
	if n := (len(p.prog)*(len(path)+1) + 63) / 64; n > len(few) {
		m.seen = make([]uint64, n)
	}
	return m.run(0, 0)
}

// mayReach reports whether the start of a path does not rule out that the pattern
// reaches it.
func (p *Pattern) mayReach(path string) bool {
	for _, prefix := range p.prefixes {
		if strings.HasPrefix(path, prefix) {
			return true
		}
	}
	return len(p.prefixes) == 0
}

// ByExtension reports whether two files with the same extension (from the last
// dot on) are always both reached or both not.
func (p *Pattern) ByExtension() bool { return p.names != nil && p.names.byExtension() }

// matcher is one run of a program. A state (instruction, position) is entered
// at most once, which bounds the work.
type matcher struct {
	prog []instr
	path string
	seen []uint64
}

func (m *matcher) run(pc, pos int) bool {
	for {
		bit := pc*(len(m.path)+1) + pos
		if m.seen[bit/64]&(1<<(bit%64)) != 0 {
			return false
		}
		m.seen[bit/64] |= 1 << (bit % 64)
		in := &m.prog[pc]
		switch in.op {
		case opMatch:
			return pos == len(m.path)
		case opJump:
			pc = in.next
			continue
		case opSplit:
			for _, alt := range in.alts {
				if m.run(alt, pos) {
					return true
				}
			}
			return false
		case opNumber:
			return m.number(in, pos)
		case opText:
			if !strings.HasPrefix(m.path[pos:], in.text) {
				return false
			}
			pos += len(in.text)
			pc = in.next
			continue
		case opWords:
			return m.word(in, pos)
		}
		if in.op == opStar || in.op == opStarStar {
			if m.run(in.next, pos) {
				return true
			}
		}
		if pos >= len(m.path) {
			return false
		}
		r, size := utf8.DecodeRuneInString(m.path[pos:])
		switch in.op {
		case opAny:
			if r == '/' {
				return false
			}
		case opClass:
			if r == '/' || !in.class.has(r) {
				return false
			}
		case opStar:
			if r == '/' {
				return false
			}
			pos += size
			continue
		case opStarStar:
			pos += size
			continue
		}
		pos += size
		pc = in.next
	}
}

// word tries every one of the words that stands at pos.
func (m *matcher) word(in *instr, pos int) bool {
	for _, n := range in.words.lengths {
		if n > len(m.path)-pos {
			break
		}
		if in.words.known[m.path[pos:pos+n]] && m.run(in.next, pos+n) {
			return true
		}
	}
	return false
}

// number tries every whole number that stands at pos.
func (m *matcher) number(in *instr, pos int) bool {
	i, negative := pos, false
	if i < len(m.path) && (m.path[i] == '-' || m.path[i] == '+') {
		negative = m.path[i] == '-'
		i++
	}
	start, value := i, int64(0)
	for i < len(m.path) && m.path[i] >= '0' && m.path[i] <= '9' && i-start < 18 {
		value = value*10 + int64(m.path[i]-'0')
		i++
		if m.path[start] == '0' && i-start > 1 {
			return false // a number with leading zeros is text
		}
		v := value
		if negative {
			v = -v
		}
		if in.lo <= v && v <= in.hi && m.run(in.next, i) {
			return true
		}
	}
	return false
}
