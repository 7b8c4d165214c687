package audit_test

import (
	"context"
	"fmt"
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
	"jollytreaty/core/conflict"
	"jollytreaty/core/evidence"
	"jollytreaty/internal/texttree"
)

var day = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)

func run(t *testing.T, archive *txtar.Archive) *audit.Result {
	t.Helper()
	files, paths := texttree.Files(archive.Files)
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	r, err := audit.Run(context.Background(), files, paths, c, audit.Options{Day: day, Measure: &evidence.Options{}})
	require.NoError(t, err)
	return r
}

// Each archive in testdata is a small tree. The lines of its comment that do not
// start with "#" are all the findings it has, as code, rule, type and number of
// files; gaps are only compared where the comment names their code. A tree without such
// lines is a near miss, which must stay silent.
func TestFindings(t *testing.T) {
	archives, err := filepath.Glob("testdata/*.txtar")
	require.NoError(t, err)
	found := map[conflict.Code]bool{}
	near := map[conflict.Code]int{}
	for _, path := range archives {
		t.Run(strings.TrimSuffix(filepath.Base(path), ".txtar"), func(t *testing.T) {
			text, err := os.ReadFile(path)
			require.NoError(t, err)
			archive := txtar.Parse(text)
			want, nears := []string{}, []string{}
			for line := range strings.Lines(string(archive.Comment)) {
				line = strings.TrimSpace(line)
				if code, ok := strings.CutPrefix(line, "# near "); ok {
					code, _, _ = strings.Cut(code, ":")
					near[conflict.Code(code)]++
					nears = append(nears, code)
				} else if line != "" && line[0] != '#' {
					want = append(want, line)
				}
			}
			comment := string(archive.Comment)
			alone := strings.Contains(comment, "gap/undeclared") || strings.Contains(comment, "dead/no-provider")
			got := []string{}
			r := run(t, archive)
			list := r.Findings
			if strings.Contains(comment, "dead/default") {
				list = append(list, r.Restated()...)
			}
			for _, f := range list {
				found[f.Code] = true
				if f.Code == conflict.GapUndeclared || f.Code == conflict.DeadNoProvider {
					if !alone && !strings.Contains(comment, "# brought") {
						continue // most cases hold nothing but settings
					}
				} else if f.Code.Kind() == "gap" && !strings.Contains(comment, string(f.Code)) {
					continue
				}
				ruleID, typ := "-", "-"
				if f.Rule != nil {
					ruleID = f.Rule.ID
				}
				if f.Type != nil {
					typ = f.Type.ID
				}
				got = append(got, fmt.Sprintf("%s %s %s %d", f.Code, ruleID, typ, f.Files))
				assert.NotEmpty(t, f.Message)
			}
			slices.Sort(want)
			slices.Sort(got)
			assert.Equal(t, want, got)
			for _, code := range nears {
				assert.False(t, slices.ContainsFunc(got, func(line string) bool { return strings.HasPrefix(line, code+" ") }), "it is near %s only", code)
			}
		})
	}
	for _, code := range conflict.Codes() {
		assert.True(t, found[code], "no case has %s", code)
		assert.GreaterOrEqual(t, near[code], 2, "near misses of %s", code)
	}
}

// Two checkers that no text can please, from a catalog of their own.
func TestImpossible(t *testing.T) {
	c := &catalog.Catalog{Places: &catalog.Places{}}
	for _, id := range []string{"one", "two"} {
		e, err := catalog.Decode(id, []byte(`
id = "`+id+`"
name = "`+id+`"
roles = ["linter"]
version = "1"
source = "made up"
covers = ["yaml"]
[[settings]]
files = ["`+id+`.json"]
syntax = "json"
search = "nearest"
[[rule]]
rule = "quotes"
role = "accepts"
from = [{ key = "quotes" }]
`))
		require.NoError(t, err)
		c.Entries = append(c.Entries, e)
	}
	codes := func(one, two string) (codes []conflict.Code) {
		files := fstest.MapFS{"one.json": {Data: []byte(one)}, "two.json": {Data: []byte(two)}, "a.yaml": {}}
		r, err := audit.Run(context.Background(), files, []string{"a.yaml", "one.json", "two.json"}, c, audit.Options{Day: day})
		require.NoError(t, err)
		for _, f := range r.Findings {
			if f.Code != conflict.GapNoFormatter && f.Code != conflict.DeadNoProvider {
				codes = append(codes, f.Code)
			}
		}
		return codes
	}
	assert.Equal(t, []conflict.Code{conflict.ClashImpossible}, codes(`{"quotes": "single"}`, `{"quotes": "double"}`))
	assert.Empty(t, codes(`{"quotes": "single"}`, `{"quotes": "single"}`))
	assert.Empty(t, codes(`{"quotes": "single"}`, `{"other": 1}`))
}

func TestIDsOutliveMovedLinesAndNewFiles(t *testing.T) {
	before := run(t, txtar.Parse([]byte("-- rustfmt.toml --\nnewline_style = \"Unix\"\n-- .gitattributes --\n*.rs eol=crlf\n-- a.rs --\n")))
	after := run(t, txtar.Parse([]byte("-- rustfmt.toml --\n# moved\n\nnewline_style = \"Unix\"\n-- .gitattributes --\n# too\n*.rs eol=crlf\n-- a.rs --\n-- b.rs --\n")))
	require.Equal(t, conflict.ClashWriters, before.Findings[0].Code)
	assert.Equal(t, before.Findings[0].ID, after.Findings[0].ID)
	assert.Equal(t, 2, after.Findings[0].Files)
}

func TestTreatyIsReadAndChecked(t *testing.T) {
	tree := func(treaty string) *txtar.Archive {
		return txtar.Parse([]byte("-- treaty.toml --\n" + treaty + "\n-- .swiftformat --\n--indent 4\n-- .swift-format --\n{\"indentation\": {\"spaces\": 4}}\n-- a.swift --\n"))
	}
	swift := func(r *audit.Result) audit.TypeSummary {
		i := slices.IndexFunc(r.Types, func(s audit.TypeSummary) bool { return s.Type.ID == "swift" })
		return r.Types[i]
	}
	contested := run(t, tree("treaty = 1"))
	assert.Equal(t, audit.Contested, swift(contested).Status)

	named := run(t, tree("treaty = 1\n[[article]]\ntype = \"swift\"\nformatter = \"swift-format\""))
	assert.Equal(t, audit.Settled, swift(named).Status)
	assert.Equal(t, "swift-format", swift(named).Formatter.ID)

	exempt := run(t, tree("treaty = 1\n[[exempt]]\ntype = \"swift\"\nreason = \"written by a machine\""))
	assert.Equal(t, audit.Exempt, swift(exempt).Status)

	id := contested.Findings[0].ID
	waived := run(t, tree("treaty = 1\n[[waiver]]\nfinding = \""+id+"\"\nreason = \"until summer\"\nuntil = 2026-11-24"))
	assert.NotNil(t, waived.Finding(id).Waived, "the last day still counts")
	expired := run(t, tree("treaty = 1\n[[waiver]]\nfinding = \""+id+"\"\nreason = \"until summer\"\nuntil = 2026-11-23"))
	assert.Nil(t, expired.Finding(id).Waived)

	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for says, text := range map[string]string{
		"the nearest known one is \"article\"":                 "treaty = 1\n[[articel]]\ntype = \"go\"",
		"treaty.toml:1:1":                                      "traety = 1",
		"a newer one is needed":                                "treaty = 9",
		"treaty.toml:3:1: type = klingon is no file type; see": "treaty = 1\n[[article]]\ntype = \"klingon\"",
		"the id of Assembly is asm":                            "treaty = 1\n[[exempt]]\ntype = \"assembly\"\nreason = \"x\"",
		"treaty.toml:2:3: type is missing":                     "treaty = 1\n[[exempt]]\nreason = \"x\"",
		"is no program in the catalog":                         "treaty = 1\n[[article]]\ntype = \"go\"\nformatter = \"nobody\"",
		"does not format Go":                                   "treaty = 1\n[[article]]\ntype = \"go\"\nformatter = \"rustfmt\"",
		"the nearest known one is \"quotes\"":                  "treaty = 1\n[[article]]\ntype = \"go\"\n[article.style]\nquote = \"single\"",
		"is not one of its values":                             "treaty = 1\n[[article]]\ntype = \"go\"\n[article.style]\nquotes = \"curly\"",
		"a waiver needs a reason":                              "treaty = 1\n[[waiver]]\nfinding = \"a1b2c3d4\"",
		"an exemption needs a reason":                          "treaty = 1\n[[exempt]]\ntype = \"go\"",
		"finding has to be the eight characters":               "treaty = 1\n[[waiver]]\nfinding = \"x\"\nreason = \"r\"",
	} {
		_, err := audit.Run(context.Background(), fstest.MapFS{"treaty.toml": {Data: []byte(text)}}, []string{"treaty.toml"}, c, audit.Options{Day: day})
		assert.ErrorContains(t, err, says, text)
	}
}

// Files that only a pattern tells apart are in different groups; a thousand
// that nothing tells apart are in one.
func TestGroups(t *testing.T) {
	archive := txtar.Parse([]byte("-- .editorconfig --\n[legacy/**]\nindent_size = 8\n"))
	for i := range 1000 {
		archive.Files = append(archive.Files, txtar.File{Name: fmt.Sprintf("src/%d/a.kt", i)})
	}
	archive.Files = append(archive.Files, txtar.File{Name: "legacy/x/b.kt"})
	r := run(t, archive)
	sizes := []int{}
	for _, g := range r.Picture.Groups {
		if g.Type.ID == "kotlin" {
			sizes = append(sizes, g.Files)
		}
	}
	assert.Equal(t, []int{1000, 1}, sizes)
}

func TestExplain(t *testing.T) {
	r := run(t, txtar.Parse([]byte("-- .editorconfig --\n[*]\nindent_size = 2\n[*.rs]\nindent_size = 3\n-- a.rs --\n")))
	x, ok := r.Explain("a.rs")
	require.True(t, ok)
	assert.Equal(t, "rustfmt", x.Verdict.Formatter.Program.ID)
	for _, e := range x.Rules {
		if e.Rule.ID != "indent_size" {
			continue
		}
		assert.Equal(t, "4", e.Value.String(), "what the formatter writes decides")
		require.Len(t, e.Claims, 3)
		beaten := e.Claims[2]
		line, _ := beaten.Beaten.Where.Position()
		assert.Equal(t, "2", beaten.Value.String())
		assert.Equal(t, 4, line)
	}
	_, ok = r.Explain("b.rs")
	assert.False(t, ok)
}
