package rule

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
)

// small is a domain in which everything can be tried: 1 to 4 and unlimited.
var small = []Value{Number(1), Number(2), Number(3), Number(4), Unlimited}

// subsets returns every set of the small domain, and every range.
func subsets() map[string]Set {
	sets := map[string]Set{}
	for bits := range 1 << len(small) {
		var values []Value
		for i, v := range small {
			if bits&(1<<i) != 0 {
				values = append(values, v)
			}
		}
		sets[string(rune('A'+bits))] = OneOf(values...)
	}
	for i, v := range small {
		sets["at most "+small[i].String()] = AtMost(v)
	}
	return sets
}

func TestSetsAgreeWithTheirMembers(t *testing.T) {
	for nameS, s := range subsets() {
		for nameT, u := range subsets() {
			common := false
			for _, v := range small {
				common = common || s.Has(v) && u.Has(v)
			}
			assert.Equalf(t, common, s.Overlaps(u), "%s and %s", nameS, nameT)
		}
	}
}

func TestCompareOverSmallDomain(t *testing.T) {
	for _, v := range small {
		for _, w := range small {
			writers := Compare(Stance{Role: Writes, Value: v}, Stance{Role: Writes, Value: w})
			assert.Equal(t, v != w, writers == Writers)
			typing := Compare(Stance{Role: Types, Value: v}, Stance{Role: Writes, Value: w})
			assert.Equal(t, v != w, typing == Typing)
			for _, quiet := range []Role{Shows, Leaves} {
				assert.Equal(t, Together, Compare(Stance{Role: quiet, Value: v}, Stance{Role: Writes, Value: w}))
			}
		}
		for name, s := range subsets() {
			accepts := Stance{Role: Accepts, Set: s}
			assert.Equal(t, s.Has(v), Compare(Stance{Role: Writes, Value: v}, accepts) == Together, name)
			assert.Equal(t, s.Has(v), Compare(accepts, Stance{Role: Types, Value: v}) == Together, name)
			for other, u := range subsets() {
				got := Compare(accepts, Stance{Role: Accepts, Set: u})
				assert.Equal(t, !s.Overlaps(u), got == Impossible, name+" and "+other)
			}
		}
	}
}

func TestCompareDoesNotDependOnOrder(t *testing.T) {
	var stances []Stance
	for _, role := range []Role{Writes, Types, Shows, Leaves} {
		stances = append(stances, Stance{Role: role, Value: Number(1)}, Stance{Role: role, Value: Number(2)})
	}
	stances = append(stances, Stance{Role: Accepts, Set: AtMost(Number(1))}, Stance{Role: Accepts, Set: OneOf(Number(2))})
	for _, a := range stances {
		for _, b := range stances {
			assert.Equal(t, Compare(a, b), Compare(b, a), "%v %v", a, b)
		}
	}
}

func TestWidthLivesUnderAHigherLimitOnly(t *testing.T) {
	width := func(n int) Stance { return Stance{Role: Writes, Value: Number(n)} }
	limit := func(n int) Stance { return Stance{Role: Accepts, Set: AtMost(Number(n))} }
	assert.Equal(t, Together, Compare(width(100), limit(120)))
	assert.Equal(t, Rejected, Compare(width(120), limit(100)))
	assert.Equal(t, Together, Compare(limit(80), limit(120)))
}

// Every rule is tried on its own: each value of its domain parses, prints and
// compares, and a foreign one does not parse.
func TestEachRule(t *testing.T) {
	for _, r := range All() {
		t.Run(r.ID, func(t *testing.T) {
			assert.NotEmpty(t, r.Title)
			assert.NotEmpty(t, r.Sentence)
			assert.NotEqual(t, r.Example[0], r.Example[1])
			assert.Same(t, r, ByID(r.ID))
			values := []Value{}
			for _, w := range r.Domain.Words {
				values = append(values, Word(w))
			}
			if r.Domain.Number {
				values = append(values, Number(2), Number(4))
				if r.Domain.Unlimited {
					values = append(values, Unlimited)
				}
			}
			for _, v := range values {
				parsed, err := r.Domain.Parse(v.Plain())
				assert.NoError(t, err)
				assert.Equal(t, v, parsed)
				assert.NotEmpty(t, r.Phrase(v))
				for _, w := range values {
					both := Compare(Stance{Role: Writes, Value: v}, Stance{Role: Accepts, Set: OneOf(w)})
					assert.Equal(t, v == w, both == Together)
				}
			}
			for _, foreign := range []any{"sideways", int64(-1), int64(0), 1.5, nil, ""} {
				if r.Domain.Prose && foreign == "sideways" {
					continue
				}
				if _, isText := foreign.(string); r.Domain.Text && foreign != "" && (isText || foreign != nil) {
					continue
				}
				_, err := r.Domain.Parse(foreign)
				assert.Error(t, err, "%v", foreign)
			}
		})
	}
	assert.Len(t, All(), 24)
	assert.Nil(t, ByID("no_such_rule"))
}

func TestValuesInJSON(t *testing.T) {
	for want, v := range map[string]Value{
		`100`: Number(100), `"lf"`: Word("lf"), `true`: Word("true"), `"unlimited"`: Unlimited, `null`: {},
	} {
		got, err := json.Marshal(v)
		assert.NoError(t, err)
		assert.Equal(t, want, string(got))
	}
}

func TestProse(t *testing.T) {
	d := ByID("file_header").Domain
	plain, err := d.Parse("Skerry Line, all rights reserved")
	assert.NoError(t, err)
	for _, text := range []string{"// Skerry Line,\n// all rights reserved\n", "/*\n * Skerry Line, all rights reserved\n */", "# Skerry  Line, all rights reserved"} {
		v, err := d.Parse(text)
		assert.NoError(t, err)
		assert.Equal(t, plain, v, text)
	}
	other, err := d.Parse("Skerry Line")
	assert.NoError(t, err)
	assert.NotEqual(t, plain, other)
	for _, open := range []string{"{fileName}", "© ${year} Skerry Line", "//"} {
		_, err := d.Parse(open)
		assert.Error(t, err, open)
	}
}
