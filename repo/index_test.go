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
		got, ok := readIndex(at(dir), nil)
		require.True(t, ok, version)
		assert.False(t, got.sparse)
		slices.Sort(want)
		slices.Sort(got.paths)
		assert.Equal(t, want, got.paths, version)
	}
	gitIn("update-index", "--skip-worktree", "a0")
	got, ok := readIndex(at(dir), nil)
	require.True(t, ok)
	assert.True(t, got.sparse)
	assert.Contains(t, got.paths, "a0", "it may be there all the same")
	gitIn("update-index", "--split-index")
	_, ok = readIndex(at(dir), nil)
	assert.False(t, ok, "a split index is left to git")
	_, ok = readIndex(at(t.TempDir()), nil)
	assert.False(t, ok)
}

// at is git in a work tree, asked about nothing.
func at(dir string) *gitAt { return &gitAt{top: dir, dir: filepath.Join(dir, ".git")} }

func TestPathsThatGitWouldNotCheckOut(t *testing.T) {
	for _, p := range []string{"", "/etc/x", "a/../../x", "..", "a//b", "./a", ".git/hooks/pre-commit", "a/.GIT/config", ".git ", "x/.git./y", ".g\u200cit/x"} {
		assert.False(t, ordinary(p), p)
	}
	for _, p := range []string{"a", ".gitignore", "a/.github/x.yml", "a.b/..c", "\xff/x", "git/x"} {
		assert.True(t, ordinary(p), p)
	}
}

func FuzzIndex(f *testing.F) {
	f.Add([]byte("DIRC\x00\x00\x00\x02\x00\x00\x00\x00" + strings.Repeat("\x00", 20)))
	f.Add([]byte("DIRC\x00\x00\x00\x04\x00\x00\x00\x01" + strings.Repeat("\x00", 62) + "\x00a\x00" + strings.Repeat("\x00", 20)))
	f.Add([]byte("DIRC\x00\x00\x00\x02\x00\x00\x00\x01" + strings.Repeat("\x00", 61) + "\x01a\x00" + strings.Repeat("\x00", 27)))
	f.Fuzz(func(_ *testing.T, raw []byte) { parseIndex(raw, nil) })
}
