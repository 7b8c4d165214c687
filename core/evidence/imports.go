package evidence

import (
	"bytes"
	"cmp"
	"slices"

	"jollytreaty/core/filetype"
)

// importLines looks how the first run of import lines is ordered.
type importLines struct {
	keys   [][]byte // of the block at hand
	other  [][]byte // of its second section
	blocks int
	count  int
	sorted bool
	over   bool
	gap    bool
	parts  *filetype.Parts // of the paths that the language imports; nil for none
	inside bool            // a list of imports in brackets, or an import that goes on
}

func (l *importLines) reset() {
	l.keys, l.other, l.blocks, l.count, l.sorted, l.over, l.gap, l.inside = l.keys[:0], l.other[:0], 0, 0, true, false, false, false
}

func (l *importLines) blank() { l.gap = l.count > 0 }

// line looks at a line of code. One that is indented cannot begin an import.
func (l *importLines) line(m *meter, line []byte, lead int) {
	t := m.traits
	l.parts = t.Parts
	if t.Quoted {
		switch {
		case l.inside && line[lead] == ')':
			l.over = true
			l.flush()
		case l.inside && m.quoted.End > m.start:
			l.add(m.src[m.quoted.Start:m.quoted.End], false)
		case m.inside == 0 && bytes.HasPrefix(line, []byte(t.Imports[0])):
			l.inside = true
		}
		return
	}
	if m.inside > 0 && !(t.Module && line[lead] == '}') {
		return // it goes on
	}
	for _, start := range t.Imports {
		if !bytes.HasPrefix(line, []byte(start)) {
			continue
		}
		key := line[len(start):]
		if t.Module {
			if m.quoted.End <= m.start {
				l.inside = true // the module comes on a later line
				return
			}
			key = m.src[m.quoted.Start:m.quoted.End]
		}
		word := bytes.TrimRight([]byte(start), " ")
		l.add(key, t.Sections != "" && (string(word) == t.Sections || bytes.HasPrefix(key, []byte(t.Sections+" "))))
		return
	}
	if l.inside && line[lead] == '}' && m.quoted.End > m.start {
		l.inside = false
		l.add(m.src[m.quoted.Start:m.quoted.End], false)
		return
	}
	if l.count > 0 {
		l.over = true
		l.flush()
	}
}

func (l *importLines) add(key []byte, second bool) {
	if l.gap {
		l.flush()
	}
	l.gap = false
	l.count++
	key = bytes.TrimRight(key, " \t;")
	if second {
		l.other = append(l.other, key)
	} else {
		l.keys = append(l.keys, key)
	}
}

// flush ends a block.
func (l *importLines) flush() {
	if len(l.keys)+len(l.other) == 0 {
		return
	}
	l.blocks++
	l.sorted = l.sorted && l.inOrder(l.keys) && l.inOrder(l.other)
	l.keys, l.other = l.keys[:0], l.other[:0]
}

// inOrder reports whether the keys ascend: with regard to case or without, or as the
// language's own formatter orders the parts of paths.
func (l *importLines) inOrder(keys [][]byte) bool {
	return slices.IsSortedFunc(keys, bytes.Compare) ||
		slices.IsSortedFunc(keys, func(a, b []byte) int { return bytes.Compare(bytes.ToLower(a), bytes.ToLower(b)) }) ||
		l.parts != nil && slices.IsSortedFunc(keys, l.byParts)
}

// byParts compares two paths part by part: by the parts' ranks, then by their texts.
func (l *importLines) byParts(a, b []byte) int {
	for {
		x, restA, moreA := bytes.Cut(a, []byte(l.parts.Between))
		y, restB, moreB := bytes.Cut(b, []byte(l.parts.Between))
		if c := cmp.Or(cmp.Compare(l.parts.Rank(x), l.parts.Rank(y)), bytes.Compare(x, y)); c != 0 {
			return c
		}
		switch {
		case !moreA && !moreB:
			return 0
		case !moreA:
			return -1
		case !moreB:
			return 1
		}
		a, b = restA, restB
	}
}

// order is the order that was found; fewer than three imports have none.
func (l *importLines) order() importOrder {
	l.flush()
	switch {
	case l.count < 3:
		return noImports
	case !l.sorted:
		return unsortedImports
	case l.blocks > 1:
		return groupedImports
	}
	return sortedImports
}
