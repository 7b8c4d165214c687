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
	assert.Contains(t, run(t, dir, "hook", "lines").out, "No file here keeps hooks")
	files := map[string]string{
		".pre-commit-config.yaml":  "# ours\nrepos:\n- repo: https://example.org/hooks\n  rev: v1 # pinned\n  hooks:\n  - id: quay\n\nfail_fast: true\n",
		"lefthook.yml":             "pre-commit:\n  parallel: true\n  commands:\n    quay:\n      run: true\n",
		".husky/pre-commit":        "#!/bin/sh\nmake\nexit 0\n",
		".github/workflows/0.yml":  "on: pull_request_target\njobs: {}\n",
		".github/workflows/1.yml":  "on:\n  schedule:\n    - cron: 0 0 * * *\njobs:\n  push: {}\n",
		".github/workflows/2.yml":  "on: [workflow_dispatch, push]\njobs: {}\n",
		".github/workflows/a.yaml": "on:\n  push:\n  pull_request:\njobs:\n  build:\n    runs-on: ubuntu-latest\n    steps: []\n",
		".gitlab-ci.yml":           "build:\n  script: [make]\n",
	}
	write(t, dir, files)
	git(t, dir, "", "add", "-A")
	git(t, dir, "", "commit", "-qm", "hooks")
	out := run(t, dir, "hook", "lines").out
	assert.Contains(t, out, ".pre-commit-config.yaml keeps hooks; to have them check, too, add:\n\nrepos:\n  - repo: local\n")
	assert.Contains(t, out, "treaty hook lines --write")
	for name, text := range files {
		assert.Equal(t, text, contents(t, dir)[name], "nothing is written unasked")
	}

	require.Zero(t, run(t, dir, "hook", "lines", "--write").code)
	after := contents(t, dir)
	assert.Equal(t, strings.Replace(files[".pre-commit-config.yaml"], "  - id: quay\n", `  - id: quay
- repo: local
  hooks:
    - id: treaty
      name: treaty check
      entry: treaty check --staged
      language: system
      pass_filenames: false
`, 1), after[".pre-commit-config.yaml"])
	assert.Equal(t, files["lefthook.yml"]+"    treaty:\n      run: treaty check --staged\n", after["lefthook.yml"])
	assert.Equal(t, "#!/bin/sh\nmake\ntreaty check --staged\nexit 0\n", after[".husky/pre-commit"])
	assert.True(t, strings.HasPrefix(after[".github/workflows/a.yaml"], files[".github/workflows/a.yaml"]+"  treaty:\n    runs-on: "))
	assert.True(t, strings.HasPrefix(after[".gitlab-ci.yml"], files[".gitlab-ci.yml"]+"treaty:\n  script:\n"))
	for _, other := range []string{"0.yml", "1.yml", "2.yml"} {
		assert.Equal(t, files[".github/workflows/"+other], after[".github/workflows/"+other])
	}
	again := run(t, dir, "hook", "lines", "--write")
	assert.Equal(t, 5, strings.Count(again.out, "runs the check already"))
	assert.NotContains(t, again.out, "git diff")
	assert.Equal(t, after, contents(t, dir))

	write(t, dir, map[string]string{"lefthook.yml": "pre-commit: {commands: {quay: {run: true}}}\n"})
	odd := run(t, dir, "hook", "lines", "--write")
	assert.Contains(t, odd.err, "add by hand:\n\npre-commit:\n  commands:\n    treaty:\n")
	assert.Equal(t, "pre-commit: {commands: {quay: {run: true}}}\n", contents(t, dir)["lefthook.yml"])
}
