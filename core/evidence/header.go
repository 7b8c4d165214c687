package evidence

import (
	"bytes"
	"hash/fnv"

	"jollytreaty/core/scan"
)

// header is the words of the comments at the top of a file.
type header struct {
	open bool
	text []byte
	end  int
}

// maxHeader is how much of a header is compared, in bytes.
const maxHeader = 2000

// fewestWords is how many words a header has; less is a remark, or an instruction to
// some program.
const fewestWords = 4

func (h *header) reset() { h.open, h.text, h.end = true, h.text[:0], 0 }

// add takes a comment to it.
func (h *header) add(src []byte, span scan.Span) {
	comment := src[span.Start:span.End]
	if bytes.HasPrefix(comment, []byte("#!")) {
		return
	}
	if len(h.text) < maxHeader {
		h.text = append(append(h.text, comment...), '\n')
	}
}

// close ends the header at a blank line behind it.
func (h *header) close(within bool) {
	if len(h.text) > 0 && !within {
		h.open = false
	}
}

// shut ends it at the first code.
func (h *header) shut() { h.open = false }

// hash returns a hash of the header's words, with the words themselves; numbers,
// which name years, and the signs of comments do not count.
func (h *header) hash() (uint64, string) {
	var words []byte
	sum := fnv.New64a()
	for _, word := range bytes.Fields(h.text[:min(len(h.text), maxHeader)]) {
		word = bytes.Trim(word, "/*#-;%!<>=\"'")
		if len(word) == 0 {
			continue
		}
		words = append(append(words, word...), ' ')
		if word[0] >= '0' && word[0] <= '9' {
			continue
		}
		sum.Write(word)
		sum.Write([]byte{' '})
	}
	if bytes.Count(words, []byte{' '}) < fewestWords {
		return 0, ""
	}
	return sum.Sum64(), string(bytes.TrimSpace(words))
}
