package repo

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/tree"
)

func git2(t *testing.T, dir string, args ...string) {
	t.Helper()
	args = append([]string{"-c", "user.name=t", "-c", "user.email=t@skerry.example", "-c", "protocol.file.allow=always"}, args...)
	cmd := exec.Command("git", args...)
	cmd.Dir, cmd.Env = dir, Unbound(os.Environ())
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
}

func put(t *testing.T, dir string, files ...string) {
	t.Helper()
	for _, name := range files {
		name, text, _ := strings.Cut(name, "=")
		full := filepath.Join(dir, name)
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
	}
}

func open(t *testing.T, dir string) *Repo {
	t.Helper()
	r, err := Open(dir, Listing{})
	require.NoError(t, err)
	t.Cleanup(func() { r.Close() })
	return r
}

func TestGitList(t *testing.T) {
	dir := t.TempDir()
	git2(t, dir, "init", "-q")
	put(t, dir, ".gitignore=*.log\nout/\n", "a", "kept.go", "gone.go", "sub/b.go", "we ird/\"quo\nted\".go", "é.go")
	git2(t, dir, "add", "-A")
	git2(t, dir, "commit", "-qm", "one")
	put(t, dir, "new.go", "x.log", "out/y.go")
	require.NoError(t, os.Remove(filepath.Join(dir, "gone.go")))
	want := []string{".gitignore", "a", "kept.go", "new.go", "sub/b.go", "we ird/\"quo\nted\".go", "é.go"}
	r := open(t, dir)
	assert.True(t, r.Git)
	assert.Equal(t, want, r.Paths)
	assert.Empty(t, r.Notes)

	below := open(t, filepath.Join(dir, "sub"))
	assert.Equal(t, want, below.Paths, "a folder of a work tree stands for the work tree")

	git2(t, dir, "rm", "-q", "--cached", "kept.go")
	assert.Equal(t, want, open(t, dir).Paths, "no longer tracked, still there")
}

func TestGitListOfMerge(t *testing.T) {
	dir := t.TempDir()
	git2(t, dir, "init", "-q", "-b", "main")
	put(t, dir, "a.go=one\n")
	git2(t, dir, "add", "-A")
	git2(t, dir, "commit", "-qm", "one")
	git2(t, dir, "checkout", "-qb", "other")
	put(t, dir, "a.go=two\n")
	git2(t, dir, "commit", "-qam", "two")
	git2(t, dir, "checkout", "-q", "main")
	put(t, dir, "a.go=three\n")
	git2(t, dir, "commit", "-qam", "three")
	cmd := exec.Command("git", "-c", "user.name=t", "-c", "user.email=t@skerry.example", "merge", "-q", "other")
	cmd.Dir = dir
	assert.Error(t, cmd.Run(), "the merge conflicts")
	assert.Equal(t, []string{"a.go"}, open(t, dir).Paths, "listed once, though git has three versions")
}

func TestSubmodulesAndRepositoriesWithinAreNotFiles(t *testing.T) {
	inner := t.TempDir()
	git2(t, inner, "init", "-q")
	put(t, inner, "x.go")
	git2(t, inner, "add", "-A")
	git2(t, inner, "commit", "-qm", "one")
	dir := t.TempDir()
	git2(t, dir, "init", "-q")
	git2(t, dir, "submodule", "--quiet", "add", inner, "mod.go")
	put(t, dir, "a.go", "own/b.go")
	git2(t, filepath.Join(dir, "own"), "init", "-q")
	assert.Equal(t, []string{".gitmodules", "a.go"}, open(t, dir).Paths)
}

func TestIgnoredFolderCountsByItself(t *testing.T) {
	dir := t.TempDir()
	git2(t, dir, "init", "-q")
	put(t, dir, ".gitignore=box/\n", "a.go", "box/b.go")
	r := open(t, filepath.Join(dir, "box"))
	assert.False(t, r.Git)
	assert.Equal(t, []string{"b.go"}, r.Paths)
}

func TestLinkedWorkTreeAndSparse(t *testing.T) {
	dir := t.TempDir()
	git2(t, dir, "init", "-q", "-b", "main")
	put(t, dir, "a/x.go", "b/y.go")
	git2(t, dir, "add", "-A")
	git2(t, dir, "commit", "-qm", "one")
	linked := filepath.Join(t.TempDir(), "linked")
	git2(t, dir, "worktree", "add", "-q", linked, "-b", "side")
	assert.Equal(t, []string{"a/x.go", "b/y.go"}, open(t, linked).Paths)
	git2(t, linked, "sparse-checkout", "set", "a")
	assert.Equal(t, []string{"a/x.go"}, open(t, linked).Paths)
}

func TestWalk(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, ".gitignore=*.log\n!keep.log\n/top\nbuild/\n", "a.log", "keep.log", "top", "sub/top", "build/x", "sub/build/y",
		"sub/.gitignore=!a.log\n*.tmp\n", "sub/a.log", "sub/b.tmp", "c.tmp", ".hg/store", "é/ü")
	require.NoError(t, os.Symlink(".", filepath.Join(dir, "sub", "loop")))
	r := open(t, dir)
	assert.False(t, r.Git)
	assert.Equal(t, []string{".gitignore", "c.tmp", "keep.log", "sub/.gitignore", "sub/a.log", "sub/loop", "sub/top", "é/ü"}, r.Paths)
}

func TestOpenErrors(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "file")
	_, err := Open(filepath.Join(dir, "none"), Listing{})
	assert.ErrorContains(t, err, "there is no folder")
	_, err = Open(filepath.Join(dir, "file"), Listing{})
	assert.ErrorContains(t, err, "name the folder it is in")
}

func read(t *testing.T, dir, name string) string {
	t.Helper()
	text, err := os.ReadFile(filepath.Join(dir, name))
	if os.IsNotExist(err) {
		return "(not there)"
	}
	require.NoError(t, err)
	return string(text)
}

func change(path, before, after string) Change {
	c := Change{Path: path}
	if before != "-" {
		c.Before = []byte(before)
	}
	if after != "-" {
		c.After = []byte(after)
	}
	return c
}

func TestWrite(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "change=old", "go=bye", "sub/run=old")
	require.NoError(t, os.Chmod(filepath.Join(dir, "sub/run"), 0o755))
	require.NoError(t, os.Symlink("change", filepath.Join(dir, "link")))
	r := open(t, dir)
	require.NoError(t, r.Write([]Change{change("link", "old", "new"), change("go", "bye", "-"), change("made", "-", "here"), change("sub/run", "old", "new")}))
	assert.Equal(t, "new", read(t, dir, "change"), "through the link")
	assert.Equal(t, "(not there)", read(t, dir, "go"))
	assert.Equal(t, "here", read(t, dir, "made"))
	info, err := os.Lstat(filepath.Join(dir, "link"))
	require.NoError(t, err)
	assert.NotZero(t, info.Mode()&os.ModeSymlink, "still a link")
	info, err = os.Stat(filepath.Join(dir, "sub/run"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o755), info.Mode().Perm(), "rights are kept")
}

// Each of these refuses as a whole: no file changes and none is left behind.
func TestWriteIsAllOrNothing(t *testing.T) {
	outside := t.TempDir()
	put(t, outside, "secret=keep")
	for says, bad := range map[string]Change{
		"changed while the plan was made":   change("b", "something else", "new"),
		"leads out of the repository":       change("out", "keep", "new"),
		"a/e/f cannot be written":           change("a/e/f", "-", "new"),
		"git's own folder and is not":       change(".git/hooks/x", "-", "new"),
		"folder cannot be written":          change("folder", "-", "new"),
		"c changed while":                   change("c", "-", "new"),
		"missing cannot be written":         change("missing", "old", "new"),
		"../up leads out of the":            change("../up", "-", "new"),
		"gone cannot be written (file does": change("gone", "was here", "-"),
	} {
		t.Run(says, func(t *testing.T) {
			dir := t.TempDir()
			put(t, dir, "a=old", "b=old", "c=there", "folder/x=1")
			require.NoError(t, os.Symlink(filepath.Join(outside, "secret"), filepath.Join(dir, "out")))
			before, err := os.ReadDir(dir)
			require.NoError(t, err)
			r := open(t, dir)
			err = r.Write([]Change{change("a", "old", "new"), bad})
			require.ErrorContains(t, err, says)
			assert.Equal(t, "old", read(t, dir, "a"))
			assert.Equal(t, "keep", read(t, outside, "secret"))
			after, err := os.ReadDir(dir)
			require.NoError(t, err)
			assert.Len(t, after, len(before))
		})
	}
}

// Settings that would have git start a program do not.
func TestNothingFromTheRepositoryRuns(t *testing.T) {
	dir := t.TempDir()
	git2(t, dir, "init", "-q")
	put(t, dir, "a.go", "evil=#!/bin/sh\ntouch \""+filepath.Join(dir, "ran")+"\"\n")
	require.NoError(t, os.Chmod(filepath.Join(dir, "evil"), 0o755))
	git2(t, dir, "config", "core.fsmonitor", filepath.Join(dir, "evil"))
	assert.Equal(t, []string{"a.go", "evil"}, open(t, dir).Paths)
	assert.Equal(t, "(not there)", read(t, dir, "ran"))
}

// Folders are opened below the root and nowhere else, and of their files links are
// not followed.
func TestOpenFolder(t *testing.T) {
	dir, outside := t.TempDir(), t.TempDir()
	put(t, outside, "x=secret")
	put(t, dir, "a/b/c/file=text", "top=at the root")
	for name, to := range map[string]string{"out": outside, "a/in": "b/c", "a/up": "../..", "a/b/c/link": filepath.Join(outside, "x"), "a/b/c/near": "file"} {
		require.NoError(t, os.Symlink(to, filepath.Join(dir, name)))
	}
	fsys := open(t, dir).FS().(tree.Opener)
	for name, want := range map[string]string{"a/b/c file": "text", ". top": "at the root", "a/in file": "text"} {
		where, base, _ := strings.Cut(name, " ")
		folder, err := fsys.OpenFolder(where)
		require.NoError(t, err, name)
		buf := make([]byte, 100)
		n, err := folder.Read(base, buf)
		assert.NoError(t, err, name)
		assert.Equal(t, want, string(buf[:n]), name)
		assert.NoError(t, folder.Close())
	}
	for _, name := range []string{"out", "a/up", "../x", "none", "top", "a/b/c/file"} {
		_, err := fsys.OpenFolder(name)
		assert.Error(t, err, name)
	}
	folder, err := fsys.OpenFolder("a/b/c")
	require.NoError(t, err)
	defer folder.Close()
	for _, name := range []string{"link", "near", "none"} {
		_, err := folder.Read(name, make([]byte, 100))
		assert.Error(t, err, name)
	}
}
