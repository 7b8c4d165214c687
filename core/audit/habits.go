package audit

import (
	"cmp"
	"path"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/evidence"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// Habits is what the code of one file type does.
type Habits struct {
	Type    *filetype.Type
	Set     evidence.Set
	Rules   []Habit
	Lengths evidence.Lengths // of the type, over all of the repository
	Differ  []Departure      // the files that differ most from the others
}

// Habit is what the code of a type does about one rule.
type Habit struct {
	evidence.Tally
	Folders []FolderHabit // where folders differ, each with a habit of its own
	Headers []HeaderShare // of a file header: the texts, most files first
}

// FolderHabit is the habit of the files below a folder.
type FolderHabit struct {
	Folder string
	Value  rule.Value
	Share  float64 // of the files that tell
	Files  int     // that tell
}

// HeaderShare is a text that files begin with.
type HeaderShare struct {
	Text  string
	Files int
}

// Departure is a file with the rules in which it differs from most files of its
// type.
type Departure struct {
	Path  string
	Rules []*rule.Rule
}

// shown are the limits that shares are given for.
var shown = map[string][]rule.Value{
	"max_line_length":     {rule.Number(80), rule.Number(100), rule.Number(120)},
	"comment_line_length": {rule.Number(72), rule.Number(80), rule.Number(100)},
	"blank_lines":         {rule.Number(1), rule.Number(2)},
}

// most is the share from which on a value counts as the habit of files.
const most = 0.6

// Habits returns what the code does, by type, most files first. Keep chooses the
// files, by their position in the tree, and only the rules for which want is true
// are counted.
func (r *Result) Habits(keep func(file int) bool, want func(*rule.Rule) bool) []Habits {
	var types []*filetype.Type
	number := map[*filetype.Type]int{}
	for _, count := range r.Picture.Tree.Counts() {
		if count.Type.Styled {
			number[count.Type] = len(types)
			types = append(types, count.Type)
		}
	}
	files := r.Picture.Tree.Files
	sets := r.Evidence.Partition(len(types), func(i int) int {
		if n, ok := number[files[i].Type]; ok && keep(i) {
			return n
		}
		return -1
	})
	all := make([]Habits, len(types))
	var wait sync.WaitGroup
	for k := range types {
		wait.Go(func() { all[k] = r.habits(types[k], sets[k], want) })
	}
	wait.Wait()
	return slices.DeleteFunc(all, func(h Habits) bool { return len(h.Rules) == 0 })
}

func (r *Result) habits(t *filetype.Type, set evidence.Set, want func(*rule.Rule) bool) Habits {
	h := Habits{Type: t, Set: set, Lengths: r.Evidence.Lengths(t)}
	if len(set.Of) == 0 {
		return h
	}
	var questions []evidence.Question
	for _, ru := range rule.All() {
		if want(ru) {
			questions = append(questions, evidence.Question{Rule: ru, Values: r.values(t, ru)})
		}
	}
	for _, tally := range set.CountAll(questions) {
		if habit := r.habit(set, tally); habit.Telling > 0 {
			h.Rules = append(h.Rules, habit)
		}
	}
	h.Differ = r.departures(h)
	return h
}

// values are the limits that shares of a rule are given for; none where shares are
// of values.
func (r *Result) values(t *filetype.Type, ru *rule.Rule) []rule.Value {
	if shown[ru.ID] == nil {
		return nil
	}
	values := append(slices.Clone(shown[ru.ID]), r.limitsSet(t, ru, shown[ru.ID])...)
	slices.SortFunc(values, func(a, b rule.Value) int { return cmp.Compare(a.Int(), b.Int()) })
	return values
}

func (r *Result) habit(set evidence.Set, tally evidence.Tally) Habit {
	if tally.Rule.ID == "file_header" {
		return r.headers(set, tally.Rule)
	}
	h := Habit{Tally: tally}
	if shown[h.Rule.ID] == nil && len(h.Shares) > 0 && h.Telling >= 10 && h.Of(h.Shares[0].Files) < 0.95 {
		h.Folders = r.byFolder(set, h.Rule, 1)
	}
	return h
}

// limitsSet are the limits that settings name for files of a type, besides those
// known.
func (r *Result) limitsSet(t *filetype.Type, ru *rule.Rule, known []rule.Value) []rule.Value {
	var out []rule.Value
	for _, g := range r.Picture.Groups {
		if g.Type != t {
			continue
		}
		for _, c := range g.Claims {
			if c.Rule == ru && c.Value.Int() > 0 && !slices.Contains(known, c.Value) && !slices.Contains(out, c.Value) {
				out = append(out, c.Value)
			}
		}
	}
	return out
}

// headers counts the texts that files begin with.
func (r *Result) headers(set evidence.Set, ru *rule.Rule) Habit {
	h := Habit{Tally: evidence.Tally{Rule: ru, Files: set.Files, Read: len(set.Of)}}
	by, first := map[uint64]int{}, map[uint64]int{} // how many files, and which is the first
	for i, f := range set.Of {
		if hash := f.Header(); hash != 0 {
			if by[hash]++; by[hash] == 1 {
				first[hash] = set.Index[i]
			}
		}
	}
	for hash, n := range by {
		if n > 1 && n*10 >= len(set.Of) {
			h.Headers = append(h.Headers, HeaderShare{r.Evidence.Header(first[hash]), n})
		}
	}
	if len(h.Headers) > 0 {
		h.Telling = len(set.Of)
	}
	slices.SortFunc(h.Headers, func(a, b HeaderShare) int {
		return cmp.Or(cmp.Compare(b.Files, a.Files), strings.Compare(a.Text, b.Text))
	})
	return h
}

// byFolder splits files that do not agree by folder, and returns the folders, if
// most of the files then do agree and not all folders have the same habit.
func (r *Result) byFolder(set evidence.Set, ru *rule.Rule, depth int) []FolderHabit {
	parts := map[string]*evidence.Set{}
	for i, f := range set.Of {
		dir := path.Dir(r.Picture.Tree.Files[set.Index[i]].Path)
		if names := strings.Split(dir, "/"); len(names) > depth {
			dir = strings.Join(names[:depth], "/")
		}
		if parts[dir] == nil {
			parts[dir] = &evidence.Set{}
		}
		parts[dir].Of = append(parts[dir].Of, f)
		parts[dir].Index = append(parts[dir].Index, set.Index[i])
		parts[dir].Files++
	}
	var out []FolderHabit
	agreed, telling := 0, 0
	values := map[rule.Value]bool{}
	for dir, part := range parts {
		t := part.Count(ru)
		telling += t.Telling
		if len(t.Shares) == 0 || t.Of(t.Shares[0].Files) < 0.8 {
			continue
		}
		agreed += t.Telling
		if t.Telling*50 < len(set.Of) {
			continue // too few to be listed
		}
		values[t.Shares[0].Value] = true
		out = append(out, FolderHabit{dir, t.Shares[0].Value, t.Of(t.Shares[0].Files), t.Telling})
	}
	slices.SortFunc(out, func(a, b FolderHabit) int {
		return cmp.Or(cmp.Compare(b.Files, a.Files), strings.Compare(a.Folder, b.Folder))
	})
	switch {
	case len(values) > 1 && agreed*10 >= telling*8:
		return out
	case depth < 3:
		return r.byFolder(set, ru, depth+1)
	}
	return nil
}

// departures returns the files that differ from most files of their type in the
// most rules.
func (r *Result) departures(h Habits) []Departure {
	habits := slices.DeleteFunc(slices.Clone(h.Rules), func(habit Habit) bool {
		return len(habit.Shares) == 0 || habit.Telling < 3 || shown[habit.Rule.ID] != nil || habit.Of(habit.Shares[0].Files) < most
	})
	var out []Departure // those that differ most, the first few
	for i, f := range h.Set.Of {
		var rules [16]*rule.Rule
		n := 0
		for _, habit := range habits {
			if fits, told := f.Fits(habit.Rule.ID, habit.Shares[0].Value); told && !fits && n < len(rules) {
				rules[n] = habit.Rule
				n++
			}
		}
		if n == 0 || len(out) == maxDepartures && len(out[maxDepartures-1].Rules) >= n {
			continue
		}
		out = append(out, Departure{Path: r.Picture.Tree.Files[h.Set.Index[i]].Path, Rules: slices.Clone(rules[:n])})
		slices.SortStableFunc(out, func(a, b Departure) int { return cmp.Compare(len(b.Rules), len(a.Rules)) })
		out = out[:min(maxDepartures, len(out))]
	}
	return out
}

// maxDepartures is how many files are named that differ from most.
const maxDepartures = 3
