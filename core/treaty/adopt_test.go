package treaty

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/rule"
)

// sources are treaty files by path. What lies outside may be read but for what is
// named "secret".
func sources(files map[string]string) Sources {
	read := func(path string) ([]byte, error) {
		if text, ok := files[path]; ok {
			return []byte(text), nil
		}
		return nil, nil
	}
	return Sources{Read: read, Outside: func(path, by string) ([]byte, error) {
		if strings.Contains(path, "secret") {
			return nil, fmt.Errorf("not for %s", by)
		}
		return read(path)
	}}
}

func loaded(files map[string]string) (*Treaty, error) { return Load(sources(files)) }

func TestHouseRules(t *testing.T) {
	tr, err := loaded(map[string]string{
		"treaty.toml":          "treaty = 1\nadopts = [\"../house/treaty.toml\"]\n[[article]]\ntype = \"go\"\n  [article.style]\n  max_line_length = 120\n",
		"../house/treaty.toml": "treaty = 1\nadopts = [\"base.toml\"]\n[[article]]\ntype = \"go\"\nformatter = \"gofmt\"\n  [article.style]\n  max_line_length = 100\n",
		"../house/base.toml":   "treaty = 1\n[[article]]\ntype = \"rust\"\nformatter = \"rustfmt\"\n[[exempt]]\ntype = \"svg\"\nreason = \"drawn\"\n",
	})
	require.NoError(t, err)
	a := tr.For("go", "a.go")
	assert.Equal(t, "gofmt", a.Formatter, "what the nearest leaves unsaid")
	assert.Equal(t, rule.Number(120), a.Style["max_line_length"], "the nearest word wins")
	assert.Equal(t, "../house/base.toml", tr.For("rust", "a.rs").Path)
	assert.NotNil(t, tr.Exemption("svg"))
	_, after, err := tr.Extend(nil, map[int]map[string]rule.Value{a.Line: {"max_line_length": rule.Number(120)}})
	require.NoError(t, err)
	assert.NotContains(t, string(after), "rustfmt", "house rules are not copied")
}

func TestHouseRulesThatCannotBeRead(t *testing.T) {
	const head = "treaty = 1\nadopts = [\"a/treaty.toml\"]\n"
	for says, files := range map[string]map[string]string{
		"treaty.toml:2:1: adopts a/treaty.toml, and there is no such file":     {"treaty.toml": head},
		"adopts ../treaty.toml, which leads back here: treaty.toml adopts a/t": {"treaty.toml": head, "a/treaty.toml": "treaty = 1\nadopts = [\"../treaty.toml\"]\n"},
		"a/treaty.toml:2:1: unknown key \"articel\"":                           {"treaty.toml": head, "a/treaty.toml": "treaty = 1\narticel = 1\n"},
		"a path from this file is wanted":                                      {"treaty.toml": "treaty = 1\nadopts = [\"/etc/treaty.toml\"]\n"},
		"treaty.toml:2:1: adopts ../secret.toml: not for treaty.toml":          {"treaty.toml": "treaty = 1\nadopts = [\"../secret.toml\"]\n"},
		"a/treaty.toml:1:1: adopts ../../secret: not for a/treaty.toml":        {"treaty.toml": head, "a/treaty.toml": "adopts = [\"../../secret\"]\ntreaty = 1\n"},
		"adopts has to be a list of texts":                                     {"treaty.toml": "treaty = 1\nadopts = \"a\"\n"},
		"fail_on = \"maybe\" is none of error":                                 {"treaty.toml": "treaty = 1\n[audit]\nfail_on = \"maybe\"\n"},
		"the nearest known one is \"follow\"":                                  {"treaty.toml": "treaty = 1\n[audit]\nfolow = \"code\"\n"},
	} {
		_, err := loaded(files)
		assert.ErrorContains(t, err, says)
	}
	none, err := loaded(nil)
	assert.NoError(t, err)
	assert.Nil(t, none)
	tr, err := loaded(map[string]string{"treaty.toml": "treaty = 1\n[audit]\nfail_on = \"note\"\nfollow = \"code\"\nskip = [\"old/**\"]\n"})
	require.NoError(t, err)
	assert.Equal(t, Options{FailOn: "note", Follow: "code", Skip: []string{"old/**"}}, tr.Audit)
}

// House rules that a person names count besides the treaty's own, as the weakest word.
func TestHouseRulesOfThePerson(t *testing.T) {
	files := map[string]string{
		"../house.toml": "treaty = 1\n[[article]]\ntype = \"go\"\n  [article.style]\n  max_line_length = 100\n  indent_style = \"tab\"\n[[exempt]]\ntype = \"svg\"\nreason = \"drawn\"\n",
	}
	from := sources(files)
	from.House = "../house.toml"
	alone, err := Load(from)
	require.NoError(t, err)
	assert.Equal(t, rule.Number(100), alone.For("go", "a.go").Style["max_line_length"])
	assert.Nil(t, alone.Source(), "there is no treaty file")
	before, after, err := alone.Extend([]Article{{Type: "go", Formatter: "gofmt"}}, nil)
	require.NoError(t, err)
	assert.Nil(t, before)
	assert.NotContains(t, string(after), "100")

	files["treaty.toml"] = "treaty = 1\n[[article]]\ntype = \"go\"\n  [article.style]\n  max_line_length = 120\n"
	both, err := Load(from)
	require.NoError(t, err)
	assert.Equal(t, rule.Number(120), both.For("go", "a.go").Style["max_line_length"])
	assert.Equal(t, rule.Word("tab"), both.For("go", "a.go").Style["indent_style"])
	assert.NotNil(t, both.Exemption("svg"))
	from.House = "../none.toml"
	_, err = Load(from)
	assert.ErrorContains(t, err, "there are no house rules in ../none.toml")
}

// House rules that many others adopt are read once, however they lead to each other.
func TestHouseRulesThatAreAdoptedTwice(t *testing.T) {
	files := map[string]string{"treaty.toml": "treaty = 1\nadopts = [\"0\", \"0\"]\n"}
	for i := range 40 {
		files[fmt.Sprint(i)] = fmt.Sprintf("treaty = 1\nadopts = [\"%d\", \"./%[1]d\"]\n[[article]]\ntype = \"go\"\n", i+1)
	}
	files["40"] = "treaty = 1\n"
	tr, err := loaded(files)
	require.NoError(t, err)
	assert.Len(t, tr.House, 40)
	for i := range 200 {
		files[fmt.Sprint(i)] = fmt.Sprintf("treaty = 1\nadopts = [\"%d\"]\n", i+1)
	}
	_, err = loaded(files)
	assert.ErrorContains(t, err, "more than 100 files")
}

// A change is judged by the waivers, exemptions and options of what it starts from.
func TestJudgedBy(t *testing.T) {
	base := &Treaty{Waivers: []Waiver{{Finding: "0a0a0a0a"}}, Audit: Options{FailOn: "note"}}
	change := &Treaty{Waivers: []Waiver{{Finding: "0b0b0b0b"}}, Exempt: []Exemption{{Type: "go"}}, Audit: Options{Skip: []string{"**"}}, Articles: []Article{{Type: "rust"}}}
	got := change.JudgedBy(base)
	assert.NotNil(t, got.Waiver("0a0a0a0a", time.Time{}))
	assert.Nil(t, got.Waiver("0b0b0b0b", time.Time{}))
	assert.Nil(t, got.Exemption("go"))
	assert.Equal(t, Options{FailOn: "note"}, got.Audit)
	assert.Len(t, got.Articles, 1, "what it agrees on is its own")
	assert.False(t, change.JudgesAs(got))
	assert.True(t, base.JudgesAs(got))
	var none *Treaty
	assert.Nil(t, none.JudgedBy(nil))
	assert.True(t, none.JudgesAs(&Treaty{Articles: change.Articles}))
	assert.Empty(t, change.JudgedBy(none).Waivers)
	assert.NotNil(t, none.JudgedBy(base).Waiver("0a0a0a0a", time.Time{}))
}
