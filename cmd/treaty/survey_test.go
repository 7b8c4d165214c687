package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const berth = `id = "berth"
name = "Berth"
roles = ["formatter"]
version = "1"
source = "in house"
covers = ["bat"]
commands = ["berth"]
[packages]
npm = ["@skerry/berth"]
[[settings]]
files = [".berth.toml"]
syntax = "toml"
search = "nearest"
[[rule]]
rule = "max_line_length"
role = "writes"
default = 100
from = [{ key = "width" }]
[known]
keys = "width whole"
`

func TestSurveyStatuses(t *testing.T) {
	r := run(t, skerryLine(t), "survey", "--format", "json")
	require.Zero(t, r.code, r.err)
	var result struct {
		SettingsFiles []struct {
			Path, Status string
			Governs      int
		} `json:"settings_files"`
		Programs []struct {
			Program string
			Seen    []struct{ As, Version, When, Does string }
		}
		Findings []struct{ Code string }
	}
	require.NoError(t, json.Unmarshal([]byte(r.out), &result))
	status := map[string]string{}
	for _, f := range result.SettingsFiles {
		status[f.Path] = f.Status
	}
	for path, want := range map[string]string{
		"infra/.yamllint": "read", "infra/.yamllint.yaml": "unread", "infra/.yamlint": "misplaced",
		".taplo.toml": "invalid", "handbook/.prettierrc.yaml": "empty",
	} {
		assert.Equal(t, want, status[path], path)
	}
	var versions []string
	for _, p := range result.Programs {
		for _, s := range p.Seen {
			if p.Program == "prettier" && s.Version != "" {
				versions = append(versions, s.As+" "+s.Version)
			}
		}
	}
	assert.Equal(t, []string{"ci 2.8.8", "lock 3.3.3", "dependency ^3.3.0"}, versions)
	for _, f := range result.Findings {
		assert.NotContains(t, f.Code, "clash/", "a survey tells what is here")
	}
}

func TestUnknownSettingsAreListed(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{".wavelintrc": "x", "a.go": "package a\n"})
	assert.Contains(t, run(t, dir, "survey").out, ".wavelintrc looks like settings of style; no program known here reads it")
}

// What is installed is looked for and not run.
func TestInstalled(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{"a.sh": "#!/bin/sh\n", "Makefile": "lint:\n\tshfmt -d .\n"})
	tools := write(t, t.TempDir(), map[string]string{"shfmt": "#!/bin/sh\ntouch ran\n"})
	require.NoError(t, os.Chmod(filepath.Join(tools, "shfmt"), 0o755))
	t.Setenv("PATH", tools+string(os.PathListSeparator)+os.Getenv("PATH"))
	assert.NotContains(t, run(t, dir, "survey").out, "installed")
	assert.Contains(t, run(t, dir, "survey", "--installed").out, filepath.Join(tools, "shfmt"))
	for _, folder := range []string{dir, tools} {
		assert.NoFileExists(t, filepath.Join(folder, "ran"))
	}
}

// Settings of the person and above the repository are named where they count.
func TestPersonal(t *testing.T) {
	home := write(t, t.TempDir(), map[string]string{
		".vimrc": "set et\n", ".pylintrc": "", ".rustfmt.toml": "", ".editorconfig": "[*]\nindent_size = 8\n",
		"port/.editorconfig": "[*]\nindent_size = 4\n", "port/.exrc": "set sw=4\n", "port/a.py": "", "port/a.rs": "", "port/rustfmt.toml": "max_width = 90\n",
		"port/Makefile": "lint:\n\tpylint a.py\n",
	})
	t.Setenv("HOME", home)
	t.Setenv("XDG_CONFIG_HOME", filepath.Join(home, ".config"))
	dir := filepath.Join(home, "port")
	out := run(t, dir, "survey", "--installed").out
	for _, want := range []string{"~/.vimrc", "~/.pylintrc", filepath.Join(home, ".editorconfig")} {
		assert.Regexp(t, `personal +`+regexp.QuoteMeta(want), out)
	}
	assert.NotContains(t, out, "~/.rustfmt.toml", "the project has settings of its own")
	assert.NotContains(t, run(t, dir, "survey").out, "personal")

	write(t, home, map[string]string{"port/.editorconfig": "root = true\n[*]\nindent_size = 4\n"})
	assert.NotContains(t, run(t, dir, "survey", "--installed").out, filepath.Join(home, ".editorconfig"), "the search ends below it")
}

func TestEntriesOfOnesOwn(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{
		".treaty/programs/berth.entry.toml": berth, "a.bat": "@echo off\r\n", "sub/b.bat": "", "sub/.berth.toml": "widht = 1\nwidth = 90\n",
		"package.json": `{"devDependencies": {"@skerry/berth": "1.0.0"}}`,
	})
	assert.Contains(t, run(t, dir, "catalog", "--check", ".treaty/programs/berth.entry.toml").out, "is valid: Berth, formatter")
	assert.Contains(t, run(t, dir, "catalog", "berth").out, ".berth.toml")
	assert.Contains(t, run(t, dir, "explain", "sub/b.bat").out, "Berth writes 90 columns")
	assert.Contains(t, run(t, dir, "explain", "a.bat").out, "Berth writes 100 columns")
	assert.Contains(t, run(t, dir, "rules", "--program", "berth").out, "sub/.berth.toml:2")

	broken := map[string]string{
		"unknown key":     strings.Replace(berth, "covers", "cover", 1),
		"the nearest is":  strings.Replace(berth, `"bat"`, `"batt"`, 1),
		"no such rule":    strings.Replace(berth, `"max_line_length"`, `"width"`, 1),
		"search is":       strings.Replace(berth, `"nearest"`, `"anywhere"`, 1),
		"named after its": strings.Replace(berth, `id = "berth"`, `id = "pier"`, 1),
	}
	for says, text := range broken {
		write(t, dir, map[string]string{".treaty/programs/berth.entry.toml": text})
		r := run(t, dir, "check")
		assert.Equal(t, 1, r.code, says)
		assert.Contains(t, r.out, "berth.entry.toml is no valid entry of a program: ")
		assert.Contains(t, strings.Join(strings.Fields(r.out), " "), says)
		assert.Equal(t, 2, run(t, dir, "catalog", "berth").code)
	}
}

func TestRulesSearch(t *testing.T) {
	dir := skerryLine(t)
	out := run(t, dir, "rules", "line", "length").out
	assert.Contains(t, out, "How many columns a line may take.")
	assert.Contains(t, out, "ios/.swiftformat:3")
	assert.Contains(t, run(t, dir, "rules", "quotes", "--all").out, "singleQuote")
	assert.Equal(t, 2, run(t, dir, "rules", "seasickness").code)
	assert.Contains(t, run(t, dir, "rules", "--program", "rustfm").err, "the nearest is rustfmt")
	assert.Contains(t, run(t, dir, "rules", "--program", "rustfmt", "args").out, "use fn_params_layout")
}
