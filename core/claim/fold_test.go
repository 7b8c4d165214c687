package claim

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/document"
)

// Keys are called by the names under which they are known; those that are not known are in
// small letters, and what lies below them stays.
func TestFoldKeys(t *testing.T) {
	doc, err := document.Parse("json", "a.json", []byte(`{"md013": {"Width": 1}, "MAX_LEN": 2, "Rail-Height": 3}`))
	require.NoError(t, err)
	foldKeys(doc.Root, []string{"MD013", "rail-height"})
	var keys []string
	for _, n := range doc.Root.Items {
		keys = append(keys, n.Key)
	}
	assert.Equal(t, []string{"MD013", "max_len", "rail-height"}, keys)
	assert.Equal(t, "1", doc.Root.Find("MD013/Width").Text())
	assert.NotPanics(t, func() { foldKeys(nil, []string{"MD013"}) })
}
