package claim

import (
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
)

func TestRelevant(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	relevant := []string{
		".editorconfig", ".github/workflows/ferry.yml", "app/.editorconfig", "app/rustfmt.toml", "gate/.editorconfig",
		"handbook/crew/.editorconfig", "scripts/lint-all", "tools/fares.sh",
	}
	others := []string{"app/fares.sh", "app/ferry.yml", "app/main.rs", "app/pylock", "handbook/crew/rota.md", "lint-all", "tools/main.rs"}
	fsys := fstest.MapFS{}
	var all []string
	for _, p := range append(relevant, others...) {
		fsys[p] = &fstest.MapFile{}
		all = append(all, p)
	}
	assert.Equal(t, relevant, Relevant(fsys, all, c))

	for name, row := range map[string]struct{ about, gone []string }{
		"the root":       {[]string{"lint-all"}, []string{"app/.editorconfig", "gate/.editorconfig", "handbook/crew/.editorconfig"}},
		"a folder":       {[]string{"app/main.rs"}, []string{"gate/.editorconfig", "handbook/crew/.editorconfig"}},
		"a folder below": {[]string{"handbook/crew/tides/may.md"}, []string{"app/.editorconfig", "gate/.editorconfig"}},
		"two":            {[]string{"app/main.rs", "gate/main.go"}, []string{"handbook/crew/.editorconfig"}},
	} {
		t.Run(name, func(t *testing.T) {
			left := Governing(Relevant(fsys, all, c), row.about, c)
			assert.Subset(t, relevant, left)
			assert.ElementsMatch(t, relevant, append(left, row.gone...))
		})
	}
}
