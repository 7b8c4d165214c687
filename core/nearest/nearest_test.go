package nearest

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestOf(t *testing.T) {
	known := []string{"indent_style", "indent_size", "quotes", "charset"}
	for word, want := range map[string]string{
		"indent_sytle":  "indent_style", // two letters swapped
		"indent_stile":  "indent_style", // one changed
		"indentsize":    "indent_size",  // one left out
		"indent__siize": "indent_size",  // two added
		"quote":         "quotes",
		"quot":          "", // two off in a short word
		"chrst":         "", // likewise
		"wingspan":      "",
		"":              "",
	} {
		assert.Equal(t, want, Of(word, known), word)
	}
	assert.Empty(t, Of("quotes", nil))
}

func TestDistance(t *testing.T) {
	for _, c := range []struct {
		a, b string
		want int
	}{
		{"", "", 0}, {"tide", "tide", 0}, {"", "tide", 4}, {"tide", "tied", 1}, {"tide", "side", 1},
		{"tide", "tides", 1}, {"tide", "ride on", 4}, {"é", "e", 1}, {"abcd", "badc", 2},
	} {
		var rows [3][longest + 1]int
		assert.Equal(t, c.want, distance(letters(c.a), letters(c.b), longest, &rows), "%s %s", c.a, c.b)
		assert.Equal(t, c.want, distance(letters(c.b), letters(c.a), longest, &rows), "%s %s", c.b, c.a)
		assert.Equal(t, c.b != "", Within(c.want, c.a, c.b), "%s %s", c.a, c.b)
		assert.False(t, Within(c.want-1, c.a, c.b), "%s %s", c.a, c.b)
	}
}

func TestClosestIsTheFirstOfSeveral(t *testing.T) {
	assert.Equal(t, "ab", Closest("ax", []string{"ab", "ac"}))
	assert.Empty(t, Closest("ax", nil))
}
