package document

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every syntax has all of its behaviours: what it cannot do it refuses in words.
func TestEverySyntaxIsWhole(t *testing.T) {
	required := []string{"form", "repeats", "removal", "parse", "text", "add", "item", "lines", "key"}
	for name, s := range syntaxes {
		v := reflect.ValueOf(*s)
		for _, field := range required {
			f := v.FieldByName(field)
			require.True(t, f.IsValid(), field)
			assert.False(t, f.IsZero(), "%s has no %s", name, field)
		}
		if s.inner {
			continue
		}
		d, err := Parse(name, "empty", nil)
		if name == Code {
			assert.ErrorContains(t, err, "not read")
			continue
		}
		if err != nil {
			assert.ErrorAs(t, err, new(*SyntaxError), name)
			continue
		}
		_, err = d.Add([]string{"a", "b"}, "x")
		assert.Equal(t, !s.adds, err != nil, "%s: that it can be added to, and being added to", name)
		_, err = d.AddItem([]string{"a"}, []Member{{Key: "b", Value: "x"}})
		if !s.adds {
			assert.ErrorContains(t, err, "nothing can be added", name)
		}
	}
	for _, name := range SyntaxNames() {
		assert.NotEmpty(t, name)
		assert.True(t, name.Known())
	}
	endings := map[string]Syntax{}
	for name, s := range syntaxes {
		for _, e := range s.endings {
			assert.Empty(t, endings[e], "%s is also %s", e, name)
			endings[e] = name
		}
	}
}
