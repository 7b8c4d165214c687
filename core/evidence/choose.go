package evidence

import (
	"math"
	"slices"
	"strings"

	"jollytreaty/core/filetype"
	"jollytreaty/core/tree"
)

// precision is how many percentage points a share may be off at 95 % confidence;
// what is promised is two, so that hardly any of many shares is further off.
const precision = 1.5

// needed is how many of n files have to be read for that, where the share p that is
// known the least has a spread of p (1 - p), with the correction for a population
// that is not endless.
func needed(n int, spread float64) int {
	endless := spread * math.Pow(100*z/precision, 2)
	return min(n, int(math.Ceil(endless*float64(n)/(endless+float64(n)-1))))
}

// first is how many files of a type are read before it is known whether their
// shares need more: near 0 and 100 % they do not. Twice as many are read whole.
const first = tree.Few

// choose picks the files to read: for each type all, or so many that shares are
// within two points, drawn evenly over folders. The same tree always gives the
// same files.
func (s *Sample) choose(o Options) (byType map[*filetype.Type][]int) {
	byType = map[*filetype.Type][]int{}
	if o.Want == nil {
		for _, c := range s.tree.Counts() {
			if c.Type.Styled {
				byType[c.Type] = make([]int, 0, c.Files)
			}
		}
	}
	foreign, lastDir := false, "\x00"
	for i, f := range s.tree.Files {
		if !f.Type.Styled || o.Want != nil && !o.Want(f) {
			continue
		}
		if dir := f.Path[:strings.LastIndexByte(f.Path, '/')+1]; dir != lastDir {
			lastDir, foreign = dir, within(dir, o.Ignore)
		}
		if foreign || strings.Contains(f.Path, ".min.") {
			s.Foreign++
			s.left[i] = true
			continue
		}
		byType[f.Type] = append(byType[f.Type], i)
	}
	for t, files := range byType {
		s.files[t] = len(files)
	}
	return byType
}

// within reports whether a folder, or one above it, has one of the names.
func within(dir string, names []string) bool {
	for part := range strings.SplitSeq(dir, "/") {
		if slices.Contains(names, part) {
			return true
		}
	}
	return false
}
