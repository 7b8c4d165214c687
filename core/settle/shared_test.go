package settle_test

import (
	"fmt"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
)

// sections lists the names of the sections a plan writes into the standard's file.
func sections(plan *settle.Plan) []string {
	var out []string
	for _, e := range plan.Edits {
		if e.Path != ".editorconfig" {
			continue
		}
		for line := range strings.Lines(string(e.After)) {
			if strings.HasPrefix(line, "[") {
				out = append(out, strings.TrimSpace(line))
			}
		}
	}
	return out
}

// An extension stands for a type in a section's name, too, where other types share
// it, as long as these bear that; else folders do, or names. What the sections say
// holds for each file.
func TestExtensionsThatTypesShare(t *testing.T) {
	with := func(n int, name, body string) map[string]string {
		files := map[string]string{}
		for i := range n {
			files[fmt.Sprintf(name, i)] = body
		}
		return files
	}
	two, four := "{\n  \"a\": {\n    \"b\": 1\n  }\n}\n", "{\n    \"a\": {\n        \"b\": 1\n    }\n}\n"
	plain, classes := "#define A 1\nint f(void) {\n\treturn 1;\n}\n", "class A {\n  int b;\n  int c;\n};\n"
	for name, c := range map[string]struct {
		files []map[string]string
		want  []string
	}{
		"they do the same":             {[]map[string]string{with(20, "crew/m%02d.json", two), with(4, "app%d/tsconfig.json", two)}, []string{"[*.json]"}},
		"one that few files are of":    {[]map[string]string{with(20, "crew/m%02d.json", two), {"tsconfig.json": two}}, []string{"[*.json]"}},
		"which does otherwise":         {[]map[string]string{with(20, "crew/m%02d.json", two), {"tsconfig.json": four}}, []string{"[crew/**.json]"}},
		"a later section says another": {[]map[string]string{with(20, "crew/m%02d.json", two), with(4, "app%d/tsconfig.json", four)}, []string{"[*.json]", "[tsconfig.json]"}},
		"as an earlier one reaches it": {[]map[string]string{with(6, "core/m%d.c", plain), with(20, "core/m%02d.h", plain), with(20, "ui/n%02d.h", classes), with(6, "ui/n%d.cpp", classes)}, []string{"[*.{c,h}]", "[{**.cpp,ui/**.h}]"}},
		"too many in the same folder":  {[]map[string]string{with(20, "crew/m%02d.json", two), {"crew/tsconfig.json": four}}, nil},
	} {
		files := map[string]string{}
		for _, part := range c.files {
			for p, body := range part {
				files[p] = body
			}
		}
		r, plan := settled(t, files, settle.FollowCode, settle.Choices{})
		assert.Subset(t, sections(plan), c.want, name)
		tree := fstest.MapFS{}
		for p, body := range files {
			tree[p] = text(body)
		}
		after, _ := propose(t, apply(tree, plan))
		for p := range files {
			before, ok := r.Explain(p)
			require.True(t, ok, p)
			now, _ := after.Explain(p)
			step, _ := r.Measured(before.Group).Fit(rule.IndentSize, rule.Number(2))
			if claim := now.Group.Claim(standardOf(t), rule.IndentSize); claim != nil && before.Group.Type.ID != "c" { // tabs have no size
				assert.Equal(t, map[bool]int{true: 2, false: 4}[step > 0.5], claim.Value.Int(), "%s: %s", name, p)
			}
		}
	}
}

func standardOf(t *testing.T) *catalog.Entry {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	return c.ByID("editorconfig")
}

// What is said of code that departs is true: it is only asked to be followed where
// that would change anything.
func TestWhatCodeThatDepartsIsTold(t *testing.T) {
	why := func(property, code string, follow settle.Policy, extra map[string]string) string {
		files := map[string]string{".editorconfig": "root = true\n[*.lua]\n" + property + "\n"}
		for i := range 5 {
			files[fmt.Sprintf("m%d.lua", i)] = code
		}
		for p, body := range extra {
			files[p] = body
		}
		_, plan := settled(t, files, follow, settle.Choices{})
		for _, o := range plan.LeftOpen {
			if o.Finding.Code == "code/disagrees" {
				return o.Why
			}
		}
		return ""
	}
	const steps, bare = "function a()\n  b()\nend\n", "b()"
	stylua := map[string]string{"Makefile": "fmt:\n\tstylua .\n"}
	saved, run, keep := "the code follows as files are edited and saved", "the code follows when its formatter is run on it", "; to keep the code as it is: treaty settle --follow code"
	assert.Equal(t, saved+keep, why("indent_style = space\nindent_size = 4", steps, settle.FollowSettings, nil))
	assert.Equal(t, run+keep, why("indent_style = space\nindent_size = 4", steps, settle.FollowSettings, stylua))
	assert.Empty(t, why("indent_style = space\nindent_size = 4", steps, settle.FollowCode, nil), "it was settled")
	for _, follow := range []settle.Policy{settle.FollowSettings, settle.FollowCode} {
		assert.Equal(t, saved, why("insert_final_newline = true", bare, follow, nil), "nobody asks for no line break at the end")
	}
}
