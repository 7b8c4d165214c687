package document

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// find returns the node at a path, and its position as "line:column".
func TestReadWithPositions(t *testing.T) {
	for _, c := range []struct {
		name   string
		syntax Syntax
		src    string
		path   string
		value  any
		line   int
		column int
	}{
		{"json nested", JSON, "{\n  \"a\": {\"b\": 12}\n}", "a/b", int64(12), 2, 9},
		{"json list", JSON, `{"a": ["x", true]}`, "a/1", true, 1, 13},
		{"json last of two wins", JSON, `{"a": 1, "a": 2}`, "a", int64(2), 1, 10},
		{"json byte order mark", JSON, "\ufeff{\"a\": 1}", "a", int64(1), 1, 2},
		{"json comments", JSONC, "// c\n{\n  /* é */ \"a\": 1, // t\n}", "a", int64(1), 3, 11},
		{"yaml plain", YAML, "# c\na:\n  b: text # t\n", "a/b", "text", 3, 3},
		{"yaml quoted", YAML, "a: 'it''s'\n", "a", "it's", 1, 1},
		{"yaml flow", YAML, "é: {b: 3}\n", "é/b", int64(3), 1, 5},
		{"yaml list", YAML, "a:\n- x\n- y\n", "a/1", "y", 3, 3},
		{"yaml anchor and merge", YAML, "base: &b {w: 1}\nuse:\n  <<: *b\n", "use/w", int64(1), 1, 11},
		{"yaml bool and null", YAML, "a: true\nb:\n", "a", true, 1, 1},
		{"yaml crlf", YAML, "a: 1\r\nb: x\r\n", "b", "x", 2, 1},
		{"toml table", TOML, "x = 1\n[a.b]\n c = \"v\" # t\n", "a/b/c", "v", 3, 2},
		{"toml dotted", TOML, "a.b.c = 0x10\n", "a/b/c", int64(16), 1, 5},
		{"toml array of tables", TOML, "[[t]]\nn = 1\n[[t]]\nn = 2\n", "t/1/n", int64(2), 4, 1},
		{"toml subtable of array", TOML, "[[t]]\n[t.s]\nn = 3\n", "t/0/s/n", int64(3), 3, 1},
		{"toml inline", TOML, "a = { b = true }\n", "a/b", true, 1, 7},
		{"editorconfig pair", EditorConfig, "root = true\n[*.kt]\n  Indent_Size = 4\n", "*.kt/indent_size", "4", 3, 3},
		{"editorconfig bracket in name", EditorConfig, "[[ab].c]\nk = v\n", "[ab].c/k", "v", 2, 1},
		{"editorconfig sign in value", EditorConfig, "[*]\nk = a # b = c\n", "*/k", "a # b = c", 2, 1},
		{"editorconfig crlf and mark", EditorConfig, "\ufeffroot = true\r\n[*]\r\nk=v\r\n", "*/k", "v", 3, 1},
		{"attributes value", Attributes, "*.sh text eol=lf\n", "*.sh/eol", "lf", 1, 11},
		{"attributes negated", Attributes, "*.x -text !diff\n", "*.x/text", false, 1, 5},
		{"attributes negated with a value", Attributes, "*.x -text=auto !diff=y\n", "*.x/text", false, 1, 5},
		{"attributes unset with a value", Attributes, "*.x -text=auto !diff=y\n", "*.x/diff", nil, 1, 16},
		{"attributes unset", Attributes, "*.x -text !diff\n", "*.x/diff", nil, 1, 11},
		{"attributes macro", Attributes, "[attr]plain -text eol=lf\n*.x plain\n", "*.x/eol", "lf", 2, 5},
		{"attributes built-in macro", Attributes, "*.png binary\n", "*.png/text", false, 1, 7},
		{"attributes quoted pattern", Attributes, "\"a b\" eol=crlf\n", "a b/eol", "crlf", 1, 7},
		{"options", Options, "# c\n--indent 4 # four\n--quiet\n", "indent", "4", 2, 1},
	} {
		t.Run(c.name, func(t *testing.T) {
			d, err := Parse(c.syntax, "file", []byte(c.src))
			require.NoError(t, err)
			n := d.Root.Find(c.path)
			require.NotNil(t, n)
			assert.Equal(t, c.value, n.Value)
			line, column := d.Position(n.KeyStart)
			assert.Equal(t, [2]int{c.line, c.column}, [2]int{line, column})
		})
	}
}

func TestErrorsHavePositions(t *testing.T) {
	for _, c := range []struct {
		name   string
		syntax Syntax
		src    string
		line   int
		column int
		says   string
	}{
		{"json", JSON, "{\n  \"a\": ,\n}", 2, 8, ""},
		{"json comment", JSON, "{\n  // c\n  \"a\": 1\n}", 2, 3, "strict JSON"},
		{"json trailing comma", JSON, "{\"a\": 1,}", 1, 8, "strict JSON"},
		{"json deep", JSON, strings.Repeat("[", 300), 1, 201, "deeper"},
		{"yaml", YAML, "a: 1\nb: [1, 2\nc: 3\n", 3, 2, ""},
		{"yaml alias of nothing", YAML, "a: *no\n", 1, 4, "no"},
		{"toml", TOML, "a = 1\nb = = 2\n", 2, 5, ""},
		{"toml twice", TOML, "a = 1\na = 2\n", 2, 1, "already"},
		{"editorconfig line", EditorConfig, "[*]\njust words\n", 2, 1, "neither"},
		{"editorconfig header", EditorConfig, "[*\n", 1, 1, "bracket"},
		{"attributes negative pattern", Attributes, "!*.x text\n", 1, 1, "negated"},
		{"attributes open quote", Attributes, "\"a text\n", 1, 1, "quote"},
		{"nul", YAML, "a: \x00", 1, 4, "NUL"},
		{"not utf-8", TOML, "a = \"\xff\"", 1, 6, "UTF-8"},
		{"too many sections", EditorConfig, strings.Repeat("[a]\n", maxSections+1), maxSections + 1, 1, "more than 5000 sections"},
		{"too many patterns", Attributes, strings.Repeat("a b\n", maxSections+1), maxSections + 1, 1, "more than 5000 lines"},
		{"too large", JSON, strings.Repeat(" ", MaxSize+1), 1, 1, "too large"},
	} {
		t.Run(c.name, func(t *testing.T) {
			_, err := Parse(c.syntax, "file", []byte(c.src))
			var at *SyntaxError
			require.ErrorAs(t, err, &at)
			assert.Equal(t, [2]int{c.line, c.column}, [2]int{at.Line, at.Column}, at.Message)
			assert.Contains(t, at.Message, c.says)
		})
	}
}

func TestAliasBombIsBounded(t *testing.T) {
	src := "a0: &a0 [x, x, x, x, x, x, x, x, x]\n"
	for i := 1; i < 12; i++ {
		prev := string(rune('a'+i-1)) + "0"
		name := string(rune('a'+i)) + "0"
		src += name + ": &" + name + " [" + strings.TrimSuffix(strings.Repeat("*"+prev+", ", 9), ", ") + "]\n"
	}
	_, err := Parse(YAML, "file", []byte(src))
	assert.ErrorContains(t, err, "expands to more than")
}

func TestEditorConfigLimits(t *testing.T) {
	d, err := Parse(EditorConfig, "file", []byte("["+strings.Repeat("a", 4096)+"]\n"+strings.Repeat("k", 1024)+" = "+strings.Repeat("v", 4096)+
		"\n"+strings.Repeat("k", 1025)+" = v\n["+strings.Repeat("a", 4097)+"]\nk = v\n"))
	require.NoError(t, err)
	assert.Len(t, d.Root.Items[0].Items, 1, "the longest key and value count, longer ones do not")
	assert.Empty(t, d.Root.Items[1].Key, "a longer section name reaches nothing")
}

// Edits replace one span; all else stays, byte for byte.
func TestSet(t *testing.T) {
	for _, c := range []struct {
		name   string
		syntax Syntax
		src    string
		path   string
		value  any
		want   string
	}{
		{"json", JSONC, "{ // c\n\t\"a\" : 1 ,\r\n}", "a", int64(2), "{ // c\n\t\"a\" : 2 ,\r\n}"},
		{"yaml keeps comment", YAML, "a:   80   # wide\n", "a", int64(100), "a:   100   # wide\n"},
		{"yaml keeps quotes", YAML, "a: 'x'\n", "a", "y", "a: 'y'\n"},
		{"yaml quotes what needs it", YAML, "a: x\n", "a", "yes: no", "a: \"yes: no\"\n"},
		{"yaml word that reads as bool", YAML, "a: x\n", "a", "true", "a: \"true\"\n"},
		{"yaml empty value", YAML, "a:\nb: 1\n", "a", int64(1), "a: 1\nb: 1\n"},
		{"yaml after wide letters", YAML, "é: ü\nb: {c: \"é\", d: 1} # é\n", "b/d", int64(2), "é: ü\nb: {c: \"é\", d: 2} # é\n"},
		{"toml", TOML, "a = \"x\" # c\n", "a", "y", "a = \"y\" # c\n"},
		{"toml literal quotes", TOML, "a = 'x'\n", "a", "y", "a = 'y'\n"},
		{"editorconfig", EditorConfig, "[*]\r\nk\t=\tv\r\n# c\r\n", "*/k", "w", "[*]\r\nk\t=\tw\r\n# c\r\n"},
		{"attributes", Attributes, "*.x  text   eol=crlf -diff\n", "*.x/eol", "lf", "*.x  text   eol=lf -diff\n"},
		{"options", Options, "--a 1 # c\n--b 2\n", "a", "3", "--a 3 # c\n--b 2\n"},
	} {
		t.Run(c.name, func(t *testing.T) {
			d, err := Parse(c.syntax, "file", []byte(c.src))
			require.NoError(t, err)
			edit, err := d.Set(d.Root.Find(c.path), c.value)
			require.NoError(t, err)
			got, err := d.Apply([]Edit{edit})
			require.NoError(t, err)
			assert.Equal(t, c.want, string(got))
		})
	}
}

func TestAdd(t *testing.T) {
	for _, c := range []struct {
		name   string
		syntax Syntax
		src    string
		keys   []string
		value  any
		want   string
	}{
		{"json behind the last", JSON, "{\n  \"a\": 1\n}\n", []string{"b"}, true, "{\n  \"a\": 1,\n  \"b\": true\n}\n"},
		{"json on one line", JSON, `{"a": 1}`, []string{"b"}, "x", `{"a": 1, "b": "x"}`},
		{"json nested", JSON, "{\n\t\"a\": {\n\t\t\"b\": 1\n\t}\n}", []string{"a", "c"}, int64(2), "{\n\t\"a\": {\n\t\t\"b\": 1,\n\t\t\"c\": 2\n\t}\n}"},
		{"json new map", JSONC, "{\n  \"a\": 1, // c\n}", []string{"b", "c"}, int64(2), "{\n  \"a\": 1, // c\n  \"b\": {\n    \"c\": 2\n  },\n}"},
		{"json empty map", JSON, "{}", []string{"a"}, int64(1), "{\n  \"a\": 1\n}"},
		{"json empty file", JSON, "", []string{"a"}, int64(1), "{\n  \"a\": 1\n}\n"},
		{"yaml block", YAML, "a:\n  b: 1\n  # end\nc: 2\n", []string{"a", "d"}, int64(3), "a:\n  b: 1\n  d: 3\n  # end\nc: 2\n"},
		{"yaml behind a list", YAML, "a:\n- x\n- y\n", []string{"b"}, "z", "a:\n- x\n- y\nb: z\n"},
		{"yaml behind a block text", YAML, "a: |\n  x\n\n  y\n", []string{"b"}, "z", "a: |\n  x\n\n  y\nb: z\n"},
		{"yaml new map", YAML, "a: 1", []string{"b", "c"}, true, "a: 1\nb:\n  c: true\n"},
		{"yaml flow", YAML, "a: {b: 1}\n", []string{"a", "c"}, int64(2), "a: {b: 1, c: 2}\n"},
		{"yaml below an empty key", YAML, "a:\nb: 1\n", []string{"a", "c"}, int64(2), "a:\n  c: 2\nb: 1\n"},
		{"yaml empty file", YAML, "# only this\n", []string{"a"}, int64(1), "# only this\na: 1\n"},
		{"toml root", TOML, "# c\na = 1\n\n[t]\nb = 2\n", []string{"c"}, "x", "# c\na = 1\nc = \"x\"\n\n[t]\nb = 2\n"},
		{"toml table", TOML, "[t]\n  b = 2\n\n[u]\n", []string{"t", "c"}, true, "[t]\n  b = 2\n  c = true\n\n[u]\n"},
		{"toml new table", TOML, "a = 1", []string{"t", "c"}, true, "a = 1\n\n[t]\nc = true\n"},
		{"toml table below one without a header", TOML, "[t.u]\nb = 2\n\n[v]\n", []string{"t", "u", "c"}, true, "[t.u]\nb = 2\nc = true\n\n[v]\n"},
		{"toml header of its own", TOML, "[t.u]\nb = 2\n", []string{"t", "c"}, true, "[t.u]\nb = 2\n\n[t]\nc = true\n"},
		{"toml empty file", TOML, "", []string{"a"}, int64(1), "a = 1\n"},
		{"attributes", Attributes, "*.x text", []string{"*.y", "eol"}, "lf", "*.x text\n*.y eol=lf\n"},
		{"options", Options, "--a 1\r\n", []string{"b"}, "2", "--a 1\r\n--b 2\r\n"},
		{"editorconfig section", EditorConfig, "root = true\n", []string{"*.go", "indent_style"}, "tab", "root = true\n\n[*.go]\nindent_style = tab\n"},
	} {
		t.Run(c.name, func(t *testing.T) {
			d, err := Parse(c.syntax, "file", []byte(c.src))
			require.NoError(t, err)
			edit, err := d.Add(c.keys, c.value)
			require.NoError(t, err)
			got, err := d.Apply([]Edit{edit})
			require.NoError(t, err)
			assert.Equal(t, c.want, string(got))
			again, err := Parse(c.syntax, "file", got)
			require.NoError(t, err)
			require.NotNil(t, again.Root.Find(strings.Join(c.keys, "/")))
			_, err = again.Add(c.keys, c.value)
			assert.Error(t, err, "it is there now")
		})
	}
}

func TestEditorConfigSections(t *testing.T) {
	d, err := Parse(EditorConfig, "file", []byte("[*]\n\tk = v\n# about b\n[b]\nx = y\n"))
	require.NoError(t, err)
	got, err := d.Apply([]Edit{
		d.AddPair(d.Root.Items[0], "l", "w"),
		d.AddSection(d.Root.Items[0], "a", [][2]string{{"m", "1"}, {"n", "2"}}),
	})
	require.NoError(t, err)
	assert.Equal(t, "[*]\n\tk = v\n\tl = w\n\n[a]\nm = 1\nn = 2\n# about b\n[b]\nx = y\n", string(got))
}

func TestWhatCannotBeEdited(t *testing.T) {
	for src, path := range map[string]string{
		"base: &b {w: 1}\nuse:\n  <<: *b\n": "use/w",
		"a: &x 1\nb: *x\n":                  "b",
		"a: |\n  text\n":                    "a",
		"a: {b: 1}\n":                       "a",
	} {
		d, err := Parse(YAML, "file", []byte(src))
		require.NoError(t, err)
		_, err = d.Set(d.Root.Find(path), "x")
		assert.Error(t, err, src)
	}
}

func TestOverlappingEditsAreRefused(t *testing.T) {
	d, err := Parse(JSON, "file", []byte(`{"a": 1}`))
	require.NoError(t, err)
	_, err = d.Apply([]Edit{{0, 5, ""}, {3, 6, ""}})
	assert.Error(t, err)
}

var seeds = map[Syntax][]string{
	JSON:         {`{"a": [1, {"b": null}], "c": "\u00e9"}`, "\ufeff{}"},
	JSONC:        {"{ // c\n\"a\": 1,\n}"},
	YAML:         {"a: &x {b: 'c'}\nd: *x\ne:\n  - f\n", "? k\n: v\n", "a: \"x\\ty\"\r\n"},
	TOML:         {"a.b = 1\n[[t]]\nc = '''\nx'''\nd = [1, {e = 2}]\n"},
	EditorConfig: {"root = true\n[*.{a,b}]\nk = v\n"},
	Attributes:   {"[attr]m -x\n*.y m eol=lf\n\"q\\\"\" z\n"},
	Options:      {"--a b # c\n--d\n"},
	JSON5:        {"{a: 'x', // c\n b: [1, +2],}"},
	INI:          {"[a]\nk = v\n  w\nl: \"x\"\n"},
	Properties:   {"a=b\nc d\\\n e\nexport f='g'\n"},
	Blocks:       {"a.b = 1 // c\nc \"d\" { e = [x, \"y\"] }\n"},
	XML:          {"<a b='c' d=\"e\">f<!-- g --><h/></a>"},
	Lisp:         {"((nil . ((a . 1) (b . \"c\"))))", "{:a [b \"c\"]}"},
	Vim:          {"set ts=4 noet\nau FileType go,c setl sw=2\n"},
	JavaScript:   {"const a = {b: 'c'};\nexport default w({...a, d: [1, `e`], f() {}})"},
	Ruby:         {"rule 'a', :b => 1, c: %w[d]\ne :f\n"},
	PHP:          {"<?php\nreturn (new A())->b(['c' => 'd'])->e(\"f\");"},
	Python:       {"a = {'b': \"c\", 'd': 'e'}\nwith section(\"f\"):\n  g = True\n"},
	Lua:          {"a = { b = 'c', [\"d\"] = [[e]] }\nreturn a\n"},
	Elixir:       {"[a: \"b\", c: [{D, e: 1}]]\n"},
}

// FuzzEditThenRead sets every scalar that can be edited and reads it back: the
// new value is there, and everything outside its span is as it was.
func FuzzEditThenRead(f *testing.F) {
	for syntax, list := range seeds {
		for _, src := range list {
			f.Add(string(syntax), []byte(src))
		}
	}
	f.Fuzz(func(t *testing.T, syntax string, src []byte) {
		d, err := Parse(Syntax(syntax), "file", src)
		if err != nil {
			var at *SyntaxError
			if !errors.As(err, &at) || at.Line < 1 || at.Column < 1 {
				t.Fatalf("error without a position: %v", err)
			}
			return
		}
		if same, err := d.Apply(nil); err != nil || string(same) != string(src) {
			t.Fatal("no edit changes nothing")
		}
		var walk func(*Node)
		walk = func(n *Node) {
			for _, item := range n.Items {
				walk(item)
			}
			edit, err := d.Set(n, "changed")
			if err != nil {
				return
			}
			after, err := d.Apply([]Edit{edit})
			if err != nil {
				t.Fatal(err)
			}
			again, err := Parse(Syntax(syntax), "file", after)
			if err != nil {
				t.Fatalf("%q became %q: %v", src, after, err)
			}
			if !hasScalar(again.Root, "changed") {
				t.Fatalf("%q became %q without the value", src, after)
			}
		}
		walk(d.Root)
	})
}

func hasScalar(n *Node, value string) bool {
	if n.Kind == Scalar && n.Value == value {
		return true
	}
	for _, item := range n.Items {
		if hasScalar(item, value) {
			return true
		}
	}
	return false
}
