package scan_test

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"jollytreaty/core/filetype"
	"jollytreaty/core/scan"
)

// show prints tokens: their values, texts in quotes, computed ones with a star,
// line ends as "¶".
func show(tokens []scan.Token) string {
	var out []string
	for _, t := range tokens {
		text := t.Value
		switch {
		case t.Kind == scan.Newline:
			text = "¶"
		case t.Kind == scan.Text:
			text = `"` + text + `"`
		}
		if t.Computed {
			text += "*"
		}
		out = append(out, text)
	}
	return strings.Join(out, " ")
}

func TestTokens(t *testing.T) {
	for _, c := range []struct{ lang, src, want string }{
		{"javascript", "a.b = 'x' // c\n/* d */ 1.5", `a . b = "x" ¶ 1.5`},
		{"javascript", "`a${b}` `c`", "\"a${b}\"* \"c\""},
		{"javascript", "x = /[/]'/g, y = 4 / 2 / 1", `x = "/[/]'/g"* , y = 4 / 2 / 1`},
		{"javascript", `"a\"b\n\x41"`, "\"a\"b\nA\""},
		{"javascript", "...a ?? b?.c => d", "... a ?? b ?. c => d"},
		{"python", "r'\\d' f\"{x}\" '''a\nb''' # c", "\"\\d\" \"{x}\"* \"a\nb\""},
		{"python", "a = \\\n  1", "a = 1"},
		{"ruby", "x = <<~EOS\n  it's \"open\"\nEOS\ny = %w[a b] # c", `x = "<<~EOS"* ¶ y = "a b"`},
		{"ruby", "a? b! :c \"#{d}\"", `a? b! : c "#{d}"*`},
		{"php", "$a = 'it\\'s \\n'; # c\n<<<X\nno $\nX;", "$a = \"it's \\n\" ; ¶ \"<<<X\"* ¶ ;"},
		{"lua", "--[[ a\n]] x = [[raw\\n]] -- c", `x = "raw\n"`},
		{"javascript", "abcd", "abcd"},
		{"javascript", "a\nabcdefgh", "a ¶ abcdefgh"},
		{"elixir", "~w(a b) @x \"#{y}\"", `"a b" @x "#{y}"*`},
	} {
		tokens, err := scan.Tokens(filetype.ByID(c.lang).Forms, []byte(c.src))
		require.NoError(t, err, c.src)
		assert.Equal(t, c.want, show(tokens), c.src)
		for _, token := range tokens {
			if token.Kind == scan.Word || token.Kind == scan.Number || token.Kind == scan.Sign {
				assert.Equal(t, token.Value, c.src[token.Start:token.End])
			}
		}
	}
}

func TestTokenErrors(t *testing.T) {
	for src, offset := range map[string]int{"a = 'b\n": 4, "/* c": 0, "x `y": 2} {
		_, err := scan.Tokens(filetype.ByID("javascript").Forms, []byte(src))
		var at *scan.Error
		require.ErrorAs(t, err, &at, src)
		assert.Equal(t, offset, at.Offset, src)
	}
}

// Tokens lie in order, apart from each other, within the source.
func FuzzTokens(f *testing.F) {
	for _, name := range filetype.IDs() {
		f.Add(name, []byte("a = 'b' \"c\" # d\n// e\n<<~X\nX\n[1, 2.5] /f/"))
	}
	f.Fuzz(func(t *testing.T, name string, src []byte) {
		typ := filetype.ByID(name)
		if typ == nil || typ.Forms == nil {
			return
		}
		tokens, err := scan.Tokens(typ.Forms, src)
		if err != nil {
			var at *scan.Error
			if !errors.As(err, &at) || at.Offset < 0 || at.Offset > len(src) {
				t.Fatalf("%q: %v", src, err)
			}
			return
		}
		end := 0
		for _, token := range tokens {
			if token.Start < end || token.End <= token.Start || token.End > len(src) {
				t.Fatalf("%q: token %+v behind %d", src, token, end)
			}
			end = token.End
		}
	})
}
