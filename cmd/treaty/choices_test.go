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

func TestDecisionsByHand(t *testing.T) {
	dir := skerryLine(t)
	only := run(t, dir, "settle", "--only", "kotlin", "--set", "kotlin:max_line_length=120", "--write")
	require.Zero(t, only.code, only.err)
	assert.Contains(t, only.out, "Kotlin line length: 120 columns\n      because you said so")
	now := contents(t, dir)
	assert.Contains(t, now["treaty.toml"], `type = "kotlin"`)
	assert.NotContains(t, now["treaty.toml"], `type = "swift"`, "nobody asked")
	assert.Contains(t, now[".editorconfig"], "max_line_length = 120")
	assert.Empty(t, run(t, dir, "settle", "--only", "kotlin", "--patch").out, "it is settled")

	other := skerryLine(t)
	named := run(t, other, "settle", "--formatter", "swift=swift-format", "--write")
	require.Zero(t, named.code, named.err)
	assert.Contains(t, contents(t, other)["treaty.toml"], "type = \"swift\"\nformatter = \"swift-format\"\nreason = \"chosen by hand\"")
	assert.Contains(t, run(t, other, "explain", "ios/Sources/Berth/Berth.swift").out, "formatted by swift-format")

	left := run(t, skerryLine(t), "settle", "--leave", "e2e9170d", "--leave", "6f99b152")
	assert.Contains(t, left.out, "left open, as you said")
	assert.NotContains(t, left.out, "Kotlin line length")
}

func TestDecisionsThatCannotBeMade(t *testing.T) {
	dir := skerryLine(t)
	for says, args := range map[string][]string{
		"is no finding here":            {"--leave", "00000000"},
		"is no rule, file type or":      {"--only", "fashion"},
		"the nearest is quotes":         {"--set", "quote=double"},
		"klingon is no file type":       {"--set", "klingon:quotes=double"},
		"write TYPE=PROGRAM":            {"--formatter", "swift"},
		"is no program in the catalog":  {"--formatter", "swift=tailor"},
		"does not format Swift":         {"--formatter", "swift=gofmt"},
		"there is no such file":         {"--house", "none.toml"},
		"it takes treaty, editorconfig": {"--emit", "poem"},
		"--ask needs a terminal":        {"--ask"},
	} {
		r := run(t, dir, append([]string{"settle"}, args...)...)
		assert.Equal(t, 2, r.code, "%v: %s", args, r.err)
		assert.Contains(t, r.err, says)
	}
}

func TestHouseRulesFromOneRepositoryToAnother(t *testing.T) {
	above := t.TempDir()
	house := filepath.Join(above, "house.toml")
	drafted := run(t, skerryLine(t), "draft")
	require.Zero(t, drafted.code, drafted.err)
	assert.Contains(t, drafted.out, "[[article]]\ntype = \"rust\"\nformatter = \"rustfmt\"\n")
	write(t, above, map[string]string{"house.toml": drafted.out, "other/a.rs": "fn a() {}\n", "other/rustfmt.toml": "tab_spaces = 8\n"})
	other := filepath.Join(above, "other")
	require.Zero(t, run(t, other, "settle", "--house", house, "--write").code)
	now := contents(t, other)
	assert.Contains(t, now["treaty.toml"], `adopts = [".treaty/house/house.toml"]`, "they come with the repository")
	assert.Equal(t, drafted.out, now[".treaty/house/house.toml"])
	assert.Contains(t, now["rustfmt.toml"], "tab_spaces = 2")
	assert.Empty(t, run(t, other, "settle", "--patch").out)
	write(t, other, map[string]string{"rustfmt.toml": "tab_spaces = 4\n"})
	assert.Contains(t, run(t, other, "conflicts").out, "the treaty says 2 spaces, and rustfmt writes 4 spaces")

	write(t, above, map[string]string{"house.toml": strings.ReplaceAll(drafted.out, "indent_size = 2", "indent_size = 3")})
	require.Zero(t, run(t, other, "settle", "--house", house, "--write", "--force").code)
	assert.Contains(t, contents(t, other)["rustfmt.toml"], "tab_spaces = 3", "newer ones take their place")
	require.Zero(t, run(t, other, "settle", "--undo").code)
	assert.Equal(t, drafted.out, contents(t, other)[".treaty/house/house.toml"])
}

// House rules outside of the repository are read only where the person names them.
func TestHouseRulesThatLieElsewhere(t *testing.T) {
	above := write(t, t.TempDir(), map[string]string{
		"house/team/treaty.toml": "treaty = 1\nadopts = [\"../treaty.toml\"]\n", "house/treaty.toml": "treaty = 1\n[[article]]\ntype = \"rust\"\n  [article.style]\n  indent_size = 2\n",
		"pier/treaty.toml": "treaty = 1\nadopts = [\"../house/team/treaty.toml\"]\n", "pier/a.rs": "fn a() {}\n", "pier/rustfmt.toml": "tab_spaces = 8\n", "secret": "password = horn\n",
	})
	pier, house := filepath.Join(above, "pier"), filepath.Join(above, "house/team/treaty.toml")
	refused := run(t, pier, "audit")
	assert.Equal(t, 2, refused.code)
	assert.Contains(t, refused.err, "treaty.toml:2:1: adopts ../house/team/treaty.toml: that lies outside of this repository and is not read")
	assert.Contains(t, refused.err, "--house "+house)
	for _, command := range [][]string{{"check"}, {"audit"}, {"conflicts"}, {"settle"}} {
		r := run(t, pier, append(command, "--house", house)...)
		assert.LessOrEqual(t, r.code, 1, "%v %s", command, r.err)
		assert.Contains(t, r.out, "2 spaces", "%v", command)
	}
	trusting := func(where string) func(*exec.Cmd) {
		config := write(t, t.TempDir(), map[string]string{"treaty/settings.toml": "house = [\"" + where + "\"]\n"})
		return func(c *exec.Cmd) { c.Env = append(os.Environ(), "XDG_CONFIG_HOME="+config) }
	}
	assert.Contains(t, runAs(t, trusting(filepath.Join(above, "house")), pier, "conflicts").out, "the treaty says 2 spaces")
	assert.Equal(t, 2, runAs(t, trusting(filepath.Join(above, "hous")), pier, "audit").code)

	write(t, pier, map[string]string{"treaty.toml": "treaty = 1\nadopts = [\"../secret\"]\n"})
	assert.NotContains(t, run(t, pier, "audit").err, "horn")
	require.NoError(t, os.Remove(filepath.Join(pier, "treaty.toml")))
	require.NoError(t, os.Symlink("../secret", filepath.Join(pier, "treaty.toml")))
	linked := run(t, pier, "audit")
	assert.Equal(t, 2, linked.code)
	assert.Contains(t, linked.err, "treaty.toml cannot be opened: it is a link that leads out of the repository")

	require.NoError(t, os.Remove(filepath.Join(pier, "treaty.toml")))
	require.Zero(t, run(t, pier, "settle", "--house", house, "--write").code)
	now := contents(t, pier)
	assert.Contains(t, now["treaty.toml"], `adopts = [".treaty/house/team/treaty.toml"]`)
	assert.Contains(t, now[".treaty/house/treaty.toml"], "indent_size = 2")
	assert.Contains(t, run(t, pier, "audit").out, "0 errors")
}

func TestEmit(t *testing.T) {
	dir := skerryLine(t)
	assert.Contains(t, run(t, dir, "settle", "--emit", "treaty").out, "treaty = 1\n")
	assert.Contains(t, run(t, dir, "settle", "--emit", "editorconfig").out, "root = true")
	assert.Contains(t, run(t, dir, "settle", "--emit", "json").out, "jolly-treaty/settlement")
	assert.NotContains(t, contents(t, dir), "treaty.toml")
}

func TestPrune(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{
		".editorconfig": "root = true\n\n[*.rs]\n# wide\nindent_size = 8\nindent_style = space\n\n[*.rs]\nindent_size = 4\n", "a.rs": "fn a() {}\n", "rustfmt.toml": "tab_spaces = 4\n",
		"sub/.editorconfig": "[*.rs]\nmax_line_length = 90\n[a.rs]\nmax_line_length = 100\n", "sub/a.rs": "",
	})
	before := run(t, dir, "conflicts", "--code", "dead/shadowed").out
	assert.Contains(t, before, "max_line_length never takes effect")
	require.Zero(t, run(t, dir, "settle", "--write").code)
	assert.Contains(t, contents(t, dir)["sub/.editorconfig"], "= 90", "only when asked for")
	require.Zero(t, run(t, dir, "settle", "--prune", "--write").code)
	assert.NotContains(t, contents(t, dir)["sub/.editorconfig"], "= 90")
	assert.Contains(t, contents(t, dir)["sub/.editorconfig"], "[a.rs]\nmax_line_length = 100")
	assert.NotContains(t, run(t, dir, "conflicts", "--code", "dead/shadowed").out, "max_line_length never")
	assert.Empty(t, run(t, dir, "settle", "--prune", "--patch").out)
}
