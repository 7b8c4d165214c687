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
)

// yard is a catalog of made-up programs that are told what to do in other ways
// than by a settings file of their own.
func yard(t *testing.T) *catalog.Catalog {
	t.Helper()
	c := &catalog.Catalog{Places: &catalog.Places{
		Runs: []*catalog.Run{
			{As: sign.Hook, When: sign.Commit, Files: []string{".hooks/*"}, Lines: "shell"},
			{As: sign.Script, When: sign.Hand, Files: []string{"Tasks"}, Lines: "recipes"},
		},
		Manifests: []*catalog.Manifest{{As: sign.Dependency, Ecosystem: "parts", Files: []string{"parts.txt"}, Item: `^needs (?P<name>\S+)`}},
	}}
	for id, text := range map[string]string{
		"plane": `
roles = ["formatter"]
covers = ["go", "yaml"]
commands = ["plane"]
editor_names = ["x.plane"]
flags = ["--taste"]
[plugged]
yaml = "plane-yaml"
[options]
"--width" = "width"
"-w" = "width"
"--tabs" = "tabs=true"
"--set" = "*"
"--gap" = "gap"
[runs]
does = "writes"
checks = ["--check"]
settings = ["--by"]
plain = ["--taste=plain"]
[copies.bench]
"plane.width" = "width"
[packages]
parts = ["plane"]
[[settings]]
files = ["plane.toml"]
syntax = "toml"
search = "nearest"
[[rule]]
rule = "max_line_length"
role = "writes"
default = 80
from = [{ key = "width" }]
[[rule]]
rule = "indent_style"
role = "writes"
default = "space"
from = [{ key = "tabs", values = { true = "tab" } }]
[[rule]]
rule = "blank_lines"
role = "writes"
from = [{ place = "options", key = "gap" }]
`,
		"adze": `
roles = ["formatter"]
covers = ["go"]
commands = ["adze"]
[runs]
does = "writes"
alone = true
[options]
"--width" = "width"
"--neat" = "neat=true"
[[settings]]
files = ["adze.toml"]
syntax = "toml"
search = "nearest"
[[rule]]
rule = "max_line_length"
role = "writes"
default = 70
from = [{ key = "width" }]
`,
		"gauge": `
roles = ["linter"]
covers = ["go"]
commands = ["gauge"]
levels = { bad = "error", meh = "warning", 1 = "warning" }
level_at = ["", "0", "level", "severity", "1/severity"]
[runs]
does = "checks"
writes = ["--fix"]
[[bridge]]
runs = "plane"
on = { keys = ["plane"], off = ["off"], unset = "off" }
[[settings]]
files = ["gauge.yaml"]
syntax = "yaml"
search = "nearest"
excludes = ["skip"]
[[rule]]
rule = "max_line_length"
role = "accepts"
at_most = true
default = 100
from = [{ key = "width/max" }]
on = { name = "width", keys = ["width"], off = ["off"], unset = "on" }
`,
		"bench": `
roles = ["editor"]
covers = ["*"]
[picks]
formatter = "with"
on_save = "save"
[[settings]]
files = [".bench.json"]
syntax = "json"
search = "nearest"
[[rule]]
rule = "indent_size"
role = "types"
from = [{ key = "size" }]
`,
	} {
		e, err := catalog.Decode(id, []byte("id = \""+id+"\"\nname = \""+id+"\"\nversion = \"1\"\nsource = \"made up\"\n"+text))
		require.NoError(t, err)
		c.Entries = append(c.Entries, e)
	}
	slices.SortFunc(c.Entries, func(a, b *catalog.Entry) int { return strings.Compare(a.ID, b.ID) })
	return c
}

func TestCommandLines(t *testing.T) {
	const file = "-- plane.toml --\nwidth = 90\n-- x.go --\n"
	for _, c := range []struct{ name, archive, width string }{
		{"beats the file", "-- .hooks/a --\nplane --width 60 .\n" + file, "60 set .hooks/a:1 beats 90"},
		{"joined", "-- .hooks/a --\n#!/bin/sh\n  plane -w60 .\n" + file, "60 set .hooks/a:2 beats 90"},
		{"with a sign", "-- .hooks/a --\nplane --width=60 .\n" + file, "60 set .hooks/a:1 beats 90"},
		{"names its key itself", "-- .hooks/a --\nplane --set tabs=true,width=60 .\n" + file, "60 set .hooks/a:1 beats 90"},
		{"another key", "-- .hooks/a --\nplane --tabs .\n" + file, "90 set plane.toml:1"},
		{"every run says the same", "-- .hooks/a --\nplane --width 60 .\n-- Tasks --\nx:\n\tplane --check -w 60 .\n" + file, "60 set .hooks/a:1 beats 90"},
		{"runs that differ", "-- .hooks/a --\nplane --width 60 .\n-- Tasks --\nx:\n\tplane -w 70 .\n" + file, "60 set .hooks/a:1, 70 set Tasks:2"},
		{"a run that says nothing", "-- .hooks/a --\nplane --width 60 .\n-- Tasks --\nx:\n\tplane .\n" + file, "60 set .hooks/a:1, 90 set plane.toml:1"},
		{"a variable", "-- .hooks/a --\nplane --width $WIDTH .\n" + file, "-"},
		{"a flag that is no key", "-- .hooks/a --\nplane --taste sweet .\n" + file, "-"},
		{"a flag that changes nothing", "-- .hooks/a --\nplane --taste plain .\n" + file, "90 set plane.toml:1"},
		{"about other files", "-- .hooks/a --\nplane --width 60 sub\n-- sub/y.go --\n" + file, "90 set plane.toml:1"},
		{"declared, and run so", "-- parts.txt --\nneeds plane\n-- .hooks/a --\nplane --width 60 .\n" + file, "60 set .hooks/a:1 beats 90"},
	} {
		p := read(t, yard(t), c.archive)
		assert.Equal(t, c.width, says(t, p, "x.go", "plane", "max_line_length"), c.name)
		wantsOpaque := c.width == "-"
		assert.Equal(t, wantsOpaque, len(p.Opaque) > 0, c.name)
	}
	p := read(t, yard(t), "-- .hooks/a --\nplane --tabs --gap 2 .\n-- x.go --\n")
	assert.Equal(t, "tab set .hooks/a:1", says(t, p, "x.go", "plane", "indent_style"))
	assert.Equal(t, "2 set .hooks/a:1", says(t, p, "x.go", "plane", "blank_lines"), "a key that only options set")
	assert.Equal(t, "--gap", p.Catalog.ByID("plane").NameOf(p.Catalog.ByID("plane").Rules[2].From[0]))
	assert.True(t, p.Catalog.ByID("plane").Rules[2].Fixed())
}

// One program does not read its settings file where an option says anything.
func TestCommandLineAlone(t *testing.T) {
	for line, want := range map[string]string{"adze .": "90 set adze.toml:1", "adze --width 60 .": "60 set .hooks/a:1", "adze --neat .": "70 default :0"} {
		p := read(t, yard(t), "-- .hooks/a --\n"+line+"\n-- adze.toml --\nwidth = 90\n-- x.go --\n")
		assert.Equal(t, want, says(t, p, "x.go", "adze", "max_line_length"), line)
	}
}

func TestBridges(t *testing.T) {
	const hook = "-- .hooks/a --\ngauge .\n-- x.go --\n"
	signs := func(archive string) (out []string) {
		p := read(t, yard(t), archive)
		for _, s := range group(t, p, "x.go").Signs(p.Catalog.ByID("plane")) {
			out = append(out, fmt.Sprintf("%s %s:%d %s through %s", s.As, s.Path, s.Line, s.When, s.Through))
		}
		return out
	}
	assert.Equal(t, []string{"hook .hooks/a:1 commit through gauge", "script gauge.yaml:1  through gauge"}, signs("-- gauge.yaml --\nplane: on\n"+hook))
	assert.Empty(t, signs("-- gauge.yaml --\nplane: \"off\"\n"+hook), "switched off")
	assert.Empty(t, signs("-- gauge.yaml --\nother: on\n"+hook), "not said")
	assert.Empty(t, signs("-- gauge.yaml --\nplane: on\nskip: [\"x.go\"]\n"+hook), "the linter leaves the file out")

	p := read(t, yard(t), "-- gauge.yaml --\nplane: on\n-- plane.toml --\nwidth = 90\n"+hook)
	assert.Equal(t, "90 set plane.toml:1", says(t, p, "x.go", "plane", "max_line_length"), "it reads its own settings")
}

func TestCopies(t *testing.T) {
	const editor = "-- .bench.json --\n{\"with\": \"x.plane\",\n\"plane.width\": 66}\n-- x.go --\n"
	p := read(t, yard(t), editor)
	assert.Equal(t, "66 set .bench.json:2", says(t, p, "x.go", "plane", "max_line_length"))
	assert.Empty(t, p.Superseded())
	assert.False(t, group(t, p, "x.go").Bare(p.Catalog.ByID("plane")))

	p = read(t, yard(t), "-- plane.toml --\nwidth = 90\n"+editor)
	assert.Equal(t, "90 set plane.toml:1", says(t, p, "x.go", "plane", "max_line_length"))
	require.Len(t, p.Superseded(), 1)
	assert.Equal(t, "plane.width", p.Superseded()[0].Node.Key)
	assert.Equal(t, "plane.toml", p.Superseded()[0].By.Path)

	p = read(t, yard(t), "-- sub/plane.toml --\nwidth = 90\n-- sub/y.go --\n"+editor)
	assert.Empty(t, p.Superseded(), "it still counts for some")

	p = read(t, yard(t), strings.Replace(editor, "x.plane", "y", 1)+"-- .hooks/a --\nplane .\n")
	assert.Equal(t, "80 default :0", says(t, p, "x.go", "plane", "max_line_length"), "the editor runs another one")
	assert.True(t, group(t, p, "x.go").Bare(p.Catalog.ByID("plane")))
}

func TestPlugs(t *testing.T) {
	const hook = "-- .hooks/a --\nplane .\n-- x.yaml --\n"
	p := read(t, yard(t), hook)
	assert.Empty(t, group(t, p, "x.yaml").Signs(p.Catalog.ByID("plane")))
	p = read(t, yard(t), "-- plane.toml --\nplugins = [\"plane-yaml\"]\n"+hook)
	assert.NotEmpty(t, group(t, p, "x.yaml").Signs(p.Catalog.ByID("plane")))
	assert.Equal(t, []*catalog.Entry{p.Catalog.ByID("plane")}, group(t, p, "x.yaml").Signed())
}

func TestLevels(t *testing.T) {
	for text, want := range map[string]string{
		"width: meh\n":              "warning 1",
		"width: bad\n":              "error 1",
		"width: 1\n":                "warning 1",
		"width: [bad, 60]\n":        "error 1",
		"width:\n  level: meh\n":    "warning 2",
		"width:\n  severity: bad":   "error 2",
		"width:\n  max: 60\n":       " 0",
		"width: shrug\n":            " 0",
		"other: {level: bad}\n":     " 0",
		"width: [x, {severity: 1}]": "warning 1",
	} {
		p := read(t, yard(t), "-- gauge.yaml --\n"+text+"\n-- x.go --\n")
		c := group(t, p, "x.go").Claim(p.Catalog.ByID("gauge"), "max_line_length")
		require.NotNil(t, c, text)
		line, _ := c.LevelAt.Position()
		assert.Equal(t, want, fmt.Sprintf("%s %d", c.Level, line), text)
	}
}

func TestRestates(t *testing.T) {
	for text, want := range map[string]bool{"width = 80\n": true, "width = 81\n": false} {
		p := read(t, yard(t), "-- plane.toml --\n"+text+"-- x.go --\n")
		assert.Equal(t, want, group(t, p, "x.go").Claim(p.Catalog.ByID("plane"), "max_line_length").Restates(), text)
	}
}

// What runs a formatter by a name that is not known as a script is looked for
// where nothing else does.
func TestMentionsOfWhatNothingRuns(t *testing.T) {
	mentioned := func(archive string) bool {
		p := read(t, yard(t), archive+"-- plane.toml --\nwidth = 90\n-- x.go --\n")
		return slices.ContainsFunc(p.Seen[p.Catalog.ByID("plane")], func(s claim.Seen) bool { return s.As == sign.Mentioned })
	}
	assert.True(t, mentioned("-- build/neat.sh --\nfor f in *; do plane \"$f\"; done\n"))
	assert.True(t, mentioned("-- lib/Scripts/neat.sh --\nplane x\n"))
	assert.False(t, mentioned("-- build/neat.sh --\naeroplane x; plane-x y\n"), "part of another word")
	assert.False(t, mentioned("-- .hooks/a --\nplane .\n-- build/neat.sh --\nplane x\n"), "a hook runs it")
	p := read(t, yard(t), "-- build/neat.sh --\nplane x\n-- sub/plane.toml --\nwidth = 90\n-- sub/x.go --\n-- y.go --\n")
	assert.NotEmpty(t, group(t, p, "sub/x.go").Signs(p.Catalog.ByID("plane")))
	assert.Empty(t, group(t, p, "y.go").Signs(p.Catalog.ByID("plane")), "a mention brings it nowhere else")
	assert.False(t, mentioned("-- README.md --\nWe plane everything.\n"), "a document runs nothing")
}

func TestOnLine(t *testing.T) {
	d := document.OnLine("a.sh", []byte("x\n\ty --w 3\n"), 2, map[string]string{"a/b": "3", "a/c": "true", "d": "e"})
	line, column := d.Position(d.Root.Find("a/b").KeyStart)
	assert.Equal(t, []int{2, 2}, []int{line, column})
	assert.Equal(t, int64(3), d.Root.Find("a/b").Value)
	assert.Equal(t, true, d.Root.Find("a/c").Value)
	assert.Equal(t, "e", d.Root.Find("d").Value)
	far := document.OnLine("a.sh", []byte("x\n"), 9, map[string]string{"a": "b"})
	line, _ = far.Position(far.Root.KeyStart)
	assert.Equal(t, 2, line, "a file that has become shorter")
}
