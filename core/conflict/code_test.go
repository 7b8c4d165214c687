package conflict

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Not quite all is not all, however near it comes.
func TestPortion(t *testing.T) {
	for want, n := range map[string][2]int{
		"all 11 Go files that tell": {11, 11}, "91 % of 11 Go files that tell": {10, 11}, "50 % of 2 Go files that tell": {1, 2},
		"99 % of 200 Go files that tell": {198, 200}, "over 99 % of 1000 Go files that tell": {999, 1000},
	} {
		assert.Equal(t, want, portion(n[0], n[1], "Go"))
	}
}
