package scan

import (
	"fmt"
	"strings"
	"unicode/utf8"
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

// Tokens splits src by the rules of the language. Comments, the bodies of
// here-documents and the ends of blank lines are left out. The error is an
// *Error.
func Tokens(lang *Language, src []byte) ([]Token, error) {
	var s Scanner
	s.Start(lang, src, AllSigns)
	t := tokens{lang: lang, src: string(src)}
	at := 0
	for {
		span, more := s.Next()
		if s.Err != nil {
			return nil, s.Err
		}
		for _, i := range s.Between {
			t.between(at, int(i))
			at = int(i) + 1
			if src[i] == '\n' {
				t.newline(int(i))
			} else {
				t.add(Sign, int(i), 1)
			}
		}
		if !more {
			t.between(at, len(src))
			return t.list, nil
		}
		t.between(at, span.Start)
		at = span.End
		if span.Kind == Text {
			token := Token{Kind: Text, Start: span.Start, End: span.End, Value: t.src[span.Start:span.End], Computed: s.computed}
			if s.quote != nil {
				token.Value = s.quote.value(token.Value, s.prefix)
			}
			t.list = append(t.list, token)
		}
	}
}

type tokens struct {
	lang   *Language
	src    string
	list   []Token
	goesOn bool // a backslash takes the end of the line away
}

func (t *tokens) add(kind Kind, start, n int) {
	t.list = append(t.list, Token{Kind: kind, Start: start, End: start + n, Value: t.src[start : start+n]})
}

// newline ends a line that is not blank.
func (t *tokens) newline(at int) {
	if n := len(t.list); n > 0 && t.list[n-1].Kind != Newline && !t.goesOn {
		t.add(Newline, at, 1)
	}
	t.goesOn = false
}

// between splits what stands between two spans into words, numbers and signs.
func (t *tokens) between(start, end int) {
	for i := start; i < end; {
		rest := t.src[i:end]
		n := 1
		switch c := rest[0]; {
		case strings.HasPrefix(rest, "\ufeff"):
			n = 3
		case c == ' ' || c == '\t' || c == '\r' || c == '\f' || c == '\v':
		case c == '\\' && strings.Trim(rest[1:], " \t\r") == "" && end < len(t.src) && t.src[end] == '\n':
			t.goesOn = true
			return
		case c >= '0' && c <= '9':
			for n < len(rest) && (isWord(rest[n]) || rest[n] == '.' && n+1 < len(rest) && rest[n+1] >= '0' && rest[n+1] <= '9') {
				n++
			}
			t.add(Number, i, n)
		case isWord(c) || c >= utf8.RuneSelf || strings.IndexByte(t.lang.Starts, c) >= 0 && len(rest) > 1 && (isWord(rest[1]) || rest[1] >= utf8.RuneSelf):
			for n < len(rest) && (isWord(rest[n]) || rest[n] >= utf8.RuneSelf) {
				n++
			}
			if n < len(rest) && strings.IndexByte(t.lang.Ends, rest[n]) >= 0 && (n+1 == len(rest) || rest[n+1] != '=') {
				n++
			}
			t.add(Word, i, n)
		default:
			for _, sign := range signs {
				if strings.HasPrefix(rest, sign) {
					n = len(sign)
					break
				}
			}
			t.add(Sign, i, n)
		}
		i += n
	}
}

// signs are those of several characters, the longest first.
var signs = []string{"...", "===", "!==", "**=", "||=", "&&=", "??=", "<=>", "=>", "->", "==", "!=", "<=", ">=", "&&", "||", "??", "?.", "::", "..", "+=", "-=", ".=", "<<", ">>", "**", "|>"}

func isWord(c byte) bool {
	return c == '_' || c == '$' || '0' <= c && c <= '9' || 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z'
}

// value returns what a text stands for, given as it is written, with a prefix of
// the given length.
func (q *Quote) value(text string, prefix int) string {
	raw := q.Raw || strings.ContainsAny(text[:prefix], "rR")
	rest := text[prefix+len(q.Open) : len(text)-len(q.Close)]
	if raw && !q.Doubled {
		return rest
	}
	var b strings.Builder
	for rest != "" {
		switch {
		case q.Doubled && strings.HasPrefix(rest, q.Close+q.Close):
			b.WriteString(q.Close)
			rest = rest[2*len(q.Close):]
		case rest[0] == '\\' && len(rest) > 1 && !raw:
			n, value := escape(rest, q.Plain)
			b.WriteString(value)
			rest = rest[n:]
		default:
			b.WriteByte(rest[0])
			rest = rest[1:]
		}
	}
	return b.String()
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
