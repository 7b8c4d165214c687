package audit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"jollytreaty/core/audit"
)

const twoWidths = `
-- .prettierrc --
printWidth: 100
overrides:
  - files: "*.test.ts"
    options: {printWidth: 140}
-- rustfmt.toml --
merge_imports = true
-- a.ts --
-- a.test.ts --
-- b.ts --
-- a.rs --
`

func TestReferences(t *testing.T) {
	r := run(t, txtar.Parse([]byte(twoWidths)))
	var width audit.Reference
	for _, ref := range r.References(false) {
		if ref.Rule.ID == "max_line_length" {
			width = ref
		}
	}
	var programs []string
	for _, a := range width.Answers {
		programs = append(programs, a.Program.ID)
		assert.True(t, a.InPlay)
		if a.Program.ID == "prettier" {
			assert.Equal(t, []string{"printWidth", "max_line_length"}, a.Keys)
			assert.Contains(t, a.Here, audit.Here{Value: "140", Path: ".prettierrc", Line: 4, Files: 1})
			assert.Contains(t, a.Here, audit.Here{Value: "100", Path: ".prettierrc", Line: 1, Files: 3}, "the settings file is of a type it covers, too")
		}
		if a.Program.ID == "rustfmt" {
			assert.Equal(t, []audit.Here{{Value: "100", Files: 1}}, a.Here, "a default has no place")
		}
	}
	assert.Equal(t, []string{"prettier", "rustfmt"}, programs)
	every := r.References(true)
	require.Len(t, every, len(r.References(false)))
	assert.Greater(t, len(every[7].Answers), 40, "every program that is known")
}

func TestKeys(t *testing.T) {
	r := run(t, txtar.Parse([]byte(twoWidths)))
	by := map[string]audit.Key{}
	for _, id := range []string{"prettier", "rustfmt", "eslint"} {
		for _, k := range r.Keys(r.Picture.Catalog.ByID(id)) {
			by[id+" "+k.Name] = k
		}
	}
	assert.Equal(t, []audit.Here{{Value: "100", Path: ".prettierrc", Line: 1, Files: 4}, {Value: "140", Path: ".prettierrc", Line: 4, Files: 4}}, by["prettier printWidth"].Here)
	assert.Equal(t, "a whole number", by["prettier printWidth"].Takes)
	assert.Equal(t, "lf, crlf, cr or auto", by["prettier endOfLine"].Takes)
	assert.True(t, by["rustfmt merge_imports"].Retired)
	assert.Equal(t, "imports_granularity", by["rustfmt merge_imports"].Instead)
	assert.Contains(t, by, "eslint rules.@stylistic/indent.1", "slashes within keys are shown")
}

func TestMatches(t *testing.T) {
	assert.True(t, audit.Matches([]string{"LINE", "len"}, "max_line_length", "how many"))
	assert.True(t, audit.Matches(nil, "x"))
	assert.True(t, audit.Matches([]string{"line length"}, "max-line-length"))
	assert.False(t, audit.Matches([]string{"line", "quotes"}, "max_line_length"))
}
