package audit_test

import (
	"context"
	"flag"
	"io/fs"
	"maps"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/internal/texttree"
)

var trees = flag.String("trees", "", "folders to plant in besides, separated by commas")

// plants are cases, one or more for each code, that mean the same in a folder of
// a repository as at its root.
var plants = []string{
	"writers_line_endings", "rejected_default_against_default", "internal_json", "typing_formatter", "levels", "names_nested",
	"rivalry", "width_below_limit", "order_staged", "imports_recipe", "triggers_staged",
	"misplaced_nested", "slip_two_homes", "slip_missing_base", "slip_dialect", "unreadable", "unknown_key_nested", "bad_value_nested", "empty_nested", "opaque_code",
}

// Planted in a folder of a tree that is clean, a case adds exactly what it is a
// case of, and nothing else changes.
func TestPlanted(t *testing.T) {
	clean, err := filepath.Glob("testdata/clean/*.txtar")
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(clean), 5)
	for _, name := range clean {
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		files, paths := texttree.Files(txtar.Parse(text).Files)
		plantIn(t, name, files, paths, true)
	}
	for _, dir := range strings.FieldsFunc(*trees, func(r rune) bool { return r == ',' }) {
		var paths []string
		require.NoError(t, filepath.WalkDir(dir, func(p string, d os.DirEntry, err error) error {
			if err == nil && d.Name() == ".git" {
				return filepath.SkipDir
			}
			if rel, _ := filepath.Rel(dir, p); err == nil && d.Type().IsRegular() {
				paths = append(paths, filepath.ToSlash(rel))
			}
			return nil
		}))
		slices.Sort(paths)
		plantIn(t, dir, os.DirFS(dir), paths, false)
	}
}

func plantIn(t *testing.T, name string, tree fs.FS, paths []string, isClean bool) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	before, err := audit.Run(context.Background(), tree, paths, c, audit.Options{Day: day})
	require.NoError(t, err)
	had := map[string]bool{}
	for _, f := range before.Findings {
		had[f.ID] = true
		if isClean && slices.Contains([]string{"clash", "rivalry", "slip"}, f.Code.Kind()) {
			assert.Equal(t, conflict.RivalryLayout, f.Code, "%s is not clean: %s", name, f.Message)
		}
	}
	planted := map[conflict.Code]bool{}
	for _, plant := range plants {
		text, err := os.ReadFile(filepath.Join("testdata", plant+".txtar"))
		require.NoError(t, err)
		archive := txtar.Parse(text)
		var want []string
		for line := range strings.Lines(string(archive.Comment)) {
			code, _, _ := strings.Cut(strings.TrimSpace(line), " ")
			if kind := conflict.Code(code).Kind(); kind == "clash" || kind == "rivalry" || kind == "slip" {
				want = append(want, code)
			}
		}
		over := fstest.MapFS{}
		all := slices.Clone(paths)
		// A search that goes up ends here, and the tree above keeps out.
		over["planted/.editorconfig"] = &fstest.MapFile{Data: []byte("root = true\n")}
		for _, f := range archive.Files {
			p := path.Join("planted", f.Name)
			data := f.Data
			if path.Base(p) == ".editorconfig" && !strings.Contains(string(data), "root =") {
				data = append([]byte("root = true\n"), data...)
			}
			over[p] = &fstest.MapFile{Data: data}
		}
		all = slices.Sorted(slices.Values(append(all, slices.Collect(maps.Keys(over))...)))
		after, err := audit.Run(context.Background(), layered{over, tree}, all, c, audit.Options{Day: day})
		require.NoError(t, err)
		var got []string
		for _, f := range after.Findings {
			if kind := f.Code.Kind(); !had[f.ID] && (kind == "clash" || kind == "rivalry" || kind == "slip") {
				got = append(got, string(f.Code))
				planted[f.Code] = true
			}
		}
		slices.Sort(want)
		slices.Sort(got)
		assert.Equal(t, want, got, "%s planted in %s", plant, name)
	}
	for _, code := range conflict.Codes() {
		if kind := code.Kind(); kind == "clash" || kind == "rivalry" || kind == "slip" {
			assert.True(t, planted[code], "%s is not planted", code)
		}
	}
	t.Logf("%s: %d codes planted and found", name, len(planted))
}

// layered is a file system over another one.
type layered struct{ over, under fs.FS }

func (l layered) Open(name string) (fs.File, error) {
	if f, err := l.over.Open(name); err == nil {
		if info, err := f.Stat(); err == nil && !info.IsDir() {
			return f, nil
		}
		f.Close()
	}
	f, err := l.under.Open(name)
	if err != nil {
		return l.over.Open(name)
	}
	return f, nil
}
