package conflict_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/internal/texttree"
)

func findings(t *testing.T, archive string) []*conflict.Finding {
	t.Helper()
	files, paths := texttree.Parse(archive)
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	r, err := audit.Run(context.Background(), files, paths, c, audit.Options{})
	require.NoError(t, err)
	return r.Findings
}

// only returns the findings with a code.
func only(list []*conflict.Finding, code conflict.Code) []*conflict.Finding {
	return slices.DeleteFunc(slices.Clone(list), func(f *conflict.Finding) bool { return f.Code != code })
}

// A finding says in one sentence what cannot hold, and where each side stands.
func TestMessages(t *testing.T) {
	for _, c := range []struct {
		name    string
		code    conflict.Code
		tree    string
		message string
		sides   []string
	}{
		{
			"two writers agree against a third", conflict.ClashWriters,
			"-- .editorconfig --\n[*]\nend_of_line = lf\n-- rustfmt.toml --\nnewline_style = \"Unix\"\n-- .gitattributes --\n*.rs eol=crlf\n-- a.rs --\n",
			"EditorConfig and rustfmt write LF, git attributes writes CRLF",
			[]string{"editorconfig .editorconfig:2:1", "gitattributes .gitattributes:1:6", "rustfmt rustfmt.toml:1:1"},
		},
		{
			"a limit", conflict.ClashRejected,
			"-- .editorconfig --\n[*.kt]\nktlint_code_style = android_studio\n-- detekt.yml --\nstyle:\n  MaxLineLength:\n    active: true\n    maxLineLength: 90\n-- a.kt --\n",
			"ktlint writes 100 columns, detekt accepts at most 90 columns",
			[]string{"ktlint .editorconfig:2:1", "detekt detekt.yml:4:5"},
		},
		{
			"a fixed choice", conflict.ClashRejected,
			"-- .swiftformat --\n--indent 2\n-- .swiftlint.yml --\nline_length: 300\n-- a.swift --\n",
			"SwiftFormat writes trailing commas in broken lists, SwiftLint accepts only no trailing commas",
			[]string{"swiftformat :0:0", "swiftlint :0:0"},
		},
		{
			"what is typed and rewritten", conflict.ClashTyping,
			"-- .editorconfig --\n[*]\nindent_style = space\nindent_size = 3\n-- a.go --\n",
			"EditorConfig types 3 spaces, but gofmt writes tabs",
			[]string{"gofmt :0:0", "editorconfig .editorconfig:2:1"},
		},
		{
			"formatters", conflict.Rivalry,
			"-- .swiftformat --\n--indent 2\n-- .swift-format --\n{\"version\": 1}\n-- a.swift --\n",
			"swift-format and SwiftFormat both format these files",
			[]string{"swift-format .swift-format:0:0", "swiftformat .swiftformat:0:0"},
		},
		{
			"twice in sections of one name", conflict.ClashInternal,
			"-- .editorconfig --\n[*.md]\ncharset = utf-8\n[*.md]\ncharset = latin1\n-- a.md --\n",
			"charset is set twice for *.md: utf-8, then latin1; the last one wins",
			[]string{"editorconfig .editorconfig:2:1", "editorconfig .editorconfig:4:1"},
		},
		{
			"on and off", conflict.ClashInternal,
			"-- .swiftlint.yml --\ndisabled_rules: [todo]\nopt_in_rules: [todo]\n-- a.swift --\n",
			"todo is switched on and off in the same file",
			[]string{"swiftlint .swiftlint.yml:2:16", "swiftlint .swiftlint.yml:1:18"},
		},
		{
			"mistyped key", conflict.SlipUnknownKey,
			"-- rustfmt.toml --\nmax_wdith = 3\n-- a.rs --\n",
			"\"max_wdith\" is not a key it knows; the nearest is \"max_width\"",
			[]string{"rustfmt rustfmt.toml:1:1"},
		},
		{
			"unknown key far from any", conflict.SlipUnknownKey,
			"-- .yamllint --\nrules:\n  sea-level: {max: 3}\n-- a.yaml --\n",
			"\"sea-level\" is not a key it knows, which stops it",
			[]string{"yamllint .yamllint:2:3"},
		},
		{
			"mistyped word", conflict.SlipBadValue,
			"-- .editorconfig --\n[*]\nend_of_line = lff\n-- a.md --\n",
			"end_of_line = lff is no value it takes: the nearest it takes is \"lf\"",
			[]string{"editorconfig .editorconfig:2:1"},
		},
		{
			"comment behind a value", conflict.SlipBadValue,
			"-- .editorconfig --\n[*]\nindent_size = 4 ; four\n-- a.md --\n",
			"indent_size = 4 ; four is no value it takes: a comment has to stand on a line of its own; it takes a whole number, tab or unset",
			[]string{"editorconfig .editorconfig:2:1"},
		},
		{
			"wrong kind of value", conflict.SlipBadValue,
			"-- .swift-format --\n{\"lineLength\": \"100\"}\n-- a.swift --\n",
			"lineLength = 100 is no value it takes: it takes a whole number",
			[]string{"swift-format .swift-format:1:2"},
		},
		{
			"map where a value is meant", conflict.SlipBadValue,
			"-- .swift-format --\n{\"lineLength\": {\"max\": 100}}\n-- a.swift --\n",
			"lineLength is no value it takes: it takes a whole number",
			[]string{"swift-format .swift-format:1:2"},
		},
		{
			"not parsed", conflict.SlipUnreadable,
			"-- .swift-format --\n{\n  \"lineLength\": }\n-- a.swift --\n",
			".swift-format cannot be read: invalid character '}' at start of value",
			[]string{"swift-format .swift-format:2:17"},
		},
		{
			"empty", conflict.SlipEmpty,
			"-- .swiftlint.yml --\n# later\n-- a.swift --\n",
			".swiftlint.yml is empty: the default rules run",
			[]string{"swiftlint .swiftlint.yml:1:1"},
		},
		{
			"no effect", conflict.DeadShadowed,
			"-- .editorconfig --\n[*.md]\nindent_size = 2\n[*.{md,txt}]\nindent_size = 4\n-- a.md --\n",
			"EditorConfig indent_size never takes effect: for every file another setting wins, such as .editorconfig:4",
			[]string{"editorconfig .editorconfig:2:1", "editorconfig .editorconfig:4:1"},
		},
		{
			"excluded as a whole", conflict.GapExcluded,
			"-- .taplo.toml --\nexclude = [\"**\"]\n-- a.toml --\n",
			"Taplo is told to leave out every TOML file",
			[]string{" .taplo.toml:1:1"},
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			list := only(findings(t, c.tree), c.code)
			require.Len(t, list, 1)
			f := list[0]
			assert.Equal(t, c.message, f.Message)
			var sides []string
			for _, s := range f.Sides {
				sides = append(sides, fmt.Sprintf("%s %s:%d:%d", s.Program, s.Path, s.Line, s.Column))
			}
			assert.Equal(t, c.sides, sides)
			assert.Equal(t, c.code.Severity(), f.Severity)
			assert.Regexp(t, "^[0-9a-f]{8}$", f.ID)
			assert.Regexp(t, "^[0-9a-f]{8}$", f.Cause)
		})
	}
}

// The same cause over several types is one cause with a finding for each.
func TestOneCauseOverSeveralTypes(t *testing.T) {
	list := only(findings(t, "-- .editorconfig --\n[*]\nindent_size = 4\nindent_style = space\n-- a.tf --\n-- b.tfvars --\n-- c.go --\n"), conflict.ClashTyping)
	causes := map[string][]string{}
	ids := map[string]bool{}
	for _, f := range list {
		causes[f.Cause] = append(causes[f.Cause], f.Type.ID)
		ids[f.ID] = true
	}
	assert.Len(t, ids, 3)
	var shared []string
	for _, types := range causes {
		slices.Sort(types)
		shared = append(shared, strings.Join(types, " "))
	}
	assert.ElementsMatch(t, []string{"terraform terraform-vars", "go"}, shared)
}

func TestWhatCostsMostComesFirst(t *testing.T) {
	list := findings(t, `
-- .swiftformat --
--indent 2
--maxwidth 90
-- .swift-format --
{"indentation": {"spaces": 2}, "lineLength": 100}
-- .editorconfig --
[*.md]
indent_size = 2
[*.{md,mdx}]
indent_size = 4
-- rustfmt.toml --
max_widht = 1
-- a.swift --
-- b.md --
-- c.rs --
`)
	var got []string
	for _, f := range list {
		if kind, _, _ := strings.Cut(string(f.Code), "/"); !slices.Contains(got, kind) {
			got = append(got, kind)
		}
	}
	assert.Equal(t, []string{"rivalry", "clash", "slip", "gap", "dead"}, got)
	for i := 1; i < len(list); i++ {
		assert.GreaterOrEqual(t, list[i-1].Severity.Rank(), list[i].Severity.Rank())
	}
}

func TestCodesAreKnown(t *testing.T) {
	for _, c := range conflict.Codes() {
		assert.Regexp(t, "^(clash|rivalry|gap|dead|drift|slip|code|treaty)/[a-z-]+$", string(c))
		assert.NotZero(t, c.Severity().Rank(), c)
	}
}
