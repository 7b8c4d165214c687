// Package scan splits program text.
//
// It knows comments, texts in quotes, here-documents and brackets of each
// language from a table, and nothing else of its grammar. Every byte of the
// source lies in exactly one span or between two, so positions can be trusted.
// A Scanner yields what stands out, quickly; Tokens yields everything.
package scan

import (
	"bytes"
	"fmt"
	"math/bits"
)

// Kind tells spans and tokens apart.
type Kind uint8

// The kinds. What a Scanner yields are texts, comments and bodies.
const (
	Word    Kind = iota // a name or keyword
	Number              // a number as written
	Text                // a text in quotes, or a regular expression
	Sign                // an operator, bracket, comma or semicolon
	Newline             // the end of a line
	Comment
	Body // a here-document's
)

// Span is a piece of the source. Offsets are bytes.
type Span struct {
	Kind       Kind
	Start, End int
}

// Error says where text could not be split.
type Error struct {
	Offset  int
	Message string
}

func (e *Error) Error() string { return fmt.Sprintf("byte %d: %s", e.Offset, e.Message) }

// Scanner yields the comments, texts and here-documents of a source, in order, with
// the line ends, brackets, commas and semicolons between them. What does not end is
// taken to end with its line, or the source, and kept as the error.
type Scanner struct {
	Err *Error // the first

	// Between are the offsets of the line ends and signs between the last two spans,
	// or behind the last one. They are good until the next is asked for.
	Between []int32

	lang   *Language
	stops  *stops
	src    []byte
	marks  []uint64 // a bit for each byte of src
	pos    int
	behind int // the end of the last span
	here   []hereDocument
	breaks bool
	ahead  int // bytes that may still be read ahead in vain

	// Of the last text: its quote, or nil for a pattern or here-document, and the
	// length of its prefix.
	quote    *Quote
	prefix   int
	computed bool
}

type hereDocument struct {
	end   string
	loose bool // the end may be indented
}

// Start makes the scanner begin with src, of which it tells the traits. Fewer signs
// are found faster.
func (s *Scanner) Start(lang *Language, src []byte, signs Signs) Traits {
	lang.prepare()
	s.lang, s.stops, s.src = lang, lang.stops[signs], src
	s.Err, s.pos, s.behind, s.here = nil, 0, 0, s.here[:0]
	s.ahead = 16*len(src) + 1<<16
	var t Traits
	s.marks, t = s.stops.mark(src, s.marks)
	return t
}

// Next returns the next span; false at the end.
func (s *Scanner) Next() (Span, bool) {
	s.breaks = false
	between, src, kinds := s.Between[:0], s.src, &s.stops.kinds
	for at := uint(s.pos); at < uint(len(src)); at = (at | (blockSize - 1)) + 1 {
		block := at &^ (blockSize - 1)
		for mark := s.marks[at/blockSize] >> (at % blockSize) << (at % blockSize); mark != 0; mark &= mark - 1 {
			i := int(block) + bits.TrailingZeros64(mark)
			kind := kinds[src[i]]
			if kind&stopOpener != 0 {
				s.pos = i
				if span, ok := s.opened(i, kind); ok {
					s.Between = between
					return span, true
				}
			}
			if kind&(stopSign|stopNewline) != 0 {
				between = append(between, int32(i))
				if kind == stopNewline && len(s.here) > 0 {
					if end := s.readHere(i + 1); end > i+1 {
						s.breaks, s.Between = true, between
						return s.span(Body, i+1, end), true
					}
				}
			}
		}
	}
	s.pos, s.Between = len(src), between
	return Span{}, false
}

// Breaks reports whether the last span may hold line ends.
func (s *Scanner) Breaks() bool { return s.breaks }

func (s *Scanner) span(kind Kind, start, end int) Span {
	s.pos, s.behind = end, end
	return Span{kind, start, end}
}

func (s *Scanner) fail(offset int, message string) {
	if s.Err == nil {
		s.Err = &Error{offset, message}
	}
}

// opened reads what opens at i, if it is one of those that its byte can mean: a
// comment, here-document, text or pattern.
func (s *Scanner) opened(i int, what byte) (Span, bool) {
	rest := s.src[i:]
	if what&stopBlock != 0 {
		for _, b := range s.lang.Blocks {
			if !hasPrefix(rest, b[0]) || b[0][0] == '=' && !s.startsLine(i) {
				continue
			}
			s.breaks = true
			n := bytes.Index(rest[len(b[0]):], []byte(b[1]))
			if n < 0 {
				s.fail(i, "a comment that does not end")
				return s.span(Comment, i, len(s.src)), true
			}
			return s.span(Comment, i, i+len(b[0])+n+len(b[1])), true
		}
	}
	if what&stopLine != 0 {
		for _, l := range s.lang.Lines {
			if hasPrefix(rest, l) && (!s.lang.Lone || s.stands(i)) && (!s.lang.FirstOnly || s.startsLine(i)) {
				return s.lineComment(i, rest), true
			}
		}
	}
	if what&stopHere != 0 {
		if n, word, loose := s.hereStart(rest); n > 0 {
			s.here = append(s.here, hereDocument{word, loose})
			s.quote, s.prefix, s.computed = nil, 0, true
			return s.span(Text, i, i+n), true
		}
	}
	if what&stopQuote != 0 {
		for q := range s.lang.Quotes {
			if quote := &s.lang.Quotes[q]; rest[0] == quote.Open[0] && hasPrefix(rest, quote.Open) {
				if span, ok := s.text(quote, i); ok {
					return span, true
				}
			}
		}
	}
	if what&stopPattern != 0 && s.expectsValue(i) {
		if n := pattern(rest); n > 0 {
			s.quote, s.prefix, s.computed = nil, 0, true
			return s.span(Text, i, i+n), true
		}
	}
	return Span{}, false
}

func (s *Scanner) lineComment(i int, rest []byte) Span {
	end := bytes.IndexByte(rest, '\n')
	if end < 0 {
		end = len(rest)
	}
	for end > 1 && rest[end-1] == '\r' {
		end--
	}
	return s.span(Comment, i, i+end)
}

func hasPrefix(b []byte, prefix string) bool {
	if len(b) < len(prefix) {
		return false
	}
	for i := range len(prefix) { // most are a byte or two
		if b[i] != prefix[i] {
			return false
		}
	}
	return true
}

// startsLine reports whether only blanks stand before i on its line.
func (s *Scanner) startsLine(i int) bool {
	for i > 0 && (s.src[i-1] == ' ' || s.src[i-1] == '\t') {
		i--
	}
	return i == 0 || s.src[i-1] == '\n'
}

// stands reports whether a word could begin at i.
func (s *Scanner) stands(i int) bool {
	if i == 0 {
		return true
	}
	switch s.src[i-1] {
	case ' ', '\t', '\n', ';', '(', ')', '|', '&':
		return true
	}
	return false
}
