package rule

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Value is an answer to a rule: a word, or a whole number from 1, or Unlimited.
// The zero Value is no answer. Values compare with ==.
type Value struct {
	word   string
	number int
}

// Unlimited is the number without end, where a length has no limit.
var Unlimited = Value{word: "unlimited"}

// Word returns a value out of a finite domain.
func Word(w string) Value { return Value{word: w} }

// Number returns a whole number.
func Number(n int) Value { return Value{number: n} }

// Parse reads a value of the domain as a settings file writes it.
func (d Domain) Parse(raw any) (Value, error) {
	v := Value{}
	switch x := raw.(type) {
	case bool:
		v = Word(strconv.FormatBool(x))
	case int64:
		v = Number(int(x))
		if d.Text {
			v = Word(strconv.FormatInt(x, 10))
		}
	case float64:
		if d.Text {
			v = Word(strconv.FormatFloat(x, 'f', -1, 64))
		}
	case string:
		v = Word(x)
		if d.Prose {
			v = Word(prose(x))
			if strings.ContainsAny(x, "{}$") {
				v = Value{} // parts are put in later
			}
		}
		if d.Number {
			if n, err := strconv.Atoi(x); err == nil && n > 0 {
				v = Number(n)
			}
		}
	}
	if v == (Value{}) || !d.Contains(v) {
		return Value{}, fmt.Errorf("%v is not a value here", raw)
	}
	return v, nil
}

// String lists the values in words.
func (d Domain) String() string {
	switch {
	case d.Number:
		return "a whole number from 1"
	case len(d.Words) > 0:
		return strings.Join(d.Words, ", ")
	}
	return "any text"
}

// prose is a text without what only sets it out: blanks, line breaks and the signs
// of comments.
func prose(text string) string {
	var words []string
	for _, word := range strings.Fields(text) {
		if strings.Trim(word, "/*#-;%!<>") != "" {
			words = append(words, word)
		}
	}
	return strings.Join(words, " ")
}

// IsZero reports whether v is no answer.
func (v Value) IsZero() bool { return v == Value{} }

// Int returns the number, or 0 if v is none.
func (v Value) Int() int { return v.number }

func (v Value) String() string {
	if v.number > 0 {
		return strconv.Itoa(v.number)
	}
	return v.word
}

// Plain returns the value as a document writes it: an int64, a bool or a string.
func (v Value) Plain() any {
	switch {
	case v.number > 0:
		return int64(v.number)
	case v.word == "true" || v.word == "false":
		return v.word == "true"
	}
	return v.word
}

// MarshalJSON writes numbers and truth values as such and words as strings.
func (v Value) MarshalJSON() ([]byte, error) {
	if v.IsZero() {
		return []byte("null"), nil
	}
	return json.Marshal(v.Plain())
}

// Less orders values so that every answer of the program is the same each time.
func (v Value) Less(w Value) bool {
	if v.number != w.number {
		return v.number < w.number
	}
	return v.word < w.word
}

// Set is what a program accepts: a range of whole numbers or an enumeration.
// The zero Set accepts nothing.
type Set struct {
	lo, hi int // a range when lo > 0; hi 0 is without end
	words  []Value
}

// AtMost accepts the whole numbers from 1 to n; for Unlimited, every length.
func AtMost(v Value) Set {
	if v == Unlimited {
		return Set{lo: 1}
	}
	return Set{lo: 1, hi: v.number}
}

// OneOf accepts the given values.
func OneOf(values ...Value) Set { return Set{words: values} }

// Equal reports whether both sets were made alike.
func (s Set) Equal(t Set) bool {
	return s.lo == t.lo && s.hi == t.hi && slices.Equal(s.words, t.words)
}

// Has reports whether the set holds v. An unlimited length is only in a set
// without end.
func (s Set) Has(v Value) bool {
	if s.lo > 0 {
		if v == Unlimited {
			return s.hi == 0
		}
		return v.number >= s.lo && (s.hi == 0 || v.number <= s.hi)
	}
	for _, w := range s.words {
		if w == v {
			return true
		}
	}
	return false
}

// Overlaps reports whether some value is in both sets.
func (s Set) Overlaps(t Set) bool {
	if s.lo > 0 && t.lo > 0 {
		lo := max(s.lo, t.lo)
		return (s.hi == 0 || lo <= s.hi) && (t.hi == 0 || lo <= t.hi)
	}
	if s.lo > 0 {
		s, t = t, s
	}
	for _, v := range s.words {
		if t.Has(v) {
			return true
		}
	}
	return false
}
