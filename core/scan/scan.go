// Package scan splits program text into tokens.
//
// It knows comments, texts in quotes, here-documents and brackets of each
// language from a table, and nothing else of its grammar. Every byte of the
// source lies in exactly one token or in the blanks between two, so positions
// can be trusted.
package scan

import (
	"fmt"
	"strings"
	"unicode/utf8"
)

// Kind tells tokens apart.
type Kind uint8

// The kinds of token.
const (
	Word    Kind = iota // a name or keyword
	Number              // a number as written
	Text                // a text in quotes, or a regular expression
	Sign                // an operator or bracket
	Newline             // the end of a line that is not blank
	Comment
)

// Token is a piece of program text. Offsets are bytes.
type Token struct {
	Kind       Kind
	Start, End int
	Value      string // of a text, what it stands for; else the source
	Computed   bool   // a text with parts that are worked out at run time, or a pattern
}

// Is reports whether the token is the sign or word s.
func (t Token) Is(s string) bool { return (t.Kind == Sign || t.Kind == Word) && t.Value == s }

// Error says where text could not be split.
type Error struct {
	Offset  int
	Message string
}

func (e *Error) Error() string { return fmt.Sprintf("byte %d: %s", e.Offset, e.Message) }

// Tokens splits src by the rules of the language. Comments are left out. The
// error is an *Error.
func Tokens(lang *Language, src []byte) ([]Token, error) {
	s := scanner{lang: lang, src: string(src)}
	for s.pos < len(s.src) {
		if err := s.next(); err != nil {
			return nil, err
		}
	}
	return s.tokens, nil
}

type scanner struct {
	lang   *Language
	src    string
	pos    int
	tokens []Token
	here   []hereDocument // bodies that start behind this line
}

type hereDocument struct {
	token int // which stands for it
	end   string
	loose bool // the end may be indented
}

func (s *scanner) next() error {
	rest := s.src[s.pos:]
	c := rest[0]
	switch {
	case c == '\n':
		s.newline()
		return nil
	case c == ' ' || c == '\t' || c == '\r' || c == '\f' || c == '\v' || strings.HasPrefix(rest, "\ufeff"):
		s.pos++
		if c == 0xef {
			s.pos += 2
		}
		return nil
	case c == '\\' && strings.HasPrefix(strings.TrimLeft(rest[1:], " \t\r"), "\n"): // the line goes on
		s.pos += strings.IndexByte(rest, '\n') + 1
		return nil
	}
	for _, b := range s.lang.Blocks {
		if strings.HasPrefix(rest, b[0]) {
			i := strings.Index(rest[len(b[0]):], b[1])
			if i < 0 {
				return &Error{s.pos, "a comment that does not end"}
			}
			s.pos += len(b[0]) + i + len(b[1])
			return nil
		}
	}
	for _, l := range s.lang.Lines {
		if strings.HasPrefix(rest, l) {
			if i := strings.IndexByte(rest, '\n'); i >= 0 {
				s.pos += i
			} else {
				s.pos = len(s.src)
			}
			return nil
		}
	}
	if n, t := s.hereStart(rest); n > 0 {
		s.here = append(s.here, hereDocument{len(s.tokens), t, true})
		s.add(Text, n)
		s.tokens[len(s.tokens)-1].Computed = true
		return nil
	}
	for _, q := range s.lang.Quotes {
		if strings.HasPrefix(rest, q.Open) {
			return s.text(q, 0)
		}
		for _, prefix := range q.Prefixes {
			if strings.HasPrefix(rest, prefix+q.Open) {
				return s.text(q, len(prefix))
			}
		}
	}
	if s.lang.Patterns && c == '/' && s.expectsValue() {
		if n := pattern(rest); n > 0 {
			s.add(Text, n)
			s.tokens[len(s.tokens)-1].Computed = true
			return nil
		}
	}
	switch {
	case c >= '0' && c <= '9':
		n := 1
		for n < len(rest) && (isWord(rest[n]) || rest[n] == '.' && n+1 < len(rest) && rest[n+1] >= '0' && rest[n+1] <= '9') {
			n++
		}
		s.add(Number, n)
	case isWord(c) || c >= utf8.RuneSelf || strings.IndexByte(s.lang.Starts, c) >= 0 && len(rest) > 1 && (isWord(rest[1]) || rest[1] >= utf8.RuneSelf):
		n := 1
		for n < len(rest) && (isWord(rest[n]) || rest[n] >= utf8.RuneSelf) {
			n++
		}
		if n < len(rest) && strings.IndexByte(s.lang.Ends, rest[n]) >= 0 && (n+1 == len(rest) || rest[n+1] != '=') {
			n++
		}
		s.add(Word, n)
	default:
		for _, sign := range signs {
			if strings.HasPrefix(rest, sign) {
				s.add(Sign, len(sign))
				return nil
			}
		}
		s.add(Sign, 1)
	}
	return nil
}

// signs are those of several characters, the longest first.
var signs = []string{"...", "===", "!==", "**=", "||=", "&&=", "??=", "<=>", "=>", "->", "==", "!=", "<=", ">=", "&&", "||", "??", "?.", "::", "..", "+=", "-=", ".=", "<<", ">>", "**", "|>"}

func isWord(c byte) bool {
	return c == '_' || c == '$' || '0' <= c && c <= '9' || 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z'
}

func (s *scanner) add(kind Kind, n int) {
	s.tokens = append(s.tokens, Token{Kind: kind, Start: s.pos, End: s.pos + n, Value: s.src[s.pos : s.pos+n]})
	s.pos += n
}

// newline ends a line, and reads the here-documents that start on the next.
func (s *scanner) newline() {
	if n := len(s.tokens); n > 0 && s.tokens[n-1].Kind != Newline {
		s.add(Newline, 1)
	} else {
		s.pos++
	}
	for _, h := range s.here {
		for s.pos < len(s.src) {
			line, _, _ := strings.Cut(s.src[s.pos:], "\n")
			indent := len(line) - len(strings.TrimLeft(line, " \t"))
			if rest, ok := strings.CutPrefix(line[indent:], h.end); ok && (indent == 0 || h.loose) && (rest == "" || !isWord(rest[0])) {
				s.pos += indent + len(h.end)
				break
			}
			s.pos = min(len(s.src), s.pos+len(line)+1)
		}
	}
	s.here = nil
}

// hereStart returns the length of a here-document's head at the start of rest
// and the word that ends its body.
func (s *scanner) hereStart(rest string) (int, string) {
	if s.lang.Here == "" || !strings.HasPrefix(rest, s.lang.Here) {
		return 0, ""
	}
	i := len(s.lang.Here)
	for i < len(rest) && strings.IndexByte(s.lang.HereSigns, rest[i]) >= 0 {
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
		return 0, ""
	}
	word := rest[start:i]
	if quote != 0 {
		if i == len(rest) || rest[i] != quote {
			return 0, ""
		}
		i++
	}
	return i, word
}

// text reads a text in quotes, behind a prefix of the given length.
func (s *scanner) text(q Quote, prefix int) error {
	start := s.pos
	raw := q.Raw || prefix > 0 && strings.ContainsAny(s.src[s.pos:s.pos+prefix], "rR")
	computed := prefix > 0 && strings.ContainsAny(s.src[s.pos:s.pos+prefix], "fF")
	i := s.pos + prefix + len(q.Open)
	var b strings.Builder
	for {
		if i >= len(s.src) {
			return &Error{start, "a text that does not end"}
		}
		rest := s.src[i:]
		switch {
		case q.Doubled && strings.HasPrefix(rest, q.Close+q.Close):
			b.WriteString(q.Close)
			i += 2 * len(q.Close)
			continue
		case strings.HasPrefix(rest, q.Close):
			end := i + len(q.Close)
			s.tokens = append(s.tokens, Token{Kind: Text, Start: start, End: end, Value: b.String(), Computed: computed})
			s.pos = end
			return nil
		case rest[0] == '\n' && !q.Lines:
			return &Error{start, "a text that does not end on its line"}
		case rest[0] == '\\' && len(rest) > 1 && !raw:
			n, value := escape(rest, q.Plain)
			b.WriteString(value)
			i += n
			continue
		case raw && rest[0] == '\\' && len(rest) > 1 && !q.Raw:
			b.WriteString(rest[:2])
			i += 2
			continue
		}
		for _, mark := range q.Computes {
			computed = computed || strings.HasPrefix(rest, mark)
		}
		b.WriteByte(rest[0])
		i++
	}
}

// escape reads what stands behind a backslash. In plain quotes only the quote
// and the backslash are escaped.
func escape(rest string, plain bool) (int, string) {
	if plain {
		if rest[1] == '\\' || rest[1] == '\'' {
			return 2, rest[1:2]
		}
		return 2, rest[:2]
	}
	if v, ok := map[byte]string{'n': "\n", 't': "\t", 'r': "\r", '0': "\x00", 'e': "\x1b", '\n': ""}[rest[1]]; ok {
		return 2, v
	}
	if rest[1] == 'x' && len(rest) >= 4 {
		var r rune
		if _, err := fmt.Sscanf(rest[2:4], "%02x", &r); err == nil {
			return 4, string(r)
		}
	}
	if rest[1] == 'u' && len(rest) >= 6 {
		var r rune
		if _, err := fmt.Sscanf(rest[2:6], "%04x", &r); err == nil {
			return 6, string(r)
		}
	}
	_, size := utf8.DecodeRuneInString(rest[1:])
	return 1 + size, rest[1 : 1+size]
}

// expectsValue reports whether a slash here would start a pattern and not
// divide.
func (s *scanner) expectsValue() bool {
	if len(s.tokens) == 0 {
		return true
	}
	switch t := s.tokens[len(s.tokens)-1]; t.Kind {
	case Number, Text:
		return false
	case Word:
		return t.Value == "return" || t.Value == "typeof" || t.Value == "in" || t.Value == "when"
	case Sign:
		return t.Value != ")" && t.Value != "]" && t.Value != "}"
	}
	return true
}

// pattern returns the length of a regular expression between slashes, or 0.
func pattern(rest string) int {
	inClass := false
	for i := 1; i < len(rest) && rest[i] != '\n'; i++ {
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
