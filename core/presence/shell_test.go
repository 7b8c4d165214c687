package presence

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestSplit(t *testing.T) {
	for text, want := range map[string]string{
		"a b  c":                        "a b c",
		"a 'b c' \"d e\"":               "a <b c> <d e>",
		"a && b || c; d | e & f":        "a / b / c / d / e / f",
		"a # b\nc":                      "a / c@1",
		"a \\\n  b":                     "a b",
		"a b#c":                         "a b#c",
		"test -z \"$(f -l .)\"":         "f -l . / test -z $()",
		"for x in `git ls`; do f; done": "git ls / for x in $() / do f / done",
		"a > /dev/null 2>&1":            "a > /dev/null 2>&1",
		"(cd x && f)":                   "cd x / f",
		"a\\ b":                         "<a b>",
		"'open":                         "open",
		"\r\na\r\n":                     "a@1",
		"a \"b\\\"c\"":                  "a b\"c",
		"":                              "",
	} {
		var got []string
		for _, c := range split(text) {
			for i, w := range c.words {
				if strings.Contains(w, " ") {
					c.words[i] = "<" + w + ">"
				}
			}
			line := strings.Join(c.words, " ")
			if c.line > 0 {
				line += "@1"
			}
			got = append(got, line)
		}
		assert.Equal(t, want, strings.Join(got, " / "), "%q", text)
	}
}

func FuzzSplit(f *testing.F) {
	f.Add("a 'b' \"$(c `d`)\" \\\n e && f # g\n")
	f.Fuzz(func(t *testing.T, text string) {
		lines := strings.Count(text, "\n")
		for _, c := range split(text) {
			if len(c.words) == 0 || c.line > lines {
				t.Fatalf("%q: %v", text, c)
			}
		}
	})
}
