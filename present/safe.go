package present

import (
	"bytes"
	"fmt"
	"io"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Names and texts from a repository are not to be trusted: they may hold characters
// that move a terminal's cursor, turn the direction of what follows, or end a line.
// What is printed of them is always text of the form it is printed in.

// disturbs reports whether a character does anything but show: controls, those that
// set the direction of text, and separators of lines.
func disturbs(r rune) bool {
	switch {
	case r < ' ', r >= 0x7f && r < 0xa0:
		return true
	case r == 0x061c, r == 0x200e, r == 0x200f, r >= 0x2028 && r <= 0x202e, r >= 0x2066 && r <= 0x206f:
		return true
	}
	return unicode.Is(unicode.Co, r) || r == 0xfeff || r >= 0xe0000 && r <= 0xe007f
}

// Clean shows what would disturb a terminal, in one line of text that comes from the
// repository, by its number: \n, \x1b, \u202e, and \xff for what is no UTF-8.
func Clean(text string) string {
	if plain(text) {
		return text
	}
	var b strings.Builder
	for i := 0; i < len(text); {
		r, size := utf8.DecodeRuneInString(text[i:])
		switch {
		case r == utf8.RuneError && size == 1:
			fmt.Fprintf(&b, `\x%02x`, text[i])
		case r == '\n':
			b.WriteString(`\n`)
		case r == '\r':
			b.WriteString(`\r`)
		case r == '\t':
			b.WriteString(`\t`)
		case !disturbs(r):
			b.WriteRune(r)
		case r < 0x100:
			fmt.Fprintf(&b, `\x%02x`, r)
		case r < 0x10000:
			fmt.Fprintf(&b, `\u%04x`, r)
		default:
			fmt.Fprintf(&b, `\U%08x`, r)
		}
		i += size
	}
	return b.String()
}

// plain reports whether a text is plain ASCII, as most is.
func plain(text string) bool {
	for i := range len(text) {
		if c := text[i]; c < ' ' || c >= 0x7f {
			return false
		}
	}
	return true
}

// Safe returns a writer for text on a terminal, or what one may show later: whatever
// is not told apart before loses there what would disturb it. Lines stay lines, and
// what sets a colour stays if colour is wanted.
func Safe(w io.Writer, colour bool) io.Writer { return &safe{w, colour} }

type safe struct {
	w      io.Writer
	colour bool
}

func (s *safe) Write(p []byte) (int, error) {
	if _, err := s.w.Write(s.safely(p)); err != nil {
		return 0, err
	}
	return len(p), nil
}

func (s *safe) safely(p []byte) []byte {
	if bytes.IndexFunc(p, func(r rune) bool { return r != '\n' && (disturbs(r) || r == utf8.RuneError) }) < 0 {
		return p
	}
	out := make([]byte, 0, len(p)+16)
	for len(p) > 0 {
		r, size := utf8.DecodeRune(p)
		switch {
		case r == '\n', r == '\t', r == '\r' && bytes.HasPrefix(p, []byte("\r\n")):
			out = append(out, p[:size]...)
		case r == 0x1b && s.colour && colours(p) > 0:
			size = colours(p)
			out = append(out, p[:size]...)
		default:
			out = append(out, Clean(string(p[:size]))...)
		}
		p = p[size:]
	}
	return out
}

// colours returns the length of the sequence at the start of p that sets how
// characters look, ECMA-48 "select graphic rendition"; 0 where there is none.
func colours(p []byte) int {
	if !bytes.HasPrefix(p, []byte("\x1b[")) {
		return 0
	}
	for i := 2; i < len(p); i++ {
		switch c := p[i]; {
		case c == 'm':
			return i + 1
		case c != ';' && (c < '0' || c > '9'):
			return 0
		}
	}
	return 0
}

// escapes makes JSON that shows as it is: what would disturb a terminal, and may stand
// in texts of JSON, is told by its number.
func escapes(text []byte) []byte {
	if bytes.IndexFunc(text, func(r rune) bool { return r >= 0x7f && disturbs(r) }) < 0 {
		return text
	}
	var b bytes.Buffer
	for _, r := range string(text) {
		switch {
		case r < 0x7f || !disturbs(r):
			b.WriteRune(r)
		case r < 0x10000:
			fmt.Fprintf(&b, `\u%04x`, r)
		default:
			r -= 0x10000
			fmt.Fprintf(&b, `\u%04x\u%04x`, 0xd800+r>>10, 0xdc00+r&0x3ff)
		}
	}
	return b.Bytes()
}
