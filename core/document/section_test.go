package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRemoveSection(t *testing.T) {
	for _, c := range []struct {
		syntax          Syntax
		src, path, want string // "" where it is refused
	}{
		{TOML, "[a]\nx = 1\n\n[b]\ny = 2\n", "a", "[b]\ny = 2\n"},
		{TOML, "[a]\nx = 1\n\n[b]\ny = 2\n", "b", "[a]\nx = 1\n"},
		{TOML, "[a.b]\nx = 1\n[c]\ny = 2\n[a.b.d]\nz = [\n  1,\n  [2],\n]\n\n[e]\n", "a/b", "[c]\ny = 2\n[e]\n"},
		{TOML, "[a]\nx = 1\n\n# about b\n[b]\n", "a", "# about b\n[b]\n"},
		{TOML, "[a]\nx = [\n[1],\n[2]]\n[b]\ny = 1\n", "a", "[b]\ny = 1\n"},
		{TOML, "[a]\r\nx = 1\r\n\r\n[b]\r\n", "a", "[b]\r\n"},
		{TOML, "# about a\n[a]\nx = 1\n", "a", ""},
		{TOML, "[a]\nx = 1 # one\n", "a", ""},
		{TOML, "[t]\na = {x = 1}\n", "t/a", ""},
		{INI, "[a]\nx = 1\n y\n[b]\ny = 2\n", "a", "[b]\ny = 2\n"},
		{INI, "[a]\nx = 1\n; last\n[b]\n", "a", "; last\n[b]\n"},
		{JSON, "{\n  \"a\": {\"x\": 1},\n  \"b\": 2\n}\n", "a", "{\n  \"b\": 2\n}\n"},
		{JSONC, "{\n  \"a\": {\"x\": 1 /* one */},\n  \"b\": 2\n}\n", "a", ""},
		{YAML, "a:\n  x: 1\nb: 2\n", "a", ""},
	} {
		d, err := Parse(c.syntax, "file", []byte(c.src))
		require.NoError(t, err)
		n := d.Root.Find(c.path)
		require.NotNil(t, n, c.src)
		edits, err := d.RemoveSection(n)
		if again := edited(t, d, edits, err, c.want); again != nil {
			assert.Nil(t, again.Root.Find(c.path))
		}
	}
}

// A comment behind the last member stays there, and what is new is indented as
// the rest is.
func TestAddToObject(t *testing.T) {
	for _, c := range []struct {
		src  string
		keys []string
		want string
	}{
		{"{\n  \"a\": 1 // one\n}\n", []string{"b"}, "{\n  \"a\": 1, // one\n  \"b\": true\n}\n"},
		{"{\n  \"a\": 1, /* one */\n}\n", []string{"b"}, "{\n  \"a\": 1, /* one */\n  \"b\": true,\n}\n"},
		{"{\n\t\"a\": 1\n}\n", []string{"b", "c"}, "{\n\t\"a\": 1,\n\t\"b\": {\n\t\t\"c\": true\n\t}\n}\n"},
		{"{\n    \"a\": {}\n}\n", []string{"a", "c"}, "{\n    \"a\": {\n        \"c\": true\n    }\n}\n"},
		{"{\"a\": 1}", []string{"b", "c"}, "{\"a\": 1, \"b\": { \"c\": true }}"},
	} {
		d, err := Parse(JSONC, "file", []byte(c.src))
		require.NoError(t, err)
		edit, err := d.Add(c.keys, true)
		edited(t, d, []Edit{edit}, err, c.want)
	}
}
