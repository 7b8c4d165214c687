package demo_test

import (
	"context"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/pelletier/go-toml/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/demo"
	"jollytreaty/internal/texttree"
)

// entry is a line of the answer key.
type entry struct {
	What, Code, Rule, Type, At string

	All bool // every type that the cause concerns
}

func TestAnswerKey(t *testing.T) {
	var key struct{ Planted, Silent []entry }
	text, err := os.ReadFile("key.toml")
	require.NoError(t, err)
	require.NoError(t, toml.NewDecoder(strings.NewReader(string(text))).DisallowUnknownFields().Decode(&key))
	assert.GreaterOrEqual(t, len(key.Planted), 15)
	r := auditDemo(t)
	claimed := map[*conflict.Finding]bool{}
	for _, e := range key.Planted {
		i := slices.IndexFunc(r.Findings, func(f *conflict.Finding) bool { return !claimed[f] && e.describes(f) })
		if assert.GreaterOrEqual(t, i, 0, "planted and not found: %s", e.What) {
			for _, f := range r.Findings {
				claimed[f] = claimed[f] || f == r.Findings[i] || e.All && f.Cause == r.Findings[i].Cause
			}
		}
	}
	for _, f := range r.Findings {
		assert.True(t, claimed[f], "found and not planted: %s %s", f.Code, f.Message)
	}
	for _, e := range key.Silent {
		for _, f := range r.Findings {
			assert.False(t, e.describes(f), "a near miss is found: %s", e.What)
		}
	}
}

func (e entry) describes(f *conflict.Finding) bool {
	if string(f.Code) != e.Code || e.Rule != "" && (f.Rule == nil || f.Rule.ID != e.Rule) || e.Type != "" && (f.Type == nil || f.Type.ID != e.Type) {
		return false
	}
	return e.At == "" || slices.ContainsFunc(f.Sides, func(s conflict.Side) bool {
		return s.Path == e.At || fmt.Sprintf("%s:%d", s.Path, s.Line) == e.At
	})
}

func auditDemo(t *testing.T) *audit.Result {
	files, paths := texttree.Files(demo.Files())
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	r, err := audit.Run(context.Background(), files, paths, c, audit.Options{Day: time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)})
	require.NoError(t, err)
	return r
}

func TestSizeOfTheDemo(t *testing.T) {
	r := auditDemo(t)
	assert.GreaterOrEqual(t, len(r.Picture.Tree.Files), 80)
	assert.LessOrEqual(t, len(r.Picture.Tree.Files), 300)
	assert.GreaterOrEqual(t, len(r.Picture.Files), 10)
	for _, id := range []string{"kotlin", "swift", "rust", "go", "terraform", "yaml", "toml", "markdown", "shellscript"} {
		assert.True(t, slices.ContainsFunc(r.Types, func(s audit.TypeSummary) bool { return s.Type.ID == id }), id)
	}
}
