package pattern

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a pattern's paths start with is known where it begins with text, and ruling
// paths out by it changes no answer.
func TestPrefixes(t *testing.T) {
	for _, c := range []struct {
		glob     string
		prefixes []string
	}{
		{"a/b*.c", []string{"a/b"}},
		{"{a/**.c,b/*.d}", []string{"a/", "b/"}},
		{"{,a/}b.c", nil},
		{"*.c", nil},
		{"/{x,*}/b", nil},
		{"a{b,c}/d", []string{"a"}},
	} {
		p := EditorConfig(c.glob)
		assert.Equal(t, c.prefixes, p.prefixes, c.glob)
		free := *p
		free.prefixes = nil
		for _, path := range []string{"a/b.c", "a/bx.c", "b/x.d", "b.c", "a/b/c.c", "x/b", "ab/d", "ac/d", "ad/d", "", "a"} {
			assert.Equal(t, free.Match(path), p.Match(path), "%s on %s", c.glob, path)
		}
	}
}

// A list of lines answers for folders above a file, however it is asked.
func TestIgnoresByFolder(t *testing.T) {
	list := ParseIgnoreList("out/\n/a/b/**\n!a/b/keep\nlong/name/of/a/folder\n*.gen\n")
	for path, want := range map[string]bool{
		"out/x": true, "x/out/y/z": true, "out": false, "a/b/c/d": true, "a/c": false,
		"long/name/of/a/folder/x.c": true, "long/name/of/a/other": false, "x.gen": true, "x.gen/y": true, "y": false,
	} {
		assert.Equal(t, want, list.Ignores(path), path)
	}
}

// Matching takes no more than a path and a pattern of usual length need, and yet
// longer ones are answered.
func TestLongPaths(t *testing.T) {
	ig, ok := ParseIgnore("a/**/b/*.c")
	require.True(t, ok)
	long := "a/"
	for range 2000 {
		long += "folder/"
	}
	assert.True(t, ig.Match(long+"b/x.c"))
	assert.False(t, ig.Match(long+"b/x.d"))
}
