package evidence

import (
	"bytes"

	"jollytreaty/core/scan"
)

// header is the words of the comments at the top of a file.
type header struct {
	open  bool
	text  []byte
	words []byte
}

// maxHeader is how much of a header is compared, in bytes.
const maxHeader = 2000

// fewestWords is how many words a header has; less is a remark, or an instruction to
// some program.
const fewestWords = 4

func (h *header) reset() { h.open, h.text = true, h.text[:0] }

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

// hash returns a hash of the header's words, FNV-1a, with the words themselves, which
// are good until the next call; numbers, which name years, and the signs of comments
// do not count.
func (h *header) hash() (uint64, []byte) {
	words, count := h.words[:0], 0
	sum := uint64(14695981039346656037)
	for word := range bytes.FieldsSeq(h.text[:min(len(h.text), maxHeader)]) {
		word = bytes.Trim(word, "/*#-;%!<>=\"'")
		if len(word) == 0 {
			continue
		}
		words = append(append(words, word...), ' ')
		count++
		if word[0] >= '0' && word[0] <= '9' {
			continue
		}
		for _, c := range words[len(words)-len(word)-1:] {
			sum = (sum ^ uint64(c)) * 1099511628211
		}
	}
	h.words = words
	if count < fewestWords {
		return 0, nil
	}
	return sum, bytes.TrimSpace(words)
}
