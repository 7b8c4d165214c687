package conflict_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jollytreaty/core/conflict"
	"jollytreaty/core/treaty"
)

// One wrong line is one, however many types it touches; what is waived counts apart.
func TestCount(t *testing.T) {
	of := func(cause string, severity conflict.Severity, waived bool) *conflict.Finding {
		f := &conflict.Finding{Cause: cause, Severity: severity}
		if waived {
			f.Waived = &treaty.Waiver{}
		}
		return f
	}
	n := conflict.Count([]*conflict.Finding{
		of("a", conflict.Error, false), of("a", conflict.Error, false), of("b", conflict.Error, false),
		of("c", conflict.Warning, false), of("d", conflict.Note, false), of("d", conflict.Note, false),
		of("e", conflict.Error, true), of("a", conflict.Error, true),
	})
	assert.Equal(t, conflict.Counted{Errors: 2, Warnings: 1, Notes: 1, Waived: 2}, n)
	assert.Equal(t, 4, n.All())
	assert.Zero(t, conflict.Count(nil).All())
}
