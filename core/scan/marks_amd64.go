package scan

import "golang.org/x/sys/cpu"

// markVectors marks whole blocks, at least one, with AVX2. What it returns is not 0
// where there is such a byte.
//
//go:noescape
func markVectors(columns *[16]byte, src *byte, marks *uint64, blocks int) (tabs, returns, wide uint32)

func (s *stops) markBlocks(src []byte, marks []uint64) Traits {
	if !cpu.X86.HasAVX2 {
		return s.markBytes(src, marks)
	}
	tabs, returns, wide := markVectors(&s.columns, &src[0], &marks[0], len(marks))
	return Traits{tabs != 0, returns != 0, wide != 0}
}
