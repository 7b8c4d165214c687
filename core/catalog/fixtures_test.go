package catalog_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
	"jollytreaty/internal/texttree"
)

// Every entry has a fixture in testdata: a small tree, and in its comment one
// expectation a line, as in
//
//	src/a.x: max_line_length writes 100 set settings.x:3
//	! src/b.x: max_line_length
//
// the second of which says that the program must claim nothing there.
func TestFixtures(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for _, e := range c.Entries {
		t.Run(e.ID, func(t *testing.T) {
			require.NoError(t, e.Known.Check())
			text, err := os.ReadFile(filepath.Join("testdata", e.ID+".txtar"))
			require.NoError(t, err, "every entry needs a fixture")
			archive := txtar.Parse(text)
			p := picture(archive, c)
			silent := 0
			for line := range strings.Lines(string(archive.Comment)) {
				line = strings.TrimSpace(line)
				if line == "" || strings.HasPrefix(line, "#") {
					continue
				}
				want, no := strings.CutPrefix(line, "! ")
				file, rest, _ := strings.Cut(want, ": ")
				fields := strings.Fields(rest)
				got := describe(p, e, file, fields[0])
				if no {
					silent++
					assert.Empty(t, got, line)
				} else {
					assert.Equal(t, strings.Join(fields[1:], " "), got, line)
				}
			}
			assert.Positive(t, silent, "needs a case of what must not be claimed")
		})
	}
}

func picture(archive *txtar.Archive, c *catalog.Catalog) *claim.Picture {
	files, paths := texttree.Files(archive.Files)
	return claim.Read(files, paths, c, claim.Options{Inside: every})
}

func every(tree.File) bool { return true }

// describe prints the claim in effect, or "" where the program claims nothing
// or leaves things as they are.
func describe(p *claim.Picture, e *catalog.Entry, file, ruleID string) string {
	for i, f := range p.Tree.Files {
		if f.Path != file {
			continue
		}
		c := p.Groups[p.GroupOf[i]].Claim(e, ruleID)
		if c == nil || c.Role == rule.Leaves {
			return ""
		}
		where := "-"
		if line, _ := c.Where.Position(); line > 0 {
			where = fmt.Sprintf("%s:%d", c.Where.Path(), line)
		}
		return fmt.Sprintf("%s %s %s %s", c.Role, c.Value, c.Basis, where)
	}
	return "no such file"
}

func TestDecodeRejects(t *testing.T) {
	good := "id = \"x\"\nname = \"X\"\nroles = [\"formatter\"]\nversion = \"1\"\nsource = \"manual\"\n"
	_, err := catalog.Decode("x.toml", []byte(good))
	require.NoError(t, err)
	for says, text := range map[string]string{
		"unknown key":       good + "colour = 1\n",
		"are needed":        "id = \"x\"\n",
		"unknown role":      strings.Replace(good, "formatter", "beautician", 1),
		"unknown file type": good + "covers = [\"klingon\"]\n",
		"no such rule":      good + "[[rule]]\nrule = \"taste\"\nrole = \"writes\"\n",
		"search is nearest, merged, root or given": good + "[[settings]]\nfiles = [\"a\"]\nsyntax = \"json\"\n",
		"no settings with id":                      good + "[[rule]]\nrule = \"quotes\"\nrole = \"writes\"\nfrom = [{ key = \"q\" }]\n",
		"default: sideways":                        good + "[[rule]]\nrule = \"quotes\"\nrole = \"writes\"\ndefault = \"sideways\"\n",
		"x.toml":                                   "id = ",
	} {
		_, err := catalog.Decode("x.toml", []byte(text))
		assert.ErrorContains(t, err, says)
	}
}
