// Package evidence measures what the code itself does: for each file, which
// value of each rule it has.
//
// A file is read once, a window of it at most, and split lightly (package scan)
// so that texts, comments and here-documents do not count as code. What cannot be
// told for a language is not said.
package evidence

import (
	"context"
	"io/fs"
	"maps"
	"runtime"
	"slices"
	"sort"
	"sync"
	"sync/atomic"

	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
)

// Window is how much of a file is looked at, in bytes. Larger files are left out
// and counted.
const Window = 1 << 20

// Options say what is measured.
type Options struct {
	All    bool                 // every file, not a sample
	Limits []int                // line lengths that are counted besides the usual ones, few
	Want   func(tree.File) bool // the files that matter; nil for all
	Ignore []string             // names of folders with other people's code

	// Progress, if it is not nil, is told now and then how many files of how many
	// were read.
	Progress func(done, of int)
}

// Skipped counts the files that were chosen and left out, by reason.
type Skipped struct {
	Large, Binary, Generated, Unreadable int
}

// Sample is the files that were measured.
type Sample struct {
	Skipped Skipped
	Foreign int // files in folders with other people's code

	fsys    fs.FS
	tree    *tree.Tree
	left    []bool                 // by position in the tree: left out
	index   []int                  // positions in the tree, ascending
	facts   []Facts                // one for each
	files   map[*filetype.Type]int // that could be chosen
	lengths map[*filetype.Type]*lengths
	limits  []int
}

// Read measures files of the tree. It stops early, with ctx's error, when ctx is
// done.
func Read(ctx context.Context, fsys fs.FS, t *tree.Tree, o Options) (*Sample, error) {
	s := &Sample{fsys: fsys, tree: t, left: make([]bool, len(t.Files)), files: map[*filetype.Type]int{}, lengths: map[*filetype.Type]*lengths{}, limits: limitsWith(o.Limits)}
	chosen := s.choose(o)
	var now []int
	for typ, files := range chosen {
		if !o.All && len(files) > 2*first {
			now = append(now, tree.Drawn(files, first)...)
			continue
		}
		now = append(now, files...)
		delete(chosen, typ)
	}
	if err := s.measure(ctx, fsys, now, o); err != nil {
		return nil, err
	}
	for range rounds {
		if now = s.more(chosen); len(now) == 0 {
			break
		}
		if err := s.measure(ctx, fsys, now, o); err != nil {
			return nil, err
		}
	}
	return s, nil
}

// rounds bounds how often more files are read than were thought to be enough, as
// shares turn out to be less clear, or files are left out.
const rounds = 3

// more are the files that have to be read besides for the shares of the types to be
// sure.
func (s *Sample) more(chosen map[*filetype.Type][]int) []int {
	var out []int
	types := slices.Collect(maps.Keys(chosen))
	sets := s.Partition(len(types), func(i int) int { return slices.Index(types, s.tree.Files[i].Type) })
	for k, typ := range types {
		want := s.wanted(sets[k])
		if want <= len(sets[k].Of) {
			delete(chosen, typ)
			continue
		}
		for _, i := range tree.Drawn(chosen[typ], want) {
			if s.Of(i) == nil && !s.left[i] {
				out = append(out, i)
			}
		}
	}
	return out
}

// wanted is how many of the set's files have to be read for every share to be
// sure, judged by those that were. Rules that few files say anything about do not
// count: their shares are printed with a margin.
func (s *Sample) wanted(set Set) int {
	most := len(set.Of)
	var questions []Question
	for _, r := range rule.All() {
		questions = append(questions, Question{r, s.common()})
	}
	for _, t := range set.CountAll(questions) {
		if t.Telling*10 >= t.Read && t.Margin() > precision { // as many have to be read as bring enough that tell
			telling := set.Files * t.Telling / t.Read
			most = max(most, needed(telling, t.spread())*t.Read/t.Telling+1)
		}
	}
	return most
}

// common are the limits by which it is judged how many files have to be read.
func (s *Sample) common() []rule.Value {
	out := []rule.Value{rule.Number(1), rule.Number(2), rule.Number(80), rule.Number(100), rule.Number(120)}
	for _, n := range s.limits[len(usual):] {
		out = append(out, rule.Number(n))
	}
	return out
}

// measure reads the files at the given positions of the tree.
func (s *Sample) measure(ctx context.Context, fsys fs.FS, index []int, o Options) error {
	if len(index) == 0 {
		return ctx.Err()
	}
	slices.Sort(index)
	all := make([]Facts, len(index))
	workers := min(runtime.GOMAXPROCS(0), len(index)/chunk+1)
	measures := make([]*meter, workers)
	var next, done atomic.Int64
	var wait sync.WaitGroup
	for w := range measures {
		m := newMeter(s.limits)
		measures[w] = m
		wait.Go(func() {
			r := tree.NewReader(fsys, Window+1)
			defer r.Close()
			for ctx.Err() == nil {
				from := int(next.Add(chunk)) - chunk
				if from >= len(all) {
					return
				}
				to := min(from+chunk, len(all))
				for i := from; i < to; i++ {
					f := s.tree.Files[index[i]]
					src, err := r.Read(f.Path)
					m.measure(&all[i], f.Type, src, err)
				}
				if n := int(done.Add(int64(to - from))); o.Progress != nil {
					o.Progress(n, len(all))
				}
			}
		})
	}
	wait.Wait()
	for _, m := range measures {
		s.merge(m)
	}
	s.keep(index, all)
	return ctx.Err()
}

// chunk is how many files a worker takes at a time; they are neighbours.
const chunk = 128

// keep adds what was measured to the sample, without the files that were left
// out.
func (s *Sample) keep(index []int, all []Facts) {
	if len(s.facts) == 0 { // in place: there may be many
		s.index, s.facts = make([]int, 0, len(index)), all[:0]
	}
	for i := range all {
		s.left[index[i]] = all[i].skipped != measured
		switch all[i].skipped {
		case tooLarge:
			s.Skipped.Large++
		case binaryFile:
			s.Skipped.Binary++
		case generated:
			s.Skipped.Generated++
		case unreadable:
			s.Skipped.Unreadable++
		default:
			s.index = append(s.index, index[i])
			s.facts = append(s.facts, all[i])
		}
	}
	if !slices.IsSorted(s.index) {
		sort.Sort(s)
	}
}

// Len, Swap and Less sort the measured files by their position.
func (s *Sample) Len() int           { return len(s.index) }
func (s *Sample) Less(i, j int) bool { return s.index[i] < s.index[j] }
func (s *Sample) Swap(i, j int) {
	s.index[i], s.index[j] = s.index[j], s.index[i]
	s.facts[i], s.facts[j] = s.facts[j], s.facts[i]
}

func (s *Sample) merge(m *meter) {
	for t, l := range m.lengths {
		if had := s.lengths[t]; had != nil {
			had.add(l)
		} else {
			s.lengths[t] = l
		}
	}
}

// On returns the sample for a later tree, of which the files that were measured are
// the same; those that are new are measured, too.
func (s *Sample) On(ctx context.Context, fsys fs.FS, t *tree.Tree) (*Sample, error) {
	out := *s
	out.fsys, out.tree, out.left = fsys, t, make([]bool, len(t.Files))
	out.index, out.facts = make([]int, 0, len(s.index)), make([]Facts, 0, len(s.facts))
	out.files, out.lengths = maps.Clone(s.files), maps.Clone(s.lengths)
	var added []int
	at, old := 0, 0
	for i, f := range t.Files {
		for old < len(s.tree.Files) && s.tree.Files[old].Path < f.Path {
			old++
		}
		for at < len(s.index) && s.tree.Files[s.index[at]].Path < f.Path {
			at++
		}
		out.left[i] = old < len(s.tree.Files) && s.tree.Files[old].Path == f.Path && s.left[old]
		switch {
		case at < len(s.index) && s.tree.Files[s.index[at]].Path == f.Path:
			out.index, out.facts = append(out.index, i), append(out.facts, s.facts[at])
		case f.Type.Styled && (old == len(s.tree.Files) || s.tree.Files[old].Path != f.Path):
			added = append(added, i)
			out.files[f.Type]++
		}
	}
	for typ, l := range out.lengths {
		copied := *l
		out.lengths[typ] = &copied
	}
	return &out, out.measure(ctx, fsys, added, Options{})
}

// Of returns what was measured of the file at a position in the tree, or nil.
func (s *Sample) Of(file int) *Facts {
	if s == nil {
		return nil
	}
	if i, found := slices.BinarySearch(s.index, file); found {
		return &s.facts[i]
	}
	return nil
}
