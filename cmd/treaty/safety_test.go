package main

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var kills = flag.Int("kills", 15, "how often a settlement is killed")

// pier is a committed repository of which settling changes several files.
func pier(t *testing.T) string {
	dir := write(t, t.TempDir(), map[string]string{
		".editorconfig": "root = true\n[*.rs]\nindent_size = 2\n", "rustfmt.toml": "tab_spaces = 4\n", "a.rs": "fn a() {\n    b();\n}\n",
		"web/.prettierrc": "{\"tabWidth\": 2}\n", "web/.editorconfig": "[*.js]\nindent_size = 4\n", "web/a.js": "a();\n", "web/package.json": "{\"devDependencies\": {\"prettier\": \"3.0.0\"}}\n",
	})
	git(t, dir, "", "init", "-q")
	git(t, dir, "", "add", "-A")
	git(t, dir, "", "-c", "user.name=crew", "-c", "user.email=crew@skerry.example", "commit", "-qm", "all")
	return dir
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

// A settlement killed at any instant leaves, after the next start, either the old
// state or the new one, in full, and nothing beside it.
func TestKilledSettlements(t *testing.T) {
	dir := pier(t)
	old := contents(t, dir)
	require.Zero(t, run(t, dir, "settle", "--write").code)
	settled := contents(t, dir)
	began := time.Now()
	require.Zero(t, run(t, dir, "settle", "--undo").code)
	require.Zero(t, run(t, dir, "settle", "--write").code)
	took := time.Since(began) / 2
	require.Zero(t, run(t, dir, "settle", "--undo").code)
	random := rand.New(rand.NewPCG(3, 5))
	finished, untouched, interrupted := 0, 0, 0
	state := filepath.Join(dir, ".git", "treaty")
	for range *kills {
		cmd := exec.Command(treaty, "settle", "--write")
		cmd.Dir = dir
		require.NoError(t, cmd.Start())
		done := make(chan error, 1)
		go func() { done <- cmd.Wait() }()
		// Half of them at any time, half right when the journal is being written or
		// carried out.
		if random.IntN(2) == 0 {
			time.Sleep(time.Duration(random.Int64N(int64(took))))
		} else {
			for deadline := time.Now().Add(5 * time.Second); time.Now().Before(deadline); {
				if _, err := os.Lstat(filepath.Join(state, "journal-new")); err == nil {
					break
				}
				if _, err := os.Lstat(filepath.Join(state, "journal")); err == nil {
					break
				}
				if len(done) > 0 {
					break
				}
			}
			time.Sleep(time.Duration(random.Int64N(int64(took) * 2 / 3)))
		}
		cmd.Process.Kill()
		<-done
		if _, err := os.Lstat(filepath.Join(state, "journal")); err == nil {
			interrupted++
		}
		next := run(t, dir, "audit", "--quick")
		require.Zero(t, next.code, next.err)
		now := contents(t, dir)
		switch fmt.Sprint(now) {
		case fmt.Sprint(old):
			untouched++
		case fmt.Sprint(settled):
			finished++
			require.Zero(t, run(t, dir, "settle", "--undo").code)
			require.Equal(t, old, contents(t, dir))
		default:
			require.Fail(t, "half a settlement", "%v", now)
		}
	}
	t.Logf("%d killed: %d left as it was, %d settled, %d of them finished at the next start", *kills, untouched, finished, interrupted)
	assert.Positive(t, untouched+finished)
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
