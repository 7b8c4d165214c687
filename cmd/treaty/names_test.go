package main

import (
	"encoding/json"
	"encoding/xml"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// oddNames are names of files that would do something where they are printed.
var oddNames = []string{"a\nFORGED: passed\n", "\x1b]0;FORGED\a\x1b[2J", "\u202egpj.exe\u2066", "q\"'\\|`*_<b>[x](http://skerry.example) @crew", "bad\xff\xfe", "\u009b31m", "[x]{y},!#;", " lead", "trail ", "-rf",
	"x]\n[*]\nindent_size = 7\n#"}

// oddlyNamed is a repository in which names and values are made to be mistaken for
// something else.
func oddlyNamed(t *testing.T) string {
	const value = "x\\nFORGED\\u001b[2J\\u202e"
	files := map[string]string{
		".editorconfig": "root = true\n[*.rs]\nindent_size = 2\n[*.js]\nindent_size = 4\n", "rustfmt.toml": "tab_spaces = 4\n", ".prettierrc": `{"tabWidth": 2}`,
		"package.json":                     `{"devDependencies": {"prettier": "3.0.0\nFORGED"}, "scripts": {"` + value + `": "prettier --write '` + value + `'"}}`,
		"treaty.toml":                      "treaty = 1\n[[exempt]]\ntype = \"svg\"\nreason = \"" + value + "\"\n[[waiver]]\nfinding = \"deadbeef\"\nreason = \"" + value + "\"\nuntil = 2020-01-01\n",
		".pre-commit-config.yaml":          "repos:\n- repo: \"https://x/y\\nFORGED\"\n  rev: \"v1\\e[2J\"\n  hooks:\n  - id: \"prettier\\nFORGED\"\n",
		".vscode/settings.json":            `{"editor.defaultFormatter": "` + value + `", "[rust]": {"editor.tabSize": 8}}`,
		".eslintrc.json":                   `{"extends": ["./` + value + `", "` + value + `"], "rules": {"quotes": ["error", "` + value + `"], "` + value + `": 1}}`,
		".treaty/programs/evil.entry.toml": "id = \"evil\"\nname = \"Evil " + value + "\"\nroles = [\"formatter\"]\nversion = \"1\"\nsource = \"s\"\n",
	}
	for _, name := range oddNames {
		files[name+"/a.rs"], files[name+".rs"], files[name+".js"] = "fn a() {\n    b();\n}\n", "fn a() {}\n", "a();\n"
		files[name+"/.editorconfig"] = "[*.rs]\nindent_size = 3\nfoo\x1b[31m\u202e = x\n"
		files[name+"/.prettierrc"] = `{"tabWidth": "` + value + `", "` + value + `": 1}`
	}
	return committed(t, files)
}

var colour = regexp.MustCompile(`\x1b\[[0-9;]*m`)

// shows asserts that a text does nothing but show, and that no line of it was forged.
func shows(t *testing.T, text string, what ...any) {
	t.Helper()
	if !assert.True(t, utf8.ValidString(text), what...) {
		return
	}
	for _, r := range text {
		bad := r < ' ' && r != '\n' && r != '\t' || r >= 0x7f && r < 0xa0 || r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069
		require.False(t, bad, "%q in %v", r, what)
	}
	for line := range strings.Lines(text) {
		require.False(t, strings.HasPrefix(strings.TrimLeft(line, " |+-"), "FORGED"), "%q in %v", line, what)
	}
}

// Whatever files are called, and settings say, outputs are what they are.
func TestOddNames(t *testing.T) {
	dir := oddlyNamed(t)
	for _, command := range []string{"audit", "survey", "assign", "conflicts", "rules quotes", "evidence", "check -v", "check --staged", "settle", "settle --emit treaty", "compare . .vscode", "catalog"} {
		for _, form := range []string{"", " --color always", " --format json"} {
			if form != "" && strings.Contains(command, "--emit") {
				continue
			}
			r := run(t, dir, strings.Fields(command+form)...)
			assert.LessOrEqual(t, r.code, 2, "%s %s", command, r.err)
			shows(t, colour.ReplaceAllString(r.out, ""), command, form)
			shows(t, r.err, command, form)
			if form == " --format json" && r.code < 2 {
				assert.True(t, json.Valid([]byte(r.out)), command)
			}
		}
	}
	for _, name := range oddNames {
		r := run(t, dir, "explain", "--", name+".rs")
		assert.Zero(t, r.code, r.err)
		shows(t, r.out+r.err, "explain")
	}
	for _, form := range []string{"sarif", "junit", "markdown"} {
		r := run(t, dir, "check", "--format", form)
		shows(t, r.out, form)
		switch form {
		case "sarif":
			assert.True(t, json.Valid([]byte(r.out)))
			assert.NotContains(t, r.out, "](http", "no link")
		case "junit":
			for d := xml.NewDecoder(strings.NewReader(r.out)); ; {
				if _, err := d.Token(); err == io.EOF {
					break
				} else {
					require.NoError(t, err)
				}
			}
		case "markdown":
			table, _, _ := strings.Cut(r.out, "```")
			assert.NotContains(t, regexp.MustCompile("`[^`]*`").ReplaceAllString(table, ""), "@crew")
			for line := range strings.Lines(table) {
				if strings.HasPrefix(line, "|") {
					cells := strings.Count(line, "|") - strings.Count(line, `\|`)
					assert.Equal(t, 4, cells, line)
				}
			}
		}
	}
}

// What is written of odd names is read again as what was meant, and nothing else.
func TestOddNamesAreWritten(t *testing.T) {
	dir := oddlyNamed(t)
	before := contents(t, dir)
	patch := run(t, dir, "settle", "--patch").out
	require.NotEmpty(t, patch)
	git(t, dir, patch, "apply", "--check")
	r := run(t, dir, "settle", "--write")
	require.Zero(t, r.code, r.err)
	assert.NotRegexp(t, `(?m)^indent_size = 7`, text(t, filepath.Join(dir, ".editorconfig")), "no line was smuggled in")
	assert.Zero(t, run(t, dir, "audit").code, "the treaty is read again")
	assert.Empty(t, run(t, dir, "settle", "--patch").out)
	undone := run(t, dir, "settle", "--undo")
	require.Zero(t, undone.code, undone.err)
	assert.Equal(t, before, contents(t, dir))
	_, err := os.Lstat(filepath.Join(dir, ".git/treaty/last"))
	assert.ErrorIs(t, err, os.ErrNotExist)
}
