package settle_test

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
	"jollytreaty/core/treaty"
)

// settled proposes with the code looked at and the given choices.
func settled(t *testing.T, files map[string]string, follow settle.Policy, choices settle.Choices) (*audit.Result, *settle.Plan) {
	t.Helper()
	tree := fstest.MapFS{}
	var paths []string
	for p, text := range files {
		tree[p] = &fstest.MapFile{Data: []byte(text)}
		paths = append(paths, p)
	}
	slices.Sort(paths)
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	r, err := audit.Run(context.Background(), tree, paths, c, audit.Options{Day: day, Measure: &evidence.Options{}})
	require.NoError(t, err)
	plan, err := settle.Propose(settle.Input{FS: tree, Paths: paths, Audit: r, Follow: follow, Choices: choices})
	require.NoError(t, err)
	return r, plan
}

func decision(plan *settle.Plan, ruleID string) *settle.Decision {
	for i := range plan.Decisions {
		if plan.Decisions[i].Rule.ID == ruleID {
			return &plan.Decisions[i]
		}
	}
	return nil
}

// rust is a crate whose code has steps of the given size, with two settings that
// do not agree.
func rust(size string, extra map[string]string) map[string]string {
	files := map[string]string{"rustfmt.toml": "tab_spaces = 4\n", ".editorconfig": "root = true\n[*.rs]\nindent_style = space\nindent_size = 8\n"}
	for i := range 5 {
		files[fmt.Sprintf("src/m%d.rs", i)] = "fn a() {\n" + size + "b();\n}\n"
	}
	for p, text := range extra {
		files[p] = text
	}
	return files
}

func TestWhoseWordCounts(t *testing.T) {
	length := rule.ByID(rule.IndentSize)
	for name, c := range map[string]struct {
		files   map[string]string
		follow  settle.Policy
		choices settle.Choices
		value   int
		because string
	}{
		"the formatter's setting": {rust("  ", nil), settle.FollowSettings, settle.Choices{}, 4, "its formatter's setting says so"},
		"the code":                {rust("  ", nil), settle.FollowCode, settle.Choices{}, 2, "all of 5 files that tell have 2 spaces"},
		"the treaty before the code": {rust("  ", map[string]string{"treaty.toml": "treaty = 1\n[[article]]\ntype = \"rust\"\nformatter = \"rustfmt\"\n  [article.style]\n  indent_size = 8\n"}),
			settle.FollowCode, settle.Choices{}, 8, "the treaty says so"},
		"the person before all": {rust("  ", map[string]string{"treaty.toml": "treaty = 1\n[[article]]\ntype = \"rust\"\nformatter = \"rustfmt\"\n  [article.style]\n  indent_style = \"space\"\n"}),
			settle.FollowCode, settle.Choices{Set: []settle.Value{{Rule: length, Value: rule.Number(3)}}}, 3, "you said so"},
		"a type's own choice before that for all": {rust("  ", nil), settle.FollowSettings,
			settle.Choices{Set: []settle.Value{{Rule: length, Value: rule.Number(3)}, {Type: "rust", Rule: length, Value: rule.Number(6)}}}, 6, "you said so"},
	} {
		_, plan := settled(t, c.files, c.follow, c.choices)
		d := decision(plan, rule.IndentSize)
		require.NotNil(t, d, name)
		assert.Equal(t, rule.Number(c.value), d.Value, name)
		assert.Contains(t, d.Because, c.because, name)
	}
}

func TestDecisionsSayWhatTheyTouch(t *testing.T) {
	_, plan := settled(t, rust("  ", nil), settle.FollowSettings, settle.Choices{})
	assert.Equal(t, 5, decision(plan, rule.IndentSize).Touched)
	_, plan = settled(t, rust("    ", nil), settle.FollowSettings, settle.Choices{})
	assert.Zero(t, decision(plan, rule.IndentSize).Touched)
}

// Of two voices with an equal word the one wins that has fewer files rewritten.
func TestFewestFilesRewritten(t *testing.T) {
	for size, want := range map[string]int{"  ": 2, "      ": 6} {
		files := map[string]string{
			".vscode/settings.json": `{"[lua]": {"editor.tabSize": 6, "editor.insertSpaces": true}}`,
			".zed/settings.json":    `{"languages": {"Lua": {"tab_size": 2}}}`,
		}
		for i := range 5 {
			files[fmt.Sprintf("m%d.lua", i)] = "function a()\n" + size + "b()\nend\n"
		}
		_, plan := settled(t, files, settle.FollowSettings, settle.Choices{})
		if d := decision(plan, rule.IndentSize); assert.NotNil(t, d, size) {
			assert.Equal(t, rule.Number(want), d.Value)
		}
	}
}

func TestLeftOpenAndOnly(t *testing.T) {
	files := rust("    ", map[string]string{"a.py": "x = 1\n", "pyproject.toml": "[tool.black]\nline-length = 100\n", ".flake8": "[flake8]\nmax-line-length = 80\n", "Makefile": "fmt:\n\tblack . && flake8\n"})
	r, all := settled(t, files, settle.FollowSettings, settle.Choices{})
	require.NotNil(t, decision(all, "max_line_length"))
	var id string
	for _, f := range r.Findings {
		if f.Rule != nil && f.Rule.ID == "max_line_length" {
			id = f.ID
		}
	}
	require.NotEmpty(t, id)
	_, left := settled(t, files, settle.FollowSettings, settle.Choices{Leave: []string{id}})
	assert.True(t, slices.ContainsFunc(left.LeftOpen, func(o settle.Open) bool { return o.Finding.ID == id && o.Why == "left open, as you said" }))
	for _, only := range []string{"rust", rule.IndentSize} {
		_, part := settled(t, files, settle.FollowSettings, settle.Choices{Only: []string{only}})
		assert.NotNil(t, decision(part, rule.IndentSize), only)
		for _, d := range part.Decisions {
			assert.False(t, d.Type.ID == "python" && d.Rule.ID == "max_line_length", only)
		}
		for _, e := range part.Edits {
			assert.NotEqual(t, ".flake8", e.Path, only)
		}
	}
	assert.ErrorContains(t, settle.Choices{Leave: []string{"00000000"}}.Check(r), "no finding here")
	assert.NoError(t, settle.Choices{Only: []string{id, "rust", "quotes"}}.Check(r))
}

func TestWordsPutIntoTheTreaty(t *testing.T) {
	files := rust("    ", nil)
	r, _ := settled(t, files, settle.FollowSettings, settle.Choices{})
	words := treaty.Words{Formatters: map[string]string{"rust": "rustfmt"}, Exempt: []treaty.Exemption{{Type: "markdown", Reason: "drawn"}}, Waivers: []treaty.Waiver{{Finding: r.Findings[0].ID, Reason: "soon", Until: day.AddDate(1, 0, 0)}}}
	_, plan := settled(t, files, settle.FollowSettings, settle.Choices{Words: words})
	for _, e := range plan.Edits {
		if e.Path == treaty.Name {
			assert.Equal(t, settle.Create, e.Action)
			text := string(e.After)
			for _, part := range []string{"reason = \"chosen by hand\"", "[[exempt]]\ntype = \"markdown\"\nreason = \"drawn\"", "reason = \"soon\"\nuntil = 2027-11-24"} {
				assert.Contains(t, text, part)
			}
			return
		}
	}
	assert.Fail(t, "no treaty")
}

// Every settlement there could be of a small repository, compared by the order of
// reasons: none is better than the one that is proposed.
func TestNoSettlementIsBetter(t *testing.T) {
	values := []int{2, 4, 8}
	for _, formatter := range append(values, 0) {
		for _, standard := range append(values, 0) {
			for _, code := range values {
				files := map[string]string{}
				for i := range 3 {
					files[fmt.Sprintf("m%d.rs", i)] = "fn a() {\n" + fmt.Sprintf("%*s", code, "") + "b();\n}\n"
				}
				// whose word it is, strongest first
				var words []int
				if formatter > 0 {
					files["rustfmt.toml"] = fmt.Sprintf("tab_spaces = %d\n", formatter)
					words = append(words, formatter)
				}
				if standard > 0 {
					files[".editorconfig"] = fmt.Sprintf("root = true\n[*.rs]\nindent_style = space\nindent_size = %d\n", standard)
					words = append(words, standard)
				}
				words = append(words, 4) // the formatter's default
				for _, follow := range []settle.Policy{settle.FollowSettings, settle.FollowCode} {
					order := words
					if follow == settle.FollowCode {
						order = append([]int{code}, words...)
					}
					_, plan := settled(t, files, follow, settle.Choices{})
					d := decision(plan, rule.IndentSize)
					now := cmp.Or(formatter, 4)
					if formatter+standard > 0 && (standard == 0 || standard == now) && (follow == settle.FollowSettings || code == now) {
						assert.Nil(t, d, "nothing has to change")
						continue
					}
					if formatter == 0 && (standard == 0 || standard == now) {
						continue // of a formatter that only comes with the language nobody says that the code departs
					}
					require.NotNil(t, d, "formatter %d, standard %d, code %d, %s", formatter, standard, code, follow)
					rank := func(v int) int {
						if i := slices.Index(order, v); i >= 0 {
							return i
						}
						return len(order)
					}
					for _, other := range values {
						assert.LessOrEqual(t, rank(d.Value.Int()), rank(other), "%d is better than %s with formatter %d, standard %d, code %d, %s", other, d.Value, formatter, standard, code, follow)
					}
				}
			}
		}
	}
}

// The settings of a retired program are carried over in words, key by key.
func TestSuccession(t *testing.T) {
	_, plan := settled(t, map[string]string{
		"tslint.json":  `{"rules": {"indent": [true, "spaces", 2], "quotemark": [true, "single"], "max-line-length": [true, 100]}}`,
		"package.json": `{"devDependencies": {"tslint": "5.20.0"}, "scripts": {"lint": "tslint ."}}`, "a.ts": "let a = 1;\n",
	}, settle.FollowSettings, settle.Choices{})
	for _, o := range plan.LeftOpen {
		if o.Finding.Code == "drift/retired" {
			assert.Contains(t, o.Why, "move to ESLint, in ")
			assert.Contains(t, o.Why, "quotes, single quotes: rules/quotes/1 = single")
			assert.Contains(t, o.Why, "line length, 100 columns: rules/max-len/1")
			return
		}
	}
	assert.Fail(t, "it is retired")
}
