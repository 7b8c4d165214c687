package claim_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/sign"
	"jollytreaty/internal/texttree"
)

// harbour is a catalog of made-up programs that together use every way of
// finding settings.
func harbour(t *testing.T) *catalog.Catalog {
	t.Helper()
	c := &catalog.Catalog{Places: &catalog.Places{
		Runs: []*catalog.Run{
			{As: sign.Hook, When: sign.Commit, Files: []string{".hooks/*", "hooks.sh"}, Lines: "shell"},
			{As: sign.CI, When: sign.InCI, Files: []string{".ci/steps/*.yml"}, Syntax: document.YAML, Commands: []string{"run"}},
		},
		Manifests: []*catalog.Manifest{{As: sign.Dependency, Ecosystem: "parts", Files: []string{"parts/list.txt", "list.txt"}, Item: `^needs (?P<name>\S+) (?P<version>\S+)`}},
	}}
	for _, text := range []string{`
id = "nearest"
name = "Nearest"
roles = ["formatter"]
version = "1"
source = "made up"
covers = ["go"]
commands = ["nearest"]
[[settings]]
files = [".nearest.toml", "nearest.toml"]
syntax = "toml"
search = "nearest"
ignore_files = [".nearestignore"]
[[rule]]
rule = "max_line_length"
role = "writes"
default = 80
from = [{ key = "width" }]
[packages]
parts = ["nearest-lib"]
`, `
id = "merged"
name = "Merged"
roles = ["linter"]
version = "1"
source = "made up"
covers = ["*"]
[[settings]]
files = ["merged.json"]
syntax = "json"
search = "merged"
root = "top"
overrides = [{ key = "for", files = "files", except = "not", options = "set", globs = "names" }]
excludes = ["skip"]
includes = ["only"]
globs = "paths"
[[rule]]
rule = "max_line_length"
role = "accepts"
at_most = true
from = [{ key = "width" }, { key = "old/width" }]
on = { name = "width", keys = ["switch"], off = ["no"], enabled = ["on"], disabled = ["off"], only = ["just"], all = "everything", unset = "on" }
`, `
id = "pooled"
name = "Pooled"
roles = ["formatter"]
version = "1"
source = "made up"
covers = ["yaml"]
bare = "plain"
[bases.plain]
width = 77
[bases.wide]
width = 200
[[settings]]
files = ["pooled.yaml"]
syntax = "yaml"
search = "nearest"
pool = "one"
extends = [{ key = "extends", paths = true }]
[[settings]]
id = "manifest"
files = ["manifest.json"]
syntax = "json"
section = "tools/pooled"
search = "nearest"
pool = "one"
[[rule]]
rule = "max_line_length"
role = "writes"
from = [{ key = "width" }, { place = "manifest", key = "width" }]
`, `
id = "zedit"
name = "Zedit"
roles = ["editor"]
version = "1"
source = "made up"
covers = ["*"]
[picks]
formatter = "with"
on_save = "save"
[[settings]]
files = [".zedit/settings.json"]
syntax = "jsonc"
search = "nearest"
languages = "<{type}>"
[[rule]]
rule = "indent_size"
role = "types"
from = [{ key = "size" }]
`} {
		e, err := catalog.Decode("made up", []byte(text))
		require.NoError(t, err)
		c.Entries = append(c.Entries, e)
	}
	slices.SortFunc(c.Entries, func(a, b *catalog.Entry) int { return strings.Compare(a.ID, b.ID) })
	return c
}

func read(t *testing.T, c *catalog.Catalog, archive string) *claim.Picture {
	t.Helper()
	files, paths := texttree.Parse(archive)
	return claim.Read(files, paths, c, claim.Options{})
}

func group(t *testing.T, p *claim.Picture, file string) *claim.Group {
	t.Helper()
	for i, f := range p.Tree.Files {
		if f.Path == file {
			return p.Groups[p.GroupOf[i]]
		}
	}
	t.Fatalf("no file %s", file)
	return nil
}

// says prints a program's claim on a file: value, basis, place, and what it
// beat; "-" for none.
func says(t *testing.T, p *claim.Picture, file, program, ruleID string) string {
	t.Helper()
	g := group(t, p, file)
	var out []string
	for _, c := range g.Claims {
		if c.Program != p.Catalog.ByID(program) || c.Rule.ID != ruleID {
			continue
		}
		line, _ := c.Where.Position()
		text := fmt.Sprintf("%s %s %s:%d", c.Value, c.Basis, c.Where.Path(), line)
		for _, b := range g.Beaten {
			if b.Beaten == c {
				text += " beats " + b.Value.String()
			}
		}
		out = append(out, text)
	}
	if out == nil {
		return "-"
	}
	return strings.Join(out, ", ")
}

func TestNearestAlone(t *testing.T) {
	p := read(t, harbour(t), `
-- nearest.toml --
width = 90
-- a/.nearest.toml --
# nothing about width
other = 1
-- b/nearest.toml --
width = 70
-- b/.nearest.toml --
width = 60
-- x.go --
-- a/x.go --
-- b/x.go --
-- b/c/x.go --
-- c/x.go --
`)
	for file, want := range map[string]string{
		"x.go":     "90 set nearest.toml:1",
		"c/x.go":   "90 set nearest.toml:1",
		"a/x.go":   "80 default :0", // the file above does not count
		"b/x.go":   "60 set b/.nearest.toml:1",
		"b/c/x.go": "60 set b/.nearest.toml:1",
	} {
		assert.Equal(t, want, says(t, p, file, "nearest", "max_line_length"), file)
	}
}

func TestMergedUpToTheRoot(t *testing.T) {
	p := read(t, harbour(t), `
-- merged.json --
{"width": 100}
-- a/merged.json --
{"old": {"width": 90}}
-- b/merged.json --
{"top": true}
-- x.md --
-- a/x.md --
-- b/x.md --
-- b/c/x.md --
`)
	for file, want := range map[string]string{
		"x.md":     "100 set merged.json:1",
		"a/x.md":   "90 set a/merged.json:1 beats 100",
		"b/x.md":   "-", // cut off, and no default
		"b/c/x.md": "-",
	} {
		assert.Equal(t, want, says(t, p, file, "merged", "max_line_length"), file)
	}
}

func TestOverridesAndExclusions(t *testing.T) {
	p := read(t, harbour(t), `
-- merged.json --
{
  "width": 100,
  "for": [
    {"files": "*.md", "not": "old.md", "set": {"width": 80}},
    {"files": ["docs/**", "*.txt"], "set": {"width": 60}}
  ],
  "skip": ["vendor", "gen/*.go"]
}
-- a/merged.json --
{"only": ["src"], "width": 50}
-- x.go --
-- x.md --
-- old.md --
-- docs/x.md --
-- vendor/x.go --
-- b/vendor/x.go --
-- gen/x.go --
-- gen/deep/x.go --
-- a/src/x.go --
-- a/other/x.go --
`)
	for file, want := range map[string]string{
		"x.go":          "100 set merged.json:2",
		"x.md":          "80 set merged.json:4 beats 100",
		"old.md":        "100 set merged.json:2",
		"docs/x.md":     "60 set merged.json:5 beats 80 beats 100", // later overrides win
		"vendor/x.go":   "-",
		"b/vendor/x.go": "100 set merged.json:2", // relative to the folder
		"gen/x.go":      "-",
		"gen/deep/x.go": "100 set merged.json:2",
		"a/src/x.go":    "50 set a/merged.json:1 beats 100",
		"a/other/x.go":  "-",
	} {
		assert.Equal(t, want, says(t, p, file, "merged", "max_line_length"), file)
	}
	skipped := group(t, p, "vendor/x.go").Excludes[p.Catalog.ByID("merged")]
	line, _ := skipped.Position()
	assert.Equal(t, "merged.json:7", fmt.Sprintf("%s:%d", skipped.Path(), line))
}

func TestSwitches(t *testing.T) {
	for settings, on := range map[string]bool{
		`{"width": 9}`:                                       true,
		`{"width": 9, "switch": "no"}`:                       false,
		`{"width": 9, "switch": "yes"}`:                      true,
		`{"width": 9, "off": ["width"]}`:                     false,
		`{"width": 9, "off": "other, width"}`:                false,
		`{"width": 9, "off": ["height"]}`:                    true,
		`{"width": 9, "everything": false}`:                  false,
		`{"width": 9, "everything": false, "on": ["width"]}`: true,
		`{"width": 9, "just": ["width"]}`:                    true,
		`{"width": 9, "just": ["height"]}`:                   false,
	} {
		p := read(t, harbour(t), "-- merged.json --\n"+settings+"\n-- x.go --\n")
		assert.Equal(t, on, says(t, p, "x.go", "merged", "max_line_length") != "-", settings)
	}
}

func TestPoolsBasesAndBareDefaults(t *testing.T) {
	p := read(t, harbour(t), `
-- a/pooled.yaml --
extends: wide
-- a/b/manifest.json --
{"tools": {"pooled": {"width": 50}}}
-- a/c/manifest.json --
{"tools": {}}
-- a/d/manifest.json --
{"tools": {"pooled": {}}}
-- x.yaml --
-- a/x.yaml --
-- a/b/x.yaml --
-- a/c/x.yaml --
-- a/d/x.yaml --
`)
	for file, want := range map[string]string{
		"a/x.yaml":   "200 inherited a/pooled.yaml:1",
		"a/b/x.yaml": "50 set a/b/manifest.json:1",
		"a/c/x.yaml": "200 inherited a/pooled.yaml:1", // no section of its own
		"a/d/x.yaml": "-",                             // an empty section is still the closest
		"x.yaml":     "77 default :0",
	} {
		assert.Equal(t, want, says(t, p, file, "pooled", "max_line_length"), file)
	}
	for _, f := range p.Files {
		assert.NotEqual(t, "a/c/manifest.json", f.Path, "not a settings file")
	}
}

func TestLanguageSectionsAndPicks(t *testing.T) {
	p := read(t, harbour(t), `
-- .zedit/settings.json --
{
  "size": 4, "with": "somebody-else", "save": false,
  "<go>": {"size": 8, "with": "nearest-ext", "save": true},
}
-- sub/.zedit/settings.json --
{}
-- x.go --
-- x.md --
-- sub/x.go --
`)
	assert.Equal(t, "8 set .zedit/settings.json:3 beats 4", says(t, p, "x.go", "zedit", "indent_size"))
	assert.Equal(t, "4 set .zedit/settings.json:2", says(t, p, "x.md", "zedit", "indent_size"))
	assert.Equal(t, "-", says(t, p, "sub/x.go", "zedit", "indent_size"), "a folder below is a workspace of its own")
	assert.Empty(t, group(t, p, "x.go").Picked, "nobody goes by that name")

	c := harbour(t)
	c.ByID("nearest").EditorNames = []string{"nearest-ext"}
	p = read(t, c, "-- .zedit/settings.json --\n{\"<go>\": {\"with\": \"nearest-ext\", \"save\": true}}\n-- x.go --\n-- y.md --\n")
	pick, ok := group(t, p, "x.go").Picked[c.ByID("nearest")]
	require.True(t, ok)
	assert.True(t, pick.OnSave)
	assert.Empty(t, group(t, p, "y.md").Picked)
}

func TestBrokenSettingsClaimNothing(t *testing.T) {
	p := read(t, harbour(t), "-- nearest.toml --\nwidth = = 1\n-- merged.json --\n{\"width\": 70}\n-- a/merged.json --\n{\n-- x.go --\n-- a/x.go --\n")
	assert.Equal(t, "-", says(t, p, "x.go", "nearest", "max_line_length"), "not even its default")
	assert.Equal(t, "70 set merged.json:1", says(t, p, "x.go", "merged", "max_line_length"))
	var broken []string
	for _, f := range p.Files {
		if f.Err != nil {
			broken = append(broken, fmt.Sprintf("%s:%d:%d", f.Path, f.Err.Line, f.Err.Column))
		}
	}
	assert.Equal(t, []string{"a/merged.json:2:1", "nearest.toml:1:9"}, broken)
}

func TestIgnoreFilesOfAProgram(t *testing.T) {
	p := read(t, harbour(t), "-- .nearestignore --\n# generated\n*_gen.go\n!keep_gen.go\n-- a_gen.go --\n-- keep_gen.go --\n-- b.go --\n-- nearest.toml --\n")
	e := p.Catalog.ByID("nearest")
	for file, out := range map[string]bool{"a_gen.go": true, "keep_gen.go": false, "b.go": false} {
		_, excluded := group(t, p, file).Excludes[e]
		assert.Equal(t, out, excluded, file)
	}
}

// A program is seen where a command line starts it.
func TestSigns(t *testing.T) {
	for text, line := range map[string]int{
		"run: nearest .":                     1,
		"a:\n  - run: ./bin/nearest -w":      2,
		"run: x && nearest; y":               1,
		"# nearest":                          0,
		"run: x # nearest":                   0,
		"run: echo nearest":                  0,
		"name: nearest used to run":          0,
		"run: nearest-extra .":               0,
		"run: |\n  first\n  nearest .\n":     3,
		"run: |\n  nearest .\n  nearest .\n": 2,
	} {
		p := read(t, harbour(t), "-- .ci/steps/a.yml --\n"+text+"\n-- x.go --\n")
		signs := group(t, p, "x.go").Signs(p.Catalog.ByID("nearest"))
		if line == 0 {
			assert.Empty(t, signs, text)
			continue
		}
		require.Len(t, signs, 1, text)
		signs[0].Files, signs[0].Turn, signs[0].Order = "", "", 0
		assert.Equal(t, claim.Seen{As: sign.CI, When: sign.InCI, Path: ".ci/steps/a.yml", Line: line, Folder: ".", Started: "."}, signs[0], text)
	}
}

func TestSignsConcernAFolder(t *testing.T) {
	p := read(t, harbour(t), `
-- a/parts/list.txt --
needs nearest-lib 1.0
-- b/.hooks/commit --
nearest --check
-- c/nearest.toml --
width = 1
-- a/x.go --
-- a/deep/x.go --
-- b/x.go --
-- c/x.go --
-- d/x.go --
`)
	e := p.Catalog.ByID("nearest")
	for file, as := range map[string]string{"a/x.go": "dependency", "a/deep/x.go": "dependency", "b/x.go": "hook", "c/x.go": "settings", "d/x.go": ""} {
		got := ""
		if signs := group(t, p, file).Signs(e); len(signs) > 0 {
			got = signs[0].As.String()
		}
		assert.Equal(t, as, got, file)
	}
}

func TestGovernsCountsWhatAProgramReads(t *testing.T) {
	p := read(t, harbour(t), "-- nearest.toml --\n-- sub/nearest.toml --\n-- x.go --\n-- y.go --\n-- z.md --\n-- sub/x.go --\n")
	for _, f := range p.Files {
		assert.Equal(t, map[string]int{"nearest.toml": 2, "sub/nearest.toml": 1}[f.Path], f.Governs, f.Path)
		assert.Equal(t, document.TOML, f.Doc.Syntax)
	}
}

func TestFilesThatVanishAreLeftOut(t *testing.T) {
	files := fstest.MapFS{"x.go": {}}
	p := claim.Read(files, []string{"merged.json", "nearest.toml", "x.go"}, harbour(t), claim.Options{})
	assert.Empty(t, p.Files)
	assert.Empty(t, p.Broken)
}
