package audit

import (
	"slices"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
)

// Explanation is everything that holds for one file.
type Explanation struct {
	File    tree.File
	Group   *claim.Group
	Verdict *assign.Assignment
	Rules   []Effective
}

// Effective is one rule's value in effect for a file and the claims behind it.
type Effective struct {
	Rule      *rule.Rule
	Value     rule.Value
	DecidedBy *claim.Claim   // nil where everybody leaves things as they are
	Claims    []*claim.Claim // in effect first, then those they beat
}

// Explain says what holds for the file at path. It returns false if the
// repository has no such file.
func (r *Result) Explain(path string) (*Explanation, bool) {
	files := r.Picture.Tree.Files
	i, found := slices.BinarySearchFunc(files, path, func(f tree.File, p string) int {
		switch {
		case f.Path < p:
			return -1
		case f.Path > p:
			return 1
		}
		return 0
	})
	if !found {
		return nil, false
	}
	n := r.Picture.GroupOf[i]
	g := r.Picture.Groups[n]
	x := &Explanation{File: files[i], Group: g, Verdict: &r.Verdicts[n]}
	for _, ru := range rule.All() {
		if e, ok := x.effective(r, ru); ok {
			x.Rules = append(x.Rules, e)
		}
	}
	return x, true
}

func (x *Explanation) effective(r *Result, ru *rule.Rule) (Effective, bool) {
	e := Effective{Rule: ru}
	for _, c := range x.Group.Claims {
		if c.Rule != ru {
			continue
		}
		if !x.Verdict.InPlay(c.Program, x.Group) {
			continue
		}
		e.Claims = append(e.Claims, c)
		if c.Role != rule.Leaves && c.Role != rule.Shows && (e.DecidedBy == nil || x.authority(c) < x.authority(e.DecidedBy)) {
			e.DecidedBy = c
		}
	}
	if e.DecidedBy != nil {
		e.Value = e.DecidedBy.Value
	}
	for _, c := range x.Group.Beaten {
		if c.Rule == ru && x.Verdict.InPlay(c.Program, x.Group) {
			e.Claims = append(e.Claims, c)
		}
	}
	return e, len(e.Claims) > 0
}

// authority orders claims by whose word the text of the file ends up with: the
// formatter's, then anybody else's who writes, then who rejects, then who types.
func (x *Explanation) authority(c *claim.Claim) int {
	switch {
	case x.Verdict.Formatter != nil && c.Program == x.Verdict.Formatter.Program:
		return 0
	case c.Role == rule.Writes && c.Program.Has(catalog.Formatter):
		return 1
	case c.Role == rule.Writes:
		return 2
	case c.Role == rule.Accepts:
		return 3
	}
	return 4
}
