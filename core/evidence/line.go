package evidence

import (
	"bytes"
	"encoding/binary"
	"math"
	"math/bits"

	"jollytreaty/core/scan"
)

// endLine takes stock of the line that ends at end, and starts the next.
func (m *meter) endLine(end int) {
	line := m.src[m.start:end]
	if n := len(line); n > 0 && line[n-1] == '\r' {
		line = line[:n-1]
	}
	lead, tabs := indentOf(line)
	if m.keep != nil {
		starts := m.literal || m.block >= 0 && lead > m.block
		m.keep.starts, m.keep.ends = append(m.keep.starts, starts), append(m.keep.ends, starts || m.endsInText(line))
	}
	if lead == len(line) {
		m.blank(len(line))
	} else {
		m.full(line, lead, tabs)
	}
	m.ended++
	m.start, m.literal, m.remark, m.spanned = end+1, false, false, false
	m.inside, m.within, m.quoted.End = len(m.stack), 0, 0
	if m.inside > 0 {
		m.within = m.stack[m.inside-1].sign
	}
}

// indentOf returns how long the indentation of a line is, and how many tabs it
// starts with.
func indentOf(line []byte) (lead, tabs int) {
	if len(line) >= 8 { // most are indented with a few blanks
		if others := binary.LittleEndian.Uint64(line) ^ 0x2020202020202020; others != 0 {
			if lead = bits.TrailingZeros64(others) / 8; line[lead] != '\t' {
				return lead, 0
			}
			lead = 0
		}
	}
	for lead < len(line) && line[lead] == '\t' {
		lead++
	}
	tabs = lead
	for lead < len(line) && (line[lead] == ' ' || line[lead] == '\t') {
		lead++
	}
	return lead, tabs
}

// blank counts a line without anything on it.
func (m *meter) blank(length int) {
	if m.literal {
		return
	}
	m.blanks++
	if length > 0 {
		m.blankText++
	}
	m.imports.blank()
	m.heading.close(m.remark)
}

// full counts a line with something on it; lead is the length of its indentation,
// tabs the number of tabs that that starts with.
func (m *meter) full(line []byte, lead, tabs int) {
	f := m.f
	if m.blanks > 0 {
		f.blankRun = max(f.blankRun, uint16(min(m.blanks, math.MaxUint16)))
		f.trailing += uint32(m.blankText)
		m.blanks, m.blankText = 0, 0
	}
	if m.block >= 0 {
		if lead > m.block {
			return
		}
		m.block = -1
	}
	if last := line[len(line)-1]; (last == ' ' || last == '\t') && !m.endsInText(line) && !(m.prosaic && last == ' ' && line[len(line)-2] == ' ') {
		f.trailing++
	}
	if m.prosaic {
		m.prose(line, lead)
		return
	}
	if m.literal || m.endsInText(line) && m.first.Start == m.start+lead {
		return
	}
	if m.remark || m.spanned && m.first.Kind == scan.Comment && m.first.Start <= m.start+lead {
		f.comment = max(f.comment, uint32(m.columns(line, tabs)))
		return
	}
	if m.heading.open && (m.traits == nil || m.traits.Tag == "" || string(line) != m.traits.Tag) {
		m.heading.shut()
	}
	f.Lines++
	columns := m.columns(line, tabs)
	m.length.count(columns)
	f.longest = max(f.longest, uint32(columns))
	if columns > m.least {
		m.over(columns)
	}
	if m.traits != nil {
		m.code(line, lead, tabs)
	}
}

// endsInText reports whether the line ends within a text or here-document.
func (m *meter) endsInText(line []byte) bool {
	return m.literal || m.spanned && m.last.End > m.start+len(line)+1 && m.last.Kind != scan.Comment
}

// prose counts a line of Markdown. What stands in fences is code of another
// language.
func (m *meter) prose(line []byte, lead int) {
	if rest := line[lead:]; bytes.HasPrefix(rest, []byte("```")) || bytes.HasPrefix(rest, []byte("~~~")) {
		m.fenced = !m.fenced
		return
	}
	if m.fenced || line[lead] == '|' || lead >= 4 || bytes.Contains(line, []byte("://")) {
		return // tables, code and addresses cannot be broken
	}
	columns := m.columns(line, 0)
	m.f.Lines++
	m.length.count(columns)
	m.f.longest = max(m.f.longest, uint32(columns))
	m.over(columns)
}

// over counts the line for each of the limits that it exceeds.
func (m *meter) over(columns int) {
	for i := 0; i < len(usual) && columns > usual[i]; i++ { // they ascend
		m.f.over[i]++
	}
	for i := len(usual); i < len(m.limits); i++ {
		if columns > m.limits[i] {
			m.f.over[i]++
		}
	}
}

// code looks at a line of program text.
func (m *meter) code(line []byte, lead, tabs int) {
	t := m.traits
	begin := line[lead]
	if m.unclosed && classes[begin]&joinsLine == 0 {
		m.f.open++
	}
	m.unclosed = false
	last := m.lastCode(line)
	goesOn := m.going || m.within == '(' || begin == '.' && len(line) > lead+1 && line[lead+1] != '.' || classes[begin]&goesOnStart != 0 && t.Openers != "" || classes[begin]&closer != 0
	if !goesOn || begin == '}' || begin == ']' {
		m.indentation(line, lead, tabs, !goesOn)
	}
	m.going = classes[last]&goesOnEnd != 0 && t.Openers != ":" || last == '\\' || last == ',' && m.within != '{' && m.within != '[' && t.Openers == "{"
	if t.Ends != "" && (m.inside == 0 || m.within == '{') {
		m.statement(line[lead:], last)
	}
	if t.Imports != nil && !m.imports.over && (lead == 0 || m.imports.inside) {
		m.imports.line(m, line, lead)
	}
	if t.Blocks && opensLiteral(line, last) {
		m.block = lead
	}
	m.opened = last != 0 && (t.Openers == "" || oneOf(t.Openers, last))
}

// opensLiteral reports whether a line that ends in last opens a block of text.
func opensLiteral(line []byte, last byte) bool {
	if last == '-' || last == '+' {
		return bytes.HasSuffix(line, []byte("|-")) || bytes.HasSuffix(line, []byte(">-")) || bytes.HasSuffix(line, []byte("|+"))
	}
	return last == '|' || last == '>'
}

// lastCode returns the last byte of code on the line, 0 where a text of several
// lines or a comment of more than one begins there.
func (m *meter) lastCode(line []byte) byte {
	end := len(line)
	if m.comment.Start >= m.start && m.comment.End > m.start && m.comment.Start < m.start+len(line) {
		if m.comment.End < m.start+len(line) {
			rest := bytes.TrimSpace(line[m.comment.End-m.start:])
			if len(rest) > 0 {
				return rest[len(rest)-1]
			}
		}
		end = m.comment.Start - m.start
	}
	for end > 0 && (line[end-1] == ' ' || line[end-1] == '\t') {
		end--
	}
	if end == 0 {
		return 0
	}
	return line[end-1]
}

// indentation counts how the line is indented, and, where it starts anew, how
// much further than the line before.
func (m *meter) indentation(line []byte, lead, tabs int, anew bool) {
	switch {
	case lead == 0:
	case tabs > 0:
		m.f.tabs++
	case !m.bytes.Tabs || bytes.IndexByte(line[:lead], '\t') < 0:
		if lead > 1 {
			m.f.spaces++
		}
	default:
		m.f.tabs++
	}
	if !anew {
		m.indent, m.lastTabs = lead, tabs > 0
		return
	}
	switch {
	case tabs == 0 && !m.lastTabs && m.opened && lead > m.indent:
		if step := lead - m.indent; step < len(m.votes) {
			m.votes[step]++
		}
	case tabs > 0 && !m.lastTabs && m.opened && m.indent > 0:
		// One level further: blanks before, and now tabs that stand for more.
		step := m.step()
		if width := (m.indent + step - (lead - tabs)) / tabs; step > 0 && (width == 2 || width == 4 || width == 8) && width*tabs+lead-tabs == m.indent+step {
			m.widths[width]++
		}
	}
	m.indent, m.lastTabs = lead, tabs > 0
}

// step is the most frequent step so far, in columns.
func (m *meter) step() int {
	best, most := 0, uint32(0)
	for size, n := range m.votes {
		if n > most {
			best, most = size, n
		}
	}
	return best
}

// statement looks whether a statement ends with its line, and how.
func (m *meter) statement(code []byte, last byte) {
	if last == ';' {
		m.f.closed++
		return
	}
	if classes[last]&endsValue == 0 {
		return
	}
	if m.traits.Ends == "*" {
		m.f.open++
		return
	}
	word := code
	for i, c := range code {
		if !isWord(c) {
			word = code[:i]
			break
		}
	}
	m.unclosed = hasWord(m.traits.Ends, word)
}

// oneOf reports whether c is in a list of a few.
func oneOf(list string, c byte) bool {
	for i := range len(list) {
		if list[i] == c {
			return true
		}
	}
	return false
}

func hasWord(list string, word []byte) bool {
	for len(list) > 0 {
		n := 0
		for n < len(list) && list[n] != ' ' {
			n++
		}
		if n == len(word) && list[:n] == string(word) {
			return true
		}
		list = list[min(n+1, len(list)):]
	}
	return false
}

// classes says what a byte can mean at the start or end of a line of code.
var classes = func() (table [256]uint8) {
	set := func(class uint8, bytes string) {
		for i := range len(bytes) {
			table[bytes[i]] |= class
		}
	}
	set(joinsLine, ".?:+-*/%&|^=<>({[`")
	set(goesOnStart, "?+*/%|^=<>&")
	set(goesOnEnd, "+-*/%|^=<>&?\\")
	set(closer, ")]}")
	set(word|endsValue, "_$0123456789abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ")
	set(endsValue, ")]'\"`")
	set(commentSign, "/#*-;%<!'\".(")
	return table
}()

const (
	joinsLine   uint8 = 1 << iota // it joins the line to the one before
	goesOnStart                   // a line that starts with it goes on
	goesOnEnd                     // a line that ends with it goes on
	closer                        // a closing bracket
	word                          // part of a name or number
	endsValue                     // a value may end with it
	commentSign                   // a line of a comment may begin with it, in some language
)

func isWord(c byte) bool { return classes[c]&word != 0 }
