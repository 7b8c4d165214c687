package sign

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every word has its row, and is read as it is written.
func TestWords(t *testing.T) {
	last := 0
	for i, k := range Kinds() {
		assert.Equal(t, Kind(i+1), k, "the rows stand in the order of the kinds")
		var back Kind
		require.NoError(t, back.UnmarshalText([]byte(k.String())))
		assert.Equal(t, k, back)
		assert.NotEmpty(t, k.Label())
		assert.NotEmpty(t, k.Reason())
		assert.Contains(t, []string{"treaty", "settings", "dependency", "lock", "hook", "ci", "script", "editor", "toolchain", "installed", "personal", "lock"}, k.As(), "results name no other kinds")
		if i > 0 {
			assert.LessOrEqual(t, k.Strength(), last)
		}
		last = k.Strength()
	}
	assert.Equal(t, Lock, Kinds()[len(Kinds())-1], "no kind is left out")
	for m := Type; m <= Hand; m++ {
		var back Moment
		require.NoError(t, back.UnmarshalText([]byte(m.String())))
		assert.Equal(t, m, back)
		assert.NotEmpty(t, m.Words())
	}
	for _, d := range []Deed{Writes, Checks, Lints, Prints} {
		var back Deed
		require.NoError(t, back.UnmarshalText([]byte(d.String())))
		assert.Equal(t, d, back)
	}
	var k Kind
	var m Moment
	var d Deed
	for _, empty := range []string{"", "elsewhere"} { // an empty word means nothing silently
		assert.Error(t, k.UnmarshalText([]byte(empty)))
		assert.Error(t, m.UnmarshalText([]byte(empty)))
		assert.Error(t, d.UnmarshalText([]byte(empty)))
	}
}
