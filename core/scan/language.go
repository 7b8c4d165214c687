package scan

import "sync"

// Language is how comments and texts are written in a programming language.
type Language struct {
	Lines  []string    // what starts a comment to the end of the line
	Blocks [][2]string // what starts and ends a comment; tried before Lines
	Quotes []Quote     // longer ones first

	Starts   string // signs that may start a word
	Ends     string // signs that may end one
	Patterns bool   // slashes may enclose a regular expression

	// Here starts a here-document, HereSigns may follow it before the word that
	// ends the document; HereLower says that this word may be in lower case.
	Here      string
	HereSigns string
	HereLower bool

	// HereStrict says that the word may only be indented behind one of the signs,
	// and that blanks may stand before it where the document starts.
	HereStrict bool

	// Lone says that a comment starts where a word could, FirstOnly that it starts
	// a line.
	Lone      bool
	FirstOnly bool

	once  sync.Once
	stops [signKinds]*stops
}

// Signs says which signs a Scanner yields.
type Signs uint8

// The signs: none, brackets, or commas and semicolons, too.
const (
	NoSigns Signs = iota
	Brackets
	AllSigns
	signKinds
)

// What a byte can begin, for Scanner.
const (
	stopNewline byte = 1 << iota
	stopSign
	stopBlock // a comment of several lines
	stopLine  // a comment to the end of the line
	stopHere
	stopQuote
	stopPattern

	stopOpener = stopBlock | stopLine | stopHere | stopQuote | stopPattern
)

// prepare works out at which bytes a Scanner has to look twice.
func (l *Language) prepare() {
	l.once.Do(func() {
		for kind, signs := range [signKinds]string{NoSigns: "", Brackets: "()[]{}", AllSigns: "()[]{},;"} {
			l.stops[kind] = new(stops)
			l.stopAt(l.stops[kind], signs)
		}
		for i := range l.Quotes {
			l.Quotes[i].prepare()
		}
	})
}

func (l *Language) stopAt(s *stops, signs string) {
	s.prepare()
	s.set('\n', stopNewline)
	for i := range len(signs) {
		s.set(signs[i], stopSign)
	}
	for _, b := range l.Blocks {
		s.set(b[0][0], stopBlock)
	}
	for _, line := range l.Lines {
		s.set(line[0], stopLine)
	}
	for _, q := range l.Quotes {
		s.set(q.Open[0], stopQuote)
	}
	if l.Here != "" {
		s.set(l.Here[0], stopHere)
	}
	if l.Patterns {
		s.set('/', stopPattern)
	}
}

// Quote is one way to write a text.
type Quote struct {
	Open, Close string
	Lines       bool     // may hold line breaks
	Raw         bool     // a backslash stands for itself
	Plain       bool     // only the quote and the backslash are escaped
	Doubled     bool     // the closing quote written twice stands for itself
	Computes    []string // what starts a part that is worked out at run time
	Prefixes    []string // letters that may stand before it
	Prefixed    bool     // one of them must
	Short       bool     // holds one character or escape; else it is no quote
	Lone        bool     // opens only where a value could begin

	stops *[256]bool // bytes within it that mean something
}

func (q *Quote) prepare() {
	q.stops = new([256]bool)
	q.stops['\n'], q.stops['\\'], q.stops[q.Close[0]] = true, true, true
	for _, start := range q.Computes {
		q.stops[start[0]] = true
	}
}
