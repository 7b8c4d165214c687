package catalog_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
	"jollytreaty/core/filetype"
)

func TestExtended(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	entry := func(id string) *fstest.MapFile {
		return &fstest.MapFile{Data: []byte("id = \"" + id + "\"\nname = \"Ours\"\nroles = [\"formatter\"]\nversion = \"1\"\nsource = \"in house\"\n")}
	}
	same, invalid := c.Extended(fstest.MapFS{}, catalog.Folder)
	require.Empty(t, invalid)
	assert.Same(t, c, same, "without a folder nothing changes")

	more, invalid := c.Extended(fstest.MapFS{".treaty/programs/berth.entry.toml": entry("berth"), ".treaty/programs/rustfmt.entry.toml": entry("rustfmt"), ".treaty/programs/readme.md": {}}, catalog.Folder)
	require.Empty(t, invalid)
	assert.Len(t, more.Entries, len(c.Entries)+1)
	assert.Equal(t, "Ours", more.ByID("berth").Name)
	assert.Equal(t, "Ours", more.ByID("rustfmt").Name, "it takes the place of the built-in one")
	assert.Equal(t, "rustfmt", c.ByID("rustfmt").Name, "which stays as it is")

	own := fstest.MapFS{".treaty/programs/berth.entry.toml": entry("berth"), ".treaty/programs/rustfmt.entry.toml": entry("rustfmt")}
	completed, invalid := c.Completed(own, catalog.Folder)
	require.Empty(t, invalid)
	assert.Equal(t, "rustfmt", completed.ByID("rustfmt").Name, "which is known already")
	assert.Equal(t, "Ours", completed.ByID("berth").Name)

	rest, invalid := c.Extended(fstest.MapFS{
		".treaty/programs/a.entry.toml": entry("b"), ".treaty/programs/c.entry.toml": {Data: []byte("# c\nx = 1\n")}, ".treaty/programs/d.entry.toml": {Data: []byte("x = \n")},
		".treaty/programs/e.entry.toml": {Data: make([]byte, 2<<20)}, ".treaty/programs/f.entry.toml": entry("f"), ".treaty/programs/x.entry.toml": entry("x y"),
	}, catalog.Folder)
	assert.NotNil(t, rest.ByID("f"), "what is valid counts")
	require.Len(t, invalid, 5)
	for i, says := range []string{"a.entry.toml:1:1: its id is \"b\"", "c.entry.toml:2:1: unknown key \"x\"", "d.entry.toml:1:5: ", "e.entry.toml:1:1: larger than 1024 kB", "x.entry.toml:1:1: id = \"x y\""} {
		assert.ErrorContains(t, invalid[i], says)
	}
}

// Bases, runs and packages of the entries hang together.
func TestEntriesHangTogether(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for _, e := range c.Entries {
		for _, p := range e.Settings {
			assert.NotEmpty(t, p.Files, e.ID)
		}
		if e.Retired != nil {
			for _, id := range e.Retired.By {
				assert.NotNil(t, c.ByID(id), "%s is followed by %s", e.ID, id)
			}
		}
		if e.Has(catalog.Formatter) || e.Has(catalog.Linter) {
			assert.NotZero(t, len(e.Covers)+len(e.Partial), e.ID)
		}
		if len(e.Commands) > 0 {
			assert.NotZero(t, e.Runs.Does, "what %s does when it runs is not said", e.ID)
		}
	}
	for _, r := range c.Places.Runs {
		if r.Hooks == nil {
			continue
		}
		for tag, id := range r.Hooks.Tags {
			assert.True(t, id == "" || filetype.ByID(id) != nil, "the tag %s stands for %s, which is no type", tag, id)
		}
	}
	ecosystems := map[string]bool{"hook": true, "action": true, "setup": true, "image": true}
	for _, m := range c.Places.Manifests {
		ecosystems[m.Ecosystem] = true
	}
	for _, e := range c.Entries {
		for name := range e.Packages {
			assert.True(t, ecosystems[name], "%s is brought by %s, of which nothing is read", e.ID, name)
		}
	}
}

// The page about entries shows one that loads.
func TestThePagesExample(t *testing.T) {
	page, err := os.ReadFile(filepath.Join("..", "..", "docs", "catalog.md"))
	require.NoError(t, err)
	_, rest, found := strings.Cut(string(page), "## A small entry\n")
	require.True(t, found)
	example, _, _ := strings.Cut(rest, "\nFurther keys")
	var b strings.Builder
	for line := range strings.Lines(example) {
		b.WriteString(strings.TrimPrefix(line, "    "))
	}
	e, err := catalog.Decode("tidyberth", []byte(b.String()))
	require.NoError(t, err)
	require.NoError(t, e.Known.Check())
	assert.Len(t, e.Rules, 2)
}
