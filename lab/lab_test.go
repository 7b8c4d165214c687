package main

import (
	"math/rand/v2"
	"path"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// Whatever program the lab knows, its entry is there, and the trees that are made up for
// it are ones that its settings files' syntaxes read.
func TestTreesThatAreMadeUp(t *testing.T) {
	programs, err := readPrograms("programs.toml")
	require.NoError(t, err)
	require.NotEmpty(t, programs)
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for _, p := range programs {
		e := c.ByID(p.ID)
		require.NotNil(t, e, p.ID)
		require.NotEmpty(t, p.versions(), p.ID)
		in := &installed{program: p, version: "1.0.0"}
		r := rand.New(rand.NewPCG(1, 2))
		for range 40 {
			tree := grow(r, e, in)
			for name, text := range tree.files {
				for _, place := range e.Settings {
					if !strings.HasSuffix(name, path.Base(place.Files[0])) || strings.Contains(place.Files[0], "*") {
						continue
					}
					_, err := document.Parse(place.SyntaxOf(path.Base(name)), name, []byte(text))
					assert.NoError(t, err, "%s: %s\n%s", p.ID, name, text)
				}
			}
			if tree.mistyped != "" {
				assert.Contains(t, tree.files[tree.slipIn], tree.mistyped, p.ID)
			}
		}
	}
}

// What is written in a syntax is what is read in it.
func TestSettingsThatAreWritten(t *testing.T) {
	data := map[string]any{"deck": map[string]any{"width": 90, "rail": "oak", "open": true}}
	for _, s := range []document.Syntax{"json", "jsonc", "json5", "yaml", "toml", "ini"} {
		require.True(t, writable(s))
		doc, err := document.Parse(s, "a", []byte(written(s, data, "")))
		require.NoError(t, err, s)
		assert.Equal(t, "90", doc.Root.Find("deck/width").Text(), s)
		assert.Equal(t, "oak", doc.Root.Find("deck/rail").Text(), s)
		assert.Equal(t, "true", doc.Root.Find("deck/open").Text(), s)
	}
	assert.Equal(t, "rail = oak\nwidth = 90\n", written("properties", map[string]any{"width": 90, "rail": "oak"}, ""))
	assert.False(t, writable("xml"))
	assert.Equal(t, "[deck]\nwidth = 90\n", written("ini", map[string]any{"deck": map[string]any{"width": 90}}, "[deck]\n"), "the section is there already")
}

// The width that a formatter keeps is the longest statement it left in one line.
func TestWidths(t *testing.T) {
	p, ok := probeOf("python")
	require.True(t, ok)
	var kept strings.Builder
	for line := range strings.Lines(p.text) {
		if len(strings.TrimRight(line, "\n")) <= 88 {
			kept.WriteString(line)
		}
	}
	value, told := widthOf("python", []byte(kept.String()))
	assert.True(t, told)
	assert.Equal(t, rule.Number(88), value)
	_, told = widthOf("python", []byte(p.text))
	assert.False(t, told, "it keeps all of them")
	_, told = widthOf("json", []byte("{}\n"))
	assert.False(t, told, "nothing of that type tells")
}

// Every statement of a probe has the length that it is to have.
func TestProbes(t *testing.T) {
	for _, typeID := range []string{"javascript", "typescript", "python", "lua", "cpp", "ocaml"} {
		p, ok := probeOf(typeID)
		require.True(t, ok, typeID)
		lengths := map[int]bool{}
		for line := range strings.Lines(p.text) {
			if line = strings.TrimRight(line, "\n"); p.width.MatchString(line) {
				lengths[len(line)] = true
			}
		}
		for n := shortest; n <= longest; n++ {
			assert.True(t, lengths[n], "%s: %d", typeID, n)
		}
	}
	_, ok := probeOf("klingon")
	assert.False(t, ok)
}

// A probe of a linter has the value that it is there for: those about lengths are as long
// as they say.
func TestOffers(t *testing.T) {
	for _, typeID := range []string{"javascript", "css", "python", "ruby", "yaml", "sql"} {
		found := offers(typeID, rule.ByID("max_line_length"))
		require.NotEmpty(t, found, typeID)
		for v, text := range found {
			most := 0
			for line := range strings.Lines(text) {
				most = max(most, len(strings.TrimRight(line, "\n")))
			}
			assert.Equal(t, v.Int(), most, "%s: %s", typeID, text)
		}
	}
	quotes := offers("javascript", rule.ByID("quotes"))
	assert.Contains(t, quotes[rule.Word("single")], "'x'")
	assert.Contains(t, quotes[rule.Word("double")], `"x"`)
	assert.Empty(t, offers("klingon", rule.ByID("quotes")))
}

func TestWhatIsSaidOfATree(t *testing.T) {
	assert.Equal(t, "biome.json:4:19 deserialize", firstLine("/var/tmp/lab311458/biome.json:4:19 deserialize ━━━━\nmore"))
	assert.Equal(t, "", firstLine("\n"))
	tree := &grown{files: map[string]string{"b.toml": "x  =\n1\n", "a.ini": "[a]\n", "probe.py": "1", "Makefile": "run:"}}
	assert.Equal(t, "a.ini: [a]; b.toml: x = 1", shown(tree))
}

// The checks of a linter that answer a rule go by the names in its entry.
func TestNamesOfChecks(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for id, want := range map[string]string{"eslint": "max-len", "flake8": "E501", "yamllint": "line-length", "rubocop": "Layout/LineLength"} {
		assert.Contains(t, checkNames(c.ByID(id), rule.ByID("max_line_length")), want, id)
	}
	assert.Equal(t, []string{"quotes"}, checkNames(c.ByID("standard"), rule.ByID("quotes")))
}
