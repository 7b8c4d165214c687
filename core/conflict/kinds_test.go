package conflict_test

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/conflict"
)

// What a finding of each of these kinds says, and the places it names. The trees
// are the cases of the audit.
func TestWhatTheySay(t *testing.T) {
	for _, c := range []struct {
		tree, code string
		message    string
		sides      []string
	}{
		{"triggers", "rivalry/triggers", "Prettier formats these files on save, and deno fmt in CI",
			[]string{"prettier .vscode/settings.json:1", "deno-fmt .github/workflows/ci.yml:4"}},
		{"imports", "rivalry/imports", "isort and Ruff both order the imports",
			[]string{"isort .pre-commit-config.yaml:5", "ruff ruff.toml:2"}},
		{"order", "rivalry/order", "Ruff changes what Ruff formatter has just formatted: it runs after it on commit",
			[]string{"ruff-format .pre-commit-config.yaml:5", "ruff .pre-commit-config.yaml:6"}},
		{"order_staged", "rivalry/order", "ESLint changes what Prettier has just formatted: it runs after it on commit",
			[]string{"prettier package.json:4", "eslint package.json:4"}},
		{"layout", "rivalry/layout", "ESLint checks layout that Prettier already writes: indentation, quotes",
			[]string{"prettier :0", "eslint .eslintrc.json:1", "prettier .prettierrc:1", "eslint .eslintrc.json:1", "prettier :0", "eslint .eslintrc.json:1"}},
		{"partial", "gap/partial", "Biome formats only a part of Vue files: the script", []string{"biome biome.json:1"}},
		{"no_trigger", "gap/no-trigger", "nothing here runs Prettier on these files: no editor setting, hook, CI step or script", []string{"prettier .prettierrc:1"}},
		{"personal_endings", "drift/personal", "which line endings git checks out depends on the machine, and Prettier writes LF",
			[]string{"gitattributes .gitattributes:1", "prettier .prettierrc:1"}},
		{"personal_native", "drift/personal", "rustfmt leaves line endings to the machine: Native", []string{"rustfmt rustfmt.toml:1"}},
		{"personal_save", "drift/personal", "Prettier runs on save without settings in the repository, so with those of whoever saves",
			[]string{"prettier .vscode/settings.json:1"}},
		{"exclusions", "drift/exclusions", "Prettier leaves out files that ESLint reads", []string{"prettier .prettierignore:1", "eslint :0"}},
		{"region", "drift/region", "rustfmt is set to 100 columns in the root, 80 columns in old",
			[]string{"rustfmt rustfmt.toml:1", "rustfmt old/rustfmt.toml:1"}},
		{"levels", "clash/severity", "yamllint takes departures for an error here and a warning there",
			[]string{"yamllint .yamllint:2", "yamllint old/.yamllint:2"}},
		{"mirror", "drift/mirror", "Biome and Prettier are told the same but for one thing: 100 columns against 80 columns",
			[]string{"biome biome.json:1", "prettier .prettierrc:1"}},
		{"mirror_editors", "drift/mirror", "Zed types 2 spaces, but VS Code types 4 spaces",
			[]string{"vscode .vscode/settings.json:1", "zed .zed/settings.json:1"}},
		{"copy_superseded", "dead/shadowed", "prettier.printWidth has no effect: Prettier has settings of its own, such as .prettierrc",
			[]string{"vscode .vscode/settings.json:1", "prettier .prettierrc:1"}},
		{"header", "clash/rejected", "dotnet format writes \"Skerry Line, all rights reserved\", StyleCop Analyzers accepts only \"Skerry Line\"",
			[]string{"dotnet-format .editorconfig:2", "stylecop stylecop.json:1"}},
		{"names", "clash/impossible", "Pylint accepts only namesLikeThis, Ruff accepts only names_like_this",
			[]string{"pylint pyproject.toml:2", "ruff pyproject.toml:4"}},
	} {
		text, err := os.ReadFile(filepath.Join("..", "audit", "testdata", c.tree+".txtar"))
		require.NoError(t, err)
		found := only(findings(t, string(text)), conflict.Code(c.code))
		require.NotEmpty(t, found, c.tree)
		f := found[0]
		for _, other := range found {
			if other.Type != nil && other.Type.ID != "json" {
				f = other
			}
		}
		assert.Equal(t, c.message, f.Message, c.tree)
		var sides []string
		for _, s := range f.Sides {
			sides = append(sides, fmt.Sprintf("%s %s:%d", s.Program, s.Path, s.Line))
		}
		assert.Equal(t, c.sides, sides, c.tree)
	}
}

// A finding knows the files it is about, those of all its groups.
func TestFindingsKnowTheirFiles(t *testing.T) {
	text, err := os.ReadFile("../audit/testdata/region.txtar")
	require.NoError(t, err)
	f := only(findings(t, string(text)), conflict.DriftRegion)[0]
	files := 0
	for _, g := range f.Groups {
		files += g.Files
	}
	assert.Equal(t, f.Files, files)
	assert.Equal(t, []string{"old/c.rs"}, f.Examples)
}

// The same cause in several folders is one finding, with all of their files.
func TestOneFindingPerCause(t *testing.T) {
	tree := "-- .prettierrc --\n{\"printWidth\": 100}\n-- .eslintrc.json --\n{\"rules\": {\"max-len\": [\"error\", 80]}}\n"
	for _, p := range []string{"a.js", "b/a.js", "b/c/a.js", "a.ts"} {
		tree += "-- " + p + " --\n"
	}
	tree += "-- b/.editorconfig --\n[*]\ncharset = utf-8\n" // groups of their own
	found := only(findings(t, tree), conflict.ClashRejected)
	require.Len(t, found, 2, "one for each type")
	assert.Equal(t, found[0].Cause, found[1].Cause)
	assert.NotEqual(t, found[0].ID, found[1].ID)
	assert.Equal(t, 3, found[0].Files)
	assert.Equal(t, 1, found[1].Files)
}
