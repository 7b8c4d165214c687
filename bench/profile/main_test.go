package main

import (
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// field is a field of a message: a text, or a number.
func field(number uint64, value any) []byte {
	switch v := value.(type) {
	case string:
		return append(binary.AppendUvarint(binary.AppendUvarint(nil, number<<3|2), uint64(len(v))), v...)
	default:
		return binary.AppendUvarint(binary.AppendUvarint(nil, number<<3), uint64(v.(int)))
	}
}

func TestPathsAreLeftOut(t *testing.T) {
	join := func(parts ...[]byte) (out []byte) {
		for _, p := range parts {
			out = append(out, p...)
		}
		return out
	}
	message := join(field(2, "/x/y is no text of the table"), field(stringTable, ""), field(stringTable, "/home/crew/a.go"), field(stringTable, "main.f"), field(9, 300))
	got, err := withoutPaths(message)
	require.NoError(t, err)
	assert.Equal(t, join(field(2, "/x/y is no text of the table"), field(stringTable, ""), field(stringTable, "a.go"), field(stringTable, "main.f"), field(9, 300)), got)
	for cut := 1; cut < len(field(stringTable, "abc")); cut++ {
		_, err := withoutPaths(field(stringTable, "abc")[:cut])
		assert.ErrorIs(t, err, errFormat)
	}
}
