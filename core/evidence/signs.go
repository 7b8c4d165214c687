package evidence

import (
	"bytes"

	"jollytreaty/core/scan"
)

// between looks at line ends, brackets, commas and semicolons.
func (m *meter) between(list []int32) {
	stack := m.stack
	for _, at := range list {
		c, n := m.src[at], len(stack)
		switch c {
		case '\n':
			m.stack = stack
			m.endLine(int(at))
		case ',':
			if n > 0 {
				stack[n-1].commas++
			}
		case ';':
			if n > 0 {
				stack[n-1].semicolon = true
			}
		case '(', '[', '{':
			if c == '{' && m.traits != nil && m.traits.Brace {
				m.brace(int(at))
			}
			if n == cap(stack) {
				stack = append(stack, bracket{})
			}
			stack = stack[:n+1]
			b := &stack[n] // field by field, which is faster than a copy
			b.at, b.line, b.commas, b.sign, b.semicolon = at, int32(m.start), 0, c, false
		default:
			if n == 0 {
				break
			}
			if m.traits != nil && pairOf(stack[n-1].sign) == c {
				m.closes(&stack[n-1], int(at))
			}
			stack = stack[:n-1] // where they are no pair something was not understood
		}
	}
	m.stack = stack
}

func pairOf(open byte) byte {
	switch open {
	case '(':
		return ')'
	case '[':
		return ']'
	}
	return '}'
}

// before returns the last byte before at that is no blank, and on the same line,
// or 0.
func (m *meter) before(at int) byte {
	for at > m.start && (m.src[at-1] == ' ' || m.src[at-1] == '\t') {
		at--
	}
	if at == m.start {
		return 0
	}
	return m.src[at-1]
}

// endsLine reports whether nothing but blanks stands behind at on its line.
func (m *meter) endsLine(at int) bool {
	for at++; at < len(m.src); at++ {
		switch m.src[at] {
		case ' ', '\t', '\r':
		case '\n':
			return true
		default:
			return false
		}
	}
	return true
}

// opensBlock reports whether a brace behind the byte opens a block.
func opensBlock(c byte) bool { return c == ')' || isWord(c) || c == '>' || c == '"' }

// brace looks where the brace of a block stands that is broken over lines.
func (m *meter) brace(at int) {
	if !m.endsLine(at) {
		return
	}
	if c := m.before(at); c != 0 {
		if opensBlock(c) {
			m.f.sameLine++
		}
		return
	}
	end := m.start
	for end > 0 && (m.src[end-1] == '\n' || m.src[end-1] == '\r' || m.src[end-1] == ' ' || m.src[end-1] == '\t') {
		end--
	}
	if end > 0 && opensBlock(m.src[end-1]) && !(m.comment.End >= end && m.comment.Start < end) {
		m.f.nextLine++
	}
}

// closes looks at a pair of brackets.
func (m *meter) closes(b *bracket, at int) {
	t, from := m.traits, int(b.at)
	if int(b.line) == m.start {
		if b.sign == '{' && t.Space && at > from+1 && m.literalBrace(from) {
			if m.src[from+1] == ' ' && m.src[at-1] == ' ' {
				m.f.spaced++
			} else if m.src[from+1] != ' ' && m.src[at-1] != ' ' {
				m.f.tight++
			}
		}
		return
	}
	if b.commas == 0 || b.semicolon || m.before(at) != 0 || !m.endsLine(from) {
		return
	}
	isList := oneOf(t.Lists, b.sign) && b.sign != '('
	isArgs := b.sign == '(' && t.Args
	if !isList && !isArgs || t.Arms != "" && b.sign == '{' && m.isArms(from) {
		return
	}
	end := at
	for end > from && (m.src[end-1] == '\n' || m.src[end-1] == '\r' || m.src[end-1] == ' ' || m.src[end-1] == '\t') {
		end--
	}
	if m.comment.End >= end { // a comment stands before it
		return
	}
	comma := m.src[end-1] == ','
	line := bytes.TrimLeft(m.src[bytes.LastIndexByte(m.src[:end], '\n')+1:end], " \t")
	if !comma && (bytes.HasPrefix(line, []byte("...")) || bytes.HasPrefix(line, []byte("*")) || bytes.HasPrefix(line, []byte("&")) || bytes.HasPrefix(line, []byte(".."))) {
		return // nothing may follow the rest
	}
	switch {
	case isList && comma:
		m.f.comma++
	case isList:
		m.f.noComma++
	case comma:
		m.f.argComma++
	default:
		m.f.noArgComma++
	}
}

// isArms reports whether the brace at the given place opens a block of branches that
// end in commas.
func (m *meter) isArms(at int) bool {
	line := m.src[bytes.LastIndexByte(m.src[:at], '\n')+1 : at]
	i := bytes.LastIndex(line, []byte(m.traits.Arms))
	end := i + len(m.traits.Arms)
	return i >= 0 && (i == 0 || !isWord(line[i-1])) && (end == len(line) || !isWord(line[end]))
}

// literalBrace reports whether the brace at the given place opens a literal or a
// list of names, and no block.
func (m *meter) literalBrace(at int) bool {
	c := m.before(at)
	if c == '=' && m.src[at-1] == '=' {
		return false // an expression in markup
	}
	if oneOf("(,=:[?", c) {
		return true
	}
	line := bytes.TrimLeft(m.src[m.start:at], " \t")
	for _, word := range []string{"import", "export", "const", "let", "var", "return"} {
		if string(bytes.TrimRight(line, " \t")) == word || string(bytes.TrimRight(line, " \t")) == "import type" {
			return true
		}
	}
	return false
}

// lead is the length of the line's indentation.
func (m *meter) lead() int {
	n := 0
	for m.start+n < len(m.src) && (m.src[m.start+n] == ' ' || m.src[m.start+n] == '\t') {
		n++
	}
	return n
}

// text looks at a text in quotes.
func (m *meter) text(span scan.Span) {
	m.quoted = span
	t := m.traits
	if t == nil || !t.Quotes || span.End-span.Start < 2 || m.block >= 0 && m.lead() > m.block {
		return
	}
	q := m.src[span.End-1]
	body := m.src[span.Start:span.End]
	open := bytes.IndexByte(body, q)
	if q != '\'' && q != '"' || open == len(body)-1 {
		return
	}
	for _, c := range body[open+1 : len(body)-1] {
		switch c {
		case '\'', '"', '\n':
			return
		case '$', '#', '\\':
			if t.Computed {
				return // only one of the two can write it
			}
		}
	}
	if t.Markup && span.Start > 0 && m.src[span.Start-1] == '=' {
		return
	}
	if q == '"' {
		m.f.double++
	} else {
		m.f.single++
	}
}
