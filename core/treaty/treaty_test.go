package treaty

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/rule"
)

const sample = `# agreed in spring
treaty = 1

[[article]]
type = "go"
formatter = "tidy"
reason = "everybody has it"
  [article.style]
  indent_style = "tab" # of course
  max_line_length = 100

[[article]]
type = "go"
paths = ["legacy/**", "one.go"]

[[exempt]]
type = "svg"
reason = "exported"

[[waiver]]
finding = "a1b2c3d4"
reason = "until the other covers templates"
until = 2027-03-31
`

func parse(t *testing.T, text string) *Treaty {
	t.Helper()
	tr, err := Parse(Name, []byte(text))
	require.NoError(t, err)
	return tr
}

func TestParse(t *testing.T) {
	tr := parse(t, sample)
	require.Len(t, tr.Articles, 2)
	first := tr.Articles[0]
	assert.Equal(t, "go", first.Type)
	assert.Equal(t, "tidy", first.Formatter)
	assert.Equal(t, "everybody has it", first.Reason)
	assert.Equal(t, 4, first.Line)
	assert.Equal(t, map[string]rule.Value{"indent_style": rule.Word("tab"), "max_line_length": rule.Number(100)}, first.Style)
	assert.Equal(t, "exported", tr.Exemption("svg").Reason)
	assert.Nil(t, tr.Exemption("go"))
	assert.Equal(t, time.Date(2027, 3, 31, 0, 0, 0, 0, time.UTC), tr.Waivers[0].Until)
}

func TestLaterArticlesWinWhereTheyReach(t *testing.T) {
	tr := parse(t, sample)
	for path, line := range map[string]int{"a.go": 4, "x/one.go": 4, "one.go": 12, "legacy/a.go": 12, "legacy/x/y.go": 12, "x/legacy/a.go": 4} {
		assert.Equal(t, line, tr.For("go", path).Line, path)
	}
	assert.Nil(t, tr.For("rust", "a.rs"))
	assert.Len(t, tr.Parts(), 1, "one article is about a part of the tree")
}

func TestWaiversEnd(t *testing.T) {
	tr := parse(t, sample)
	day := func(text string) time.Time {
		d, err := time.Parse(time.DateTime, text)
		require.NoError(t, err)
		return d
	}
	assert.NotNil(t, tr.Waiver("a1b2c3d4", day("2026-01-01 00:00:00")))
	assert.NotNil(t, tr.Waiver("a1b2c3d4", day("2027-03-31 23:59:59")))
	assert.Nil(t, tr.Waiver("a1b2c3d4", day("2027-04-01 00:00:00")))
	assert.Nil(t, tr.Waiver("ffffffff", day("2026-01-01 00:00:00")))
	endless := parse(t, "treaty = 1\n[[waiver]]\nfinding = \"a1b2c3d4\"\nreason = \"r\"\n")
	assert.NotNil(t, endless.Waiver("a1b2c3d4", day("2099-01-01 00:00:00")))
}

func TestNoTreatySaysNothing(t *testing.T) {
	var none *Treaty
	assert.Nil(t, none.For("go", "a.go"))
	assert.Nil(t, none.Exemption("go"))
	assert.Nil(t, none.Waiver("a1b2c3d4", time.Now()))
	assert.Empty(t, none.Parts())
	before, after, err := none.Extend(nil, nil)
	require.NoError(t, err)
	assert.Nil(t, before)
	assert.Nil(t, after)
}

func TestExtendKeepsWhatIsThere(t *testing.T) {
	tr := parse(t, sample)
	before, after, err := tr.Extend(
		[]Article{{Type: "rust", Formatter: "ruddy", Reason: "says \"so\"", Paths: []string{"a b/**"}, Style: map[string]rule.Value{"quotes": rule.Word("double"), "insert_final_newline": rule.Word("true")}}},
		map[int]map[string]rule.Value{
			4:  {"max_line_length": rule.Number(80), "indent_size": rule.Number(4)}, // the first stays as agreed
			12: {"indent_size": rule.Number(8)},
		})
	require.NoError(t, err)
	assert.Equal(t, sample, string(before))
	assert.Equal(t, `# agreed in spring
treaty = 1

[[article]]
type = "go"
formatter = "tidy"
reason = "everybody has it"
  [article.style]
  indent_style = "tab" # of course
  max_line_length = 100
  indent_size = 4

[[article]]
type = "go"
paths = ["legacy/**", "one.go"]
  [article.style]
  indent_size = 8

[[exempt]]
type = "svg"
reason = "exported"

[[waiver]]
finding = "a1b2c3d4"
reason = "until the other covers templates"
until = 2027-03-31

[[article]]
type = "rust"
formatter = "ruddy"
reason = "says \"so\""
paths = ["a b/**"]
  [article.style]
  insert_final_newline = true
  quotes = "double"
`, string(after))
	again := parse(t, string(after))
	assert.Equal(t, rule.Number(8), again.Articles[1].Style["indent_size"])
	assert.Equal(t, "rust", again.Articles[2].Type)
	_, unchanged, err := again.Extend(nil, map[int]map[string]rule.Value{4: {"indent_size": rule.Number(2)}})
	require.NoError(t, err)
	assert.Equal(t, string(after), string(unchanged))

	braces := parse(t, "treaty = 1\n[[article]]\ntype = \"go\"\nstyle = { indent_size = 4 }\n")
	_, added, err := braces.Extend(nil, map[int]map[string]rule.Value{2: {"quotes": rule.Word("double")}})
	require.NoError(t, err)
	assert.Contains(t, string(added), `style = { indent_size = 4, quotes = "double" }`)
	dotted := parse(t, "treaty = 1\n[[article]]\ntype = \"go\"\nstyle.indent_size = 4\n")
	_, _, err = dotted.Extend(nil, map[int]map[string]rule.Value{2: {"quotes": rule.Word("double")}})
	assert.ErrorContains(t, err, "treaty.toml:2: the article cannot be added to", "and nothing is left out in silence")
}

func TestNewTreatyIsReadBack(t *testing.T) {
	var none *Treaty
	style := map[string]rule.Value{}
	for _, r := range rule.All() {
		v := rule.Number(4)
		if r.Domain.Text || r.Domain.Prose {
			v = rule.Word("2021")
		}
		if len(r.Domain.Words) > 0 {
			v = rule.Word(r.Domain.Words[0])
		}
		style[r.ID] = v
	}
	_, text, err := none.Extend([]Article{{Type: "go", Formatter: "tidy", Style: style}}, nil)
	require.NoError(t, err)
	tr := parse(t, string(text))
	assert.Equal(t, style, tr.Articles[0].Style)
}
