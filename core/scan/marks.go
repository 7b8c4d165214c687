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
}

func (s *stops) set(c, kind byte) {
	s.kinds[c] |= kind
	s.columns[c&0x0f] |= 1 << (c >> 4)
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

// markBytes marks byte by byte.
func (s *stops) markBytes(src []byte, marks []uint64) Traits {
	var t Traits
	for i := range marks {
		mark := uint64(0)
		for k, c := range src[i*blockSize : (i+1)*blockSize] {
			if s.kinds[c] != 0 {
				mark |= 1 << k
			}
			t.Tabs = t.Tabs || c == '\t'
			t.Returns = t.Returns || c == '\r'
			t.Wide = t.Wide || c >= 0x80
		}
		marks[i] = mark
	}
	return t
}
