package assign_test

import (
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/sign"
	"jollytreaty/core/treaty"
	"jollytreaty/internal/texttree"
)

// two is a catalog of two formatters for Go, of which the toolchain brings the
// second, a formatter that covers Go in part, and an editor.
func two(t *testing.T) *catalog.Catalog {
	t.Helper()
	c := &catalog.Catalog{Places: &catalog.Places{
		Runs: []*catalog.Run{
			{As: sign.Hook, When: sign.Commit, Files: []string{"hook.sh"}, Lines: "shell"},
			{As: sign.CI, When: sign.InCI, Files: []string{"ci.yml"}, Syntax: "yaml", Commands: []string{"run"}},
		},
		Manifests: []*catalog.Manifest{{As: sign.Dependency, Ecosystem: "parts", Files: []string{"needs.txt"}, Item: `^(?P<name>\S+)$`}},
	}}
	entry := func(id, more string) {
		e, err := catalog.Decode(id, []byte("id = \""+id+"\"\nname = \""+id+"\"\nroles = [\"formatter\"]\nversion = \"1\"\nsource = \"made up\"\n"+more))
		require.NoError(t, err)
		c.Entries = append(c.Entries, e)
	}
	settings := func(id string) string {
		return "[[settings]]\nfiles = [\"" + id + ".toml\"]\nsyntax = \"toml\"\nsearch = \"nearest\"\nexcludes = [\"skip\"]\n" +
			"[packages]\nparts = [\"" + id + "-lib\"]\n"
	}
	entry("alder", "covers = [\"go\"]\ncommands = [\"alder\"]\neditor_names = [\"x.alder\"]\n"+settings("alder"))
	entry("birch", "covers = [\"go\"]\ntoolchain = [\"go\"]\ncommands = [\"birch\"]\neditor_names = [\"x.birch\"]\n"+settings("birch"))
	entry("cedar", "commands = [\"cedar\"]\n"+settings("cedar")+"[partial]\ngo = \"comments\"\n")
	entry("elder", "covers = [\"go\"]\nrefines = [\"alder\"]\ncommands = [\"elder\"]\n"+settings("elder"))
	editor, err := catalog.Decode("dock", []byte("id = \"dock\"\nname = \"dock\"\nroles = [\"editor\"]\nversion = \"1\"\nsource = \"made up\"\ncovers = [\"*\"]\n"+
		"[[settings]]\nfiles = [\"dock.json\"]\nsyntax = \"json\"\nsearch = \"nearest\"\n[picks]\nformatter = \"with\"\non_save = \"save\"\n"))
	require.NoError(t, err)
	c.Entries = append(c.Entries, editor)
	return c
}

func verdict(t *testing.T, archive, word string) assign.Assignment {
	t.Helper()
	files, paths := texttree.Parse(archive + "\n-- x.go --\n")
	p := claim.Read(files, paths, two(t), claim.Options{})
	var tr *treaty.Treaty
	if word != "" {
		var err error
		tr, err = treaty.Parse(treaty.Name, []byte("treaty = 1\n[[article]]\ntype = \"go\"\nformatter = \""+word+"\"\n"))
		require.NoError(t, err)
	}
	return assign.For(p, tr, p.Groups[p.GroupOf[slices.Index(paths, "x.go")]])
}

func names(list []assign.Candidate) string {
	var out []string
	for _, c := range list {
		out = append(out, c.Program.ID)
	}
	return strings.Join(out, " ")
}

func TestStrengths(t *testing.T) {
	const (
		alderSettings = "-- alder.toml --\na = 1\n"
		birchSettings = "-- birch.toml --\na = 1\n"
		alderNeeded   = "-- needs.txt --\nalder-lib\n"
		birchNeeded   = "-- needs.txt --\nbirch-lib\n"
		alderHook     = "-- hook.sh --\nalder .\n"
		birchCI       = "-- ci.yml --\nrun: birch .\n"
		alderEditor   = "-- dock.json --\n{\"with\": \"x.alder\"}\n"
		birchEditor   = "-- dock.json --\n{\"with\": \"x.birch\"}\n"
		cedarHook     = "-- hook.sh --\ncedar .\n"
		cedarSettings = "-- cedar.toml --\na = 1\n"
	)
	for _, c := range []struct {
		name, tree, treaty string
		formatter, rivals  string
	}{
		{"toolchain alone", "", "", "birch", ""},
		{"settings beat the toolchain, which rivals nobody", alderSettings, "", "alder", ""},
		{"a dependency beats the toolchain", alderNeeded, "", "alder", ""},
		{"settings beat a dependency", alderSettings + birchNeeded, "", "alder", "birch"},
		{"a hook beats settings", alderHook + birchSettings, "", "alder", "birch"},
		{"CI beats settings", alderSettings + birchCI, "", "birch", "alder"},
		{"hook and CI are equal", alderHook + birchCI, "", "", "alder birch"},
		{"an editor's word beats a hook", alderHook + birchEditor, "", "birch", "alder"},
		{"the treaty's word beats an editor's", alderEditor, "birch", "birch", "alder"},
		{"the treaty's word alone", "", "alder", "alder", ""},
		{"equal settings", alderSettings + birchSettings, "", "", "alder birch"},
		{"full coverage beats partial at equal strength", alderSettings + cedarSettings, "", "alder", "cedar"},
		{"a stronger reason beats fuller coverage", alderSettings + cedarHook, "", "cedar", "alder"},
		{"one that refines another takes its place", "-- hook.sh --\nalder .\nelder .\n", "", "elder", ""},
		{"even where the other has the stronger reason", "-- hook.sh --\nalder .\n-- elder.toml --\na = 1\n", "", "elder", ""},
		{"a third is a rival all the same", "-- hook.sh --\nalder .\nelder .\nbirch .\n", "", "", "birch elder"},
		{"told to leave the files out", "-- alder.toml --\nskip = [\"*.go\"]\n" + birchSettings, "", "birch", ""},
		{"nobody but one that leaves the files out", "-- birch.toml --\nskip = [\"*.go\"]\n", "", "", ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			v := verdict(t, c.tree, c.treaty)
			got := ""
			if v.Formatter != nil {
				got = v.Formatter.Program.ID
			}
			assert.Equal(t, c.formatter, got)
			assert.Equal(t, c.rivals, names(v.Rivals))
		})
	}
}

func TestReasonsAreStrongestFirst(t *testing.T) {
	v := verdict(t, "-- alder.toml --\na = 1\n-- hook.sh --\nalder .\n-- needs.txt --\nalder-lib\n-- dock.json --\n{\"with\": \"x.alder\"}\n", "alder")
	var why []string
	for _, r := range v.Formatter.Reasons {
		why = append(why, assign.Why(r))
	}
	assert.Equal(t, []string{
		"named by the treaty", "named by the editor's settings", "run by the commit hook",
		"has settings of its own", "declared as a dependency",
	}, why)
	assert.True(t, assign.ByTreaty(v.Formatter.Reasons[0]))
	assert.Equal(t, 2, v.Formatter.Reasons[0].Line)
}

func TestOnlyChosenProgramsAreInPlay(t *testing.T) {
	files := fstest.MapFS{"alder.toml": {Data: []byte("a = 1\n")}, "x.go": {}}
	c := two(t)
	p := claim.Read(files, []string{"alder.toml", "x.go"}, c, claim.Options{})
	g := p.Groups[p.GroupOf[1]]
	v := assign.For(p, nil, g)
	assert.True(t, v.InPlay(c.ByID("alder"), g))
	assert.False(t, v.InPlay(c.ByID("birch"), g), "at hand, and nobody's choice")
	assert.False(t, v.InPlay(c.ByID("dock"), g))
}
