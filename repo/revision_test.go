package repo

import (
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRevision(t *testing.T) {
	dir := t.TempDir()
	in := func(args ...string) {
		t.Helper()
		cmd := exec.Command("git", append([]string{"-c", "user.name=a", "-c", "user.email=a@b.example"}, args...)...)
		cmd.Dir = dir
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
	}
	put := func(name, text string) {
		t.Helper()
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, name)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o644))
	}
	put("a.toml", "old")
	put("deep/er/b \"c\"\n.md", "x")
	require.NoError(t, os.Symlink("../a.toml", filepath.Join(dir, "deep/link")))
	require.NoError(t, os.Symlink("../../out", filepath.Join(dir, "deep/away")))
	require.NoError(t, os.Symlink("round", filepath.Join(dir, "round")))
	in("init", "-q")
	in("add", "-A")
	in("commit", "-q", "-m", "one")
	put("a.toml", "new")
	require.NoError(t, os.RemoveAll(filepath.Join(dir, "deep")))

	r, err := Open(dir, Listing{})
	require.NoError(t, err)
	defer r.Close()
	v, err := r.At("HEAD")
	require.NoError(t, err)
	defer v.Close()
	assert.Equal(t, []string{"a.toml", "deep/away", "deep/er/b \"c\"\n.md", "deep/link", "round"}, v.Paths)
	for path, want := range map[string]string{"a.toml": "old", "deep/er/b \"c\"\n.md": "x", "deep/link": "old"} {
		text, err := fs.ReadFile(v, path)
		require.NoError(t, err, path)
		assert.Equal(t, want, string(text), path)
	}
	for _, path := range []string{"deep/away", "round", "none", "deep/none", "../a.toml"} {
		_, err := v.Open(path)
		assert.Error(t, err, path)
	}
	entries, err := fs.ReadDir(v, "deep")
	require.NoError(t, err)
	assert.Len(t, entries, 3)
	assert.True(t, entries[0].IsDir() || entries[1].IsDir() || entries[2].IsDir())
	folder, err := v.Open("deep/er")
	require.NoError(t, err)
	_, err = folder.Read(nil)
	assert.Error(t, err, "a folder is not read")

	for _, revision := range []string{"nowhere", "--all", "HEAD:a.toml", ""} {
		_, err := r.At(revision)
		assert.Error(t, err, revision)
	}
	empty, err := Open(t.TempDir(), Listing{})
	require.NoError(t, err)
	defer empty.Close()
	_, err = empty.At("HEAD")
	assert.ErrorContains(t, err, "no git work tree")
}
