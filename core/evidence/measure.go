package evidence

import (
	"bytes"
	"slices"
	"unicode/utf8"

	"github.com/mattn/go-runewidth"

	"jollytreaty/core/filetype"
	"jollytreaty/core/scan"
)

// meter measures files, one after the other. What it adds up over files is the
// worker's own.
type meter struct {
	lengths map[*filetype.Type]*lengths
	limits  []int
	least   int     // the lowest of them
	keep    *layout // of the file at hand, where that is wanted

	scanner scan.Scanner

	// the file at hand
	f       *Facts
	traits  *filetype.Traits
	length  *lengths
	src     []byte
	bytes   scan.Traits
	prosaic bool

	// the line at hand
	start   int  // where it starts
	literal bool // it starts within a text or here-document
	remark  bool // it starts within a comment
	inside  int  // how many brackets it starts in, and
	within  byte // the innermost of them
	spanned bool // there is a comment, text or here-document on it:
	first   scan.Span
	last    scan.Span
	quoted  scan.Span // the last text on it
	comment scan.Span // the last comment

	// the lines before
	ended     uint32 // how many
	blanks    int
	blankText int // of the run, those that hold blanks
	indent    int // columns of the last line of code; -1 where that does not count
	opened    bool
	lastTabs  bool
	going     bool // the last line of code goes on
	unclosed  bool // it ends a statement without a terminator, unless the next goes on
	votes     [17]uint32
	widths    [9]uint32
	stack     []bracket
	imports   importLines
	fenced    bool
	block     int // the indentation of what a literal block belongs to; -1 outside
	heading   header
}

// bracket is one that is open.
type bracket struct {
	at, line  int32 // where, and where its line starts
	commas    int32
	sign      byte
	semicolon bool
}

func newMeter(limits []int) *meter {
	m := &meter{lengths: map[*filetype.Type]*lengths{}, limits: limits}
	if len(limits) > 0 {
		m.least = slices.Min(limits)
	}
	return m
}

// generatedMarks are parts of what stands at the top of files that programs wrote:
// "DO NOT EDIT", "@generated", "auto-generated".
var generatedMarks = [][]byte{[]byte("T EDIT"), []byte("t edit"), []byte("@generated"), []byte("utogenerated"), []byte("uto-generated")}

// headSize is how much of a file is searched for them, and for bytes that no text
// has.
const headSize = 2048

// measure measures one file.
func (m *meter) measure(f *Facts, t *filetype.Type, src []byte, err error) {
	head := src[:min(len(src), headSize)]
	switch {
	case err != nil:
		f.skipped = unreadable
		return
	case len(src) > Window:
		f.skipped = tooLarge
		return
	case bytes.HasPrefix(src, []byte("\xff\xfe")):
		f.charset = utf16LE
		return
	case bytes.HasPrefix(src, []byte("\xfe\xff")):
		f.charset = utf16BE
		return
	case bytes.IndexByte(head, 0) >= 0:
		f.skipped = binaryFile
		return
	}
	if isGenerated(head) {
		f.skipped = generated
		return
	}
	m.f, m.src = f, src
	if body, had := bytes.CutPrefix(src, []byte("\xef\xbb\xbf")); had {
		f.charset, m.src = utf8BOM, body
	}
	if len(m.src) == 0 {
		f.empty = true
		return
	}
	m.traits = t.Traits
	m.bytes = m.scanner.Start(languageOf(t), m.src, m.traits.Signs())
	if m.bytes.Wide && f.charset != utf8BOM {
		f.charset = utf8Text
		if !utf8.Valid(src) {
			f.charset = otherText
		}
	}
	f.ends = 1
	if last := m.src[len(m.src)-1]; last == '\n' || last == '\r' {
		f.ends = 2
	}
	m.prosaic = t.Prose
	m.length = m.lengths[t]
	if m.length == nil {
		m.length = &lengths{}
		m.lengths[t] = m.length
	}
	m.walk()
	m.endings()
}

// isGenerated reports whether a program wrote the file: the comment it begins with
// says so.
func isGenerated(head []byte) bool {
	begin := bytes.TrimLeft(head, " \t\r\n\ufeff")
	if len(begin) == 0 || classes[begin[0]]&commentSign == 0 {
		return false
	}
	for range 25 {
		line, rest, more := bytes.Cut(head, []byte("\n"))
		line = bytes.TrimLeft(line, " \t")
		if len(line) > 0 && classes[line[0]]&commentSign != 0 && slices.ContainsFunc(generatedMarks, func(mark []byte) bool { return bytes.Contains(line, mark) }) {
			return true
		}
		if head = rest; !more {
			break
		}
	}
	return false
}

// lines is text of which nothing but its lines is known.
var lines = &scan.Language{}

func languageOf(t *filetype.Type) *scan.Language {
	if lang := t.Forms; lang != nil {
		return lang
	}
	return lines
}

// endings counts line ends; those in all were counted on the way.
func (m *meter) endings() {
	if m.bytes.Returns {
		m.f.crlf = uint32(bytes.Count(m.src, []byte("\r\n")))
		m.f.cr = uint32(bytes.Count(m.src, []byte("\r"))) - m.f.crlf
	}
	m.f.lf = m.ended - m.f.crlf
}

// walk goes through the file's spans and lines.
func (m *meter) walk() {
	m.start, m.literal, m.remark, m.inside, m.within, m.spanned = 0, false, false, 0, 0, false
	m.blanks, m.blankText, m.indent, m.opened, m.lastTabs, m.going, m.unclosed = 0, 0, 0, false, false, false, false
	m.votes, m.widths, m.stack, m.fenced, m.quoted, m.comment = [17]uint32{}, [9]uint32{}, m.stack[:0], false, scan.Span{}, scan.Span{}
	m.block, m.ended = -1, 0
	m.imports.reset()
	m.heading.reset()
	s := &m.scanner
	for {
		span, more := s.Next()
		m.between(s.Between)
		if !more {
			break
		}
		switch span.Kind {
		case scan.Body:
			m.literal = true
		case scan.Text:
			m.text(span)
		case scan.Comment:
			m.comment = span
			if m.heading.open {
				m.heading.add(m.src, span)
			}
		}
		if !m.spanned {
			m.first = span
		}
		m.last, m.spanned = span, true
		if s.Breaks() {
			m.long(span)
		}
	}
	if m.start < len(m.src) {
		m.endLine(len(m.src))
		m.ended--
	}
	m.finish()
}

// long ends the lines that end within a span.
func (m *meter) long(span scan.Span) {
	for at := span.Start; ; {
		n := bytes.IndexByte(m.src[at:span.End], '\n')
		if n < 0 {
			return
		}
		m.endLine(at + n)
		at += n + 1
		m.literal, m.remark = span.Kind != scan.Comment, span.Kind == scan.Comment
		m.first, m.last, m.spanned = span, span, true
	}
}

// finish draws conclusions from the whole file.
func (m *meter) finish() {
	f := m.f
	if m.blanks > 0 { // at the end of the file
		f.trailing += uint32(m.blankText)
	}
	var total, best uint32
	for size, n := range m.votes {
		total += n
		if n > best && size > 0 {
			best, f.size = n, uint8(size)
		}
	}
	if best*100 < total*60 {
		f.size = 0
	}
	best = 0
	for width, n := range m.widths {
		if n > best {
			best, f.tabWidth = n, uint8(width)
		}
	}
	f.imports = m.imports.order()
	f.header, _ = m.heading.hash()
}

// columns is how wide a line is, as editors count: tabs to the next multiple of
// four, wide characters as two.
func (m *meter) columns(line []byte, tabs int) int {
	if !m.bytes.Wide && (!m.bytes.Tabs || bytes.IndexByte(line[tabs:], '\t') < 0) {
		return len(line) + 3*tabs
	}
	n := 0
	for len(line) > 0 {
		if c := line[0]; c < utf8.RuneSelf {
			n++
			if c == '\t' {
				n = (n + 3) &^ 3
			}
			line = line[1:]
			continue
		}
		r, size := utf8.DecodeRune(line)
		line = line[size:]
		if r < 0x300 {
			n++
			continue
		}
		n += runewidth.RuneWidth(r)
	}
	return n
}
