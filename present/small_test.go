package present

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/core/settle"
	"jollytreaty/internal/texttree"
)

// audited audits a small tree.
func audited(t *testing.T, archive string) (*audit.Result, settle.Input) {
	t.Helper()
	files, paths := texttree.Parse(archive)
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	r, err := audit.Run(context.Background(), files, paths, c, audit.Options{})
	require.NoError(t, err)
	return r, settle.Input{FS: files, Paths: paths, Audit: r}
}

// page is what is printed, with runs of blanks as one, so that a test does not
// depend on how columns line up.
func page(print func(*Page)) string {
	var out bytes.Buffer
	print(&Page{W: &out, Width: 100})
	var lines []string
	for line := range strings.Lines(out.String()) {
		lines = append(lines, strings.Join(strings.Fields(line), " "))
	}
	return strings.Join(lines, "\n")
}

func TestAssignSections(t *testing.T) {
	for _, c := range []struct {
		name, tree string
		shows      []string
		hides      []string
	}{
		{"when it runs",
			"-- .prettierrc --\n{\"tabWidth\": 2}\n-- .github/workflows/ci.yml --\njobs:\n  a:\n    steps:\n      - run: prettier --check .\n-- Makefile --\nfmt:\n\tprettier -w .\n-- a.css --\n",
			[]string{"CSS 1 Prettier run in CI, .github/workflows/ci.yml:4", "checks in CI, writes by hand"}, []string{"CONTESTED", "IN PART"}},
		{"nothing runs it", "-- rustfmt.toml --\nmax_width = 90\n-- a.rs --\n", []string{"Rust 1 rustfmt has settings of its own, rustfmt.toml", "nothing here runs it"}, nil},
		{"in part", "-- biome.json --\n{\"formatter\": {\"lineWidth\": 90}}\n-- a.vue --\n",
			[]string{"FORMATTED IN PART", "Vue 1 Biome the script; has settings of its own, biome.json", "The rest of each file stays as it is written"}, nil},
		{"contested", "-- .swiftformat --\n--indent 4\n-- .swift-format --\n{\"lineLength\": 90}\n-- a.swift --\n",
			[]string{"CONTESTED", "name one in an [[article]] of treaty.toml", "also SwiftFormat has settings of its own", "MORE THAN ONE FORMATTER"}, nil},
		{"unowned", "-- a.tf --\n-- b.bat --\n", []string{"NO KNOWN FORMATTER", "Batch 1 none"}, []string{"CONTESTED"}},
		{"exempt", "-- treaty.toml --\ntreaty = 1\n[[exempt]]\ntype = \"bat\"\nreason = \"handed over with the tills\"\n-- b.bat --\n",
			[]string{"EXEMPT", "Batch 1 exempt handed over with the tills"}, nil},
		{"in some folders", "-- a/.prettierrc --\n{\"tabWidth\": 2}\n-- a/x.css --\n-- b/y.css --\n",
			[]string{"FORMATTED IN SOME FOLDERS ONLY", "CSS 1 Prettier", "1 none the catalog knows", "say in articles with paths that it is meant"}, nil},
		{"run by another program", "-- .eslintrc.json --\n{\"rules\": {\"prettier/prettier\": \"error\"}}\n-- Makefile --\nlint:\n\teslint .\n-- a.js --\n",
			[]string{"JavaScript 1 Prettier", "told to by the settings of ESLint, .eslintrc.json:1"}, nil},
	} {
		r, _ := audited(t, c.tree)
		text := page(func(p *Page) { Assign(p, r) })
		for _, want := range c.shows {
			assert.Contains(t, text, want, c.name)
		}
		for _, other := range c.hides {
			assert.NotContains(t, text, other, c.name)
		}
	}
}

func TestConflictPages(t *testing.T) {
	for _, c := range []struct {
		name, tree string
		shows      []string
	}{
		{"the same cause over several types", "-- .gitattributes --\n* text=auto\n-- .prettierrc --\n{\"endOfLine\": \"lf\"}\n-- a.css --\n-- b.md --\n",
			[]string{"warning line endings in CSS, JSON, Markdown, 3 files drift/personal", "to the machine leaves git attributes set .gitattributes:1:3", "LF writes Prettier set .prettierrc:1:2", "stays open: say it in the repository's settings"}},
		{"folders that differ", "-- rustfmt.toml --\nmax_width = 90\n-- old/rustfmt.toml --\nmax_width = 80\n-- a.rs --\n-- old/b.rs --\n",
			[]string{"note line length by folder in Rust, 1 file drift/region", "90 columns writes rustfmt set rustfmt.toml:1:1"}},
		{"levels", "-- .yamllint --\nrules:\n  line-length: {max: 90, level: error}\n-- old/.yamllint --\nrules:\n  line-length: {max: 90, level: warning}\n-- a.yaml --\n-- old/b.yaml --\n-- Makefile --\nlint:\n\tyamllint .\n-- old/Makefile --\nlint:\n\tyamllint .\n",
			[]string{"note line length, how bad it is, in YAML", "warning accepts yamllint set old/.yamllint:2:26"}},
		{"nothing", "-- a.png --\n", []string{"0 errors, 0 warnings, 0 notes"}},
	} {
		r, in := audited(t, c.tree)
		plan, err := settle.Propose(in)
		require.NoError(t, err)
		plan.Annotate()
		text := page(func(p *Page) { Conflicts(p, r.Findings) })
		for _, want := range c.shows {
			assert.Contains(t, text, want, c.name)
		}
	}
}

func TestComparePages(t *testing.T) {
	sides := func(tree, a, b string) [2]Compared {
		r, _ := audited(t, tree)
		below := func(folder string) Compared {
			return Compared{folder, r.Profile(func(p string) bool { return strings.HasPrefix(p, folder) })}
		}
		return [2]Compared{below(a), below(b)}
	}
	const tree = "-- rustfmt.toml --\nmax_width = 90\n-- a/x.rs --\n-- b/x.rs --\n-- b/rustfmt.toml --\nmax_width = 80\n-- b/y.css --\n-- c/z.bat --\n-- d/x.rs --\n"
	text := page(func(p *Page) { Compare(p, sides(tree, "a/", "b/"), false) })
	for _, want := range []string{"Rust 1 file 1 file", "line length 90 columns 80 columns", "rustfmt, rustfmt.toml:1; rustfmt, b/rustfmt.toml:1", "answers are the same; all of it: --all", "only in b/: CSS (1), TOML (1)"} {
		assert.Contains(t, text, want)
	}
	assert.NotContains(t, text, "final newline")
	assert.Contains(t, page(func(p *Page) { Compare(p, sides(tree, "a/", "b/"), true) }), "final newline a final newline a final newline")
	assert.Contains(t, page(func(p *Page) { Compare(p, sides(tree, "a/", "d/"), false) }), "Every file type that both have has the same formatter and the same style.")
	assert.Contains(t, page(func(p *Page) { Compare(p, sides(tree, "b/", "c/"), false) }), "They have no file type in common.")
}

func TestKeysByName(t *testing.T) {
	r, _ := audited(t, "-- .swiftlint.yml --\nfile_name:\n  severity: error\nline_length: 90\n-- a.swift --\n")
	text := page(func(p *Page) { Rules(p, nil, r.Keys(r.Picture.Catalog.ByID("swiftlint"))) })
	assert.Contains(t, text, "\nfile_name.severity -\nhere error, .swiftlint.yml:2, 1 file", "what is set here stands in the table")
	assert.Contains(t, text, "\nfile_name. excluded, nested_type_separator, prefix_pattern, suffix_pattern\n")
	assert.Contains(t, text, "line_length 120 where it is not set (max_line_length)\nhere 90, .swiftlint.yml:3, 1 file")
	assert.Contains(t, text, "disabled_rules a list")
	text = page(func(p *Page) { Rules(p, nil, r.Keys(r.Picture.Catalog.ByID("golangci-lint"))) })
	assert.Contains(t, text, "formatters.enable a list of gci, gofmt, gofumpt, goimports, golines")
	text = page(func(p *Page) { Rules(p, nil, r.Keys(r.Picture.Catalog.ByID("rustfmt"))) })
	assert.Contains(t, text, "fn_args_layout retired; use fn_params_layout")
}

func TestSurveyOfThePersonsMachine(t *testing.T) {
	r, _ := audited(t, "-- .exrc --\nset sw=4\n-- rustfmt.toml --\nmax_width = 90\n-- a.rs --\n")
	assert.True(t, r.HasSettings(r.Picture.Catalog.ByID("rustfmt")))
	assert.Empty(t, r.SearchedAbove(r.Picture.Catalog.ByID("rustfmt")), "the closest file alone counts")
	assert.NotEmpty(t, r.SearchedAbove(r.Picture.Catalog.ByID("editorconfig")))
	text := page(func(p *Page) { Survey(p, "/x/pier", r) })
	assert.Contains(t, text, "toolchain comes with the language")
}

// Every case of the findings has a heading in words; codes stand at its end.
func TestHeadings(t *testing.T) {
	cases, err := filepath.Glob("../core/audit/testdata/*.txtar")
	require.NoError(t, err)
	require.NotEmpty(t, cases)
	for _, file := range cases {
		archive, err := os.ReadFile(file)
		require.NoError(t, err)
		r, _ := audited(t, string(archive))
		for _, topic := range topics(r.Findings) {
			assert.NotContains(t, topic.heading(200), string(topic.Code), file)
		}
	}
}

// A place that several sides share is named once.
func TestPlacesAreNamedOnce(t *testing.T) {
	r, _ := audited(t, "-- pyproject.toml --\n[tool.black]\nline-length = 79\n-- .flake8 --\n[flake8]\nignore = W503\n-- Makefile --\nlint:\n\tblack .\n\tflake8 .\n-- a.py --\na = 1\n")
	text := page(func(p *Page) { Audit(p, "skerry", r) })
	assert.Contains(t, text, "Flake8 complains of what Black writes: E203, E701, E704")
	assert.Contains(t, text, "pyproject.toml:1, .flake8:1")
	assert.NotContains(t, text, ".flake8:1, .flake8:1")
}

// A cause that is gone from one of its file types only is left open, and counted once.
func TestSettledCausesAreCounted(t *testing.T) {
	of := func(cause string) *conflict.Finding {
		return &conflict.Finding{Cause: cause, Severity: conflict.Error}
	}
	settled, left := causes(&settle.Plan{
		Settles:  []*conflict.Finding{of("a"), of("a"), of("b"), of("c")},
		LeftOpen: []settle.Open{{Finding: of("b")}, {Finding: of("b")}, {Finding: of("d")}},
	})
	assert.Equal(t, 2, settled)
	assert.Equal(t, 2, left)
}
