package evidence

import "slices"

// maxLimits is how many line lengths are counted in each file.
const maxLimits = 24

// usual are the limits that people set, in columns.
var usual = [...]int{72, 78, 79, 80, 88, 90, 95, 99, 100, 105, 110, 115, 119, 120, 125, 130, 132, 140, 150, 160}

// limitsWith returns the usual limits and as many of others as can be counted.
func limitsWith(others []int) []int {
	out := usual[:len(usual):len(usual)]
	for _, n := range others {
		if len(out) < maxLimits && !slices.Contains(out, n) {
			out = append(out, n)
		}
	}
	return out
}

// longest is the greatest length counted by itself, in columns.
const longest = 1023

// lengths counts lines of code by their length.
type lengths struct {
	of  [longest + 1]uint32
	max int
}

func (l *lengths) count(columns int) {
	l.of[min(columns, longest)]++
	l.max = max(l.max, columns)
}

func (l *lengths) add(other *lengths) {
	for i, n := range other.of {
		l.of[i] += n
	}
	l.max = max(l.max, other.max)
}

// Lengths tells how long lines of code are, in columns.
type Lengths struct {
	Lines                 int
	Median, P95, P99, Max int
}

func (l *lengths) summary() Lengths {
	var out Lengths
	for _, n := range l.of {
		out.Lines += int(n)
	}
	at := func(share int) int { // the length that so many percent of lines keep
		seen := 0
		for columns, n := range l.of {
			if seen += int(n); n > 0 && seen*100 >= out.Lines*share {
				return columns
			}
		}
		return 0
	}
	out.Median, out.P95, out.P99, out.Max = at(50), at(95), at(99), l.max
	return out
}
