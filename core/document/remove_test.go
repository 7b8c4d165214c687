package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRemove(t *testing.T) {
	for _, c := range []struct {
		syntax          Syntax
		src, path, want string // "" where it is refused
	}{
		{EditorConfig, "root = true\n[*]\n# wide\nindent_size = 4\ntab_width = 4\n", "*/indent_size", "root = true\n[*]\n# wide\ntab_width = 4\n"},
		{TOML, "a = 1\nb = 2\n[t]\nc = 3", "t/c", "a = 1\nb = 2\n[t]\n"},
		{TOML, "a = 1 # why\nb = 2\n", "a", ""},
		{TOML, "a = {b = 1, c = 2}\n", "a/b", ""},
		{INI, "[s]\na = 1\r\nb = 2\r\n", "s/a", "[s]\nb = 2\r\n"},
		{YAML, "a:\n  b: 1\n  c: 2\nd: 3\n", "a/b", "a:\n  c: 2\nd: 3\n"},
		{YAML, "a:\n  b: 1\nd: 3\n", "a/b", ""},
		{YAML, "a: {b: 1, c: 2}\n", "a/b", ""},
		{JSON, "{\n  \"a\": 1,\n  \"b\": 2\n}\n", "a", "{\n  \"b\": 2\n}\n"},
		{JSON, "{\n  \"a\": 1,\n  \"b\": 2\n}\n", "b", "{\n  \"a\": 1\n}\n"},
		{JSONC, "{\n  \"a\": 1, // why\n  \"b\": 2\n}\n", "a", ""},
		{JSON, "{\"a\": 1}", "a", ""},
		{Options, "--a 1\n--b 2\n", "a", "--b 2\n"},
		{Attributes, "*.x eol=lf\n", "*.x/eol", ""},
	} {
		d, err := Parse(c.syntax, "file", []byte(c.src))
		require.NoError(t, err)
		n := d.Root.Find(c.path)
		require.NotNil(t, n, c.src)
		edit, err := d.Remove(n)
		if again := edited(t, d, []Edit{edit}, err, c.want); again != nil {
			assert.Nil(t, again.Root.Find(c.path))
		}
	}
}

// edited returns the document that edits make, which must read as is wanted; nil for
// edits that must be refused, where nothing is.
func edited(t *testing.T, d *Document, edits []Edit, err error, want string) *Document {
	t.Helper()
	if want == "" {
		assert.Error(t, err, string(d.Src))
		return nil
	}
	require.NoError(t, err, string(d.Src))
	got, err := d.Apply(edits)
	require.NoError(t, err)
	assert.Equal(t, want, string(got))
	again, err := Parse(d.Syntax, d.Path, got)
	require.NoError(t, err, string(got))
	return again
}

// Several may go at once, as long as one of a map stays.
func TestRemoveAll(t *testing.T) {
	for keys, want := range map[string]string{"ab": `{"c": 3}`, "bc": `{"a": 1}`, "ac": `{"b": 2}`, "abc": ""} {
		d, err := Parse(JSON, "file", []byte(`{"a": 1, "b": 2, "c": 3}`))
		require.NoError(t, err)
		var nodes []*Node
		for _, key := range keys {
			nodes = append(nodes, d.Root.Get(string(key)))
		}
		got, err := d.Apply(d.RemoveAll(nodes))
		require.NoError(t, err)
		if want == "" {
			_, err := Parse(JSON, "file", got)
			assert.NoError(t, err, "something stays")
			continue
		}
		assert.Equal(t, want, string(got))
	}
}
