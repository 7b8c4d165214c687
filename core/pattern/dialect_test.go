package pattern

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestDialects(t *testing.T) {
	for _, c := range []struct {
		dialect  Dialect
		patterns []string
		path     string
		reached  bool
	}{
		{Lines, []string{"dist/"}, "a/dist/x.js", true},
		{Lines, []string{"/dist"}, "a/dist/x.js", false},
		{Lines, []string{"*.js", "!keep.js"}, "a/keep.js", false},
		{Names, []string{"*.test.{ts,tsx}"}, "a/b.test.tsx", true},
		{Names, []string{"a/*.ts"}, "b/a/c.ts", false},
		{Names, []string{"a/**/*.ts"}, "a/b/c.ts", true},
		{Paths, []string{"*.ts"}, "a/c.ts", false},
		{Paths, []string{"*.ts"}, "c.ts", true},
		{Paths, []string{"**/*.ts"}, "a/c.ts", true},
		{Paths, []string{"**/*.ts"}, "c.ts", true},
		{Paths, []string{"./src"}, "src/a/c.ts", true},
		{Paths, []string{"src/"}, "src/a/c.ts", true},
		{Paths, []string{"."}, "src/a/c.ts", true},
		{Paths, []string{"**", "!**/gen/**"}, "a/gen/c.ts", false},
		{Paths, []string{"**", "!**/gen/**"}, "a/c.ts", true},
		{Loose, []string{"build"}, "a/build/c.py", true},
		{Loose, []string{"build"}, "a/building/c.py", false},
		{Loose, []string{"a/*.py"}, "a/b/c.py", true},
		{Loose, []string{"*_pb2.py"}, "a/b/c_pb2.py", true},
		{Loose, []string{"v[!0-9]*"}, "vx/c.py", true},
		{Loose, []string{"v[!0-9]*"}, "v1/c.py", false},
		{Regexp, []string{`/(migrations|vendor)/`}, "a/migrations/c.py", true},
		{Regexp, []string{`^/a`}, "b/a", false},
		{Regexp, []string{`(`}, "anything", false},
		{Contains, []string{"/gen/"}, "a/gen/c.php", true},
		{Contains, []string{"*.blade.php"}, "a/x.blade.php", true},
		{Contains, []string{"/gen/"}, "a/c.php", false},
	} {
		assert.Equal(t, c.reached, Compile(c.dialect, c.patterns).Reaches(c.path), "%s %v %s", c.dialect, c.patterns, c.path)
	}
	assert.False(t, Compile(Paths, nil).Reaches("a"))
	assert.True(t, Compile(Names, []string{"*.js"}).ByExtension())
	assert.False(t, Compile(Paths, []string{"*.js"}).ByExtension())
	assert.False(t, Compile(Loose, []string{"*.js"}).ByExtension())
}
