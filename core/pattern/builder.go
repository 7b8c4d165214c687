package pattern

import (
	"slices"
	"strings"
)

// node is a parsed pattern element; a pattern is a sequence of them.
type node struct {
	op     op
	text   []byte // for opText
	class  *class
	alts   [][]node // for opSplit
	lo, hi int64
}

func compile(nodes []node) *Pattern {
	p := &Pattern{}
	p.emit(nodes)
	p.prog = append(p.prog, instr{op: opMatch})
	p.names = simpleNames(nodes)
	p.prefixes = prefixesOf(nodes)
	if len(nodes) == 1 && nodes[0].op == opText {
		p.only = string(nodes[0].text)
	}
	for _, n := range nodes {
		if n.op == opText && len(n.text) > len(p.part) {
			p.part = string(n.text)
		}
	}
	return p
}

// prefixesOf returns what the paths that nodes reach start with: a text, or the
// texts that alternatives start with; none where one starts with anything.
func prefixesOf(nodes []node) []string {
	var out []string
	starts := [][]node{nodes}
	if len(nodes) > 0 && nodes[0].op == opSplit {
		starts = nodes[0].alts
	}
	for _, start := range starts {
		if len(start) == 0 || start[0].op != opText || len(out) == maxNames {
			return nil
		}
		out = append(out, string(start[0].text))
	}
	return out
}

func (p *Pattern) emit(nodes []node) {
	for _, n := range nodes {
		if w := wordsOf(n); w != nil {
			p.prog = append(p.prog, instr{op: opWords, words: w, next: len(p.prog) + 1})
			continue
		}
		if n.op != opSplit {
			p.prog = append(p.prog, instr{op: n.op, text: string(n.text), class: n.class, lo: n.lo, hi: n.hi, next: len(p.prog) + 1})
			continue
		}
		split := len(p.prog)
		p.prog = append(p.prog, instr{op: opSplit})
		var jumps, alts []int
		for _, alt := range n.alts {
			alts = append(alts, len(p.prog))
			p.emit(alt)
			jumps = append(jumps, len(p.prog))
			p.prog = append(p.prog, instr{op: opJump})
		}
		p.prog[split].alts = alts
		for _, j := range jumps {
			p.prog[j].next = len(p.prog)
		}
	}
}

// words are alternatives of plain texts, looked up by their lengths.
type words struct {
	known   map[string]bool
	lengths []int // ascending
}

// fewWords is how many alternatives are tried one by one.
const fewWords = 8

// wordsOf returns the words that a node is a choice of, nil where there are few of
// them or it is something else.
func wordsOf(n node) *words {
	if n.op != opSplit || len(n.alts) <= fewWords {
		return nil
	}
	w := &words{known: map[string]bool{}}
	for _, alt := range n.alts {
		text := ""
		switch {
		case len(alt) == 1 && alt[0].op == opText:
			text = string(alt[0].text)
		case len(alt) > 0:
			return nil
		}
		w.known[text] = true
	}
	for text := range w.known {
		if i, had := slices.BinarySearch(w.lengths, len(text)); !had {
			w.lengths = slices.Insert(w.lengths, i, len(text))
		}
	}
	return w
}

// anyFolder matches nothing or a path that ends in a slash: the prefix of a
// pattern that may match at any depth.
func anyFolder() node {
	return node{op: opSplit, alts: [][]node{{}, {{op: opStarStar}, literal("/")}}}
}

// betweenFolders matches what "/**/" stands for: a slash, or a slash, any
// path and a slash.
func betweenFolders() node {
	return node{op: opSplit, alts: [][]node{{literal("/")}, {literal("/"), {op: opStarStar}, literal("/")}}}
}

func literal(s string) node { return node{op: opText, text: []byte(s)} }

// withText adds a text to a sequence.
func withText(to []node, text string) []node {
	if last := len(to) - 1; last >= 0 && to[last].op == opText {
		to[last].text = append(to[last].text, text...)
		return to
	}
	return append(to, literal(text))
}

// nameSet holds the base names a simple pattern matches: exact ones, and
// endings behind a star. It spares the general matcher on the path every file
// takes.
type nameSet struct {
	exact    map[string]bool
	suffixes []string
}

func (s *nameSet) match(name string) bool {
	for _, suffix := range s.suffixes {
		if strings.HasSuffix(name, suffix) {
			return true
		}
	}
	return s.exact[name]
}

func (s *nameSet) byExtension() bool {
	for _, suffix := range s.suffixes {
		if suffix != "" && strings.LastIndexByte(suffix, '.') != 0 {
			return false
		}
	}
	return len(s.exact) == 0
}

// Bounds of the expansion of alternatives into a name set, the latter in bytes.
const (
	maxNames    = 256
	longestName = 1024
)

// simpleNames returns the name set of a pattern that may match at any depth
// and whose remainder is alternatives of literals, each at most led by a star;
// nil for any other pattern.
func simpleNames(nodes []node) *nameSet {
	if len(nodes) == 0 || !isAnyFolder(nodes[0]) {
		return nil
	}
	rest := slices.Clone(nodes[1:])
	if len(rest) > 0 && rest[0].op == opStarStar {
		rest[0].op = opStar // behind any folder the two reach the same files
	}
	texts, ok := expand(rest, []string{""})
	if !ok {
		return nil
	}
	set := &nameSet{exact: map[string]bool{}}
	for _, t := range texts {
		rest, star := strings.CutPrefix(t, starMark)
		if strings.Contains(rest, starMark) || strings.Contains(rest, "/") {
			return nil
		}
		if star {
			set.suffixes = append(set.suffixes, rest)
		} else {
			set.exact[rest] = true
		}
	}
	return set
}

func isAnyFolder(n node) bool {
	return n.op == opSplit && len(n.alts) == 2 && len(n.alts[0]) == 0 &&
		len(n.alts[1]) == 2 && n.alts[1][0].op == opStarStar && string(n.alts[1][1].text) == "/"
}

// starMark stands for a star in an expanded text; no path holds a NUL.
const starMark = "\x00"

func expand(nodes []node, prefixes []string) ([]string, bool) {
	for _, n := range nodes {
		var tails []string
		switch n.op {
		case opText:
			tails = []string{string(n.text)}
		case opStar:
			tails = []string{starMark}
		case opSplit:
			if len(n.alts) > maxNames {
				return nil, false
			}
			for _, alt := range n.alts {
				t, ok := expand(alt, []string{""})
				if !ok {
					return nil, false
				}
				tails = append(tails, t...)
			}
		default:
			return nil, false
		}
		if len(prefixes)*len(tails) > maxNames {
			return nil, false
		}
		next := make([]string, 0, len(prefixes)*len(tails))
		for _, p := range prefixes {
			for _, t := range tails {
				if len(p)+len(t) > longestName {
					return nil, false
				}
				next = append(next, p+t)
			}
		}
		prefixes = next
	}
	return prefixes, true
}
