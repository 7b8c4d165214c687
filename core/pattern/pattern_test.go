package pattern

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Cases follow the EditorConfig specification 0.17.2, "Glob Expressions".
func TestEditorConfig(t *testing.T) {
	for _, c := range []struct {
		glob string
		yes  []string
		no   []string
	}{
		{"*", []string{"a", "dir/b.txt"}, nil},
		{"*.kt", []string{"a.kt", "x/y/b.kt"}, []string{"a.kts", "akt", "a.kt/b"}},
		{"a*e.c", []string{"ace.c", "x/abcde.c"}, []string{"a/e.c", "abf.c"}},
		{"Bar/*.c", []string{"Bar/foo.c"}, []string{"Bar/x/foo.c", "y/Bar/foo.c"}},
		{"/top.c", []string{"top.c"}, []string{"x/top.c"}},
		{"lib/**.js", []string{"lib/a.js", "lib/x/y.js"}, []string{"a.js", "x/lib/a.js"}},
		{"a/**/z.c", []string{"a/z.c", "a/b/z.c", "a/b/c/z.c"}, []string{"az.c", "a/bz.c"}},
		{"d/**/**/z.c", []string{"d/z.c", "d/1/2/z.c"}, []string{"dz.c"}},
		{"**/x.c", []string{"a/x.c", "a/b/x.c"}, []string{"x.d"}},
		{"**", []string{"a", "b/c"}, nil},
		{"som?.c", []string{"some.c", "somé.c"}, []string{"som.c", "som/.c"}},
		{"[ab].a", []string{"a.a", "b.a"}, []string{"c.a"}},
		{"[!ab].b", []string{"c.b"}, []string{"a.b"}},
		{"[d-g].c", []string{"f.c"}, []string{"h.c"}},
		{"[!d-g].d", []string{"h.d"}, []string{"e.d"}},
		{"[ab]].g", []string{"b].g"}, []string{"b.g"}},
		{"ab[e/]cd.i", []string{"ab[e/]cd.i"}, []string{"abecd.i"}},
		{"ab[/c", []string{"ab[/c"}, []string{"abc"}},
		{"*.{py,js,html}", []string{"t.py", "x/t.html"}, []string{"t.pyc", "t."}},
		{"{single}.b", []string{"{single}.b"}, []string{"single.b"}},
		{"{}.c", []string{"{}.c"}, []string{".c"}},
		{"a{b,c,}.d", []string{"ab.d", "ac.d", "a.d"}, []string{"a,.d"}},
		{"{.f", []string{"{.f"}, []string{".f"}},
		{"{word,{also},this}.g", []string{"word.g", "{also}.g", "this.g"}, []string{"also.g"}},
		{"{a,{b,c}}.h", []string{"a.h", "b.h", "c.h"}, []string{"d.h"}},
		{"{3..120}", []string{"3", "15", "120"}, []string{"1", "121", "060", "3.5", "a"}},
		{"{-3..3}.x", []string{"-3.x", "0.x", "2.x"}, []string{"-4.x", "4.x"}},
		{"{3..-3}.x", []string{"1.x"}, []string{"4.x"}},
		{"{aardvark..antelope}", []string{"{aardvark..antelope}"}, []string{"aardvark", "ant"}},
		{`a\*b.c`, []string{"a*b.c"}, []string{"axb.c"}},
		{`\{x,y\}.c`, []string{"{x,y}.c"}, []string{"x.c"}},
		{"{*.sh,horn}", []string{"x/a.sh", "horn"}, []string{"horn.sh2", "a.bash"}},
		{"{a/**.kt,b/**.kt}", []string{"a/x/y.kt", "b/z.kt"}, []string{"c/a/x.kt"}},
	} {
		p := EditorConfig(c.glob)
		for _, path := range c.yes {
			assert.Truef(t, p.Match(path), "[%s] should reach %s", c.glob, path)
		}
		for _, path := range c.no {
			assert.Falsef(t, p.Match(path), "[%s] should not reach %s", c.glob, path)
		}
	}
}

func TestByExtension(t *testing.T) {
	for glob, want := range map[string]bool{
		"*": true, "*.kt": true, "*.{kt,kts}": true, "**": true, "{*.a,*.b}": true,
		"Makefile": false, "*.test.kt": false, "src/*.kt": false, "a*.kt": false, "{*.a,b}": false,
	} {
		assert.Equal(t, want, EditorConfig(glob).ByExtension(), glob)
	}
}

func TestMatchTakesBoundedTime(t *testing.T) {
	p := EditorConfig(strings.Repeat("{*a,**b}", 12) + "c/x")
	assert.False(t, p.Match(strings.Repeat("ab", 2000)))
}

// Cases follow gitignore(5).
func TestIgnoreList(t *testing.T) {
	for _, c := range []struct {
		list string
		yes  []string
		no   []string
	}{
		{"*.log\n!keep.log", []string{"a.log", "x/b.log"}, []string{"keep.log", "a.txt"}},
		{"build/", []string{"build/x", "a/build/y"}, []string{"build"}},
		{"/build", []string{"build", "build/x"}, []string{"a/build"}},
		{"doc/*.txt", []string{"doc/a.txt"}, []string{"doc/x/a.txt", "y/doc/a.txt"}},
		{"**/foo", []string{"foo", "a/b/foo"}, []string{"foobar"}},
		{"abc/**", []string{"abc/x", "abc/x/y"}, []string{"abc", "x/abc/y"}},
		{"a/**/b", []string{"a/b", "a/x/y/b"}, []string{"ab"}},
		{"# comment\n\n\\#real", []string{"#real"}, []string{"# comment"}},
		{"\\!x", []string{"!x"}, []string{"x"}},
		{"trail   ", []string{"trail"}, []string{"trail   "}},
		{"trail\\ ", []string{"trail "}, []string{"trail"}},
		{"[^a]b", []string{"cb"}, []string{"ab"}},
		{"[[:digit:]]x", []string{"1x"}, []string{"ax"}},
		{"*.o\r\n", []string{"a.o"}, nil},
	} {
		list := ParseIgnoreList(c.list)
		for _, path := range c.yes {
			assert.Truef(t, list.Ignores(path), "%q should take out %s", c.list, path)
		}
		for _, path := range c.no {
			assert.Falsef(t, list.Ignores(path), "%q should leave %s", c.list, path)
		}
	}
}

func FuzzMatch(f *testing.F) {
	for _, s := range []string{"*.{a,b}", "[!a-]/**/x", "{1..9}", "a\\", "{{,}", "[[:]", "[[:digit:]]"} {
		f.Add(s, "a/b.c")
	}
	f.Fuzz(func(t *testing.T, glob, path string) {
		EditorConfig(glob).Match(path)
		if ig, ok := ParseIgnore(glob); ok {
			ig.Match(path)
		}
	})
}
