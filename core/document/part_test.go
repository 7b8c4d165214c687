package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAddPart(t *testing.T) {
	under := []string{"jobs", "checks"}
	for name, c := range map[string]struct{ before, after string }{
		"empty file":        {"", "jobs:\n  checks:\n    - run: it\n      at: once\n"},
		"a comment only":    {"# jobs\n", "# jobs\njobs:\n  checks:\n    - run: it\n      at: once\n"},
		"no such key":       {"on: push\n", "on: push\njobs:\n  checks:\n    - run: it\n      at: once\n"},
		"no line break":     {"on: push", "on: push\njobs:\n  checks:\n    - run: it\n      at: once\n"},
		"half of the way":   {"jobs:\n    other: []\n\n# end\non: x\n", "jobs:\n    other: []\n    checks:\n      - run: it\n        at: once\n\n# end\non: x\n"},
		"key without value": {"jobs:\n  checks:\nz: 1\n", "jobs:\n  checks:\n    - run: it\n      at: once\nz: 1\n"},
		"empty list":        {"jobs:\n  checks: [] # none\nz: 1\n", "jobs:\n  checks: # none\n    - run: it\n      at: once\nz: 1\n"},
		"value to come":     {"jobs:\n  checks: # none\n\nz: 1\n", "jobs:\n  checks: # none\n    - run: it\n      at: once\n\nz: 1\n"},
		"empty map":         {"jobs: {}", "jobs: \n  checks:\n    - run: it\n      at: once\n"},
		"list":              {"jobs:\n  checks:\n    - a: 1\n      b: 2 # two\n\n    # three\n    - c: 3\nz: 1\n", "jobs:\n  checks:\n    - a: 1\n      b: 2 # two\n\n    # three\n    - c: 3\n    - run: it\n      at: once\nz: 1\n"},
		"list at the key":   {"jobs:\n  checks:\n  - a\n  - - b\n", "jobs:\n  checks:\n  - a\n  - - b\n  - run: it\n    at: once\n"},
		"long text last":    {"jobs:\n  checks:\n    - run: |\n        a\n\n        b\n", "jobs:\n  checks:\n    - run: |\n        a\n\n        b\n    - run: it\n      at: once\n"},
		"wide line breaks":  {"jobs:\r\n  checks:\r\n    - a\r\n", "jobs:\r\n  checks:\r\n    - a\r\n    - run: it\r\n      at: once\r\n"},
	} {
		t.Run(name, func(t *testing.T) {
			d, err := Parse(YAML, "f.yml", []byte(c.before))
			require.NoError(t, err)
			edit, err := d.AddPart(under, "- run: it\n  at: once\n")
			require.NoError(t, err)
			after, err := d.Apply([]Edit{edit})
			require.NoError(t, err)
			assert.Equal(t, c.after, string(after))
			d, err = Parse(YAML, "f.yml", after)
			require.NoError(t, err)
			added := d.Root.Get("jobs").Get("checks").Items
			assert.Equal(t, "it", added[len(added)-1].Get("run").Value)
		})
	}
	for name, before := range map[string]string{
		"flow list":    "jobs:\n  checks: [a, b]\n",
		"flow map":     "jobs: {checks: [a]}\n",
		"plain value":  "jobs:\n  checks: none\n",
		"list instead": "jobs:\n  - checks\n",
		"no map":       "- jobs\n",
		"by reference": "x: &x\n  checks:\n    - a\njobs: *x\n",
	} {
		t.Run(name, func(t *testing.T) {
			d, err := Parse(YAML, "f.yml", []byte(before))
			require.NoError(t, err)
			_, err = d.AddPart(under, "- run: it\n")
			assert.ErrorContains(t, err, "f.yml")
		})
	}
}
