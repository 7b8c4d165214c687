package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jollytreaty/core/sign"
)

func TestPlacesAreChecked(t *testing.T) {
	for _, c := range []struct {
		name, says string
		places     Places
	}{
		{"nothing", "", Places{}},
		{"whole", "", Places{
			Runs:      []*Run{{As: sign.CI, When: sign.InCI, Files: []string{"ci.sh"}, Lines: "shell"}},
			Manifests: []*Manifest{{As: sign.Lock, Ecosystem: "go", Files: []string{"go.mod"}, Item: "x"}},
			Keys:      []string{"indent(_size)?"},
		}},
		{"manifest of no ecosystem", "ecosystem, files, and either item or keys", Places{Manifests: []*Manifest{{Files: []string{"a"}, Item: "x"}}}},
		{"manifest read in two ways", "ecosystem, files, and either item or keys", Places{Manifests: []*Manifest{{As: sign.Lock, Ecosystem: "go", Files: []string{"a"}, Item: "x", Keys: []string{"y"}}}}},
		{"run without files", "as, when, files, and syntax or lines", Places{Runs: []*Run{{As: sign.CI, When: sign.InCI, Lines: "shell"}}}},
		{"run nobody can read", "as, when, files, and syntax or lines", Places{Runs: []*Run{{As: sign.CI, When: sign.InCI, Files: []string{"ci"}}}}},
		{"key that is no expression", "keys: ", Places{Keys: []string{"("}}},
	} {
		if err := c.places.check(); c.says == "" {
			assert.NoError(t, err, c.name)
		} else {
			assert.ErrorContains(t, err, c.says, c.name)
		}
	}
}
