package settle_test

import (
	"context"
	"flag"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/settle"
	"jollytreaty/core/treaty"
	"jollytreaty/demo"
	"jollytreaty/internal/texttree"
)

var day = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)

func proposing(t *testing.T, files fstest.MapFS, gather bool) (*audit.Result, *settle.Plan) {
	t.Helper()
	var paths []string
	for p := range files {
		paths = append(paths, p)
	}
	slices.Sort(paths)
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	before, err := audit.Run(context.Background(), files, paths, c, audit.Options{Day: day})
	require.NoError(t, err)
	plan, err := settle.Propose(settle.Input{FS: files, Paths: paths, Audit: before, Gather: gather})
	require.NoError(t, err)
	return before, plan
}

func propose(t *testing.T, files fstest.MapFS) (*audit.Result, *settle.Plan) {
	t.Helper()
	return proposing(t, files, false)
}

func apply(files fstest.MapFS, plan *settle.Plan) fstest.MapFS {
	after := fstest.MapFS{}
	for p, f := range files {
		after[p] = f
	}
	for _, e := range plan.Edits {
		delete(after, e.Path)
		if e.Action != settle.Delete {
			after[e.Path] = &fstest.MapFile{Data: e.After}
		}
	}
	return after
}

func codes(r *audit.Result) []string {
	var out []string
	for _, f := range r.Findings {
		if !strings.HasPrefix(string(f.Code), "gap/") {
			out = append(out, string(f.Code))
		}
	}
	return out
}

// With -update what settling changes is written into the archives, to be read in review.
var update = flag.Bool("update", false, "write what settling changes into the archives")

// Each archive in testdata holds a tree, and below "want/" every file that
// settling changes, but for the treaty, which is compared only where given. A
// line "left CODE" in the comment names a finding that stays, "leaving TEXT" how a
// rival leaves its files, and "gather" asks for things to be said once.
func TestSettle(t *testing.T) {
	archives, err := filepath.Glob("testdata/*.txtar")
	require.NoError(t, err)
	for _, path := range archives {
		t.Run(strings.TrimSuffix(filepath.Base(path), ".txtar"), func(t *testing.T) {
			text, err := os.ReadFile(path)
			require.NoError(t, err)
			archive := txtar.Parse(text)
			files, want := fstest.MapFS{}, map[string]string{}
			for _, f := range archive.Files {
				if p, ok := strings.CutPrefix(f.Name, "want/"); ok {
					want[p] = string(f.Data)
				} else {
					files[f.Name] = &fstest.MapFile{Data: f.Data}
				}
			}
			left, leaving := []string{}, []string{}
			for line := range strings.Lines(string(archive.Comment)) {
				if code, ok := strings.CutPrefix(strings.TrimSpace(line), "left "); ok {
					left = append(left, code)
				}
				if how, ok := strings.CutPrefix(strings.TrimSpace(line), "leaving "); ok {
					leaving = append(leaving, how)
				}
			}
			gather := strings.Contains(string(archive.Comment), "\ngather\n")
			_, plan := proposing(t, files, gather)
			got := map[string]string{}
			for _, e := range plan.Edits {
				if _, compared := want[e.Path]; compared || e.Path != treaty.Name {
					got[e.Path] = string(e.After)
				}
			}
			if *update {
				archive.Files = slices.DeleteFunc(archive.Files, func(f txtar.File) bool { return strings.HasPrefix(f.Name, "want/") })
				for _, p := range slices.Sorted(maps.Keys(got)) {
					archive.Files = append(archive.Files, txtar.File{Name: "want/" + p, Data: []byte(got[p])})
				}
				require.NoError(t, os.WriteFile(path, txtar.Format(archive), 0o644))
				want = got
			}
			assert.Equal(t, want, got)
			said := []string{}
			for _, a := range plan.Assignments {
				said = append(said, a.Leaving...)
			}
			slices.Sort(said)
			assert.Equal(t, leaving, slices.Compact(said))

			settled := apply(files, plan)
			again, second := proposing(t, settled, gather)
			assert.ElementsMatch(t, left, codes(again))
			assert.Empty(t, second.Edits, "settling twice changes nothing the second time")
		})
	}
}

func demoFiles() fstest.MapFS {
	files, _ := texttree.Files(demo.Files())
	return files
}

func TestSettleDemo(t *testing.T) {
	files := demoFiles()
	before, plan := propose(t, files)
	settled := apply(files, plan)
	after, second := propose(t, settled)
	assert.Empty(t, second.Edits)
	for _, f := range plan.Settles {
		assert.Nil(t, after.Finding(f.ID), f.Message)
	}
	for _, f := range after.Findings {
		if !strings.HasPrefix(string(f.Code), "gap/") {
			assert.NotNil(t, before.Finding(f.ID), "new: %s", f.Message)
		}
	}
	for _, f := range after.Findings {
		assert.NotContains(t, []string{"clash/writers", "clash/rejected", "clash/typing", "rivalry/formatters"}, string(f.Code), f.Message)
	}
	assert.Len(t, plan.LeftOpen, len(after.Findings))
	for path, f := range settled {
		for line := range strings.Lines(commentsOf(files[path])) {
			if text := strings.TrimSpace(line); strings.HasPrefix(text, "#") || strings.HasPrefix(text, "//") {
				assert.Contains(t, string(f.Data), text, "a comment of %s is gone", path)
			}
		}
	}
	for _, d := range plan.Decisions {
		assert.NotEmpty(t, d.Because, "%s %s", d.Type.ID, d.Rule.ID)
	}
}

// The values a plan decides on are those an audit then finds in effect.
func TestDecisionsAreInEffect(t *testing.T) {
	files := demoFiles()
	_, plan := propose(t, files)
	after, _ := propose(t, apply(files, plan))
	for _, d := range plan.Decisions {
		if d.Paths != nil {
			continue
		}
		for _, g := range after.Picture.Groups {
			if g.Type != d.Type {
				continue
			}
			x, ok := after.Explain(g.Examples[0])
			require.True(t, ok)
			for _, e := range x.Rules {
				if e.Rule == d.Rule && e.DecidedBy != nil {
					assert.Equal(t, d.Value, e.Value, "%s of %s", d.Rule.ID, g.Examples[0])
				}
			}
		}
	}
}

func TestScatteredPartsGetNoArticle(t *testing.T) {
	files := fstest.MapFS{".editorconfig": {Data: []byte("[odd_*.rs]\nindent_size = 2\n")}}
	for i := range 40 {
		files[fmt.Sprintf("a%d/odd_x.rs", i)] = &fstest.MapFile{}
		files[fmt.Sprintf("a%d/even.rs", i)] = &fstest.MapFile{}
	}
	_, plan := propose(t, files)
	for _, d := range plan.Decisions {
		assert.LessOrEqual(t, len(d.Paths), 16)
	}
}

func commentsOf(f *fstest.MapFile) string {
	if f == nil {
		return ""
	}
	return string(f.Data)
}
