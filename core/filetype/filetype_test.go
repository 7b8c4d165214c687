package filetype

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestTableIsWellFormed(t *testing.T) {
	assert.GreaterOrEqual(t, Number(), 120)
	seen, ids := map[string]string{}, map[string]bool{}
	for _, list := range [][]Type{codeTypes, markupTypes, dataTypes, otherTypes} {
		last := ""
		for i := range list {
			typ := &list[i]
			assert.Equal(t, strings.ToLower(typ.ID), typ.ID)
			assert.Less(t, last, typ.ID, "they stand in order")
			last = typ.ID
			assert.False(t, ids[typ.ID], typ.ID)
			ids[typ.ID] = true
			assert.NotEmpty(t, typ.Name, typ.ID)
			shared := map[string]bool{}
			for _, s := range typ.Shared {
				shared[s.Extension] = true
			}
			for _, ext := range typ.Extensions {
				if !shared[ext] {
					assert.Empty(t, seen[ext], "%s is %s and %s", ext, seen[ext], typ.ID)
					seen[ext] = typ.ID
				}
			}
		}
	}
	for ext, d := range theTable().doubts {
		assert.Empty(t, seen[ext], "%s is shared, and somebody's own", ext)
		assert.Greater(t, len(d.claims), 1, "%s is shared by one", ext)
		for i, c := range d.claims {
			assert.Equal(t, i == len(d.claims)-1, c.expr == nil, "of %s one type has what is left", ext)
		}
	}
}

// Words that are no ids lead to the one that was meant.
func TestNotOne(t *testing.T) {
	for word, want := range map[string]string{
		"Assembly": "asm", "js": "javascript", ".kt": "kotlin", "yml": "yaml", "Kotlin": "kotlin", "C++": "cpp", "kotlim": "kotlin", "typescrpt": "typescript",
	} {
		assert.ErrorContains(t, NotOne(word), " is "+want, word)
	}
	for _, word := range []string{"", "klingon", "zz"} {
		assert.ErrorContains(t, NotOne(word), "see the ids in", word)
	}
}
