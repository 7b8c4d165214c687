package repo

import (
	"io/fs"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// interrupted leaves a journal behind, with the first of its changes carried out.
func interrupted(t *testing.T, r *Repo, carried int, changes ...Change) string {
	t.Helper()
	state, err := r.state()
	require.NoError(t, err)
	require.NoError(t, os.MkdirAll(state, 0o755))
	modes := make([]fs.FileMode, len(changes))
	for i := range modes {
		modes[i] = 0o644
	}
	require.NoError(t, writeRecord(state, changes, modes))
	for _, c := range changes[:carried] {
		target, err := r.target(c.Path)
		require.NoError(t, err)
		require.NoError(t, carry(target, c, 0o644))
	}
	return state
}

// However far a settlement came, the next start finishes it.
func TestInterruptedSettlementsAreFinished(t *testing.T) {
	for carried := range 4 {
		dir := t.TempDir()
		put(t, dir, "change=old", "go=bye")
		r := open(t, dir)
		state := interrupted(t, r, carried, change("change", "old", "new"), change("go", "bye", "-"), change("made", "-", "here"))
		put(t, dir, tempPrefix+"-change=half")
		done, err := r.Recover()
		require.NoError(t, err)
		assert.Contains(t, done, "3 files")
		assert.Equal(t, "new", read(t, dir, "change"))
		assert.Equal(t, "(not there)", read(t, dir, "go"))
		assert.Equal(t, "here", read(t, dir, "made"))
		assert.NoFileExists(t, filepath.Join(dir, tempPrefix+"-change"))
		assert.NoDirExists(t, filepath.Join(state, journalName))
		again, err := r.Recover()
		require.NoError(t, err)
		assert.Empty(t, again)
		paths, err := r.Undo()
		require.NoError(t, err)
		assert.Equal(t, []string{"change", "go", "made"}, paths)
		assert.Equal(t, "old", read(t, dir, "change"))
		assert.Equal(t, "bye", read(t, dir, "go"))
		assert.Equal(t, "(not there)", read(t, dir, "made"))
	}
}

// A journal that was never put in its place counts for nothing, and what somebody
// wrote in between stays.
func TestWhatAJournalLeavesAlone(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "a=old", "b=old")
	r := open(t, dir)
	state := interrupted(t, r, 0, change("a", "old", "new"), change("b", "old", "new"))
	require.NoError(t, os.Rename(filepath.Join(state, journalName), filepath.Join(state, journalName+"-new")))
	done, err := r.Recover()
	require.NoError(t, err)
	assert.Empty(t, done)
	assert.Equal(t, "old", read(t, dir, "a"))

	interrupted(t, r, 0, change("a", "old", "new"), change("b", "old", "new"))
	put(t, dir, "a=mine")
	_, err = r.Recover()
	require.NoError(t, err)
	assert.Equal(t, "mine", read(t, dir, "a"))
	assert.Equal(t, "new", read(t, dir, "b"))
	_, err = r.Undo()
	assert.ErrorContains(t, err, "a changed since the settlement")
	assert.Equal(t, "new", read(t, dir, "b"), "nothing is undone then")
}

func TestBrokenJournalsAreToldOf(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "a=old")
	r := open(t, dir)
	state := interrupted(t, r, 0, change("a", "old", "new"))
	record := filepath.Join(state, journalName, "record.json")
	require.NoError(t, os.WriteFile(record, []byte("{"), 0o644))
	_, err := r.Recover()
	assert.ErrorContains(t, err, "cannot be read")
	require.NoError(t, os.WriteFile(record, []byte(`{"files":[{"path":"../out"}]}`), 0o644))
	_, err = r.Recover()
	assert.Error(t, err, "nothing outside is written, whatever a journal says")
}

// The state of a folder without git lies in it, and is none of its files.
func TestStateIsNoFileOfTheRepository(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "a=old")
	require.NoError(t, open(t, dir).Write([]Change{change("a", "old", "new")}))
	assert.Equal(t, []string{"a"}, open(t, dir).Paths)
	git2(t, dir, "init", "-q")
	assert.Equal(t, []string{"a"}, open(t, dir).Paths)
}

func TestCopiesAreKept(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "sub/a=mine")
	r := open(t, dir)
	at, err := r.Keep([]string{"sub/a", "gone"}, "now")
	require.NoError(t, err)
	text, err := os.ReadFile(filepath.Join(at, "sub/a"))
	require.NoError(t, err)
	assert.Equal(t, "mine", string(text))
}

func TestUncommitted(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "same=1", "staged=1", "changed=1", "odd [name]*=1", ".gitignore=ignored\n")
	git2(t, dir, "init", "-q")
	git2(t, dir, "add", "-A")
	git2(t, dir, "-c", "user.name=x", "-c", "user.email=x@skerry.example", "commit", "-qm", "x")
	put(t, dir, "staged=2", "changed=2", "new=1", "ignored=1", "odd [name]*=2")
	git2(t, dir, "add", "staged")
	dirty, err := open(t, dir).Uncommitted([]string{"same", "staged", "changed", "new", "ignored", "odd [name]*"})
	require.NoError(t, err)
	assert.ElementsMatch(t, []string{"staged", "changed", "new", "ignored", "odd [name]*"}, dirty)
	none, err := open(t, dir).Uncommitted([]string{"same"})
	require.NoError(t, err)
	assert.Empty(t, none)
}

func TestWhatIsStaged(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "a=1", "sub/b=1")
	git2(t, dir, "init", "-q")
	git2(t, dir, "add", "-A")
	r := open(t, dir)
	changed, err := r.Changed()
	require.NoError(t, err)
	assert.Equal(t, []string{"a", "sub/b"}, changed, "before the first commit everything is new")
	put(t, dir, "a=2")
	v, err := r.Staged()
	require.NoError(t, err)
	defer v.Close()
	assert.Equal(t, []string{"a", "sub/b"}, v.Paths)
	text, err := fs.ReadFile(v, "a")
	require.NoError(t, err)
	assert.Equal(t, "1", string(text), "as it is staged, not as it lies there")
	entries, err := fs.ReadDir(v, "sub")
	require.NoError(t, err)
	assert.Len(t, entries, 1)
	_, err = fs.ReadFile(v, "none")
	assert.ErrorIs(t, err, fs.ErrNotExist)
	unstaged, err := r.Unstaged()
	require.NoError(t, err)
	assert.Equal(t, []string{"a"}, unstaged)
}

func TestShellScriptsAreTold(t *testing.T) {
	for text, want := range map[string]bool{"#!/bin/sh\n": true, "#!/usr/bin/env bash\n": true, "#!/bin/sh -e\n": true, "#!/usr/bin/python3\n": false, "echo\n": false} {
		assert.Equal(t, want, isShell([]byte(text)), text)
	}
}
