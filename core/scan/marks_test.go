package scan

import (
	"bytes"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// However many bytes are looked at together, the marks are those of single bytes.
func TestMarks(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 5))
	for id, lang := range map[string]*Language{
		"nothing": {}, "slashes": {Lines: []string{"//"}, Blocks: [][2]string{{"/*", "*/"}}, Quotes: []Quote{{Open: "'", Close: "'"}, {Open: `"`, Close: `"`}}},
		"here": {Lines: []string{"#", ";"}, Here: "<<", Patterns: true, Quotes: []Quote{{Open: "`", Close: "`"}}},
	} {
		lang.prepare()
		for signs := range lang.stops {
			s := lang.stops[signs]
			for c := 0x80; c < 0x100; c++ {
				assert.Zero(t, s.kinds[c], "%s stops at bytes that are no ASCII", id)
			}
			src := make([]byte, random.IntN(4*blockSize))
			for i := range src {
				src[i] = byte(random.IntN(0x100))
			}
			marks, _ := s.mark(src, nil)
			for i, c := range src {
				assert.Equal(t, s.kinds[c] != 0, marks[i/blockSize]>>(i%blockSize)&1 == 1, "%s %q at %d of %d", id, c, i, len(src))
			}
			slow := make([]uint64, len(src)/blockSize)
			s.markBytes(src, slow)
			assert.Equal(t, slow, marks[:len(slow)], id)
		}
	}
}

// Traits are told of any byte, wherever it stands, by either way of marking.
func TestTraits(t *testing.T) {
	var s stops
	s.prepare()
	for _, size := range []int{1, blockSize - 1, blockSize, blockSize + 1, 5 * blockSize, 5*blockSize + 40} {
		for at := range size {
			for c, want := range map[byte]Traits{'a': {}, '\t': {Tabs: true}, '\r': {Returns: true}, 0x80: {Wide: true}, 0xff: {Wide: true}} {
				src := bytes.Repeat([]byte{'a'}, size)
				src[at] = c
				_, got := s.mark(src, nil)
				assert.Equal(t, want, got, "%q at %d of %d", c, at, size)
				if size%blockSize == 0 {
					assert.Equal(t, want, s.markBytes(src, make([]uint64, size/blockSize)), "%q at %d of %d", c, at, size)
				}
			}
		}
	}
}
