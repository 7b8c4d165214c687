package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// commits tries a commit of everything, with our program on the path or not.
func commits(t *testing.T, dir string, found bool) (string, bool) {
	git(t, dir, "", "add", "-A")
	cmd := gitCommand(dir, "commit", "-qm", "next")
	path := os.Getenv("PATH")
	if found {
		path = filepath.Dir(treaty) + ":" + path
	}
	cmd.Env = append(os.Environ(), "PATH="+path)
	out, err := cmd.CombinedOutput()
	return string(out), err == nil
}

func TestHook(t *testing.T) {
	dir := quay(t, true)
	assert.Contains(t, run(t, dir, "hook", "status").out, "not installed")
	installed := run(t, dir, "hook", "install")
	require.Zero(t, installed.code, installed.err)
	assert.Contains(t, run(t, dir, "hook").out, "installed: ")
	assert.Contains(t, run(t, dir, "hook", "install").out, "checks already")

	write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\n"})
	out, passed := commits(t, dir, true)
	assert.False(t, passed)
	assert.Contains(t, out, "slip/bad-value")
	out, passed = commits(t, dir, false)
	assert.True(t, passed, "a colleague without the program is not held up")
	assert.Contains(t, out, "treaty is not installed")
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 4\n"})
	out, passed = commits(t, dir, true)
	assert.True(t, passed, out)

	assert.Contains(t, run(t, dir, "hook", "remove").out, "no longer checks")
	assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/pre-commit"))
	assert.Contains(t, run(t, dir, "hook", "remove").out, "did not check")
}

func TestHookKeepsWhatIsThere(t *testing.T) {
	for name, script := range map[string]string{
		"shell":    "#!/bin/bash\necho mine > ran\nexit 0\n",
		"no shell": "#!/usr/bin/env python3\nopen('ran', 'w').write('mine\\n')\n",
	} {
		t.Run(name, func(t *testing.T) {
			if name == "no shell" {
				if _, err := exec.LookPath("python3"); err != nil {
					t.Skip("python3 is not here to be the other hook")
				}
			}
			dir := quay(t, true)
			hooks := filepath.Join(dir, "own hooks")
			require.NoError(t, os.MkdirAll(hooks, 0o755))
			require.NoError(t, os.WriteFile(filepath.Join(hooks, "pre-commit"), []byte(script), 0o755))
			git(t, dir, "", "config", "core.hooksPath", "own hooks")
			require.Zero(t, run(t, dir, "hook", "install").code)
			write(t, dir, map[string]string{"b.rs": ""})
			out, passed := commits(t, dir, true)
			assert.True(t, passed, out)
			assert.Equal(t, "mine\n", contents(t, dir)["ran"], "it still runs")
			write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\n"})
			_, passed = commits(t, dir, true)
			assert.False(t, passed)
			require.Zero(t, run(t, dir, "hook", "remove").code)
			assert.Equal(t, script, contents(t, dir)["own hooks/pre-commit"])
		})
	}
}

func TestHookInALinkedWorkTree(t *testing.T) {
	dir := quay(t, true)
	linked := filepath.Join(t.TempDir(), "linked tree")
	git(t, dir, "", "worktree", "add", "-q", "-b", "side", linked)
	require.Zero(t, run(t, linked, "hook", "install").code)
	assert.Contains(t, run(t, dir, "hook").out, "installed: ", "they share their hooks")
	write(t, linked, map[string]string{"rustfmt.toml": "hard_tabs = 7\n"})
	out, passed := commits(t, linked, true)
	assert.False(t, passed, out)
	assert.Equal(t, 2, run(t, t.TempDir(), "hook", "install").code)
}

func TestHookLines(t *testing.T) {
	dir := quay(t, true)
	write(t, dir, map[string]string{".pre-commit-config.yaml": "repos: []\n", ".github/workflows/ci.yml": "jobs: {}\n"})
	out := run(t, dir, "hook", "lines").out
	assert.Contains(t, out, ".pre-commit-config.yaml keeps hooks; to have them check, too, add:")
	assert.Contains(t, out, "entry: treaty check --staged")
	assert.Contains(t, out, "      - run: treaty check --output sarif=treaty.sarif")
	assert.True(t, strings.HasPrefix(out, "\n"))
}
