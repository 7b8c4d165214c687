package repo

import (
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The paths read from an index are those that git tells of, in every version of
// the format.
func TestTracked(t *testing.T) {
	dir := t.TempDir()
	gitIn := func(args ...string) string {
		cmd := exec.Command("git", append([]string{"-c", "user.name=a", "-c", "user.email=a@b"}, args...)...)
		cmd.Dir = dir
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, "%v %s", args, out)
		return string(out)
	}
	gitIn("init", "-q")
	for _, p := range []string{"a", "a.b", "a/x", "a0", "deep/er/and/deeper/still.txt", "ünï", strings.Repeat("long/", 30) + strings.Repeat("n", 200)} {
		if p == "a" {
			continue
		}
		full := filepath.Join(dir, filepath.FromSlash(p))
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(p), 0o644))
	}
	gitIn("add", "-A")
	for _, version := range []string{"2", "3", "4"} {
		gitIn("update-index", "--index-version", version)
		if version == "3" {
			require.NoError(t, os.WriteFile(filepath.Join(dir, "later"), []byte("x"), 0o644))
			gitIn("add", "-N", "later") // needs an extended entry
		}
		want := strings.Split(strings.TrimSuffix(gitIn("ls-files", "-z"), "\x00"), "\x00")
		got, sparse, ok := tracked(filepath.Join(dir, ".git"))
		require.True(t, ok, version)
		assert.False(t, sparse)
		slices.Sort(want)
		slices.Sort(got)
		assert.Equal(t, want, got, version)
	}
	gitIn("update-index", "--skip-worktree", "a0")
	got, sparse, ok := tracked(filepath.Join(dir, ".git"))
	require.True(t, ok)
	assert.True(t, sparse)
	assert.NotContains(t, got, "a0")
	gitIn("update-index", "--split-index")
	_, _, ok = tracked(filepath.Join(dir, ".git"))
	assert.False(t, ok, "a split index is left to git")
	_, _, ok = tracked(t.TempDir())
	assert.False(t, ok)
}

func FuzzIndex(f *testing.F) {
	f.Add([]byte("DIRC\x00\x00\x00\x02\x00\x00\x00\x00" + strings.Repeat("\x00", 20)))
	f.Add([]byte("DIRC\x00\x00\x00\x04\x00\x00\x00\x01" + strings.Repeat("\x00", 62) + "\x00a\x00" + strings.Repeat("\x00", 20)))
	f.Add([]byte("DIRC\x00\x00\x00\x02\x00\x00\x00\x01" + strings.Repeat("\x00", 61) + "\x01a\x00" + strings.Repeat("\x00", 27)))
	f.Fuzz(func(_ *testing.T, raw []byte) { parseIndex(raw, nil) })
}
