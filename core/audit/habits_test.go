package audit_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"jollytreaty/core/audit"
	"jollytreaty/core/rule"
	"jollytreaty/internal/texttree"
)

// harbours is a tree of two folders with habits of their own.
func harbours() *txtar.Archive {
	var b strings.Builder
	for i := range 6 {
		fmt.Fprintf(&b, "-- north/a%d.js --\n// Skerry Line, all rights reserved\nif (a) {\n\tb('x');\n}\n", i)
	}
	for i := range 12 {
		fmt.Fprintf(&b, "-- south/a%d.js --\nif (a) {\n  b(\"x\");\n}\n", i)
	}
	b.WriteString("-- south/odd.js --\nif (a) {\n\treturn 'x'\n}\n-- north/b.py --\nif a:\n    b\n")
	return txtar.Parse([]byte(b.String()))
}

func every(int) bool { return true }

func habit(t *testing.T, h audit.Habits, id string) audit.Habit {
	t.Helper()
	for _, one := range h.Rules {
		if one.Rule.ID == id {
			return one
		}
	}
	require.Fail(t, "no habit", id)
	return audit.Habit{}
}

func TestHabits(t *testing.T) {
	r := run(t, harbours())
	all := r.Habits(every, func(*rule.Rule) bool { return true })
	require.Len(t, all, 2)
	scripts := all[0]
	assert.Equal(t, "javascript", scripts.Type.ID)
	assert.Equal(t, 19, scripts.Set.Files)

	style := habit(t, scripts, "indent_style")
	assert.Equal(t, rule.Word("space"), style.Shares[0].Value)
	assert.Equal(t, 12, style.Shares[0].Files)
	require.Len(t, style.Folders, 2)
	assert.Equal(t, "south", style.Folders[0].Folder)
	assert.Equal(t, rule.Word("space"), style.Folders[0].Value)
	assert.InDelta(t, 12.0/13, style.Folders[0].Share, 0.001)
	assert.Equal(t, "north", style.Folders[1].Folder)

	header := habit(t, scripts, "file_header")
	require.Len(t, header.Headers, 1)
	assert.Equal(t, "Skerry Line, all rights reserved", header.Headers[0].Text)
	assert.Equal(t, 6, header.Headers[0].Files)

	require.NotEmpty(t, scripts.Differ)
	assert.Equal(t, "south/odd.js", scripts.Differ[0].Path, "it differs in the most rules")

	north := r.Habits(func(i int) bool { return strings.HasPrefix(r.Picture.Tree.Files[i].Path, "north/") }, func(ru *rule.Rule) bool { return ru.ID == "quotes" })
	require.Len(t, north, 1, "nothing to say of a type is nothing")
	assert.Equal(t, rule.Word("single"), north[0].Rules[0].Shares[0].Value)
	assert.Empty(t, north[0].Rules[0].Folders, "they agree")
}

func TestCost(t *testing.T) {
	archive := harbours()
	r := run(t, archive)
	files, _ := texttree.Files(archive.Files)
	costs := r.Cost(files, rule.ByID("quotes"), rule.Word("double"), every)
	require.Len(t, costs, 1)
	c := costs[0]
	assert.True(t, c.Certain)
	assert.Equal(t, []int{19, 7, 7}, []int{c.Telling, c.Files, c.Lines})
	require.Len(t, c.Excerpts, 3, "three are enough")
	assert.Equal(t, audit.Excerpt{Path: "north/a0.js", Line: 3, Before: []string{"\tb('x');\n"}, After: []string{"\tb(\"x\");\n"}}, c.Excerpts[0])

	ends := r.Cost(files, rule.ByID("statement_terminator"), rule.Word("always"), every)
	assert.False(t, ends[0].Certain, "what a formatter does is up to it")
	same := r.Cost(files, rule.ByID("end_of_line"), rule.Word("lf"), every)
	for _, c := range same {
		assert.Zero(t, c.Files)
	}
}

func TestWeightsStandBesideTheSides(t *testing.T) {
	r := run(t, txtar.Parse([]byte(`-- rustfmt.toml --
max_width = 100
-- .editorconfig --
[*.rs]
max_line_length = 40
-- a.rs --
fn a() { let harbour = sailing_from_the_outer_skerries(); }
-- b.rs --
fn b() {}
`)))
	for _, f := range r.Findings {
		if f.Rule != nil && f.Rule.ID == "max_line_length" {
			require.Len(t, f.Evidence, 2)
			for _, w := range f.Evidence {
				assert.Equal(t, 2, w.Files)
				assert.InDelta(t, map[int]float64{100: 1, 40: 0.5}[w.Value.Int()], w.Share, 0.001)
			}
			return
		}
	}
	require.Fail(t, "the clash was not found")
}
