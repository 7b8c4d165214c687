package main

import (
	"path/filepath"
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
	assert.Contains(t, now["treaty.toml"], `adopts = ["../house.toml"]`)
	assert.Contains(t, now["rustfmt.toml"], "tab_spaces = 2")
	assert.Empty(t, run(t, other, "settle", "--patch").out)
	write(t, other, map[string]string{"rustfmt.toml": "tab_spaces = 4\n"})
	assert.Contains(t, run(t, other, "conflicts").out, "the treaty says 2 spaces, and rustfmt writes 4 spaces")
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
