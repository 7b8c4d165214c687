package present

import (
	"bytes"
	"context"
	"flag"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/charmbracelet/lipgloss"
	"github.com/pelletier/go-toml/v2"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
	"jollytreaty/demo"
	"jollytreaty/internal/texttree"
)

var update = flag.Bool("update", false, "write the pages to testdata instead of comparing them")

func settled(t *testing.T) (*audit.Result, *settle.Plan) {
	t.Helper()
	files, paths := texttree.Files(demo.Files())
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	day := time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)
	r, err := audit.Run(context.Background(), files, paths, c, audit.Options{Day: day})
	require.NoError(t, err)
	plan, err := settle.Propose(settle.Input{FS: files, Paths: paths, Audit: r})
	require.NoError(t, err)
	plan.Annotate()
	return r, plan
}

// The pages of the demo repository, as they are printed 80 columns wide. Read
// them after a change: go test ./present -update, then git diff.
func TestPages(t *testing.T) {
	r, plan := settled(t)
	pages := map[string]func(*Page){
		"audit":     func(p *Page) { Audit(p, "/somewhere/skerry-line", r) },
		"assign":    func(p *Page) { Assign(p, r) },
		"survey":    func(p *Page) { Survey(p, "/somewhere/skerry-line", r) },
		"rules":     func(p *Page) { Rules(p, r.References(false)[7:8], nil) },
		"keys":      func(p *Page) { Rules(p, nil, r.Keys(r.Picture.Catalog.ByID("swiftlint"))) },
		"list":      func(p *Page) { RuleList(p, r.References(false)) },
		"conflicts": func(p *Page) { Conflicts(p, r.Findings) },
		"settle":    func(p *Page) { Settlement(p, plan, false, "") },
		"explain": func(p *Page) {
			x, ok := r.Explain("kit/Package.swift")
			require.True(t, ok)
			Explain(p, x)
		},
	}
	explained := func(files ...string) (list []*audit.Explanation) {
		for _, file := range files {
			x, ok := r.Explain(file)
			require.True(t, ok)
			list = append(list, x)
		}
		return list
	}
	below := func(folder string) Compared {
		return Compared{folder, r.Profile(func(p string) bool { return strings.HasPrefix(p, folder+"/") })}
	}
	pages["explain_rule"] = func(p *Page) { ExplainRule(p, explained("kit/Package.swift")[0], rule.ByID("indent_size")) }
	pages["explain_several"] = func(p *Page) {
		ExplainSeveral(p, explained("kit/Package.swift", "ios/Sources/App/SkerryApp.swift"))
	}
	pages["compare"] = func(p *Page) { Compare(p, [2]Compared{below("ios"), below("kit")}, false) }
	for name, print := range pages {
		t.Run(name, func(t *testing.T) {
			var plain, colored bytes.Buffer
			print(&Page{W: &plain, Width: 80})
			print(&Page{W: &colored, Width: 80, Color: true})
			golden := filepath.Join("testdata", name+".txt")
			if *update {
				require.NoError(t, os.WriteFile(golden, plain.Bytes(), 0o644))
			}
			want, err := os.ReadFile(golden)
			require.NoError(t, err)
			assert.Equal(t, string(want), plain.String())
			assert.Equal(t, plain.String(), withoutColor(colored.String()), "colour adds nothing but colour")
			assert.NotEqual(t, plain.String(), colored.String())
			for line := range strings.Lines(plain.String()) {
				if strings.Contains(line, "/") && name == "survey" {
					continue // a path is not cut
				}
				assert.LessOrEqual(t, lipgloss.Width(strings.TrimRight(line, "\n")), 80, line)
			}
		})
	}
	var first bytes.Buffer
	Audit(&Page{W: &first, Width: 80}, "skerry-line", r)
	assert.LessOrEqual(t, strings.Count(first.String(), "\n"), 40, "a first screen")
}

func withoutColor(text string) string {
	var b strings.Builder
	for {
		before, after, found := strings.Cut(text, "\x1b[")
		b.WriteString(before)
		if !found {
			return b.String()
		}
		_, text, _ = strings.Cut(after, "m")
	}
}

func TestPatch(t *testing.T) {
	for _, c := range []struct {
		name string
		edit settle.Edit
		want []string
	}{
		{"change", settle.Edit{Path: "a", Action: settle.Change, Before: []byte("x\ny\n"), After: []byte("x\nz\n")},
			[]string{"diff --git a/a b/a", "--- a/a", "+++ b/a", "-y", "+z"}},
		{"create", settle.Edit{Path: "a", Action: settle.Create, After: []byte("x\n")},
			[]string{"new file mode 100644", "--- /dev/null", "+++ b/a", "+x"}},
		{"delete", settle.Edit{Path: "a", Action: settle.Delete, Before: []byte("x\n")},
			[]string{"deleted file mode 100644", "--- a/a", "+++ /dev/null", "-x"}},
		{"no final newline", settle.Edit{Path: "a", Action: settle.Change, Before: []byte("x"), After: []byte("y")},
			[]string{"-x", "\\ No newline at end of file", "+y"}},
		{"odd name", settle.Edit{Path: "a\"b\n", Action: settle.Create, After: []byte("x\n")},
			[]string{"+++ \"b/a\\\"b\\n\""}},
	} {
		t.Run(c.name, func(t *testing.T) {
			lines := strings.Split(Patch(c.edit), "\n")
			for _, want := range c.want {
				assert.True(t, slices.Contains(lines, want), "%q in %q", want, lines)
			}
		})
	}
}

func TestTextHelpers(t *testing.T) {
	assert.Equal(t, []string{"one two", "three"}, wrap("one  two three", 8))
	assert.Equal(t, []string{""}, wrap("", 8))
	assert.Equal(t, []string{"a_word_too_long"}, wrap("a_word_too_long", 4))
	assert.Equal(t, `a\x1bb\n\u202e\xff\x9bé`, Clean("a\x1bb\n\u202e\xff\u009bé"))
	assert.Equal(t, "ab…", cut("abcdef", 3))
	assert.Equal(t, []string{"a    1", "bbb  2"}, table([][]string{{"a", "1"}, {"bbb", "2"}}))
	assert.Equal(t, []string{"  a  1", "bbb  2"}, table([][]string{{"a", "1"}, {"bbb", "2"}}, 0))
	assert.Equal(t, "1 file", fileCount(1))
	assert.Equal(t, "0 files", fileCount(0))
	p := &Page{Width: 40}
	assert.Equal(t, []string{"key  a rather long text that does not", "     fit beside it"},
		p.flow([][]string{{"key", "a rather long text that does not fit beside it"}}))
	assert.Equal(t, []string{"a key that takes most of the line", "    and its text that goes below"},
		p.flow([][]string{{"a key that takes most of the line", "and its text that goes below"}}))
}

func TestSchemasAreThere(t *testing.T) {
	for _, name := range Schemas() {
		text, err := Schema(name)
		require.NoError(t, err)
		assert.Contains(t, string(text), "https://json-schema.org/draft/2020-12/schema")
	}
	_, err := Schema("none")
	assert.Error(t, err)
}

// Every entry of the catalog is what the schema for entries says.
func TestEntriesValidate(t *testing.T) {
	text, err := EntrySchema()
	require.NoError(t, err)
	compiler := jsonschema.NewCompiler()
	parsed, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	require.NoError(t, err)
	require.NoError(t, compiler.AddResource("entry.json", parsed))
	schema, err := compiler.Compile("entry.json")
	require.NoError(t, err)
	entries, err := filepath.Glob("../core/catalog/programs/*.toml")
	require.NoError(t, err)
	require.Greater(t, len(entries), 60)
	for _, path := range entries {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		var entry map[string]any
		require.NoError(t, toml.Unmarshal(text, &entry))
		assert.NoError(t, schema.Validate(entry), path)
	}
	assert.Error(t, schema.Validate(map[string]any{"id": "x", "colour": "red"}))
}
