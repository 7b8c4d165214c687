package audit_test

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/core/document"
)

// bad are texts that no settings file should hold.
var bad = map[string]string{
	"nothing":         "",
	"NUL":             "a = \x00\n",
	"not UTF-8":       "a = \"\xff\xfe\"\n",
	"mark and CRLF":   "\ufeffa = 1\r\nb: 2\r\n",
	"brackets":        strings.Repeat("[", 5000),
	"braces":          strings.Repeat("{", 5000),
	"round brackets":  strings.Repeat("(", 5000),
	"elements":        strings.Repeat("<a>", 5000),
	"closing":         "}\n]\n)\n</a>\n",
	"open quotes":     "a = \"x\nb = 'y\nc = `z\n",
	"alias bomb":      "a: &a [x, x]\nb: &b [*a, *a]\nc: &c [*b, *b]\nd: [*c, *c, *nobody]\n",
	"doubled keys":    "{\"a\": 1, \"a\": 2}",
	"one long line":   strings.Repeat("a=b ", 20000),
	"only signs":      "=:=:=-->>><<<&&&***",
	"a lone value":    "42\n",
	"too large":       strings.Repeat("#", document.MaxSize+2),
	"code that loops": "while true; do :; done\nmodule.exports = require('./' + process.argv[2])\n",
}

// Whatever stands in any settings file of any program, the audit of everything
// else goes on, and every finding about it has a place.
func TestBadSettingsFiles(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	bySyntax := map[document.Syntax]string{}
	for _, e := range c.Entries {
		for _, place := range e.Settings {
			for _, name := range place.Files {
				if s := place.SyntaxOf(name); bySyntax[s] == "" && !strings.Contains(name, "*") && place.Section == "" {
					bySyntax[s] = name
				}
			}
		}
	}
	assert.Greater(t, len(bySyntax), 15, "every syntax has a program")
	for what, text := range bad {
		files := fstest.MapFS{"good/.editorconfig": {Data: []byte("[*.go]\nindent_style = tab\n")}, "good/a.go": {}, "a.go": {}, "a.py": {}, "a.js": {}, "a.c": {}}
		for _, name := range bySyntax {
			files[name] = &fstest.MapFile{Data: []byte(text)}
		}
		var paths []string
		for p := range files {
			paths = append(paths, p)
		}
		r, err := audit.Run(context.Background(), files, paths, c, audit.Options{})
		require.NoError(t, err, what)
		x, ok := r.Explain("good/a.go")
		require.True(t, ok, what)
		assert.NotEmpty(t, x.Rules, what)
		for _, f := range r.Findings {
			if f.Code == conflict.SlipUnreadable {
				require.NotEmpty(t, f.Sides, "%s: %s", what, f.Message)
				assert.Positive(t, f.Sides[0].Line, "%s: %s", what, f.Message)
				assert.Positive(t, f.Sides[0].Column, "%s: %s", what, f.Message)
			}
		}
	}
}

// The same for files that show who is in play: they are not read as settings,
// so they are passed over where they cannot be understood.
func TestBadManifests(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for what, text := range bad {
		files := fstest.MapFS{"a.go": {}}
		var paths []string
		for _, m := range c.Places.Manifests {
			files[strings.ReplaceAll(m.Files[0], "*", "x")] = &fstest.MapFile{Data: []byte(text)}
		}
		for _, run := range c.Places.Runs {
			files[strings.ReplaceAll(run.Files[0], "*", "x")] = &fstest.MapFile{Data: []byte(text)}
		}
		for p := range files {
			paths = append(paths, p)
		}
		_, err := audit.Run(context.Background(), files, paths, c, audit.Options{})
		require.NoError(t, err, what)
	}
}

// vanishing is a file system in which some files cannot be opened.
type vanishing struct {
	fstest.MapFS
	errs map[string]error
}

func (v vanishing) Open(name string) (fs.File, error) {
	if err := v.errs[name]; err != nil {
		return nil, &fs.PathError{Op: "open", Path: name, Err: err}
	}
	return v.MapFS.Open(name)
}

func (v vanishing) Stat(name string) (fs.FileInfo, error) {
	if err := v.errs[name]; err != nil {
		return nil, &fs.PathError{Op: "stat", Path: name, Err: err}
	}
	return fs.Stat(v.MapFS, name)
}

func TestFilesThatCannotBeOpened(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	files := vanishing{fstest.MapFS{".editorconfig": {}, "a/.editorconfig": {}, "b/.editorconfig": {}, "package.json": {}, "a.go": {}},
		map[string]error{".editorconfig": fs.ErrPermission, "a/.editorconfig": fs.ErrNotExist, "b/.editorconfig": errors.New("path escapes from parent"), "package.json": fs.ErrPermission}}
	r, err := audit.Run(context.Background(), files, []string{".editorconfig", "a.go", "a/.editorconfig", "b/.editorconfig", "package.json"}, c, audit.Options{})
	require.NoError(t, err)
	var got []string
	for _, f := range r.Findings {
		if f.Code == conflict.SlipUnreadable {
			got = append(got, f.Message)
		}
	}
	assert.ElementsMatch(t, []string{
		".editorconfig cannot be opened: permission denied",
		"b/.editorconfig cannot be opened: path escapes from parent",
		"package.json cannot be opened: permission denied",
	}, got)
}

// Bases that extend each other end, and the circle is told of.
func TestCircleOfBases(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	files, paths := fstest.MapFS{}, []string{"a.py"}
	files["a.py"] = &fstest.MapFile{}
	for i := range 40 {
		name := fmt.Sprintf("r%d.toml", i)
		files[name] = &fstest.MapFile{Data: fmt.Appendf(nil, "extend = \"r%d.toml\"\nline-length = %d\n", (i+1)%40, 80+i)}
		paths = append(paths, name)
	}
	files["ruff.toml"] = &fstest.MapFile{Data: []byte("extend = \"r0.toml\"\n")}
	files["b/ruff.toml"] = &fstest.MapFile{Data: []byte("extend = \"ruff.toml\"\n")}
	r, err := audit.Run(context.Background(), files, append(paths, "ruff.toml", "b/ruff.toml"), c, audit.Options{})
	require.NoError(t, err)
	circles := 0
	for _, m := range r.Picture.Missing {
		if strings.Contains(m.Hint, "circle") {
			circles++
		}
	}
	assert.Positive(t, circles)
}
