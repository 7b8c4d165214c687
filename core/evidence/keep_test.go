package evidence

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Headers that differ in the year alone are one, and the same text stands for it
// whoever comes first.
func TestOneTextForAHeader(t *testing.T) {
	for _, order := range [][]string{{"Copyright 2017", "Copyright 2016"}, {"Copyright 2016", "Copyright 2017"}} {
		headers := map[uint64]string{}
		for _, text := range order {
			keepHeader(headers, 7, text)
		}
		assert.Equal(t, map[uint64]string{7: "Copyright 2016"}, headers)
	}
}
