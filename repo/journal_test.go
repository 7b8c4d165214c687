package repo

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestMain keeps what the tests leave behind out of the person's own folders, and
// their repositories from the one a test may have been started in.
func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "treaty-repo-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	os.Setenv("XDG_STATE_HOME", filepath.Join(dir, "state"))
	for _, name := range local {
		os.Unsetenv(name)
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// harbour is a folder, with git or without, in which a settlement changes a file, makes
// two, one of them in new folders, and removes a program.
func harbour(t *testing.T, git bool) (dir string, changes []Change) {
	t.Helper()
	dir = t.TempDir()
	put(t, dir, "change=old", "go=bye", "sub/x=1")
	require.NoError(t, os.Chmod(filepath.Join(dir, "go"), 0o750))
	require.NoError(t, os.Chmod(filepath.Join(dir, "change"), 0o640))
	if git { // as little of it as is looked at
		put(t, dir, ".git/HEAD=ref: refs/heads/main\n", ".git/config=[core]\n")
	}
	return dir, []Change{change("change", "old", "new"), change("go", "bye", "-"), change("made", "-", "here"), change("far/off/made", "-", "there")}
}

// state is what a folder holds, with rights, but for git's own.
func stateOf(t *testing.T, dir string) string {
	t.Helper()
	var b strings.Builder
	require.NoError(t, filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		require.NoError(t, err)
		if d.Name() == ".git" {
			return filepath.SkipDir
		}
		rel, _ := filepath.Rel(dir, p)
		info, err := d.Info()
		require.NoError(t, err)
		text := []byte("folder")
		if !d.IsDir() {
			text, err = os.ReadFile(p)
			require.NoError(t, err)
		}
		fmt.Fprintf(&b, "%s %v %s\n", rel, info.Mode().Perm(), text)
		return nil
	}))
	return b.String()
}

var errStopped = errors.New("stopped here")

// located is a repository that is not listed.
func located(t *testing.T, dir string) *Repo {
	t.Helper()
	r, err := Locate(dir)
	require.NoError(t, err)
	t.Cleanup(func() { r.Close() })
	return r
}

// stopping makes a repository whose run ends at the nth step: nothing that changes
// anything happens from there on. It reports whether the run came that far.
func stopping(t *testing.T, dir string, n int) (*Repo, func() bool) {
	r := located(t, dir)
	steps, stopped := 0, false
	r.place.fault = func(string) error {
		steps++
		stopped = stopped || steps == n
		if stopped {
			return errStopped
		}
		return nil
	}
	return r, func() bool { return stopped }
}

// A run that ends before or after any single step leaves, once it is finished or taken
// back, either the new state or the old one, in full, with rights, and nothing beside
// it.
func TestStoppedAtEachStep(t *testing.T) {
	for _, git := range []bool{true, false} {
		for _, back := range []bool{false, true} {
			t.Run(fmt.Sprintf("git %v, back %v", git, back), func(t *testing.T) {
				t.Parallel()
				settled := settledState(t, git)
				began, finished := false, 0
				for n := 1; ; n++ {
					dir, changes := harbour(t, git)
					old := stateOf(t, dir)
					r, stopped := stopping(t, dir, n)
					err := r.Write(changes)
					if !stopped() {
						require.NoError(t, err)
						assert.Greater(t, n, 30, "so many steps there are at least")
						break
					}
					require.Error(t, err)
					half := stateOf(t, dir)
					inPlace := located(t, dir).Interrupted() != ""
					began = began || inPlace
					if !inPlace {
						assert.True(t, half == old || half == settled, "stopped at %d: %s", n, half)
						continue
					}
					assert.Equal(t, half, stateOf(t, dir), "reading changes nothing")
					want := settled
					if back {
						want = old
					}
					said, err := located(t, dir).recover(back)
					require.NoError(t, err)
					assert.Contains(t, said, "4 files")
					assert.Equal(t, want, stateOf(t, dir), "stopped at %d", n)
					assert.Empty(t, located(t, dir).Interrupted())
					again, err := located(t, dir).Recover()
					require.NoError(t, err)
					assert.Empty(t, again)
					finished++
					if !back {
						paths, said, err := located(t, dir).Undo()
						require.NoError(t, err, n)
						assert.Empty(t, said)
						assert.Len(t, paths, 4)
						assert.Equal(t, old, stateOf(t, dir), "undone after %d", n)
					}
				}
				assert.True(t, began)
				assert.Greater(t, finished, 10)
			})
		}
	}
}

// Finishing and taking back that are stopped at any step themselves are gone on with.
func TestGoingOnStoppedAtEachStep(t *testing.T) {
	for _, back := range []bool{false, true} {
		t.Run(fmt.Sprintf("back %v", back), func(t *testing.T) {
			t.Parallel()
			want := settledState(t, true)
			for n := 1; ; n++ {
				dir, changes := harbour(t, true)
				if back {
					want = stateOf(t, dir)
				}
				interrupted(t, dir, 2, changes...)
				r, stopped := stopping(t, dir, n)
				_, err := r.recover(back)
				if !stopped() {
					require.NoError(t, err)
					assert.Greater(t, n, 15)
					break
				}
				_, err = located(t, dir).recover(back)
				require.NoError(t, err)
				assert.Equal(t, want, stateOf(t, dir), "stopped at %d", n)
				assert.Empty(t, located(t, dir).Interrupted())
			}
		})
	}
}

// settledState is what the settlement of a harbour leaves.
func settledState(t *testing.T, git bool) string {
	t.Helper()
	dir, changes := harbour(t, git)
	require.NoError(t, located(t, dir).Write(changes))
	settled := stateOf(t, dir)
	assert.Contains(t, settled, "far/off/made")
	return settled
}

// Undoing that is stopped at any step is gone on with, to the old state.
func TestUndoStoppedAtEachStep(t *testing.T) {
	t.Parallel()
	settled := settledState(t, true)
	for n := 1; ; n++ {
		dir, changes := harbour(t, true)
		old := stateOf(t, dir)
		require.NoError(t, located(t, dir).Write(changes))
		r, stopped := stopping(t, dir, n)
		_, _, err := r.Undo()
		if !stopped() {
			require.NoError(t, err)
			assert.Greater(t, n, 30)
			assert.Equal(t, old, stateOf(t, dir))
			break
		}
		require.Error(t, err)
		if said := located(t, dir).Interrupted(); said == "" {
			now := stateOf(t, dir)
			assert.True(t, now == settled || now == old, "stopped at %d: %s", n, now)
			continue
		}
		for _, goOn := range []func(*Repo) error{
			func(r *Repo) error { _, err := r.Recover(); return err },
			func(r *Repo) error { _, _, err := r.Undo(); return err },
		}[n%2:][:1] {
			require.NoError(t, goOn(located(t, dir)), n)
		}
		assert.Equal(t, old, stateOf(t, dir), "stopped at %d", n)
		_, _, err = located(t, dir).Undo()
		assert.ErrorContains(t, err, "no settlement is known", n)
	}
}

// A step that fails while the program goes on has everything put back.
func TestAFailingStepIsRolledBack(t *testing.T) {
	t.Parallel()
	settled := settledState(t, true)
	for n := 1; ; n++ {
		dir, changes := harbour(t, true)
		old := stateOf(t, dir)
		r := located(t, dir)
		steps, at := 0, ""
		r.place.fault = func(step string) error {
			if steps++; steps == n {
				at = step
				return errStopped
			}
			return nil
		}
		err := r.Write(changes)
		if at == "" {
			require.NoError(t, err)
			break
		}
		now := stateOf(t, dir)
		switch {
		case err == nil: // what could not be kept safe is there all the same
			assert.Contains(t, at, "keep the folder")
			assert.Equal(t, settled, now, at)
		case strings.Contains(err.Error(), "everything is written"):
			assert.Equal(t, settled, now, at)
		default:
			assert.Contains(t, err.Error(), "nothing was changed", at)
			assert.Equal(t, old, now, at)
			assert.Empty(t, located(t, dir).Interrupted(), at)
		}
	}
}

// Where nothing can be put back either, the journal stays and the error says so.
func TestAFailedRollBackKeepsItsJournal(t *testing.T) {
	dir, changes := harbour(t, true)
	old := stateOf(t, dir)
	r := located(t, dir)
	failing := false
	r.place.fault = func(step string) error {
		failing = failing || strings.HasPrefix(step, "before rename far/off/")
		if failing && !strings.Contains(step, "journal") {
			return errStopped
		}
		return nil
	}
	err := r.Write(changes)
	require.ErrorContains(t, err, "cannot be put back")
	assert.ErrorContains(t, err, "the journal is kept in "+filepath.Join(dir, ".git", "treaty"))
	assert.ErrorContains(t, err, "treaty settle --undo")
	assert.Contains(t, located(t, dir).Interrupted(), "was interrupted here")
	assert.ErrorContains(t, located(t, dir).Write(changes[3:]), "another settlement was interrupted")
	_, said, err := located(t, dir).Undo()
	require.NoError(t, err)
	assert.Contains(t, said, "is taken back now")
	assert.Equal(t, old, stateOf(t, dir))
}

// interrupted leaves a journal behind, of which so many changes are carried out.
func interrupted(t *testing.T, dir string, carried int, changes ...Change) {
	t.Helper()
	r := located(t, dir)
	began, done := false, 0
	r.place.fault = func(step string) error {
		began = began || step == "after rename journal-new to journal"
		if began && (strings.HasPrefix(step, "after rename .treaty-new-") || strings.HasPrefix(step, "after remove ")) {
			done++
		}
		if began && done >= carried {
			return errStopped
		}
		return nil
	}
	require.Error(t, r.Write(changes))
	require.NotEmpty(t, located(t, dir).Interrupted())
}

// What somebody wrote in between stays, and is named.
func TestWhatAJournalLeavesAlone(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "a=old", "b=old", "c=old")
	interrupted(t, dir, 0, change("a", "old", "new"), change("b", "old", "new"), change("c", "old", "new"))
	put(t, dir, "a=mine")
	require.NoError(t, os.Remove(filepath.Join(dir, "c")))
	require.NoError(t, os.Symlink("b", filepath.Join(dir, "c")))
	said, err := located(t, dir).Recover()
	require.NoError(t, err)
	assert.Contains(t, said, "was left as it is: a, c")
	assert.Equal(t, "mine", read(t, dir, "a"))
	assert.Equal(t, "new", read(t, dir, "b"))
	_, _, err = located(t, dir).Undo()
	assert.ErrorContains(t, err, "a, c changed since the settlement")
	assert.Equal(t, "new", read(t, dir, "b"), "nothing is undone then")
}

// A journal is believed nothing that a settlement would not do.
func TestJournalsThatAreNotOurs(t *testing.T) {
	for says, broken := range map[string]string{
		"unexpected end of JSON":         `{`,
		"another version":                `{"files":[{"path":"made","created":true,"mode":493}]}`,
		"about another repository":       `{"version":2,"root":"\"/elsewhere\"","files":[]}`,
		`names "../out"`:                 `{"version":2,"root":ROOT,"files":[{"path":"\"../out\"","target":"\"../out\"","temp":"\"t\""}]}`,
		`names ".git/hooks/post-commit"`: `{"version":2,"root":ROOT,"files":[{"path":"\"x\"","target":"\".git/hooks/post-commit\"","temp":"\"t\"","created":true}]}`,
		`names "sub/.GIT/x"`:             `{"version":2,"root":ROOT,"files":[{"path":"\"x\"","target":"\"sub/.GIT/x\"","temp":"\"t\"","created":true}]}`,
		`names "a"`:                      `{"version":2,"root":ROOT,"files":[{"path":"\"x\"","target":"\"x\"","temp":"\"a\"","created":true}]}`,
		"makes \"x\" a program":          `{"version":2,"root":ROOT,"files":[{"path":"\"x\"","target":"\"x\"","temp":"\".treaty-new-1\"","created":true,"mode":493}]}`,
		"no such file":                   `{"version":2,"root":ROOT,"files":[{"path":"\"x\"","target":"\"x\"","temp":"\".treaty-new-1\"","deleted":true},{"path":"\"y\"","target":"\"y\"","temp":"\".treaty-new-1\"","created":true,"mode":420}]}`,
	} {
		dir := t.TempDir()
		put(t, dir, "a=old")
		git2(t, dir, "init", "-q")
		interrupted(t, dir, 0, change("a", "old", "new"))
		text := strings.ReplaceAll(broken, "ROOT", fmt.Sprintf("%q", fmt.Sprintf("%q", resolved(dir))))
		require.NoError(t, os.WriteFile(filepath.Join(dir, ".git", "treaty", journalName, recordName), []byte(text), 0o644))
		before := stateOf(t, dir)
		_, err := located(t, dir).Recover()
		assert.ErrorContains(t, err, says, broken)
		_, _, err = located(t, dir).Undo()
		assert.ErrorContains(t, err, says, broken)
		assert.Equal(t, before, stateOf(t, dir), broken)
		assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/post-commit"))
	}
}

// The state of a folder lies where the folder itself cannot bring it.
func TestStateLiesElsewhere(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "a=old", ".treaty/state/journal/record.json={}")
	require.NoError(t, located(t, dir).Write([]Change{change("a", "old", "new")}))
	assert.Equal(t, []string{".treaty/state/journal/record.json", "a"}, open(t, dir).Paths)

	other := t.TempDir()
	put(t, other, "a=old")
	for _, inside := range []string{filepath.Join(other, "state"), other} {
		t.Setenv("XDG_STATE_HOME", inside)
		assert.ErrorContains(t, located(t, other).Write([]Change{change("a", "old", "new")}), "lies in the repository itself")
	}
	away := t.TempDir()
	require.NoError(t, os.Symlink(away, filepath.Join(other, "link")))
	t.Setenv("XDG_STATE_HOME", filepath.Join(other, "link"))
	require.NoError(t, located(t, other).Write([]Change{change("a", "old", "new")}), "the person's own link")

	git2(t, other, "init", "-q")
	require.NoError(t, os.Symlink(away, filepath.Join(other, ".git", "treaty")))
	assert.ErrorContains(t, located(t, other).Write([]Change{change("a", "new", "newer")}), filepath.Join(other, ".git", "treaty")+" is a link")
	_, err := located(t, other).Recover()
	assert.ErrorContains(t, err, "is a link")
	assert.Empty(t, located(t, other).Interrupted())
}

func TestCopiesAreKept(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "sub/a=mine")
	require.NoError(t, os.Chmod(filepath.Join(dir, "sub/a"), 0o600))
	var places []string
	for range 2 {
		at, err := located(t, dir).Keep([]string{"sub/a", "gone"}, "now")
		require.NoError(t, err)
		text, err := os.ReadFile(filepath.Join(at, "sub/a"))
		require.NoError(t, err)
		assert.Equal(t, "mine", string(text))
		places = append(places, at)
	}
	assert.NotEqual(t, places[0], places[1], "none takes the place of another")
}
