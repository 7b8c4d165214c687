package document

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// opaqueValue stands for a node that is worked out by code.
const opaqueValue = "(opaque)"

func TestReadWidely(t *testing.T) {
	for _, c := range []struct {
		name   string
		syntax Syntax
		src    string
		path   string
		value  any
		line   int
		column int
	}{
		{"yaml second document", YAML, "a: 1\n---\na: 2\n", "1/a", int64(2), 3, 1},
		{"yaml document with a mark alone", YAML, "---\na: 1\n", "a", int64(1), 2, 1},
		{"json5", JSON5, "{\n  // c\n  width: 100, 'q': \"x\",\n}", "width", int64(100), 3, 3},
		{"json5 quoted key", JSON5, "{'q': [1, +2, 'x',]}", "q/0", int64(1), 1, 8},
		{"ini", INI, "; c\n[a b]\nk = v\n", "a b/k", "v", 3, 1},
		{"ini colon and no section", INI, "k: v # w\n", "k", "v # w", 1, 1},
		{"ini goes on", INI, "[s]\nlist =\n    a\n    b\nk = 1\n", "s/list", "a\nb", 2, 1},
		{"ini indented keys are keys", INI, "[core]\n\tautocrlf = input\n\teol = lf\n", "core/eol", "lf", 3, 2},
		{"ini key alone", INI, "[s]\nflag\n", "s/flag", true, 2, 1},
		{"ini quoted", INI, "k = \"v\"\n", "k", "v", 1, 1},
		{"properties", Properties, "# c\n! d\na.b = c\nx y\n", "a.b", "c", 3, 1},
		{"properties blank", Properties, "x y z\n", "x", "y z", 1, 1},
		{"properties joined", Properties, "a=b,\\\n  c\nd=e\n", "a", "b,c", 1, 1},
		{"properties export", Properties, "export A='b c'\n", "A", "b c", 1, 8},
		{"properties colon", Properties, "a:b\n", "a", "b", 1, 1},
		{"blocks dotted", Blocks, "newlines.source = keep // c\nmaxColumn = 100\n", "newlines/source", "keep", 1, 10},
		{"blocks nested", Blocks, "rule \"x\" {\n  enabled = false\n}\n", "rule/x/enabled", false, 2, 3},
		{"blocks text", Blocks, "version = \"3.8\", b: 2\n", "version", "3.8", 1, 1},
		{"blocks list", Blocks, "rules = [\n  A\n  B, C\n]\n", "rules/2", "C", 3, 6},
		{"blocks computed", Blocks, "a = ${b}\n", "a", opaqueValue, 1, 1},
		{"xml attribute", XML, "<?xml version=\"1.0\"?>\n<a>\n  <b name='n' v=\"3\"/>\n</a>", "a/b/@v", "3", 3, 15},
		{"xml by attribute", XML, "<a><b name='x' v='1'/><b name='y' v='2'/></a>", "a/b[@name=x]/@v", "1", 1, 16},
		{"xml text", XML, "<a>\n  text\n</a>", "a/#text", "text", 2, 3},
		{"xml prefix and slash", XML, "<a xmlns:x='u'><x:b x:k='/c/d'>1</x:b></a>", "a/b[@k=~1c~1d]/#text", "1", 1, 32},
		{"directory variables", Lisp, ";; c\n((nil . ((fill-column . 80)\n         (indent-tabs-mode . nil)))\n (c-mode . ((tab-width . 8))))", "nil/fill-column", int64(80), 2, 11},
		{"directory variables of a mode", Lisp, "((nil . ((a . 1)))\n (c-mode . ((tab-width . 8))))", "c-mode/tab-width", int64(8), 2, 14},
		{"directory variables off", Lisp, "((nil . ((indent-tabs-mode . nil))))", "nil/indent-tabs-mode", false, 1, 11},
		{"lisp list of pairs behind a name", Lisp, "((c-mode (tab-width . 8) (x . y)))", "c-mode/tab-width", int64(8), 1, 11},
		{"lisp map", Lisp, "{:indent? true, :n {:m 2}}", "n/m", int64(2), 1, 21},
		{"vim", Vim, "\" c\nset ts=4 noexpandtab\n", "ts", int64(4), 2, 5},
		{"vim off", Vim, "set ts=4 noexpandtab | echo 1\n", "expandtab", false, 1, 10},
		{"vim file type", Vim, "autocmd FileType go,make setlocal tabstop=8\n", "filetype/make/tabstop", int64(8), 1, 35},
		{"vim pattern", Vim, "au BufRead,BufNewFile *.py set sw=2\n", "files/*.py/sw", int64(2), 1, 32},
		{"vim group", Vim, "autocmd mine BufEnter *.py set sw=2\n", "files/*.py/sw", int64(2), 1, 32},

		{"module default", JavaScript, "/** @type {X} */\nexport default {\n  semi: false,\n}\n", "semi", false, 3, 3},
		{"module exports", JavaScript, "'use strict'\nmodule.exports = { rules: { 'max-len': ['error', { code: 100 }] } };", "rules/max-len/1/code", int64(100), 2, 52},
		{"module name", JavaScript, "const config = { width: 90 };\n\nexport default config;\n", "width", int64(90), 1, 18},
		{"module typed name", JavaScript, "import type { C } from 'c'\nconst config: C = { width: 90 }\nexport default config\n", "width", int64(90), 2, 21},
		{"module wrapper", JavaScript, "import { defineConfig } from 'x'\nexport default defineConfig({ a: 1 })", "a", int64(1), 2, 31},
		{"module wrapper of several", JavaScript, "export default tool.config({ a: 1 }, { a: 2 })", "1/a", int64(2), 1, 40},
		{"module as", JavaScript, "export default { a: 1 } as const satisfies X;", "a", int64(1), 1, 18},
		{"module spread", JavaScript, "const base = { a: 1 };\nmodule.exports = { ...base, b: 2 };", "a", int64(1), 1, 16},
		{"module list spread", JavaScript, "const l = ['x'];\nmodule.exports = { a: [...l, 'y'] };", "a/1", "y", 2, 30},
		{"module shorthand", JavaScript, "const a = 3;\nexport default { a }", "a", int64(3), 1, 11},
		{"module members", JavaScript, "exports.a = 1\nexports.b = 'x'\n", "b", "x", 2, 9},
		{"module negative", JavaScript, "export default { a: -1 }", "a", int64(-1), 1, 18},
		{"module call is opaque", JavaScript, "export default { a: f(1), b: 2 }", "a", opaqueValue, 1, 18},
		{"module sum is opaque", JavaScript, "export default { a: 1 + 1, b: 2 }", "a", opaqueValue, 1, 18},
		{"module after the opaque", JavaScript, "export default { a: x ? 1 : 2, b: 2 }", "b", int64(2), 1, 32},
		{"module template is opaque", JavaScript, "export default { a: `${x}` }", "a", opaqueValue, 1, 18},
		{"module plain template", JavaScript, "export default { a: `x` }", "a", "x", 1, 18},
		{"module name bound twice", JavaScript, "let a = 1;\na = 2;\nexport default { b: a }", "b", opaqueValue, 3, 18},
		{"module changed list", JavaScript, "const a = [1];\na.push(2);\nexport default { b: a }", "b", opaqueValue, 3, 18},
		{"module function", JavaScript, "module.exports = () => ({ a: 1 })", "", opaqueValue, 1, 18},
		{"module pattern", JavaScript, "export default { a: /[/'\"]x/g, b: 1 }", "b", int64(1), 1, 32},
		{"module method", JavaScript, "export default { f(x) { return { a: 1 } }, b: 1 }", "b", int64(1), 1, 44},
		{"module require", JavaScript, "const p = require('pkg');\nmodule.exports = [p.configs.all, { a: 1 }]", "1/a", int64(1), 2, 36},

		{"python", Python, "# c\nwidth = 88\nname = 'x'\n", "name", "x", 3, 1},
		{"python dict", Python, "d = {'a': [1, 2], \"b\": True}\n", "d/b", true, 1, 19},
		{"python call of dict", Python, "d = dict(a=1)\n", "d/a", int64(1), 1, 10},
		{"python section", Python, "with section(\"format\"):\n  # c\n  line_width = 80\n  tab_size = 2\nx = 1\n", "format/tab_size", int64(2), 4, 3},
		{"python behind a section", Python, "with section(\"format\"):\n  a = 80\nx = 1\n", "x", int64(1), 3, 1},
		{"python member", Python, "c.X.y = 5\n", "c/X/y", int64(5), 1, 5},
		{"python computed", Python, "x = os.environ['A']\ny = 2\n", "x", opaqueValue, 1, 1},
		{"python interpolated", Python, "x = f'{a}'\n", "x", opaqueValue, 1, 1},

		{"lua", Lua, "-- c\nmax_line_length = 100\nstd = 'min'\n", "max_line_length", int64(100), 2, 1},
		{"lua member", Lua, "files['spec/*'].std = 'x'\n", "files/spec~1*/std", "x", 1, 17},
		{"lua table", Lua, "t = { a = 1, [\"b\"] = 2, 'x' }\n", "t/b", int64(2), 1, 14},
		{"lua return", Lua, "local w = 3\nreturn { width = w }\n", "width", int64(3), 2, 10},
		{"lua unlimited", Lua, "max_line_length = false", "max_line_length", false, 1, 1},

		{"php", PHP, "<?php\n\nreturn (new PhpCsFixer\\Config())\n  ->setRules(['@PSR12' => true, 'x' => ['y' => 'z']])\n  ->setIndent(\"\\t\");\n", "setRules/x/y", "z", 4, 41},
		{"php method", PHP, "<?php\nreturn (new C())\n->setIndent(\"\\t\");\n", "setIndent", "\t", 3, 3},
		{"php name", PHP, "<?php\n$c = new C();\n$c->setIndent('  ');\nreturn $c->setFinder($f)->setRiskyAllowed(true);\n", "setIndent", "  ", 3, 5},
		{"php behind a here-document", PHP, "<?php\nif (!x()) {\n  exit(0);\n}\n$h = <<<'EOF'\nText; (\nEOF;\nreturn (new C())\n  // c\n  ->setRules(['a' => true]);\n", "setRules/a", true, 10, 15},
		{"ruby here-document", Ruby, "a(<<~EOS, 1)\n  b = 2\nEOS\nc = 3\n", "c", int64(3), 4, 1},
		{"php list", PHP, "<?php return ['a' => array('x', 'y')];", "a/1", "y", 1, 33},

		{"ruby", Ruby, "all\nrule 'MD013', :line_length => 100, code: true\n", "rule/MD013/line_length", int64(100), 2, 15},
		{"ruby list of calls", Ruby, "exclude 'a'\nexclude 'b'\n", "exclude/1", "b", 2, 9},
		{"ruby symbol", Ruby, "quote_style :single\n", "quote_style", "single", 1, 1},
		{"ruby words", Ruby, "x = %w[a b]\n", "x/1", "b", 1, 10},

		{"elixir", Elixir, "# c\n[\n  inputs: [\"*.ex\"],\n  line_length: 98\n]\n", "line_length", int64(98), 4, 3},
		{"elixir map", Elixir, "%{configs: [%{name: \"default\", checks: [{A.B, [max: 80]}]}]}", "configs/0/checks/0/1/max", int64(80), 1, 48},
		{"elixir name", Elixir, "a = [x: 1]\n[b: a]\n", "b/x", int64(1), 1, 6},
	} {
		t.Run(c.name, func(t *testing.T) {
			d, err := Parse(c.syntax, "file", []byte(c.src), "defineConfig", "config")
			require.NoError(t, err)
			n := d.Root.Find(c.path)
			require.NotNil(t, n)
			if c.value == opaqueValue {
				assert.Equal(t, Opaque, n.Kind)
			} else {
				assert.Equal(t, c.value, n.Value)
			}
			line, column := d.Position(n.KeyStart)
			assert.Equal(t, [2]int{c.line, c.column}, [2]int{line, column})
		})
	}
}

func TestReferences(t *testing.T) {
	src := "import js from '@x/js'\nimport { a as b } from 'y'\nconst z = require('z')\nexport default [js.configs.rec, b, z.flat(), ...z.more, other]\n"
	d, err := Parse(JavaScript, "file", []byte(src))
	require.NoError(t, err)
	var got []any
	for _, item := range d.Root.Items {
		assert.Equal(t, Opaque, item.Kind)
		got = append(got, item.Value)
	}
	assert.Equal(t, []any{"@x/js.configs.rec", "y.a", "z.flat()", "z.more", "other"}, got)
}

func TestMoreErrorsHavePositions(t *testing.T) {
	for _, c := range []struct {
		syntax Syntax
		src    string
		line   int
		column int
		says   string
	}{
		{INI, "a = 1\n[b\n", 2, 1, "bracket"},
		{XML, "<a>\n<b></a>", 2, 8, "closed by"},
		{XML, strings.Repeat("<a>", 300), 1, 601, "deeper"},
		{Blocks, "a = 1\n}\n", 2, 1, "without an opening"},
		{Blocks, "a {\nb = 1\n", 1, 3, "not closed"},
		{Blocks, "a\nb = 1\n", 1, 1, "neither a value"},
		{Lisp, "(a\n (b)", 1, 1, "not closed"},
		{Lisp, "\n)", 2, 1, "without an opening"},
		{Lisp, "(a \"b)", 1, 4, "does not end"},
		{Lisp, strings.Repeat("(", 300), 1, 202, "deeper"},
		{JavaScript, "x = 'a\n", 1, 5, "does not end"},
		{JavaScript, "/* a", 1, 1, "comment"},
		{JSON5, "{a: 1} b", 1, 8, "follow"},
		{JSON5, "{a: f()}", 1, 5, "not a value"},
	} {
		_, err := Parse(c.syntax, "file", []byte(c.src))
		var at *SyntaxError
		require.ErrorAs(t, err, &at, c.src)
		assert.Equal(t, [2]int{c.line, c.column}, [2]int{at.Line, at.Column}, "%s %s", c.src, at.Message)
		assert.Contains(t, at.Message, c.says, c.src)
	}
}

func TestSetWidely(t *testing.T) {
	for _, c := range []struct {
		syntax Syntax
		src    string
		path   string
		value  any
		want   string
	}{
		{INI, "[a]\nk : v ; c\n", "a/k", "w", "[a]\nk : w\n"},
		{Properties, "a=b\n", "a", int64(2), "a=2\n"},
		{Blocks, "a.b = 80 // c\n", "a/b", int64(100), "a.b = 100 // c\n"},
		{Blocks, "a = \"x\"\n", "a", "y", "a = \"y\"\n"},
		{XML, "<a v = 'x' w=\"x\"/>", "a/@w", "y<", "<a v = 'x' w=\"y&lt;\"/>"},
		{Lisp, "((nil . ((fill-column . 80))))", "nil/fill-column", int64(100), "((nil . ((fill-column . 100))))"},
		{Vim, "set ts=4 et\n", "ts", int64(2), "set ts=2 et\n"},
		{JavaScript, "module.exports = { a: 'x', }; // c", "a", "y", "module.exports = { a: 'y', }; // c"},
		{Python, "a = True\n", "a", false, "a = False\n"},
		{PHP, "<?php\nreturn ['a' => 'x'];\n", "a", "y", "<?php\nreturn ['a' => 'y'];\n"},
		{Lua, "a = 80\n", "a", int64(100), "a = 100\n"},
		{Elixir, "[line_length: 98]", "line_length", int64(120), "[line_length: 120]"},
		{JSON5, "{a: 1,}", "a", int64(2), "{a: 2,}"},
	} {
		d, err := Parse(c.syntax, "file", []byte(c.src))
		require.NoError(t, err, c.src)
		edit, err := d.Set(d.Root.Find(c.path), c.value)
		require.NoError(t, err, c.src)
		got, err := d.Apply([]Edit{edit})
		require.NoError(t, err)
		assert.Equal(t, c.want, string(got))
	}
}

func TestAddPairs(t *testing.T) {
	for _, c := range []struct {
		syntax Syntax
		src    string
		keys   []string
		want   string
	}{
		{INI, "[a]\n\tk = v\n[b]\n", []string{"a", "l"}, "[a]\n\tk = v\n\tl = 1\n[b]\n"},
		{INI, "[a]\nk = v", []string{"c", "l"}, "[a]\nk = v\n\n[c]\nl = 1\n"},
		{Properties, "a=b\n", []string{"l"}, "a=b\nl=1\n"},
	} {
		d, err := Parse(c.syntax, "file", []byte(c.src))
		require.NoError(t, err)
		edit, err := d.Add(c.keys, int64(1))
		require.NoError(t, err)
		got, err := d.Apply([]Edit{edit})
		require.NoError(t, err)
		assert.Equal(t, c.want, string(got))
	}
}
