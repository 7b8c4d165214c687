//go:build !amd64

package scan

func (s *stops) markBlocks(src []byte, marks []uint64) Traits { return s.markBytes(src, marks) }
