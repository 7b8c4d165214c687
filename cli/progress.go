package cli

import (
	"fmt"
	"os"
	"strings"
	"sync/atomic"
	"time"

	"golang.org/x/term"
)

// patience is how long a run may take before it shows how far it is.
const patience = 500 * time.Millisecond

// progress returns what shows on a terminal how many files of how many were read,
// or nil where nobody watches.
func (s *session) progress() func(done, of int) {
	f, ok := s.err.(*os.File)
	if !ok || !term.IsTerminal(int(f.Fd())) || s.quiet {
		return nil
	}
	began := time.Now()
	var last atomic.Int64 // milliseconds since it began
	return func(done, of int) {
		now := time.Since(began).Milliseconds()
		had := last.Load()
		if now < patience.Milliseconds() || now-had < 80 || !last.CompareAndSwap(had, now) {
			return
		}
		const width = 24
		full := width * done / max(of, 1)
		fmt.Fprintf(f, "\r%s%s %d of %d files read", strings.Repeat("#", full), strings.Repeat(".", width-full), done, of)
		s.drawn.Store(true)
	}
}

// progressDone takes the line of progress away.
func (s *session) progressDone() {
	if s.drawn.Swap(false) {
		fmt.Fprintf(s.err, "\r%s\r", strings.Repeat(" ", 70))
	}
}
