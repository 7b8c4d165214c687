package treaty

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/rule"
)

func loaded(files map[string]string) (*Treaty, error) {
	return Load(func(path string) ([]byte, error) {
		if text, ok := files[path]; ok {
			return []byte(text), nil
		}
		return nil, nil
	})
}

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
	_, after := tr.Extend(nil, map[int]map[string]rule.Value{a.Line: {"max_line_length": rule.Number(120)}})
	assert.NotContains(t, string(after), "rustfmt", "house rules are not copied")
}

func TestHouseRulesThatCannotBeRead(t *testing.T) {
	const head = "treaty = 1\nadopts = [\"a/treaty.toml\"]\n"
	for says, files := range map[string]map[string]string{
		"treaty.toml:2:1: adopts a/treaty.toml, and there is no such file":     {"treaty.toml": head},
		"adopts ../treaty.toml, which leads back here: treaty.toml adopts a/t": {"treaty.toml": head, "a/treaty.toml": "treaty = 1\nadopts = [\"../treaty.toml\"]\n"},
		"a/treaty.toml:2:1: unknown key \"articel\"":                           {"treaty.toml": head, "a/treaty.toml": "treaty = 1\narticel = 1\n"},
		"a path from this file is wanted":                                      {"treaty.toml": "treaty = 1\nadopts = [\"/etc/treaty.toml\"]\n"},
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
