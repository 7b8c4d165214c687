package evidence

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
)

// Set is measured files out of a population.
type Set struct {
	Files int // in the population, measured or not
	Left  int // besides, that are left out: other people's, generated, too large
	Of    []*Facts
	Index []int // their positions in the tree

	limits []int // whose excess each file counts
}

// Total is how many files the set is of, those that are left out as well.
func (s Set) Total() int { return s.Files + s.Left }

// Where returns the files of the tree for which keep is true.
func (s *Sample) Where(keep func(file int) bool) Set {
	out := Set{limits: s.limits}
	next := 0
	for i := range s.tree.Files {
		measured := next < len(s.index) && s.index[next] == i
		if keep(i) {
			s.enter(&out, i)
			if measured {
				out.Of = append(out.Of, &s.facts[next])
				out.Index = append(out.Index, i)
			}
		}
		if measured {
			next++
		}
	}
	return out
}

// Partition splits the files into n sets by a number from 0 for each; those with
// another number are in none.
func (s *Sample) Partition(n int, number func(file int) int) []Set {
	out := make([]Set, n)
	for k := range out {
		out[k].limits = s.limits
	}
	next := 0
	for i := range s.tree.Files {
		measured := next < len(s.index) && s.index[next] == i
		if k := number(i); k >= 0 && k < n {
			s.enter(&out[k], i)
			if measured {
				out[k].Of = append(out[k].Of, &s.facts[next])
				out[k].Index = append(out[k].Index, i)
			}
		}
		if measured {
			next++
		}
	}
	return out
}

// enter counts a file of the tree in the set's population, or as left out.
func (s *Sample) enter(set *Set, file int) {
	if s.left[file] {
		set.Left++
	} else {
		set.Files++
	}
}

// Join returns the files of several sets.
func Join(sets ...*Set) Set {
	n := 0
	for _, s := range sets {
		n += len(s.Of)
	}
	out := Set{Of: make([]*Facts, 0, n), Index: make([]int, 0, n)}
	for _, s := range sets {
		out.Files, out.Left, out.limits = out.Files+s.Files, out.Left+s.Left, s.limits
		out.Of = append(out.Of, s.Of...)
		out.Index = append(out.Index, s.Index...)
	}
	return out
}

// Percent is a share from 0 to 1 in words; not quite all is never 100 %.
func Percent(share float64) string {
	rounded := math.Round(100 * share)
	if rounded == 100 && share < 1 {
		return "over 99 %"
	}
	return fmt.Sprintf("%.0f %%", rounded)
}

// Share is how many of the files that tell have a value.
type Share struct {
	Value rule.Value
	Files int
}

// Tally is what a set of files says about a rule.
type Tally struct {
	Rule    *rule.Rule
	Files   int // in the population
	Read    int // measured
	Telling int // of those, files that say something
	Shares  []Share
	Mixed   int // files with several values
	Neither int // files with none of the rule's values
}

// Count counts what the files of a set say about a rule. For limits a share is of
// the files that stay within it, and only the given values are counted.
func (s Set) Count(r *rule.Rule, values ...rule.Value) Tally {
	return s.CountAll([]Question{{r, values}})[0]
}

// Question is a rule to be counted, with the values that are of interest.
type Question struct {
	Rule   *rule.Rule
	Values []rule.Value
}

// CountAll is Count for several rules.
func (s Set) CountAll(questions []Question) []Tally {
	counts := make([]counting, len(questions))
	for k, q := range questions {
		counts[k] = counting{Tally: Tally{Rule: q.Rule, Files: s.Files, Read: len(s.Of)}, limits: isLimit(q.Rule.ID), by: map[rule.Value]*int{}, n: new(int)}
		for _, v := range q.Values {
			counts[k].Shares = append(counts[k].Shares, Share{Value: v})
		}
	}
	for _, f := range s.Of {
		for k := range counts {
			counts[k].add(f)
		}
	}
	out := make([]Tally, len(questions))
	for k := range counts {
		out[k] = counts[k].done()
	}
	return out
}

// counting is a tally in the making.
type counting struct {
	Tally
	limits bool
	by     map[rule.Value]*int
	last   rule.Value // most files say what the one before said
	n      *int
}

func (c *counting) add(f *Facts) {
	v, answer := f.Value(c.Rule.ID)
	if answer == Silent {
		return
	}
	c.Telling++
	switch {
	case c.limits:
		for i := range c.Shares {
			if v.Int() <= c.Shares[i].Value.Int() {
				c.Shares[i].Files++
			}
		}
	case answer == Mixed:
		c.Mixed++
	case answer == Neither:
		c.Neither++
	default:
		if v != c.last {
			if c.last, c.n = v, c.by[v]; c.n == nil {
				c.n = new(int)
				c.by[v] = c.n
			}
		}
		*c.n++
	}
}

func (c *counting) done() Tally {
	if c.limits {
		return c.Tally
	}
	c.Shares = nil
	for v, n := range c.by {
		c.Shares = append(c.Shares, Share{v, *n})
	}
	slices.SortFunc(c.Shares, func(a, b Share) int {
		if d := cmp.Compare(b.Files, a.Files); d != 0 || a.Value == b.Value {
			return d
		}
		if a.Value.Less(b.Value) {
			return -1
		}
		return 1
	})
	return c.Tally
}

// Fit returns the share of the files that tell which already are as the value
// asks, and how many tell.
func (s Set) Fit(ruleID string, v rule.Value) (share float64, telling int) {
	fit := 0
	for _, f := range s.Of {
		if fits, told := f.Fits(ruleID, v); told {
			telling++
			if fits {
				fit++
			}
		}
	}
	if telling == 0 {
		return 0, 0
	}
	return float64(fit) / float64(telling), telling
}

// Departs reports whether a file of the set clearly does otherwise than the value
// asks, where it tells. Some lines cannot be broken, so that a file keeps a limit
// of their length which but few of them exceed.
func (s Set) Departs(f *Facts, ruleID string, v rule.Value) (departs, told bool) {
	fits, told := f.Fits(ruleID, v)
	if ruleID != "max_line_length" || !told || fits {
		return !fits, told
	}
	over, counted := s.Changes(f, ruleID, v)
	return f.Lines >= 5 && over*20 > f.Lines, counted
}

// Margin is how many percentage points a share may be off at 95 % confidence; 0
// where every file was read. It is that of the share which is known the least,
// by the method of Agresti and Coull (1998), with the correction for a population
// that is not endless.
func (t Tally) Margin() float64 {
	if t.Read >= t.Files || t.Telling == 0 {
		return 0
	}
	n := float64(t.Telling)
	all := float64(t.Files) * n / float64(t.Read) // of those that tell, in proportion
	return 100 * z * math.Sqrt(t.spread()/(n+4)*max(0, all-n)/max(1, all-1))
}

// z is how many standard deviations enclose 95 % of what may come out.
const z = 1.96

// spread is p (1 - p) for the share p that is known the least.
func (t Tally) spread() float64 {
	widest := 0.0
	for _, s := range append(slices.Clip(t.Shares), Share{Files: t.Mixed}, Share{Files: t.Neither}) {
		p := (float64(s.Files) + 2) / (float64(t.Telling) + 4)
		widest = max(widest, p*(1-p))
	}
	return widest
}

// Of returns the share of a number of files, from 0 to 1.
func (t Tally) Of(files int) float64 {
	if t.Telling == 0 {
		return 0
	}
	return float64(files) / float64(t.Telling)
}

// Lengths tells how long the lines of code of a type are.
func (s *Sample) Lengths(t *filetype.Type) Lengths {
	if l := s.lengths[t]; l != nil {
		return l.summary()
	}
	return Lengths{}
}

// Files returns how many files could be measured.
func (s *Sample) Files() int {
	n := 0
	for _, files := range s.files {
		n += files
	}
	return n
}

// Measured returns how many files were measured.
func (s *Sample) Measured() int { return len(s.index) }

// Header returns the words of the header of the file at a position in the tree,
// which is read again; "" where it has none, or can no longer be read.
func (s *Sample) Header(file int) string {
	f := s.tree.Files[file]
	r := tree.NewReader(s.fsys, Window+1)
	defer r.Close()
	src, err := r.Read(f.Path)
	m := newMeter(nil)
	m.measure(&Facts{}, f.Type, src, err)
	_, words := m.heading.hash()
	return string(words)
}
