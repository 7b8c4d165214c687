// Package nearest finds the known word that a mistyped one was meant to be.
package nearest

import "unicode/utf8"

// Of returns the known word closest to the given one, if it is so close that it
// was probably meant: at most two letters added, left out, changed or swapped
// in a word of six or more, one in a shorter word. Otherwise it returns "".
func Of(word string, known []string) string {
	limit := 1
	if len(word) >= 6 {
		limit = 2
	}
	return closest(word, known, limit)
}

// Closest returns the known word with the least distance, the first of several.
func Closest(word string, known []string) string { return closest(word, known, longest) }

// longest is as far as a word is looked at, in letters, and further than any known
// word is from any other.
const longest = 100

// Within reports whether two words are at most so many letters apart.
func Within(limit int, a, b string) bool { return closest(a, []string{b}, limit) == b && b != "" }

// closest returns the first of the known words with the least distance, if that is
// not over the limit, else "". What is further away than the best so far is not
// measured to its end.
func closest(word string, known []string, limit int) string {
	x := letters(word)
	best := ""
	var rows [3][longest + 1]int
	for _, k := range known {
		if far := len(x) - utf8.RuneCountInString(k); far > limit || -far > limit {
			continue
		}
		if d := distance(x, letters(k), limit, &rows); d <= limit {
			best, limit = k, d-1
			if d == 0 {
				break
			}
		}
	}
	return best
}

// letters returns the letters of a word, as far as it is looked at.
func letters(word string) []rune {
	all := []rune(word[:min(len(word), utf8.UTFMax*longest)])
	return all[:min(len(all), longest)]
}

// distance counts the letters to add, leave out, change or swap with their
// neighbour to get from one word to the other; any number over the limit where it
// takes more.
func distance(x, y []rune, limit int, rows *[3][longest + 1]int) int {
	before, last, row := &rows[0], &rows[1], &rows[2]
	for j := range len(y) + 1 {
		last[j] = j
	}
	for i := 1; i <= len(x); i++ {
		row[0] = i
		least := i
		for j := 1; j <= len(y); j++ {
			cost := 1
			if x[i-1] == y[j-1] {
				cost = 0
			}
			d := min(last[j]+1, row[j-1]+1, last[j-1]+cost)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				d = min(d, before[j-2]+1)
			}
			row[j] = d
			least = min(least, d)
		}
		if least > limit+1 { // a swap may still bring it back by one
			return least
		}
		before, last, row = last, row, before
	}
	return last[len(y)]
}
