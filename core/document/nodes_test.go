package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWords(t *testing.T) {
	d, err := Parse(YAML, "file", []byte("list: [a, 2, {b: c}]\ntext: x, y ,z\nnone:\nmap: {a: b}\nbraces: \"*.{js,ts}, *.md\"\n"))
	require.NoError(t, err)
	texts := func(key string) (out []string) {
		for _, w := range d.Root.Get(key).Words() {
			out = append(out, w.Text())
		}
		return out
	}
	assert.Equal(t, []string{"a", "2"}, texts("list"), "only scalars are words")
	assert.Equal(t, []string{"x", "y", "z"}, texts("text"))
	assert.Equal(t, []string{"*.{js,ts}", "*.md"}, texts("braces"), "a comma in braces is the pattern's")
	assert.Empty(t, texts("none"))
	assert.Empty(t, texts("map"))
	assert.Empty(t, texts("missing"))

	o, err := Parse(Options, "file", []byte("--off one, two\n"))
	require.NoError(t, err)
	words := o.Root.Get("off").Words()
	line, column := o.Position(words[1].KeyStart)
	assert.Equal(t, [2]int{1, 12}, [2]int{line, column}, "each word has its place")
}

func TestFromData(t *testing.T) {
	n := FromData(map[string]any{"b": []any{int64(1), "x"}, "a": map[string]any{"c": true}})
	assert.Equal(t, "a", n.Items[0].Key, "in key order")
	assert.Equal(t, true, n.Find("a/c").Value)
	assert.Equal(t, "x", n.Find("b/1").Value)
	assert.Nil(t, n.Find("b/2"))
	assert.Nil(t, n.Find("a/c/d"))
	assert.Same(t, n, n.Find(""))
}

func TestEmpty(t *testing.T) {
	for syntax, sources := range map[Syntax][2]string{
		EditorConfig: {"# nothing\n", "root = true\n"},
		Attributes:   {"# nothing\n", "* text\n"},
		Ignores:      {"\n", "x\n"},
		TOML:         {"# nothing\n", "a = 1\n"},
		YAML:         {"# nothing\n", "a: 1\n"},
		JSON:         {"{}", "{\"a\": 1}"},
		JSONC:        {"// nothing\n{}", "{\"a\": 1,}"},
		Options:      {"# nothing\n", "--a\n"},
	} {
		for i, src := range append(sources[:], "") {
			d, err := Parse(syntax, "file", []byte(src))
			require.NoError(t, err, "%s %q", syntax, src)
			assert.Equal(t, i != 1, d.Empty(), "%s %q", syntax, src)
		}
	}
}

func TestYAMLThatIsJSON(t *testing.T) {
	d, err := Parse(YAML, "file", []byte("{\n\t\"a\": 1 // tabs and comments\n}\n"))
	require.NoError(t, err)
	assert.Equal(t, JSONC, d.Syntax)
	edit, err := d.Add([]string{"b"}, true)
	require.NoError(t, err)
	got, err := d.Apply([]Edit{edit})
	require.NoError(t, err)
	assert.Equal(t, "{\n\t\"a\": 1, // tabs and comments\n\t\"b\": true\n}\n", string(got))

	flow, err := Parse(YAML, "file", []byte("{a: 1, b: [x]}\n"))
	require.NoError(t, err)
	assert.Equal(t, YAML, flow.Syntax)
	assert.Equal(t, "x", flow.Root.Find("b/0").Value)
}

func TestMacrosOfAnotherFile(t *testing.T) {
	root, err := Parse(Attributes, "root", []byte("[attr]plain -diff eol=lf\n"))
	require.NoError(t, err)
	below, err := Parse(Attributes, "below", []byte("*.x plain\n*.y other\n"))
	require.NoError(t, err)
	below.UseMacros(root)
	n := below.Root.Find("*.x/eol")
	require.NotNil(t, n)
	assert.Equal(t, "lf", n.Value)
	_, err = below.Set(n, "crlf")
	assert.Error(t, err, "its text stands elsewhere")
	assert.Nil(t, below.Root.Find("*.y/eol"))
	assert.True(t, below.Root.Find("*.x/diff").Resets())
}

func TestPositionsCountCharacters(t *testing.T) {
	d, err := Parse(TOML, "file", []byte("\ufeff\"é\" = 1\r\n\"日本\" = 2\n"))
	require.NoError(t, err)
	line, column := d.Position(d.Root.Get("é").Start)
	assert.Equal(t, [2]int{1, 7}, [2]int{line, column}, "the byte order mark is no column")
	line, column = d.Position(d.Root.Get("日本").Start)
	assert.Equal(t, [2]int{2, 8}, [2]int{line, column})
	for offset := range d.Src {
		line, column := d.Position(offset)
		assert.GreaterOrEqual(t, line, 1)
		assert.GreaterOrEqual(t, column, 1)
	}
}

func TestYAMLKeysAreWrittenAsNeeded(t *testing.T) {
	for _, text := range []string{"plain", "two words", "yes: no", "#x", "- x", "true", "12", "null", "", "a\nb", "'q'", "é"} {
		d, err := Parse(YAML, "file", []byte("old: 1\n"))
		require.NoError(t, err)
		edit, err := d.Add([]string{"new"}, text)
		require.NoError(t, err)
		got, err := d.Apply([]Edit{edit})
		require.NoError(t, err)
		again, err := Parse(YAML, "file", got)
		require.NoError(t, err, "%q", got)
		assert.Equal(t, text, again.Root.Get("new").Value, "%q", got)
	}
}
