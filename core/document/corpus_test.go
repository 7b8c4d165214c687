package document

import (
	"bytes"
	"flag"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var corpus = flag.String("corpus", "", "folders, separated by colons, whose settings-like files are read, packed back and edited")

// bySuffix tells how settings-like files are written.
var bySuffix = []struct {
	suffix string
	syntax Syntax
}{
	{".editorconfig", EditorConfig}, {".gitattributes", Attributes}, {".gitignore", Ignores}, {".json5", JSON5}, {".json", JSONC}, {".jsonc", JSONC},
	{".yml", YAML}, {".yaml", YAML}, {".clang-format", YAML}, {".toml", TOML}, {".cfg", INI}, {".ini", INI}, {".pylintrc", INI}, {".flake8", INI},
	{".xml", XML}, {".properties", Properties}, {".prefs", Properties}, {".shellcheckrc", Properties}, {".ocamlformat", Properties}, {".conf", Blocks},
	{".hcl", Blocks}, {".dir-locals.el", Lisp}, {".edn", Lisp}, {".vimrc", Vim}, {".exrc", Vim}, {".config.js", JavaScript}, {"rc.js", JavaScript},
	{".config.mjs", JavaScript}, {".config.ts", JavaScript}, {"rc.cjs", JavaScript}, {".luacheckrc", Lua}, {".php", PHP}, {"conf.py", Python}, {".rb", Ruby},
	{".formatter.exs", Elixir}, {".swiftformat", Options}, {".perltidyrc", Options},
}

// mostEdits is how many values of one file are edited.
const mostEdits = 60

// TestCorpus reads every settings-like file below the folders given by -corpus:
// without an edit the bytes come back as they are, and a value that is set is
// read again with everything around it unchanged.
func TestCorpus(t *testing.T) {
	if *corpus == "" {
		t.Skip("no folder is given by -corpus")
	}
	read, refused, edits := map[Syntax]int{}, 0, 0
	for _, root := range filepath.SplitList(*corpus) {
		err := filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
			if err != nil || !e.Type().IsRegular() {
				return nil
			}
			i := slices.IndexFunc(bySuffix, func(s struct {
				suffix string
				syntax Syntax
			}) bool {
				return strings.HasSuffix(p, s.suffix)
			})
			if i < 0 {
				return nil
			}
			src, err := os.ReadFile(p)
			if err != nil || len(src) > 1<<18 {
				return nil
			}
			syntax := bySuffix[i].syntax
			d, err := Parse(syntax, p, src)
			if err != nil {
				refused++
				return nil
			}
			read[syntax]++
			same, err := d.Apply(nil)
			require.NoError(t, err)
			require.True(t, bytes.Equal(src, same), p)
			edits += editAll(t, d)
			return nil
		})
		require.NoError(t, err)
	}
	t.Logf("%v read, %d refused with a position, %d values edited and read back", read, refused, edits)
	assert.NotZero(t, edits)
}

// editAll sets values of the document and reads each back.
func editAll(t *testing.T, d *Document) int {
	edits := 0
	var walk func(*Node)
	walk = func(n *Node) {
		for _, item := range n.Items {
			walk(item)
		}
		edit, err := d.Set(n, "changed")
		if err != nil || edits >= mostEdits || n.Start < 0 {
			return
		}
		edits++
		after, err := d.Apply([]Edit{edit})
		require.NoError(t, err)
		again, err := Parse(d.Syntax, d.Path, after)
		if !assert.NoError(t, err, "%s: %q becomes %q", d.Path, d.Src[n.Start:n.End], edit.Text) {
			return
		}
		assert.True(t, hasScalar(again.Root, "changed"), "%s: %q becomes %q, which is not read back", d.Path, d.Src[n.Start:n.End], edit.Text)
	}
	walk(d.Root)
	return edits
}
