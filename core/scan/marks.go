package scan

// Traits say what bytes a source has somewhere.
type Traits struct {
	Tabs    bool
	Returns bool // carriage returns
	Wide    bool // bytes that are no ASCII
}

// stops is the bytes at which a Scanner has to look twice, all of them ASCII.
type stops struct {
	kinds   [256]byte // what each can begin
	columns [16]byte  // by the lower half of a byte: the upper halves, as bits
	signs   [256]byte // what each is, as bits
}

const (
	isStop byte = 1 << iota
	isTab
	isReturn
	isWide
)

func (s *stops) prepare() {
	s.signs['\t'] |= isTab
	s.signs['\r'] |= isReturn
	for c := 0x80; c < len(s.signs); c++ {
		s.signs[c] |= isWide
	}
}

func (s *stops) set(c, kind byte) {
	s.kinds[c] |= kind
	s.columns[c&0x0f] |= 1 << (c >> 4)
	s.signs[c] |= isStop
}

// blockSize is how many bytes one mark is about.
const blockSize = 64

// mark sets a bit for each stop in src.
func (s *stops) mark(src []byte, marks []uint64) ([]uint64, Traits) {
	whole := len(src) / blockSize
	if whole >= cap(marks) {
		marks = make([]uint64, whole+whole/4+1)
	}
	marks = marks[:whole+1]
	var last [blockSize]byte
	copy(last[:], src[whole*blockSize:])
	had := s.markBlocks(last[:], marks[whole:])
	if whole > 0 {
		t := s.markBlocks(src, marks[:whole])
		had = Traits{had.Tabs || t.Tabs, had.Returns || t.Returns, had.Wide || t.Wide}
	}
	return marks, had
}

// markBytes marks byte by byte, without a branch for any of them.
func (s *stops) markBytes(src []byte, marks []uint64) Traits {
	signs, all := &s.signs, byte(0)
	for i := range marks {
		mark := uint64(0)
		for k := 0; k < blockSize; k += 8 {
			b := src[i*blockSize+k : i*blockSize+k+8 : i*blockSize+k+8]
			s0, s1, s2, s3 := signs[b[0]], signs[b[1]], signs[b[2]], signs[b[3]]
			s4, s5, s6, s7 := signs[b[4]], signs[b[5]], signs[b[6]], signs[b[7]]
			all |= s0 | s1 | s2 | s3 | s4 | s5 | s6 | s7
			eight := s0&isStop | s1&isStop<<1 | s2&isStop<<2 | s3&isStop<<3 | s4&isStop<<4 | s5&isStop<<5 | s6&isStop<<6 | s7&isStop<<7
			mark |= uint64(eight) << k
		}
		marks[i] = mark
	}
	return Traits{all&isTab != 0, all&isReturn != 0, all&isWide != 0}
}
