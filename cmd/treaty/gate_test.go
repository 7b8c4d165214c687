package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// agreed is a repository in which a formatter and a linter agree on 88 columns.
func agreed(t *testing.T) string {
	return committed(t, map[string]string{"pyproject.toml": "[tool.black]\nline-length = 88\n", "setup.cfg": "[flake8]\nextend-ignore = E203,E701\nmax-line-length = 88\n", "a.py": "x = 1\n", "sub/b.py": "x = 1\n"})
}

const stricter = "[flake8]\nextend-ignore = E203,E701\nmax-line-length = 70\n" // than what is written

// inShell runs a command with our program on the path.
func inShell(t *testing.T, dir, command string, env ...string) (string, bool) {
	t.Helper()
	cmd := exec.Command("sh", "-c", command)
	cmd.Dir = dir
	cmd.Env = append(append(os.Environ(), "PATH="+filepath.Dir(treaty)+":"+os.Getenv("PATH")), env...)
	out, err := cmd.CombinedOutput()
	return string(out), err == nil
}

func head(t *testing.T, dir string) string {
	t.Helper()
	out, err := gitCommand(dir, "rev-parse", "HEAD").Output()
	require.NoError(t, err)
	return string(out)
}

// The hook judges what will be committed, however it is named.
func TestHookJudgesWhatIsCommitted(t *testing.T) {
	for _, command := range []string{"git commit -qam x", "git commit -qm x setup.cfg", "git commit -qm x -i setup.cfg", "git commit -qm x --only setup.cfg", "git commit -qa --amend --no-edit",
		"cd sub && git commit -qam x", "git --git-dir=.git --work-tree=. commit -qam x"} {
		t.Run(command, func(t *testing.T) {
			t.Parallel()
			dir := agreed(t)
			require.Zero(t, run(t, dir, "hook", "install").code)
			linked := filepath.Join(t.TempDir(), "linked tree")
			git(t, dir, "", "worktree", "add", "-q", "-b", "side", linked)
			for _, where := range []string{dir, linked} {
				write(t, where, map[string]string{"setup.cfg": stricter})
				before := head(t, where)
				out, done := inShell(t, where, command)
				assert.False(t, done, out)
				assert.Contains(t, out, "clash/rejected")
				assert.Equal(t, before, head(t, where))
			}
		})
	}
	dir := agreed(t)
	require.Zero(t, run(t, dir, "hook", "install").code)
	write(t, dir, map[string]string{"setup.cfg": stricter, "c.py": "y = 1\n"})
	git(t, dir, "", "add", "c.py")
	out, done := inShell(t, dir, "git commit -qm good")
	assert.True(t, done, "what is not committed does not count: %s", out)
}

// A merge that brings both halves of a clash together is judged like a commit.
func TestHookJudgesMerges(t *testing.T) {
	dir := agreed(t)
	require.Zero(t, run(t, dir, "hook", "install").code)
	write(t, dir, map[string]string{"setup.cfg": "[flake8]\nextend-ignore = E203,E701\nmax-line-length = 100\n"})
	commitAll(t, dir)
	git(t, dir, "", "checkout", "-qb", "side")
	write(t, dir, map[string]string{"pyproject.toml": "[tool.black]\nline-length = 95\n"})
	commitAll(t, dir)
	git(t, dir, "", "checkout", "-q", "main")
	write(t, dir, map[string]string{"setup.cfg": "[flake8]\nextend-ignore = E203,E701\nmax-line-length = 90\n"})
	commitAll(t, dir)
	require.Zero(t, run(t, dir, "check").code, "either half agrees")
	before := head(t, dir)
	out, done := inShell(t, dir, "git merge -q side -m merged")
	assert.False(t, done, out)
	assert.Equal(t, before, head(t, dir))
}

// The environment that git gives its hooks is honoured wherever an index is read.
func TestIndexOfTheEnvironment(t *testing.T) {
	dir := agreed(t)
	for _, index := range []string{filepath.Join(t.TempDir(), "index"), ".git/other"} {
		env := "GIT_INDEX_FILE=" + index
		write(t, dir, map[string]string{"setup.cfg": stricter})
		out, done := inShell(t, dir, "git read-tree HEAD && git add setup.cfg", env)
		require.True(t, done, out)
		out, done = inShell(t, dir, "treaty check --staged", env)
		assert.False(t, done, out)
		assert.Contains(t, out, "clash/rejected")
		assert.Zero(t, run(t, dir, "check", "--staged").code, "git's own index is as it was")
		other := agreed(t)
		out, done = inShell(t, dir, "treaty -C '"+other+"' check --staged", env)
		assert.True(t, done, "another repository has its own: %s", out)
	}
}

// A hook that was there stays what it was, and runs behind ours if it ran before.
func TestHooksThatWereThere(t *testing.T) {
	const script = "#!/bin/sh\ntouch ran\n"
	for name, c := range map[string]struct {
		put  func(t *testing.T, hook string)
		runs bool
	}{
		"a script":           {func(t *testing.T, hook string) { require.NoError(t, os.WriteFile(hook, []byte(script), 0o755)) }, true},
		"one switched off":   {func(t *testing.T, hook string) { require.NoError(t, os.WriteFile(hook, []byte(script), 0o644)) }, false},
		"odd rights":         {func(t *testing.T, hook string) { require.NoError(t, os.WriteFile(hook, []byte(script), 0o711)) }, true},
		"a link":             {func(t *testing.T, hook string) { link(t, "../../scripts/hook", hook) }, true},
		"a link to nowhere":  {func(t *testing.T, hook string) { link(t, "/nonexistent/hook", hook) }, false},
		"what is no program": {func(t *testing.T, hook string) { require.NoError(t, os.WriteFile(hook, []byte("\x00\xff"), 0o644)) }, false},
	} {
		t.Run(name, func(t *testing.T) {
			dir := agreed(t)
			write(t, dir, map[string]string{"scripts/hook": script})
			require.NoError(t, os.Chmod(filepath.Join(dir, "scripts/hook"), 0o755))
			commitAll(t, dir)
			hook := filepath.Join(dir, ".git/hooks/pre-commit")
			require.NoError(t, os.MkdirAll(filepath.Dir(hook), 0o755))
			c.put(t, hook)
			before, err := os.Lstat(hook)
			require.NoError(t, err)
			require.Zero(t, run(t, dir, "hook", "install").code)
			require.Zero(t, run(t, dir, "hook", "install").code)
			write(t, dir, map[string]string{"c.py": "y = 1\n"})
			out, done := inShell(t, dir, "git add c.py && git commit -qm next")
			assert.True(t, done, out)
			assert.Equal(t, c.runs, text(t, filepath.Join(dir, "ran")) != "(not there)")
			assert.Equal(t, script, text(t, filepath.Join(dir, "scripts/hook")))
			require.Zero(t, run(t, dir, "hook", "remove").code)
			after, err := os.Lstat(hook)
			require.NoError(t, err)
			assert.True(t, os.SameFile(before, after), "the very same")
			assert.Equal(t, before.Mode(), after.Mode())
			assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/pre-merge-commit"))
		})
	}
}

// What is kept of earlier hooks is never written over.
func TestHooksKeptBefore(t *testing.T) {
	dir := agreed(t)
	hook := filepath.Join(dir, ".git/hooks/pre-commit")
	for _, text := range []string{"#!/bin/sh\n# one\n", "#!/usr/bin/env python3\n# two\n", "#!/bin/sh\n# three\n"} {
		os.Remove(hook)
		write(t, dir, map[string]string{".git/hooks/pre-commit": text})
		require.Zero(t, run(t, dir, "hook", "install").code)
	}
	all := ""
	for _, ending := range []string{"", "-2", "-3"} {
		all += text(t, hook+".before-treaty"+ending)
	}
	assert.Equal(t, "#!/bin/sh\n# one\n#!/usr/bin/env python3\n# two\n#!/bin/sh\n# three\n", all)
	require.Zero(t, run(t, dir, "hook", "remove").code)
	assert.Equal(t, "#!/bin/sh\n# three\n", text(t, hook))
	assert.Equal(t, "#!/bin/sh\n# one\n", text(t, hook+".before-treaty"))
}

// Hooks that other repositories run, too, are changed on purpose only.
func TestHooksElsewhere(t *testing.T) {
	for _, how := range []string{"absolute", "relative", "link", "tracked link", "missing"} {
		dir := agreed(t)
		away := filepath.Join(filepath.Dir(dir), "hooks of all")
		path := away
		switch how {
		case "relative":
			path = "../hooks of all"
		case "tracked link":
			path = "hooks"
			link(t, away, filepath.Join(dir, "hooks"))
		}
		if how != "missing" {
			require.NoError(t, os.MkdirAll(away, 0o755))
		}
		if how == "link" {
			require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git/hooks")))
			link(t, away, filepath.Join(dir, ".git/hooks"))
		} else {
			git(t, dir, "", "config", "core.hooksPath", path)
		}
		for _, command := range []string{"install", "remove"} {
			r := run(t, dir, "hook", command)
			assert.Equal(t, 3, r.code, how)
			assert.Contains(t, r.err, "treaty hook "+command+" --elsewhere", how)
			entries, _ := os.ReadDir(away)
			assert.Empty(t, entries, how)
		}
		require.Zero(t, run(t, dir, "hook", "install", "--elsewhere").code, how)
		assert.FileExists(t, filepath.Join(away, "pre-commit"), how)
		require.Zero(t, run(t, dir, "hook", "remove", "--elsewhere").code, how)
		assert.NoFileExists(t, filepath.Join(away, "pre-commit"), how)
	}
}

// What a clone does not have is said to be missing, and what would bring it.
func TestWhatACloneDoesNotHave(t *testing.T) {
	dir := agreed(t)
	for _, width := range []string{"90", "100"} {
		write(t, dir, map[string]string{"pyproject.toml": "[tool.black]\nline-length = " + width + "\n"})
		commitAll(t, dir)
	}
	git(t, dir, "", "config", "uploadpack.allowFilter", "true")
	clone := func(how ...string) string {
		into := filepath.Join(t.TempDir(), "clone")
		git(t, dir, "", append(append([]string{"clone", "-q"}, how...), "file://"+dir, into)...)
		return into
	}
	for how, clone := range map[string]string{"contents": clone("--filter=blob:none"), "lists": clone("--filter=tree:0"), "history": clone("--depth", "1")} {
		r := run(t, clone, "check", "--since", "HEAD~2")
		assert.Equal(t, 3, r.code, how)
		assert.Empty(t, r.out, how)
		assert.Contains(t, r.err, "; to bring it: git fetch --", how)
		_, bring, _ := strings.Cut(strings.TrimSpace(r.err), "to bring it: ")
		out, done := inShell(t, clone, bring)
		require.True(t, done, out)
		assert.LessOrEqual(t, run(t, clone, "check", "--since", "HEAD~2").code, 1, how)
	}

	sparse := clone("--filter=blob:none", "--no-checkout")
	git(t, sparse, "", "sparse-checkout", "set", "--no-cone", "/a.py")
	git(t, sparse, "", "checkout", "-q")
	write(t, sparse, map[string]string{"a.py": "x = 2\n"})
	git(t, sparse, "", "add", "a.py")
	staged := run(t, sparse, "check", "--staged")
	assert.Equal(t, 3, staged.code, staged.out)
	assert.Contains(t, staged.err, "the clone leaves out contents of files, such as those of")

	near := clone("--filter=blob:none")
	assert.Equal(t, run(t, dir, "compare", "HEAD~2", "HEAD").out, run(t, near, "compare", "HEAD~2", "HEAD").out, "they lie in a folder of this machine")
	require.NoError(t, os.Rename(dir, dir+" moved"))
	compared := run(t, near, "compare", "HEAD~2", "HEAD")
	assert.Equal(t, 3, compared.code)
	assert.Empty(t, compared.out)

	lost := agreed(t)
	out, err := gitCommand(lost, "rev-parse", "HEAD:setup.cfg").Output()
	require.NoError(t, err)
	id := strings.TrimSpace(string(out))
	require.NoError(t, os.Remove(filepath.Join(lost, ".git/objects", id[:2], id[2:])))
	broken := run(t, lost, "check", "--since", "HEAD")
	assert.Equal(t, 3, broken.code)
	assert.Contains(t, broken.err, "git fsck")
}

// A change does not say how it is judged.
func TestAChangeIsJudgedByWhatItStartsFrom(t *testing.T) {
	for name, file := range map[string][2]string{
		"a threshold":   {"treaty.toml", "treaty = 1\n[audit]\nfail_on = \"never\"\n"},
		"what it skips": {"treaty.toml", "treaty = 1\n[audit]\nskip = [\"**\"]\n"},
		"an exemption":  {"treaty.toml", "treaty = 1\n[[exempt]]\ntype = \"python\"\nreason = \"mine\"\n"},
		"a waiver":      {"treaty.toml", "treaty = 1\n[[waiver]]\nfinding = \"ID\"\nreason = \"mine\"\n"},
		"an entry":      {".treaty/programs/flake8.entry.toml", "id = \"flake8\"\nname = \"Flake8\"\nroles = [\"linter\"]\nversion = \"1\"\nsource = \"mine\"\n"},
		"a baseline":    {"known.json", "{\"format\": \"jolly-treaty/baseline\", \"version\": 1, \"findings\": [{\"id\": \"ID\"}]}"},
		"a submodule":   {".gitmodules", "[submodule \"x\"]\n\tpath = setup.cfg\n\turl = x\n"},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			dir := agreed(t)
			write(t, dir, map[string]string{"setup.cfg": stricter})
			var found struct {
				Findings []struct{ ID, Severity string }
			}
			require.NoError(t, json.Unmarshal([]byte(run(t, dir, "audit", "--format", "json").out), &found))
			require.Equal(t, "error", found.Findings[0].Severity)
			write(t, dir, map[string]string{file[0]: strings.ReplaceAll(file[1], "ID", found.Findings[0].ID)})
			commitAll(t, dir)
			args := []string{"check", "--since", "HEAD~1"}
			if file[0] == "known.json" {
				args = append(args, "--baseline", "known.json")
			}
			r := run(t, dir, args...)
			assert.Equal(t, 1, r.code, r.out+r.err)
			assert.Contains(t, r.out, "clash/rejected")
			if file[0] == "treaty.toml" {
				assert.Contains(t, r.err, "counts as it is in HEAD~1")
			}
			if file[0] != ".gitmodules" { // once it is in, it counts
				write(t, dir, map[string]string{"c.py": "y = 1\n"})
				commitAll(t, dir)
				assert.Zero(t, run(t, dir, "check", "--since", "HEAD~1").code)
			}
		})
	}
}
