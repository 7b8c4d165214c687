package presence

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/document"
)

// A version may stand in another section, as a key of its own or as a requirement, whose
// name is then the key.
func TestVersionsOfAnotherSection(t *testing.T) {
	doc, err := document.Parse("ini", "tox.ini", []byte("[pins]\nquay==2.1\npier = 3.0\nwide=>=4\n[other]\nquay==5\n"))
	require.NoError(t, err)
	for text, want := range map[string]string{
		"=={[pins]quay}":         "==2.1",
		"=={[pins]pier}":         "==3.0",
		"=={[other]quay}":        "==5",
		">={[pins]pier},<4":      ">=3.0,<4",
		"==1.0":                  "==1.0",
		"":                       "",
		"=={[pins]none}":         "=={[pins]none}",
		"=={[none]quay}":         "=={[none]quay}",
		"=={[pins]}":             "=={[pins]}",
		"{posargs:a}":            "{posargs:a}",
		"{[pins]quay}{[pins]qu}": "2.1{[pins]qu}",
	} {
		assert.Equal(t, want, referred(doc.Root, text), text)
	}
}
