package scan

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/tree"
)

// spans prints what a Scanner yields: comments in "/", texts in quotes, bodies in
// "<", signs as they are.
func spans(lang, src string, signs Signs) string {
	var s Scanner
	s.Start(Languages[lang], []byte(src), signs)
	var out []string
	for {
		span, more := s.Next()
		for _, at := range s.Between {
			out = append(out, strings.ReplaceAll(src[at:at+1], "\n", "¶"))
		}
		if !more {
			return strings.Join(out, " ")
		}
		text := src[span.Start:span.End]
		switch span.Kind {
		case Comment:
			text = "/" + text + "/"
		case Text:
			text = "`" + text + "`"
		case Body:
			text = "<" + text + ">"
		}
		out = append(out, text)
	}
}

func TestLanguages(t *testing.T) {
	for _, c := range []struct{ lang, src, want string }{
		{"c", `char a = '\''; // "b" */ c`, "`'\\''` ; /// \"b\" */ c/"},
		{"cpp", `x = R"(a ")" + 1'000;`, "`R\"(a \")\"` ;"},
		{"rust", `fn a<'b>(c: &'b str) { r#"d " e"# }`, "( ) { `r#\"d \" e\"#` }"},
		{"rust", "x = '\"'; // y", "`'\"'` ; /// y/"},
		{"go", "a := `b\n\"` + 'c'", "`" + "`b\n\"`" + "` `'c'`"},
		{"kotlin", "\"\"\"a\n\"b\"\"\" + \"${c[\"d\"]}\"", "`\"\"\"a\n\"b\"\"\"` `\"${c[\"d\"]}\"`"},
		{"swift", "\"\\(a(\"b\"))\" /* c */", "`\"\\(a(\"b\"))\"` //* c *//"},
		{"csharp", `@"a\" + "b\""`, "`@\"a\\\"` `\"b\\\"\"`"},
		{"typescript", "`a${b + `c`}`", "`" + "`a${b + `c`}`" + "`"},
		{"python", "rb'a' # b\n'''c\n'''", "`rb'a'` /# b/ ¶ `'''c\n'''`"},
		{"shellscript", "a=${#b} # c\ncat <<-X\nd 'e\n\tX\nf", "{ } /# c/ ¶ `<<-X` ¶ <d 'e\n\tX> ¶"},
		{"shellscript", "cat <<<word\nX", "¶"},
		{"yaml", "a: it's # b\nc: 'd''e'", "/# b/ ¶ `'d''e'`"},
		{"viml", "\" a\nlet b = \"c\"", "/\" a/ ¶ `\"c\"`"},
		{"perl", "=pod\n'a\n=cut\n$b # c", "/=pod\n'a\n=cut/ ¶ /# c/"},
		{"haskell", "{- a -} b -- c", "/{- a -}/ /-- c/"},
		{"html", "<!-- ' -->it's", "/<!-- ' -->/"},
		{"lua", "--[[ a\n]] b = [[c]]", "/--[[ a\n]]/ `[[c]]`"},
		{"ini", "; a\nb = c ; d", "/; a/ ¶ ;"},
		{"sql", "-- a\n'b''c'", "/-- a/ ¶ `'b''c'`"},
		{"nix", "'' a ' '' # b", "`'' a ' ''` /# b/"},
		{"terraform", "a = <<EOT\nb \"\nEOT\n", "`<<EOT` ¶ <b \"\nEOT> ¶"},
		{"powershell", "<# a #> 'b' # c", "/<# a #>/ `'b'` /# c/"},
	} {
		assert.Equal(t, c.want, spans(c.lang, c.src, AllSigns), "%s: %s", c.lang, c.src)
	}
}

func TestFewerSignsAreTheSameOtherwise(t *testing.T) {
	const src = "f(a, 'b;c'); // d\n"
	assert.Equal(t, "( , `'b;c'` ) ; /// d/ ¶", spans("javascript", src, AllSigns))
	assert.Equal(t, "( `'b;c'` ) /// d/ ¶", spans("javascript", src, Brackets))
	assert.Equal(t, "`'b;c'` /// d/ ¶", spans("javascript", src, NoSigns))
}

// What does not end is told of, and ends with its line or the source.
func TestWhatDoesNotEnd(t *testing.T) {
	for src, want := range map[string]string{"a = \"b\nc": "`\"b` ¶", "/* a": "//* a/"} {
		var s Scanner
		s.Start(Languages["c"], []byte(src), AllSigns)
		for {
			if _, more := s.Next(); !more {
				break
			}
		}
		require.NotNil(t, s.Err, src)
		assert.Equal(t, want, spans("c", src, AllSigns))
	}
}

// Every language is a file type.
func TestLanguagesAreTypes(t *testing.T) {
	for id, lang := range Languages {
		assert.NotNil(t, tree.TypeByID(id), id)
		assert.NotNil(t, lang, id)
		for _, q := range lang.Quotes {
			assert.NotEmpty(t, q.Open, id)
			assert.NotEmpty(t, q.Close, id)
		}
	}
}
