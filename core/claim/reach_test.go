package claim_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/sign"
	"jollytreaty/core/tree"
	"jollytreaty/internal/texttree"
)

// quay is a catalog of one made-up program; more is what its entry says beyond
// one rule.
func quay(t *testing.T, more string) *catalog.Catalog {
	t.Helper()
	e, err := catalog.Decode("quay", []byte(`
id = "quay"
name = "Quay"
roles = ["linter"]
version = "1"
source = "made up"
covers = ["go", "python", "c", "javascript"]
commands = ["quay"]
`+more+`
[[rule]]
rule = "max_line_length"
role = "accepts"
at_most = true
default = 80
from = [{ key = "width" }]
`))
	require.NoError(t, err)
	return &catalog.Catalog{Entries: []*catalog.Entry{e}, Places: &catalog.Places{
		Runs:      []*catalog.Run{{As: sign.CI, When: sign.InCI, Files: []string{"ci.sh", ".ci/*.yml"}, Lines: "shell"}},
		Manifests: []*catalog.Manifest{{As: sign.Dependency, Ecosystem: "go", Files: []string{"go.mod"}, Item: `^require (?P<name>\S+)`}},
		Declaring: []string{"package.json"}, Unended: []string{".json", ".js"},
		Depots:     []*catalog.Depot{{Folder: "node_modules", Manifest: "package.json", Main: "main", Index: "index"}},
		Unfamiliar: []string{".*lint*rc"}, Endings: []string{"lint.yml"}, Homes: []string{"config"},
		Hidden: []string{".*rc"}, Words: []string{"style"}, Data: []string{".xml"}, Keys: []string{"indent(_?size)?", "quotes?"},
	}}
}

func TestBases(t *testing.T) {
	const settings = `
[[settings]]
files = ["quay.json", "quay.js"]
syntax = "json"
syntaxes = { "quay.js" = "javascript" }
search = "nearest"
extends = [{ key = "extends", paths = true, folder = "node_modules", prefix = "quay-config-", plugin = "quay-plugin-", plugin_mark = "plugin:" }]
[bases."quay:wide"]
width = 150
`
	for _, c := range []struct{ name, archive, want string }{
		{"preset", "-- quay.json --\n{\"extends\": \"quay:wide\"}\n", "150 inherited quay.json:1"},
		{"own word over a preset", "-- quay.json --\n{\"width\": 90, \"extends\": \"quay:wide\"}\n", "90 set quay.json:1 beats 150"},
		{"path", "-- quay.json --\n{\"extends\": \"./lib/base.json\"}\n-- lib/base.json --\n{\n\"width\": 91}\n", "91 inherited lib/base.json:2"},
		{"path without an ending", "-- quay.json --\n{\"extends\": \"./lib/base\"}\n-- lib/base.js --\nmodule.exports = { width: 92 }\n", "92 inherited lib/base.js:1"},
		{"the last of a list", "-- quay.json --\n{\"extends\": [\"quay:wide\", \"./b.json\"]}\n-- b.json --\n{\"width\": 93}\n", "93 inherited b.json:1 beats 150"},
		{"chain", "-- quay.json --\n{\"extends\": \"./b.json\"}\n-- b.json --\n{\"extends\": \"./c.json\"}\n-- c.json --\n{\"width\": 94}\n", "94 inherited c.json:1"},
		{"package", "-- quay.json --\n{\"extends\": \"harbour\"}\n-- node_modules/quay-config-harbour/index.js --\nmodule.exports = { width: 95 }\n", "95 inherited node_modules/quay-config-harbour/index.js:1"},
		{"package with a main file", "-- quay.json --\n{\"extends\": \"@s/x\"}\n-- node_modules/@s/quay-config-x/package.json --\n{\"main\": \"lib/it.json\"}\n-- node_modules/@s/quay-config-x/lib/it.json --\n{\"width\": 96}\n", "96 inherited node_modules/@s/quay-config-x/lib/it.json:1"},
		{"package of a scope alone", "-- quay.json --\n{\"extends\": \"@s\"}\n-- node_modules/@s/quay-config/index.json --\n{\"width\": 97}\n", "97 inherited node_modules/@s/quay-config/index.json:1"},
		{"missing path", "-- quay.json --\n{\"extends\": \"./no.json\"}\n", "-"},
		{"missing package", "-- quay.json --\n{\"extends\": \"harbour\"}\n", "-"},
		{"own word over what is missing", "-- quay.json --\n{\"extends\": \"harbour\", \"width\": 98}\n", "98 set quay.json:1"},
		{"computed", "-- quay.js --\nmodule.exports = { width: f() }\n", "-"},
		{"computed beside", "-- quay.js --\nmodule.exports = { ...f(), width: 99 }\n", "99 set quay.js:1"},
		{"computed behind", "-- quay.js --\nmodule.exports = { width: 99, ...f() }\n", "-"},
		{"computed as a whole", "-- quay.js --\nmodule.exports = f()\n", "-"},
		{"empty", "-- quay.json --\n{}\n", "80 default :0"},
	} {
		t.Run(c.name, func(t *testing.T) {
			p := read(t, quay(t, settings), c.archive+"-- a.js --\n")
			assert.Equal(t, c.want, says(t, p, "a.js", "quay", "max_line_length"))
		})
	}
}

func TestSectionsOfBases(t *testing.T) {
	p := read(t, quay(t, `
[[settings]]
files = ["quay.json"]
syntax = "json"
search = "nearest"
extends = [{ key = "extends", paths = true }]
overrides = [{ key = "parts", files = "files", globs = "names" }]
excludes = ["leave"]
globs = "names"
`), `
-- quay.json --
{"extends": "./base/b.json", "parts": [{"files": ["last.js"], "width": 60}]}
-- base/b.json --
{"extends": "./c.json", "width": 70, "leave": ["out.js"],
"parts": [{"files": ["b.js", "last.js"], "width": 71}]}
-- base/c.json --
{"parts": [{"files": ["b.js", "c.js"],
"width": 72}]}
-- a.js --
-- src/b.js --
-- c.js --
-- last.js --
-- out.js --
`)
	for file, want := range map[string]string{
		"a.js": "70 inherited base/b.json:1", "src/b.js": "71 inherited base/b.json:2 beats 70 beats 72", "c.js": "70 inherited base/b.json:1 beats 72", "last.js": "60 set quay.json:1 beats 71 beats 70",
	} {
		assert.Equal(t, want, says(t, p, file, "quay", "max_line_length"), file)
	}
	left := group(t, p, "out.js").Excludes[p.Catalog.ByID("quay")]
	require.NotNil(t, left.File)
	assert.Equal(t, "base/b.json", left.File.Path)
}

func TestMissingBases(t *testing.T) {
	c := quay(t, `
[[settings]]
files = ["quay.json"]
syntax = "json"
search = "nearest"
extends = [{ key = "extends", paths = true, folder = "node_modules", plugin = "quay-plugin-", plugin_mark = "plugin:" }]
`)
	for archive, declared := range map[string]string{
		"-- quay.json --\n{\"extends\": \"harbour\"}\n":                                                                           "",
		"-- quay.json --\n{\"extends\": \"harbour\"}\n-- package.json --\n{\"devDependencies\": {\"harbour\": \"1\"}}\n":          "package.json",
		"-- quay.json --\n{\"extends\": \"./x\"}\n":                                                                               "",
		"-- quay.json --\n{\"extends\": \"https://x.example/y\"}\n":                                                               "quay.json",
		"-- quay.json --\n{\"extends\": \"plugin:x/all\"}\n-- package.json --\n{\"devDependencies\": {\"quay-plugin-x\": \"1\"}}": "package.json",
	} {
		p := read(t, c, archive+"\n-- a.js --\n")
		require.Len(t, p.Missing, 1, archive)
		assert.Equal(t, declared, p.Missing[0].Declared, archive)
		assert.NotEmpty(t, p.Missing[0].Hint, archive)
	}
}

func TestOverridesByPatternAndType(t *testing.T) {
	list := read(t, quay(t, `
[[settings]]
files = ["quay.js"]
syntax = "javascript"
search = "nearest"
overrides = [{ key = ".", files = "files", except = "ignores", globs = "paths", all = true }]
[bases."@q/wide"]
width = 150
`), `
-- quay.js --
import wide from "@q/wide"
export default [{ width: 70 }, { ignores: ["gen/"] }, { files: ["src/**"], ignores: ["src/x.js"], width: 75 }, wide, { files: ["last.js"], width: 76 }]
-- a.js --
-- src/b.js --
-- src/x.js --
-- gen/c.js --
-- last.js --
`)
	for file, want := range map[string]string{"a.js": "150", "src/b.js": "150", "last.js": "76", "gen/c.js": "-"} {
		got, _, _ := strings.Cut(says(t, list, file, "quay", "max_line_length"), " ")
		assert.Equal(t, want, got, file)
	}
	typed := read(t, quay(t, `
[[settings]]
files = ["quay.yaml"]
syntax = "yaml"
search = "nearest"
overrides = [{ key = ".", files = "For", globs = "type", all = true, extends = "Style" }]
type_names = { Cee = ["c"] }
[bases.wide]
width = 150
`), `
-- quay.yaml --
width: 70
---
For: Cee
width: 71
---
For: Python
Style: wide
-- a.c --
-- a.py --
-- a.go --
`)
	for file, want := range map[string]string{"a.c": "71 set quay.yaml:4 beats 70", "a.py": "150 inherited quay.yaml:7 beats 70", "a.go": "70 set quay.yaml:1"} {
		assert.Equal(t, want, says(t, typed, file, "quay", "max_line_length"))
	}
}

func TestPrefixesAndSwitches(t *testing.T) {
	c := quay(t, `
[[settings]]
files = ["quay.toml"]
syntax = "toml"
search = "nearest"
`)
	c.Entries[0].Rules[0].On = &catalog.Switch{Name: "E501", Prefixes: true, Enabled: []string{"on"}, Disabled: []string{"off"}, None: "none", Unset: "off"}
	for text, on := range map[string]bool{
		"on = [\"E\"]": true, "on = [\"E5\"]\noff = [\"E\"]": true, "on = [\"E\"]\noff = [\"E501\"]": false, "on = [\"ALL\"]": true,
		"on = [\"W\"]": false, "x = 1": false, "none = true\non = [\"E501\"]": true, "on = [\"E\"]\noff = [\"E\"]": false,
	} {
		p := read(t, c, "-- quay.toml --\n"+text+"\n-- a.go --\n")
		assert.Equal(t, on, says(t, p, "a.go", "quay", "max_line_length") != "-", text)
	}
}

func TestSearch(t *testing.T) {
	root := read(t, quay(t, "[[settings]]\nfiles = [\"quay.toml\"]\nsyntax = \"toml\"\nsearch = \"root\"\n"),
		"-- quay.toml --\nwidth = 70\n-- a/quay.toml --\nwidth = 71\n-- a/x.go --\n")
	assert.Equal(t, "70 set quay.toml:1", says(t, root, "a/x.go", "quay", "max_line_length"))
	require.Len(t, root.Lost, 1)
	assert.Equal(t, "a/quay.toml", root.Lost[0].Path)

	project := read(t, quay(t, "[packages]\nnpm = [\"quay\"]\n[[settings]]\nfiles = [\"quay.toml\"]\nsyntax = \"toml\"\nsearch = \"root\"\n"),
		"-- quay.toml --\nwidth = 70\n-- a/quay.toml --\nwidth = 71\n-- a/go.mod --\nmodule a\n-- a/x.go --\n-- x.go --\n")
	assert.Equal(t, "71 set a/quay.toml:1", says(t, project, "a/x.go", "quay", "max_line_length"), "programs are started where a manifest is")
	assert.Equal(t, "70 set quay.toml:1", says(t, project, "x.go", "quay", "max_line_length"))
	assert.Empty(t, project.Lost)

	named := read(t, quay(t, "[runs]\nsettings = [\"--with\"]\n[[settings]]\nfiles = [\"quay.toml\"]\nsyntax = \"toml\"\nsearch = \"nearest\"\n"),
		"-- quay.toml --\nwidth = 70\n-- odd/name.toml --\nwidth = 72\n-- ci.sh --\nquay --with odd/name.toml .\n-- x.go --\n")
	assert.Equal(t, "72 set odd/name.toml:1", says(t, named, "x.go", "quay", "max_line_length"), "what a command line names")

	starred := read(t, quay(t, "[[settings]]\nfiles = [\".quay/*.toml\"]\nsyntax = \"toml\"\nsearch = \"nearest\"\n"),
		"-- sub/.quay/any.toml --\nwidth = 73\n-- sub/x.go --\n-- x.go --\n")
	assert.Equal(t, "73 set sub/.quay/any.toml:1", says(t, starred, "sub/x.go", "quay", "max_line_length"))
	assert.Equal(t, "80 default :0", says(t, starred, "x.go", "quay", "max_line_length"))
}

func TestSignsOfSomeFiles(t *testing.T) {
	p := read(t, quay(t, "[[settings]]\nfiles = [\"quay.toml\"]\nsyntax = \"toml\"\nsearch = \"nearest\"\n"),
		"-- ci.sh --\nquay 'src/**/*.js'\ncd web && quay 'a/*.go' 'b/*.go'\n-- src/x.js --\n-- src/x.go --\n-- y.js --\n-- web/a/x.go --\n-- web/b/x.go --\n-- web/c/x.go --\n")
	e := p.Catalog.ByID("quay")
	for file, signs := range map[string]int{"src/x.js": 1, "src/x.go": 0, "y.js": 0, "web/a/x.go": 1, "web/b/x.go": 1, "web/c/x.go": 0} {
		assert.Len(t, group(t, p, file).Signs(e), signs, file)
	}
}

func TestOddNames(t *testing.T) {
	p := read(t, quay(t, "[[settings]]\nfiles = [\".quaysiderc\"]\nsyntax = \"toml\"\nsearch = \"nearest\"\n"), `
-- .quaysiderc --
-- .quaysidrc --
-- a/.qauysiderc --
-- quaysiderc --
-- b/quaysiderc --
-- .quaysideroc.txt --
-- .wavelintrc --
-- c/sandlint.yml --
-- .ci/lint.yml --
-- .tideupdaterc --
indent_size = 2
quote: double
-- .tiderc --
indent_size = 2
indent = 4
-- d/our-style.xml --
<a><IndentSize>2</IndentSize> <quotes on="1"/><Quote>x</Quote></a>
-- d/other.xml --
<a><IndentSize>2</IndentSize><Quote>x</Quote></a>
-- config/.quaysiderc --
-- x.go --
`)
	var lost []string
	for _, l := range p.Lost {
		lost = append(lost, l.Path)
	}
	assert.Equal(t, []string{".quaysidrc", "a/.qauysiderc", "config/.quaysiderc", "quaysiderc"}, lost)
	assert.Equal(t, []string{".tideupdaterc", ".wavelintrc", "c/sandlint.yml", "d/our-style.xml"}, p.Unread)
}

func TestOutdoneAndIdle(t *testing.T) {
	p := read(t, quay(t, `
[[settings]]
files = ["quay.toml", "quay.json"]
syntax = "toml"
syntaxes = { "quay.json" = "json" }
search = "nearest"
pool = "one"
overrides = [{ key = "for", files = "files", globs = "names" }]
[[settings]]
files = ["manifest.json"]
syntax = "json"
section = "quay"
search = "nearest"
pool = "one"
`), "-- quay.toml --\n[[for]]\nfiles = [\"*.none\"]\nwidth = 1\n[[for]]\nfiles = [\"*.go\"]\n-- quay.json --\n{}\n-- manifest.json --\n{\"quay\": {}}\n-- a/quay.json --\n{}\n-- x.go --\n")
	var outdone []string
	for _, o := range p.Outdone() {
		outdone = append(outdone, o.File.Path+" by "+o.By.Path)
	}
	assert.Equal(t, []string{"manifest.json by quay.json", "quay.json by quay.toml"}, outdone)
	require.Len(t, p.Idle(), 1)
	assert.Equal(t, "*.none", p.Idle()[0].Pattern)
}

func TestMentions(t *testing.T) {
	const settings = "[[settings]]\nfiles = [\"quay.toml\"]\nsyntax = \"toml\"\nsearch = \"nearest\"\n"
	for text, line := range map[string]int{"find_program(Q quay)": 1, "\n`quay` says": 2, "quayside": 0, "my-quay": 0, "see quay.": 1} {
		p := read(t, quay(t, settings), "-- quay.toml --\nwidth = 1\n-- CMakeLists.txt --\n"+text+"\n-- a.go --\n")
		at := 0
		for _, s := range p.Seen[p.Catalog.ByID("quay")] {
			if s.As == sign.Mentioned {
				at = s.Line
			}
		}
		assert.Equal(t, line, at, text)
	}
}

func TestDeclaredMappings(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	p := read(t, c, `
-- .vscode/settings.json --
{"files.associations": {"*.tide": "python", "odd/*.x": "go", "*.none": "klingon"}}
-- .gitattributes --
*.berth linguist-language=Kotlin
-- a.tide --
-- odd/b.x --
-- b.x --
-- c.berth --
`)
	got := map[string]string{}
	for _, f := range p.Tree.Files {
		got[f.Path] = f.Type.ID
	}
	assert.Equal(t, "python", got["a.tide"])
	assert.Equal(t, "go", got["odd/b.x"])
	assert.Equal(t, "unknown", got["b.x"])
	assert.Equal(t, "kotlin", got["c.berth"])
}

// Settings within a file are about this file alone.
func TestInsideFiles(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	files, paths := texttree.Parse("-- a.c --\n/* vim: sw=3 et: */\n-- b.c --\n/* vim: ft=c: */\n-- dir/c.c --\n// -*- c-basic-offset: 5 -*-\n")
	p := claim.Read(files, paths, c, claim.Options{Inside: func(tree.File) bool { return true }})
	assert.Equal(t, "3 set a.c:1", says(t, p, "a.c", "vim", "indent_size"))
	assert.Equal(t, "-", says(t, p, "b.c", "vim", "indent_size"))
	assert.Equal(t, "5 set dir/c.c:1", says(t, p, "dir/c.c", "emacs", "indent_size"))
	var inside []string
	for _, f := range p.Files {
		if f.Inside {
			inside = append(inside, fmt.Sprintf("%s %d", f.Path, f.Governs))
		}
	}
	assert.Equal(t, []string{"a.c 1", "dir/c.c 1"}, inside, "only those that say something of style")
	assert.Empty(t, claim.Read(files, paths, c, claim.Options{}).Files, "and only when asked for")
}

func TestAttributesAboutAnythingElse(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	p := read(t, c, "-- a/.gitattributes --\n/tests export-ignore\n-- b/.gitattributes --\n*.x eol=lf\n-- a/x.go --\n-- b/y.go --\n")
	i := slices.IndexFunc(p.Files, func(f *claim.File) bool { return f.Path == "a/.gitattributes" })
	assert.Negative(t, i)
	assert.Equal(t, document.Attributes, p.Files[0].Doc.Syntax)
}

// Keys whose case does not matter, one that makes a settings file count where it would not,
// and answers that other keys decide about.
func TestPlacesWithConditions(t *testing.T) {
	const settings = `
[[settings]]
files = ["quay.ini"]
syntax = "ini"
section = "quay"
search = "nearest"
fold_keys = true
`
	for _, c := range []struct{ name, more, archive, want string }{
		{"another case", settings, "-- quay.ini --\n[quay]\nWIDTH = 90\n", "90 set quay.ini:2"},
		{"another case in another section", settings, "-- quay.ini --\n[quay]\n[pier]\nWIDTH = 90\n", "80 default :0"},
		{"case counts", strings.Replace(settings, "fold_keys = true\n", "", 1), "-- quay.ini --\n[quay]\nWIDTH = 90\n", "80 default :0"},
		{"started elsewhere", strings.Replace(settings, "nearest", "root", 1), "-- sub/quay.ini --\n[quay]\nwidth = 90\n-- ci.sh --\nquay .\n", "80 default :0"},
		{"started there", strings.Replace(settings, "nearest", "root", 1), "-- sub/quay.ini --\n[quay]\nwidth = 90\n-- ci.sh --\ncd sub && quay .\n", "90 set sub/quay.ini:2"},
		{"only there, though the files are above", strings.Replace(settings, "nearest", "root", 1), "-- quay.ini --\n[quay]\nwidth = 70\n-- sub/quay.ini --\n[quay]\nwidth = 90\n-- ci.sh --\nquay .\n", "70 set quay.ini:2"},
		{"read since a version, which is had", settings + "since = \"2.0\"\n", "-- quay.ini --\n[quay]\nwidth = 90\n", "90 set quay.ini:2"},
	} {
		t.Run(c.name, func(t *testing.T) {
			p := read(t, quay(t, c.more), c.archive+"-- sub/a.js --\n")
			assert.Equal(t, c.want, says(t, p, "sub/a.js", "quay", "max_line_length"))
		})
	}
}
