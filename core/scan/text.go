package scan

import (
	"bytes"
	"strings"
	"unicode/utf8"
)

// text reads a text in quotes that opens at i. It returns false where the quote
// is no quote here.
func (s *Scanner) text(q *Quote, i int) (Span, bool) {
	prefix := s.prefixAt(q, i)
	if q.Prefixed && prefix == 0 || q.Lone && i > 0 && strings.IndexByte(" \t\n[{(,", s.src[i-1]) < 0 {
		return Span{}, false
	}
	s.breaks = q.Lines
	start := i - prefix
	before := s.src[start:i]
	raw := q.Raw || prefix > 0 && bytes.ContainsAny(before, "rR")
	computed := prefix > 0 && bytes.ContainsAny(before, "fF")
	mark := byte(0)
	if len(q.Computes) > 0 {
		mark = q.Computes[0][0]
	}
	src, end := s.src, q.Close[0]
	at := i + len(q.Open)
	if q.Short {
		n := character(src[at:], end)
		if n == 0 {
			s.breaks = false
			return Span{}, false
		}
		s.quote, s.prefix, s.computed = q, prefix, false
		return s.span(Text, start, at+n), true
	}
	for at < len(src) {
		c := src[at]
		if !q.stops[c] {
			at++
			continue
		}
		switch {
		case c == end && hasPrefix(src[at:], q.Close):
			if q.Doubled && hasPrefix(src[at+len(q.Close):], q.Close) {
				at += 2 * len(q.Close)
				continue
			}
			at += len(q.Close)
			s.quote, s.prefix, s.computed = q, prefix, computed
			return s.span(Text, start, at), true
		case c == '\n' && !q.Lines:
			return s.unended(q, start, at)
		case c == '\\' && !q.Raw && at+1 < len(src):
			if mark == '\\' && hasPrefix(src[at:], q.Computes[0]) {
				computed = true
				at = s.nested(q, at+len(q.Computes[0]))
				continue
			}
			if src[at+1] == '\n' && !q.Lines && raw {
				return s.unended(q, start, at)
			}
			at += 2
			continue
		case c == mark || len(q.Computes) > 1:
			for _, m := range q.Computes {
				if hasPrefix(src[at:], m) {
					computed = true
					if m[len(m)-1] == '{' {
						at = s.nested(q, at+len(m)) - 1
					}
					break
				}
			}
		}
		at++
	}
	return s.unended(q, start, min(at, len(src)))
}

// longestEscape is how many bytes an escape within single quotes may have.
const longestEscape = 12

// character returns the length of one character, or an escape, with the quote that
// ends it; 0 where there is none.
func character(rest []byte, quote byte) int {
	if len(rest) > 1 && rest[0] == '\\' {
		for n := 2; n < min(len(rest), longestEscape); n++ {
			if rest[n] == quote {
				return n + 1
			}
		}
		return 0
	}
	_, size := utf8.DecodeRune(rest)
	if size < len(rest) && rest[0] != quote && rest[0] != '\n' && rest[size] == quote {
		return size + 1
	}
	return 0
}

// unended takes a text that does not end to end at the given place.
func (s *Scanner) unended(q *Quote, start, end int) (Span, bool) {
	message := "a text that does not end on its line"
	if q.Lines {
		message = "a text that does not end"
	}
	s.fail(start, message)
	s.quote, s.prefix, s.computed = nil, 0, true
	return s.span(Text, start, end), true
}

// nested returns where a computed part of a text ends, behind its closing
// bracket; at i where it does not. As what does not end is read to the end of the
// source, that is done no more where it was often in vain.
func (s *Scanner) nested(q *Quote, i int) int {
	if s.ahead <= 0 {
		return i
	}
	depth := 1
	for at := i; at < len(s.src); at++ {
		switch c := s.src[at]; c {
		case '{', '(':
			depth++
		case '}', ')':
			if depth--; depth == 0 {
				return at + 1
			}
		case '\n':
			if !q.Lines {
				s.ahead -= at - i
				return i
			}
		case '"', '\'':
			if end := bytes.IndexByte(s.src[at+1:min(at+1+longestInner, len(s.src))], c); end >= 0 {
				at += 1 + end
			}
		}
	}
	s.ahead -= len(s.src) - i
	return i
}

// longestInner is how long a text within a computed part of a text may be, in bytes;
// further away a quote belongs to something else.
const longestInner = 200

// prefixAt returns the length of the prefix of a quote at i.
func (s *Scanner) prefixAt(q *Quote, i int) int {
	if len(q.Prefixes) == 0 {
		return 0
	}
	n := 0
	for n < 4 && i-n-1 >= s.behind && isWord(s.src[i-n-1]) {
		n++
	}
	for _, prefix := range q.Prefixes {
		if len(prefix) == n && string(s.src[i-n:i]) == prefix {
			return n
		}
	}
	return 0
}

// readHere returns where the here-documents end that start with the line at the
// given place: there if none does.
func (s *Scanner) readHere(at int) int {
	for _, h := range s.here {
		if s.ahead <= 0 {
			break
		}
		found, start := false, at
		for at < len(s.src) {
			line := s.src[at:]
			if n := bytes.IndexByte(line, '\n'); n >= 0 {
				line = line[:n]
			}
			indent := len(line) - len(bytes.TrimLeft(line, " \t"))
			if rest := line[indent:]; hasPrefix(rest, h.end) && (indent == 0 || h.loose) && (len(rest) == len(h.end) || !isWord(rest[len(h.end)])) {
				at += indent + len(h.end)
				found = true
				break
			}
			at = min(len(s.src), at+len(line)+1)
		}
		if !found {
			s.ahead -= at - start
			at = start // it was none
		}
	}
	s.here = s.here[:0]
	return at
}

// hereStart returns the length of a here-document's head at the start of rest,
// the word that ends its body, and whether that may be indented.
func (s *Scanner) hereStart(rest []byte) (int, string, bool) {
	if s.lang.Here == "" || !hasPrefix(rest, s.lang.Here) || s.pos > 0 && s.src[s.pos-1] == s.lang.Here[0] {
		return 0, "", false
	}
	i := len(s.lang.Here)
	for i < len(rest) && strings.IndexByte(s.lang.HereSigns, rest[i]) >= 0 {
		i++
	}
	loose := !s.lang.HereStrict || i > len(s.lang.Here)
	for s.lang.HereStrict && i < len(rest) && rest[i] == ' ' {
		i++
	}
	quote := byte(0)
	if i < len(rest) && (rest[i] == '\'' || rest[i] == '"') {
		quote = rest[i]
		i++
	}
	start := i
	for i < len(rest) && isWord(rest[i]) {
		i++
	}
	if i == start || rest[start] >= '0' && rest[start] <= '9' || quote == 0 && rest[start] >= 'a' && !s.lang.HereLower {
		return 0, "", false
	}
	word := string(rest[start:i])
	if quote != 0 {
		if i == len(rest) || rest[i] != quote {
			return 0, "", false
		}
		i++
	}
	return i, word, loose
}

// expectsValue reports whether a slash at i would start a pattern and not
// divide.
func (s *Scanner) expectsValue(i int) bool {
	for i > 0 && (s.src[i-1] == ' ' || s.src[i-1] == '\t') {
		i--
	}
	if i == 0 {
		return true
	}
	switch c := s.src[i-1]; {
	case c == ')' || c == ']' || c == '}' || c == '"' || c == '\'' || c == '`':
		return false
	case isWord(c) || c >= 0x80:
		start := i
		for start > 0 && (isWord(s.src[start-1]) || s.src[start-1] >= 0x80) {
			start--
		}
		switch string(s.src[start:i]) {
		case "return", "typeof", "in", "when":
			return true
		}
		return false
	}
	return true
}

// longestPattern is how long a regular expression may be, in bytes.
const longestPattern = 10_000

// pattern returns the length of a regular expression between slashes, or 0.
func pattern(rest []byte) int {
	inClass := false
	for i := 1; i < min(len(rest), longestPattern) && rest[i] != '\n'; i++ {
		switch c := rest[i]; {
		case c == '\\':
			i++
		case c == '[':
			inClass = true
		case c == ']':
			inClass = false
		case c == '/' && !inClass:
			for i++; i < len(rest) && isWord(rest[i]); i++ {
			}
			return i
		}
	}
	return 0
}
