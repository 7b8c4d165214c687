package presence

import (
	"slices"
	"strconv"
	"strings"
)

// Pin says how firmly a version is said.
type Pin uint8

// The kinds of pin.
const (
	Unsaid   Pin = iota // nothing is said
	Floating            // whatever is newest: "latest", a branch
	Range               // one of several
	Exact               // one version
)

var floating = []string{"latest", "main", "master", "head", "stable", "nightly", "edge", "*", "x", "canary", "next", "trunk", "develop", "beta", "lts", "current", "any"}

// PinOf tells how firmly a version is said.
func PinOf(version string) Pin {
	v := strings.ToLower(strings.TrimSpace(version))
	switch {
	case v == "":
		return Unsaid
	case slices.Contains(floating, v):
		return Floating
	case Plain(v) != "" && (strings.HasPrefix(v, "=") || len(Plain(v)) > 3 || strings.Contains(v, ".")):
		return Exact // a number alone stands for every release that begins with it
	case isHash(v):
		return Exact
	}
	return Range
}

// isHash reports whether a version is a commit.
func isHash(v string) bool {
	return len(v) >= 7 && len(v) <= 40 && strings.Trim(v, "0123456789abcdef") == ""
}

// Plain returns a version without the signs that say it is the only one, or ""
// if it is not one version.
func Plain(version string) string {
	v := strings.TrimSpace(strings.ToLower(version))
	v = strings.TrimLeft(strings.TrimSpace(strings.TrimLeft(v, "=")), "v")
	if v == "" || v[0] < '0' || v[0] > '9' || strings.ContainsAny(v, " ,*^~<>|!") || strings.HasSuffix(v, ".x") || isHash(v) && !strings.Contains(v, ".") && len(v) >= 7 {
		return ""
	}
	return v
}

// Agrees reports whether two ways of saying a version can mean the same one.
// What is not understood agrees with everything.
func Agrees(a, b string) bool {
	x, y := Plain(a), Plain(b)
	switch {
	case x != "" && y != "":
		return sameVersion(x, y)
	case x != "" && PinOf(b) == Range:
		return within(x, b)
	case y != "" && PinOf(a) == Range:
		return within(y, a)
	}
	return true
}

// Before reports whether a version, or the lowest of a range, comes before
// another version. One that is not said does not.
func Before(version, other string) bool {
	v := numbers(strings.TrimLeft(strings.TrimSpace(version), "=<>~^! v"))
	return len(v) > 0 && order(v, numbers(other)) < 0
}

// CompareVersions orders versions by their numbers, oldest first.
func CompareVersions(a, b string) int { return slices.Compare(numbers(a), numbers(b)) }

// numbers are the leading numbers of a version.
func numbers(v string) []int {
	v, _, _ = strings.Cut(v, "+")
	var out []int
	for part := range strings.SplitSeq(v, ".") {
		digits := part
		if i := strings.IndexFunc(part, func(r rune) bool { return r < '0' || r > '9' }); i >= 0 {
			digits = part[:i]
		}
		n, err := strconv.Atoi(digits)
		if err != nil {
			break
		}
		out = append(out, n)
		if digits != part {
			break
		}
	}
	return out
}

// sameVersion compares as many numbers as both versions have: "1.59" names any
// of its releases.
func sameVersion(a, b string) bool {
	x, y := numbers(a), numbers(b)
	n := min(len(x), len(y))
	if n == len(x) && n == len(y) && n > 2 {
		return equal(x, y) && tail(a) == tail(b)
	}
	return n == 0 || equal(x[:n], y[:n])
}

// tail is what marks a version as one before a release.
func tail(v string) string {
	v, _, _ = strings.Cut(v, "+")
	_, after, _ := strings.Cut(v, "-")
	return after
}

func equal(a, b []int) bool {
	for i := range a {
		if a[i] != b[i] {
			return false
		}
	}
	return true
}

// within reports whether a version lies in a range, as far as the range is
// understood: alternatives of bounds with the usual signs.
func within(version, rng string) bool {
	v := numbers(version)
	for alternative := range strings.SplitSeq(rng, "||") {
		fields := strings.FieldsFunc(alternative, func(r rune) bool { return r == ',' || r == ' ' })
		ok := true
		for i := 0; i < len(fields); i++ {
			bound := fields[i]
			if strings.Trim(bound, "<>=~^!") == "" && i+1 < len(fields) {
				i++
				bound += fields[i]
			}
			ok = ok && bounded(v, bound)
		}
		if ok {
			return true
		}
	}
	return false
}

func bounded(v []int, bound string) bool {
	sign := bound[:len(bound)-len(strings.TrimLeft(bound, "<>=~^!"))]
	b := numbers(strings.TrimLeft(bound[len(sign):], "v"))
	if len(b) == 0 {
		return true
	}
	c := order(v, b)
	switch sign {
	case ">=":
		return c >= 0
	case ">":
		return c > 0
	case "<=":
		return c <= 0
	case "<":
		return c < 0
	case "^":
		i := 0
		for i < len(b)-1 && b[i] == 0 {
			i++
		}
		return c >= 0 && len(v) > i && equal(v[:i+1], b[:i+1])
	case "~", "~=", "~>":
		keep := min(2, len(b))
		if sign != "~" {
			keep = max(1, len(b)-1)
		}
		return c >= 0 && len(v) >= keep && equal(v[:keep], b[:keep])
	case "", "=", "==":
		n := min(len(v), len(b))
		return equal(v[:n], b[:n])
	}
	return true
}

// order compares two versions number by number; missing ones count as zero.
func order(a, b []int) int {
	for i := range max(len(a), len(b)) {
		x, y := 0, 0
		if i < len(a) {
			x = a[i]
		}
		if i < len(b) {
			y = b[i]
		}
		if x != y {
			return x - y
		}
	}
	return 0
}
