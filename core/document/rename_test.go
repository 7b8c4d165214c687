package document

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestRename(t *testing.T) {
	for _, c := range []struct {
		syntax             Syntax
		src, path, to, now string // "" where it is refused
	}{
		{JSON, "{\n  \"a\": 1\n}\n", "a", "b", "{\n  \"b\": 1\n}\n"},
		{JSON, `{"a": 1, "b": 2}`, "a", "b", ""},
		{YAML, "x/a: # one\n  c: 1\n", "x~1a", "y~1b", "y/b: # one\n  c: 1\n"},
		{YAML, "'a': 1\n", "a", "b", "'b': 1\n"},
		{INI, "[s]\na = 1\n", "s/a", "b", "[s]\nb = 1\n"},
		{TOML, "a = [\n  1, # one\n]\n", "a", "t/a", "t.a = [\n  1, # one\n]\n"},
		{TOML, "[t.a]\nb = 1\n", "t/a", "u/a", "[t.u.a]\nb = 1\n"},
		{TOML, "[t.a]\nb = 1\n[t.a.c]\nd = 1\n", "t/a", "u/a", ""},
		{TOML, "a = 1 # one\nb = 2\n[t]\nc = 3\n", "a", "t/a", "b = 2\n[t]\nc = 3\na = 1 # one\n"},
		{TOML, "a = 1\nt.b = 2\n", "a", "t/a", "t.a = 1\nt.b = 2\n"},
		{TOML, "a = 1\nt = {b = 2}\n", "a", "t/a", ""},
		{TOML, "a = 1\n[t]\na = 2\n", "a", "t/a", ""},
		{JSON, `{"a": 1}`, "a", "t/a", ""},
	} {
		d, err := Parse(c.syntax, "file", []byte(c.src))
		require.NoError(t, err)
		n := d.Root.Find(c.path)
		require.NotNil(t, n, c.src)
		var to []string
		for _, key := range strings.Split(c.to, "/") {
			to = append(to, Unescape(key))
		}
		edits, err := d.Rename(n, to)
		edited(t, d, edits, err, c.now)
	}
}
