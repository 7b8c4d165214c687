package settle

import (
	"context"
	"io"
	"io/fs"
	"maps"
	"slices"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
	"jollytreaty/core/tree"
)

// draftOf makes a draft over files that all are of one type, and the groups
// that the marked paths would form.
func draftOf(marked map[string]bool) (*draft, []*claim.Group) {
	goType := filetype.ByID("go")
	in, out := &claim.Group{Type: goType}, &claim.Group{Type: goType}
	p := &claim.Picture{Tree: &tree.Tree{}, Groups: []*claim.Group{in, out}}
	var paths []string
	for path := range marked {
		paths = append(paths, path)
	}
	slices.Sort(paths)
	for _, path := range paths {
		p.Tree.Files = append(p.Tree.Files, tree.File{Path: path, Type: goType})
		number := int32(1)
		if marked[path] {
			number = 0
		}
		p.GroupOf = append(p.GroupOf, number)
	}
	return newDraft(Input{Audit: &audit.Result{Picture: p}}, nil), []*claim.Group{in}
}

// Patterns for a part of the tree reach the part and nothing else of its type.
func TestPathsOf(t *testing.T) {
	for _, c := range []struct {
		name   string
		marked map[string]bool
		want   []string
	}{
		{"one folder", map[string]bool{"a/x.go": true, "a/b/y.go": true, "c.go": false}, []string{"a/**"}},
		{"a folder in a folder", map[string]bool{"a/b/x.go": true, "a/y.go": false}, []string{"a/b/**"}},
		{"two folders", map[string]bool{"a/x.go": true, "b/x.go": true, "c/x.go": false}, []string{"a/**", "b/**"}},
		{"a single file", map[string]bool{"a/x.go": true, "a/y.go": false}, []string{"a/x.go"}},
		{"a file at the root", map[string]bool{"x.go": true, "y.go": false}, []string{"x.go"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			d, groups := draftOf(c.marked)
			paths, ok := d.pathsOf(filetype.ByID("go"), groups)
			assert.True(t, ok)
			assert.Equal(t, c.want, paths)
			for path, in := range c.marked {
				reached := false
				for _, p := range paths {
					ig, _ := pattern.ParseIgnore("/" + p)
					reached = reached || ig.Match(path)
				}
				assert.Equal(t, in, reached, path)
			}
		})
	}
	scattered := map[string]bool{}
	for _, a := range "abcdefghijklmnopqrstuvwxyz" {
		scattered[string(a)+"/in.go"], scattered[string(a)+"/out.go"] = true, false
	}
	d, groups := draftOf(scattered)
	_, ok := d.pathsOf(filetype.ByID("go"), groups)
	assert.False(t, ok, "too scattered to describe")
}

func TestSectionNames(t *testing.T) {
	assert.Equal(t, "*.go", extGlob("*", []string{"go"}))
	assert.Equal(t, "*.{kt,kts}", extGlob("*", []string{"kt", "kts"}))
	assert.Equal(t, "{a,b}", braces([]string{"a", "b"}))
	for _, odd := range []string{"a[b]/x.go", "a{b}/x.go", "a*b.go", "a,b.go", "what?.go", `a\b.go`, "!x.go"} {
		name := pattern.Literal(odd)
		assert.True(t, pattern.EditorConfig(name).Match(odd), "[%s] for %s", name, odd)
	}
	assert.False(t, pattern.EditorConfig(pattern.Literal("a*b.go")).Match("axb.go"))
}

func TestSectionsThatSayTheSameAreJoined(t *testing.T) {
	four := [][2]string{{"indent_size", "4"}}
	two := [][2]string{{"indent_size", "2"}}
	got := joined([]*newSection{{"*.tf", two}, {"*.{kt,kts}", four}, {"*.tfvars", two}, {"a/**.go", two}, {"*.rs", four}})
	var names []string
	for _, s := range got {
		names = append(names, s.name)
	}
	assert.Equal(t, []string{"*.{tf,tfvars}", "*.{kt,kts,rs}", "a/**.go"}, names)
}

func TestOverlay(t *testing.T) {
	o := &overlay{FS: fstest.MapFS{"a": {Data: []byte("a")}, "b": {Data: []byte("b")}}, files: map[string][]byte{"b": []byte("other"), "c": []byte("new"), "a": nil}}
	_, err := o.Open("a")
	assert.ErrorIs(t, err, fs.ErrNotExist)
	for name, want := range map[string]string{"b": "other", "c": "new"} {
		f, err := o.Open(name)
		require.NoError(t, err)
		text, err := io.ReadAll(f)
		require.NoError(t, err)
		assert.Equal(t, want, string(text))
		info, err := f.Stat()
		require.NoError(t, err)
		assert.Equal(t, int64(len(want)), info.Size())
		assert.True(t, info.Mode().IsRegular())
		assert.Equal(t, name, info.Name())
	}
}

// A value goes into a file in that file's own words, and comes out of it again.
func TestWordsOfEveryProgram(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	tried := 0
	for _, e := range c.Entries {
		for _, q := range e.Rules {
			r := rule.ByID(q.Rule)
			for _, w := range q.From {
				place := e.Place(w.Place)
				for _, v := range values(r) {
					raw, ok := rawFor(&claim.Claim{Program: e, Rule: r, Role: q.Role, Question: q, Way: w}, w, v, place)
					path := keyPath(place, w.Key)
					if !ok || len(w.Fills) > 0 || q.Role == rule.Shows || !addable(path) || q.On != nil && q.On.Unset == "off" || place.Search == "given" {
						continue // what needs another key beside it has a case in its fixture
					}
					if doc, err := document.Parse(place.SyntaxOf(place.Files[0]), "file", nil); err != nil || !doc.Adds() {
						continue
					}
					tried++
					typeID := "yaml"
					for _, id := range slices.Concat(q.Types, e.Covers, slices.Collect(maps.Keys(e.Partial))) {
						if _, covers := e.Covering(id); covers && id != "*" && q.Concerns(id) {
							typeID = id
							break
						}
					}
					assert.True(t, readsBack(t, c, e, place, path, raw, q, v, typeID), "%s %s: %s as %v", e.ID, w.Key, v, raw)
				}
			}
		}
	}
	assert.Greater(t, tried, 60)
}

func values(r *rule.Rule) []rule.Value {
	if r.Domain.Number {
		return []rule.Value{rule.Number(3)}
	}
	var out []rule.Value
	for _, w := range r.Domain.Words {
		out = append(out, rule.Word(w))
	}
	return out
}

// readsBack writes the key into an empty settings file, audits, and compares
// the program's claim with the value.
func readsBack(t *testing.T, c *catalog.Catalog, e *catalog.Entry, place *catalog.Place, path []string, raw any, q *catalog.Question, v rule.Value, typeID string) bool {
	t.Helper()
	file := place.Files[0]
	src := []byte{}
	if place.Syntax == document.EditorConfig || place.Syntax == document.Attributes {
		path = append([]string{"*"}, path...)
	}
	if q.On != nil && len(q.On.Keys) > 0 && q.On.Unset != "on" && place.Syntax == document.YAML && q.On.Unset == "unknown" {
		src = []byte("style:\n  MaxLineLength:\n    active: true\n")
	}
	if place.When != "" || e.Bundled || e.Runs.Does == sign.Lints || q.On != nil && len(q.On.Keys) == 1 && q.On.Keys[0] == "proseWrap" {
		return true // needs another key beside it; its fixture has the case
	}
	doc, err := document.Parse(place.SyntaxOf(file), file, src)
	require.NoError(t, err)
	edit, err := doc.Add(path, raw)
	require.NoError(t, err, "%s %v", e.ID, path)
	text, err := doc.Apply([]document.Edit{edit})
	require.NoError(t, err)
	source := sample(typeID)
	files := fstest.MapFS{file: {Data: text}, source: {}}
	paths := []string{file, source}
	if len(e.Commands) > 0 { // a shared settings file alone shows nobody in play
		files["Makefile"] = &fstest.MapFile{Data: []byte("style:\n\t" + e.Commands[0] + "\n")}
		paths = append(paths, "Makefile")
	}
	r, err := audit.Run(context.Background(), files, paths, c, audit.Options{})
	require.NoError(t, err)
	for i, f := range r.Picture.Tree.Files {
		if f.Path == source {
			got := r.Picture.Groups[r.Picture.GroupOf[i]].Claim(e, q.Rule)
			return got != nil && got.Value == v
		}
	}
	return false
}

// sample is a file name of the type.
func sample(typeID string) string {
	t := filetype.ByID(typeID)
	if len(t.Extensions) == 0 || typeID == "meson" {
		return t.Names[0]
	}
	return "x" + t.Extensions[0]
}

// A plan that settles nothing may still carry the treaty's new word, and holds when
// that is written.
func TestNothingHolds(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	files := fstest.MapFS{
		".swiftformat":  {Data: []byte("--indent 2\n")},
		".swift-format": {Data: []byte("{\"indentation\": {\"spaces\": 4}}\n")},
		"a.swift":       {},
	}
	r, err := audit.Run(context.Background(), files, []string{".swift-format", ".swiftformat", "a.swift"}, c, audit.Options{})
	require.NoError(t, err)
	plan := newDraft(Input{Audit: r}, nil).nothing("it is a test")
	assert.Len(t, plan.LeftOpen, len(r.Findings))
	assert.NoError(t, plan.Holds(r))
	fewer, err := audit.Run(context.Background(), files, []string{"a.swift"}, c, audit.Options{})
	require.NoError(t, err)
	plan = newDraft(Input{Audit: fewer}, nil).nothing("it is a test")
	assert.ErrorContains(t, plan.Holds(r), "is new")
}
