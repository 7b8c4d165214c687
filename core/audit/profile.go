package audit

import (
	"cmp"
	"slices"

	"jollytreaty/core/catalog"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// Profile is what holds for some files of a repository, by type and rule.
type Profile struct {
	Types []TypeProfile // most files first
}

// TypeProfile is what holds for the files of one type.
type TypeProfile struct {
	Type       *filetype.Type
	Files      int
	Formatters []Holding
	Rules      map[string][]Holding // by id, most files first
}

// Holding is an answer with the number of files that have it.
type Holding struct {
	Formatter *catalog.Entry // nil for none
	Effective Effective      // for a rule
	Text      string         // the value, the same for the same answer
	Files     int
}

// Profile gathers what holds for the files at paths that pass.
func (r *Result) Profile(passes func(path string) bool) *Profile {
	files := make([]int, len(r.Picture.Groups))
	for i, f := range r.Picture.Tree.Files {
		if passes(f.Path) {
			files[r.Picture.GroupOf[i]]++
		}
	}
	by := map[*filetype.Type]*TypeProfile{}
	p := &Profile{}
	for i, g := range r.Picture.Groups {
		if files[i] == 0 || !g.Type.Styled {
			continue
		}
		t := by[g.Type]
		if t == nil {
			t = &TypeProfile{Type: g.Type, Rules: map[string][]Holding{}}
			by[g.Type] = t
		}
		t.Files += files[i]
		x := &Explanation{Group: g, Verdict: &r.Verdicts[i]}
		h := Holding{Text: "none", Files: files[i]}
		if f := x.Verdict.Formatter; f != nil {
			h.Formatter, h.Text = f.Program, f.Program.Name
		} else if len(x.Verdict.Rivals) > 0 {
			h.Text = "contested"
		}
		t.Formatters = hold(t.Formatters, h)
		for _, ru := range rule.All() {
			if e, ok := x.effective(r, ru); ok && e.DecidedBy != nil {
				t.Rules[ru.ID] = hold(t.Rules[ru.ID], Holding{Effective: e, Text: e.Phrase(), Files: files[i]})
			}
		}
	}
	for _, t := range by {
		p.Types = append(p.Types, *t)
	}
	slices.SortFunc(p.Types, func(a, b TypeProfile) int {
		return cmp.Or(cmp.Compare(b.Files, a.Files), cmp.Compare(a.Type.Name, b.Type.Name))
	})
	return p
}

func hold(list []Holding, h Holding) []Holding {
	i := slices.IndexFunc(list, func(had Holding) bool { return had.Text == h.Text })
	if i < 0 {
		list = append(list, h)
	} else {
		list[i].Files += h.Files
	}
	slices.SortStableFunc(list, func(a, b Holding) int { return cmp.Compare(b.Files, a.Files) })
	return list
}

// Phrase says the value in words: what text is like, or at most may be.
func (e Effective) Phrase() string {
	if e.DecidedBy == nil {
		return "left as it is"
	}
	text := e.Rule.Phrase(e.Value)
	if e.DecidedBy.Role == rule.Accepts && e.DecidedBy.Question.AtMost {
		text = "at most " + text
	}
	return text
}
