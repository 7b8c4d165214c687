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

// hawser is a linter that only the person's own catalog knows.
const hawser = `id = "hawser"
name = "Hawser"
roles = ["linter"]
version = "1"
source = "in house"
covers = ["bat"]
commands = ["hawser"]
[packages]
npm = ["@skerry/hawser"]
[[settings]]
files = [".hawser.toml"]
syntax = "toml"
search = "nearest"
[[rule]]
rule = "max_line_length"
role = "accepts"
at_most = true
default = 120
from = [{ key = "limit" }]
[known]
keys = "limit whole"
`

// Every command of a run knows the same programs: the built-in ones, the person's and
// the repository's.
func TestOneCatalogForAllOfARun(t *testing.T) {
	config := write(t, t.TempDir(), map[string]string{"treaty/programs/hawser.entry.toml": hawser})
	mine := func(c *exec.Cmd) { c.Env = append(os.Environ(), "XDG_CONFIG_HOME="+config) }
	dir := committed(t, map[string]string{
		".treaty/programs/berth.entry.toml": berth, "a.bat": "@echo off\r\n", "sub/b.bat": "", "sub/.berth.toml": "width = 70\n",
		"package.json": `{"devDependencies": {"@skerry/berth": "1.0.0", "@skerry/hawser": "1.0.0"}}`,
		".berth.toml":  "width = 90\n", ".hawser.toml": "limit = 100\n",
	})
	write(t, dir, map[string]string{".hawser.toml": "limit = 80\n"})
	git(t, dir, "", "add", "-A")
	for command, want := range map[string]string{
		"audit":                                ".hawser.toml:1",
		"survey":                               "Hawser",
		"survey --format json":                 `"hawser"`,
		"assign":                               "Berth",
		"conflicts":                            ".hawser.toml:1",
		"explain a.bat":                        "Berth writes 90 columns",
		"rules --program hawser":               ".hawser.toml:1",
		"evidence --rule max_line_length":      "Batch",
		"compare . sub":                        "Batch",
		"settle":                               ".hawser.toml",
		"settle --patch":                       "hawser",
		"settle --set bat:max_line_length=100": "100",
		"draft":                                "bat",
		"check":                                "clash/rejected",
		"check --staged":                       "clash/rejected",
		"check --since HEAD":                   "clash/rejected",
		"check --format markdown":              "Hawser",
		"catalog":                              "hawser",
		"catalog hawser":                       ".hawser.toml",
		"catalog berth":                        ".berth.toml",
	} {
		r := runAs(t, mine, dir, strings.Fields(command)...)
		assert.Contains(t, r.out, want, "%s: %s", command, r.err)
		assert.LessOrEqual(t, r.code, 1, "%s: %s", command, r.err)
	}

	git(t, dir, "", "-c", "user.name=crew", "-c", "user.email=crew@skerry.example", "commit", "-qm", "stricter")
	settled := runAs(t, mine, dir, "settle", "--write")
	require.Zero(t, settled.code, settled.err)
	assert.Zero(t, runAs(t, mine, dir, "check").code)
	assert.NotContains(t, runAs(t, mine, dir, "audit", "--format", "json").out, "clash/")
	undone := runAs(t, mine, dir, "settle", "--undo")
	require.Zero(t, undone.code, undone.err)
	back, err := os.ReadFile(filepath.Join(dir, ".hawser.toml"))
	require.NoError(t, err)
	assert.Equal(t, "limit = 80\n", string(back))
}

// The hook and what watches know them, too.
func TestOneCatalogForWhatGoesOn(t *testing.T) {
	config := write(t, t.TempDir(), map[string]string{"treaty/programs/hawser.entry.toml": hawser})
	t.Setenv("XDG_CONFIG_HOME", config)
	dir := committed(t, map[string]string{
		".treaty/programs/berth.entry.toml": berth, "a.bat": "@echo off\r\n",
		"package.json": `{"devDependencies": {"@skerry/berth": "1.0.0", "@skerry/hawser": "1.0.0"}}`,
		".berth.toml":  "width = 90\n", ".hawser.toml": "limit = 100\n",
	})
	next, end := watching(t, dir)
	next("start")
	write(t, dir, map[string]string{".hawser.toml": "limit = 80\n"})
	assert.Equal(t, "clash/rejected", next("new")["code"])
	require.NoError(t, end())

	require.Zero(t, run(t, dir, "hook", "install").code)
	git(t, dir, "", "add", "-A")
	cmd := gitCommand(dir, "-c", "user.name=crew", "-c", "user.email=crew@skerry.example", "commit", "-qm", "stricter")
	cmd.Env = append(os.Environ(), "PATH="+filepath.Dir(treaty)+string(os.PathListSeparator)+os.Getenv("PATH"))
	out, err := cmd.CombinedOutput()
	require.Error(t, err, string(out))
	assert.Contains(t, string(out), "clash/rejected")
}
