package catalog

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/document"
)

func TestKnownKeys(t *testing.T) {
	k := Known{Text: `
# a comment { that opens nothing
layout/width whole
layout/{tabs,
  align}/{a,b} bool
newline "\n"|"\r\n"|keep
limit <whole>|off
anything
{one, two}
checks list{width,
 tabs}
"A B/c" bool
`}
	require.NoError(t, k.Check())
	assert.Equal(t, map[string]any{
		"layout/width": "whole", "layout/tabs/a": "bool", "layout/tabs/b": "bool", "layout/align/a": "bool", "layout/align/b": "bool",
		"newline": []any{"\n", "\r\n", "keep"}, "limit": []any{"<whole>", "off"}, "anything": "any", "one": "any", "two": "any",
		"checks": document.ListOf{"width", "tabs"}, "A B/c": "bool",
	}, k.Keys())
}

func TestKnownKeysMistyped(t *testing.T) {
	for text, want := range map[string]string{
		"width hole":                 `"hole" is none of whole`,
		"width bool whole":           `"bool whole" is none of whole`,
		"{a,b whole":                 "a path of keys",
		"{a,{b,c}} whole":            "a path of keys",
		"width bool\nwidth":          "width is listed twice",
		"{a,a} bool":                 "a is listed twice",
		`newline "\n|keep`:           "is no text in quotes",
		strings.Repeat("{a,b}", 200): "it stands for more than",
		"checks list{a,b":            "is none of whole",
		"checks list{a,b} any":       "is none of whole",
	} {
		k := Known{Text: text}
		assert.ErrorContains(t, k.Check(), want, text)
	}
}

// A star stands for any one name in a path, two for any path; what is written out in full
// comes before them. What "**" stands for lies below a "*".
func TestKeysThatAreLookedUp(t *testing.T) {
	e := &Entry{
		Known:    Known{Text: "rules/width whole\nrules/*/level text\n*/enabled bool\nopen/*/**\nlast/* list\n"},
		Hyphens:  true,
		Variants: []Variants{{Prefix: "rules/", Names: []string{"", "deck~1"}}},
	}
	require.NoError(t, e.Known.Check())
	for path, want := range map[string]any{
		"rules/width": "whole", "rules/width/level": "text", "rules/other/level": "text", "rail/enabled": "bool",
		"open/a/b/c": "any", "last/a": "list", "rules/deck~1width": "whole",
	} {
		got, known := e.Takes(path)
		assert.True(t, known, path)
		assert.Equal(t, want, got, path)
	}
	for _, path := range []string{"rules/height", "rules/width/size", "enabled", "last/a/b", "open", "rules/pier~1width"} {
		_, known := e.Takes(path)
		assert.False(t, known, path)
	}
	plain := &Entry{Known: Known{Text: "max-width whole\n"}}
	_, known := plain.Takes("max_width")
	assert.False(t, known)
	plain.Hyphens = true
	got, known := plain.Takes("max_width")
	assert.True(t, known)
	assert.Equal(t, "whole", got)
}

// The names below a path are those that a mistyped one may have been meant to be.
func TestNamesBelow(t *testing.T) {
	k := Known{Text: "deck/{rail,mast}/width whole\nhull\n*/oar\n"}
	assert.Equal(t, []string{"deck", "hull"}, k.Below(""))
	assert.Equal(t, []string{"mast", "rail"}, k.Below("deck"))
	assert.Equal(t, []string{"width"}, k.Below("deck/rail"))
	assert.Equal(t, []string{"oar"}, k.Below("anything"), "in whatever section")
	assert.Empty(t, k.Below("no/such"))
}

func FuzzKnownKeys(f *testing.F) {
	f.Add("a/{b,c} bool\n# d\n\"e f\" x|y\nlist{a, b}")
	f.Fuzz(func(t *testing.T, text string) {
		k := Known{Text: text[:min(len(text), 1<<10)]}
		err := k.Check()
		assert.LessOrEqual(t, len(k.Keys()), maxKeys+maxAlternatives)
		if _, empty := k.Keys()[""]; err == nil && empty {
			t.Error("a key without a name")
		}
	})
}
