package scan_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/filetype"
	"jollytreaty/core/scan"
)

// spans prints what a Scanner yields: comments in "/", texts in quotes, bodies in
// "<", signs as they are.
func spans(lang, src string, signs scan.Signs) string {
	var s scan.Scanner
	s.Start(filetype.ByID(lang).Forms, []byte(src), signs)
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
		case scan.Comment:
			text = "/" + text + "/"
		case scan.Text:
			text = "`" + text + "`"
		case scan.Body:
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
		assert.Equal(t, c.want, spans(c.lang, c.src, scan.AllSigns), "%s: %s", c.lang, c.src)
	}
}

func TestFewerSignsAreTheSameOtherwise(t *testing.T) {
	const src = "f(a, 'b;c'); // d\n"
	assert.Equal(t, "( , `'b;c'` ) ; /// d/ ¶", spans("javascript", src, scan.AllSigns))
	assert.Equal(t, "( `'b;c'` ) /// d/ ¶", spans("javascript", src, scan.Brackets))
	assert.Equal(t, "`'b;c'` /// d/ ¶", spans("javascript", src, scan.NoSigns))
}

// What does not end is told of, and ends with its line or the source.
func TestWhatDoesNotEnd(t *testing.T) {
	for src, want := range map[string]string{"a = \"b\nc": "`\"b` ¶", "/* a": "//* a/"} {
		var s scan.Scanner
		s.Start(filetype.ByID("c").Forms, []byte(src), scan.AllSigns)
		for {
			if _, more := s.Next(); !more {
				break
			}
		}
		require.NotNil(t, s.Err, src)
		assert.Equal(t, want, spans("c", src, scan.AllSigns))
	}
}

// Every way of writing texts has both ends.
func TestFormsAreWhole(t *testing.T) {
	for _, id := range filetype.IDs() {
		if forms := filetype.ByID(id).Forms; forms != nil {
			for _, q := range forms.Quotes {
				assert.NotEmpty(t, q.Open, id)
				assert.NotEmpty(t, q.Close, id)
			}
		}
	}
}

// A scanner is used again, for shorter sources and longer ones.
func TestStartAgain(t *testing.T) {
	var s scan.Scanner
	for _, n := range []int{3, 300, 2, 0, 90} {
		src := bytes.Repeat([]byte("a\n"), n)
		s.Start(filetype.ByID("go").Forms, src, scan.AllSigns)
		_, more := s.Next()
		assert.False(t, more)
		assert.Len(t, s.Between, n)
	}
	s.Start(filetype.ByID("shellscript").Forms, []byte("cat <<A <<B\nno end"), scan.NoSigns)
	for {
		if _, more := s.Next(); !more {
			break
		}
	}
	s.Start(filetype.ByID("shellscript").Forms, []byte("a\nA\nb"), scan.NoSigns)
	_, more := s.Next()
	assert.False(t, more, "nothing is left of the source before")
}
