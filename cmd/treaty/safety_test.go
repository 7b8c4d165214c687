package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pier is a committed repository of which settling changes several files.
func pier(t *testing.T) string {
	return committed(t, map[string]string{
		".editorconfig": "root = true\n[*.rs]\nindent_size = 2\n", "rustfmt.toml": "tab_spaces = 4\n", "a.rs": "fn a() {\n    b();\n}\n",
		"web/.prettierrc": "{\"tabWidth\": 2}\n", "web/.editorconfig": "[*.js]\nindent_size = 4\n", "web/a.js": "a();\n", "web/package.json": "{\"devDependencies\": {\"prettier\": \"3.0.0\"}}\n",
	})
}

func TestUndo(t *testing.T) {
	dir := pier(t)
	before := contents(t, dir)
	require.Zero(t, run(t, dir, "settle", "--write").code)
	after := contents(t, dir)
	assert.NotEqual(t, before, after)
	undone := run(t, dir, "settle", "--undo")
	require.Zero(t, undone.code, undone.err)
	assert.Contains(t, undone.out, "treaty.toml")
	assert.Equal(t, before, contents(t, dir))
	again := run(t, dir, "settle", "--undo")
	assert.Equal(t, 3, again.code)
	assert.Contains(t, again.err, "no settlement is known")

	require.Zero(t, run(t, dir, "settle", "--write").code)
	write(t, dir, map[string]string{".editorconfig": "root = true\n"})
	refused := run(t, dir, "settle", "--undo")
	assert.Equal(t, 3, refused.code)
	assert.Contains(t, refused.err, ".editorconfig changed since the settlement; nothing was undone")
	assert.Contains(t, contents(t, dir), "treaty.toml")
}

func TestUncommittedChangesAreNotOverwritten(t *testing.T) {
	dir := pier(t)
	mine := "root = true\n[*.rs]\nindent_size = 2\n# mine\n"
	write(t, dir, map[string]string{".editorconfig": mine})
	r := run(t, dir, "settle", "--write")
	assert.Equal(t, 3, r.code)
	assert.Contains(t, r.err, ".editorconfig has changes that are not committed; nothing was written")
	assert.NotContains(t, contents(t, dir), "treaty.toml")
	forced := run(t, dir, "settle", "--write", "--force")
	require.Zero(t, forced.code, forced.err)
	_, at, found := strings.Cut(strings.TrimSpace(forced.err), "are kept in ")
	require.True(t, found, forced.err)
	kept, err := os.ReadFile(filepath.Join(at, ".editorconfig"))
	require.NoError(t, err)
	assert.Equal(t, mine, string(kept))
}

// A settlement that was interrupted is told of by commands that only read, and gone on
// with by those that write. How far it came does not matter, see package repo.
func TestInterruptedSettlements(t *testing.T) {
	for _, goOn := range []string{"--write", "--undo"} {
		dir := pier(t)
		old := contents(t, dir)
		require.Zero(t, run(t, dir, "settle", "--write").code)
		settled := contents(t, dir)
		state := filepath.Join(dir, ".git", "treaty")
		require.NoError(t, os.Rename(filepath.Join(state, "last"), filepath.Join(state, "journal")))
		write(t, dir, map[string]string{".editorconfig": old[".editorconfig"]}) // it did not come that far
		half := contents(t, dir)
		for _, command := range []string{"audit", "check", "settle", "survey"} {
			r := run(t, dir, command)
			assert.Contains(t, r.err, "a settlement was interrupted here; \"treaty settle --write\" finishes it, \"treaty settle --undo\" takes it back", command)
			assert.Equal(t, half, contents(t, dir), command)
		}
		r := run(t, dir, "settle", goOn, "--force")
		require.Zero(t, r.code, r.err)
		if goOn == "--undo" {
			assert.Contains(t, r.out, "A settlement of 3 files that was interrupted is taken back now")
			assert.Equal(t, old, contents(t, dir))
		} else {
			assert.Contains(t, r.err, "a settlement of 3 files that was interrupted is finished now")
			assert.Equal(t, settled, contents(t, dir))
		}
		assert.NotContains(t, run(t, dir, "audit").err, "interrupted")
	}
}

func TestTwoRunsAtOnce(t *testing.T) {
	dir := pier(t)
	results := make(chan result, 2)
	for range 2 {
		go func() { results <- run(t, dir, "settle", "--write") }()
	}
	a, b := <-results, <-results
	assert.True(t, a.code == 0 || b.code == 0, a.err+b.err)
	for _, r := range []result{a, b} { // the one that waited finds it done, or says that the files changed
		assert.True(t, r.code == 0 || strings.Contains(r.err, "changed while the plan was made") || strings.Contains(r.err, "not committed"), r.err)
	}
	assert.Empty(t, run(t, dir, "settle", "--patch").out)
}

func TestWhatCannotBeWrittenLeavesAllAsItWas(t *testing.T) {
	if os.Getuid() == 0 {
		t.Skip("the system lets root write anything")
	}
	dir := pier(t)
	require.NoError(t, os.Chmod(filepath.Join(dir, "rustfmt.toml"), 0o444))
	before := contents(t, dir)
	r := run(t, dir, "settle", "--write")
	if r.code != 0 {
		assert.Contains(t, r.err, "read-only")
		assert.Equal(t, before, contents(t, dir))
	}
}
