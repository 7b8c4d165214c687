package present

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/conflict"
)

// What the reference says is what the tables say.
func TestReference(t *testing.T) {
	var out bytes.Buffer
	Reference(&out)
	path := filepath.Join("..", "docs", "reference.md")
	if *update {
		require.NoError(t, os.WriteFile(path, out.Bytes(), 0o644))
	}
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, out.String(), string(text), "run the test with -update and read what changed")
}

// Nothing that a reader, a report or a plan asks of a code is left out of the table.
func TestEveryCodeIsKnown(t *testing.T) {
	for _, m := range conflict.Table() {
		assert.NotZero(t, m.Severity.Rank(), m.Code)
		assert.NotZero(t, m.Sort, m.Code)
		assert.Regexp(t, `^[A-Z].*\.$`, m.Help, m.Code)
		assert.Regexp(t, `^[A-Z].*\.$`, m.Settled, m.Code)
		assert.NotRegexp(t, `\.$`, m.ByHand+m.Open, m.Code)
		assert.False(t, m.ByHand != "" && m.Open != "", "%s: what is always left by hand has no other reason", m.Code)
		assert.True(t, m.Title != "" || m.Code.Is(conflict.Values|conflict.Word|conflict.Text), "%s has no title of its own", m.Code)
	}
}
