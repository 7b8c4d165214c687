// Package nearest finds the known word that a mistyped one was meant to be.
package nearest

// Of returns the known word closest to the given one, if it is so close that it
// was probably meant: at most two letters added, left out, changed or swapped
// in a word of six or more, one in a shorter word. Otherwise it returns "".
func Of(word string, known []string) string {
	best := Closest(word, known)
	limit := 1
	if len(word) >= 6 {
		limit = 2
	}
	if best == "" || Distance(word, best) > limit {
		return ""
	}
	return best
}

// Closest returns the known word with the least distance, the first of several.
func Closest(word string, known []string) string {
	best, least := "", int(^uint(0)>>1)
	for _, k := range known {
		if d := Distance(word, k); d < least {
			best, least = k, d
		}
	}
	return best
}

// Distance counts the letters to add, leave out, change or swap with their
// neighbour to get from one word to the other.
func Distance(a, b string) int {
	x, y := []rune(a), []rune(b)
	before, last, row := make([]int, len(y)+1), make([]int, len(y)+1), make([]int, len(y)+1)
	for j := range last {
		last[j] = j
	}
	for i := 1; i <= len(x); i++ {
		row[0] = i
		for j := 1; j <= len(y); j++ {
			cost := 1
			if x[i-1] == y[j-1] {
				cost = 0
			}
			row[j] = min(last[j]+1, row[j-1]+1, last[j-1]+cost)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				row[j] = min(row[j], before[j-2]+1)
			}
		}
		before, last, row = last, row, before
	}
	return last[len(y)]
}
