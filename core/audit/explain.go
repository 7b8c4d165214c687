package audit

import (
	"path"
	"slices"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
)

// Explanation is everything that holds for one file.
type Explanation struct {
	File    tree.File
	Group   *claim.Group
	Verdict *assign.Assignment
	Rules   []Effective
	Idle    []Idle              // settings near it without effect
	Clashes []*conflict.Finding // about the file and a rule
	Facts   *evidence.Facts     // what the file itself does; nil where it was not looked at
}

// Idle is a setting or settings file that looks as if it spoke about a file, and
// does not.
type Idle struct {
	Path string
	Line int
	Why  string
}

// Effective is one rule's value in effect for a file and the claims behind it.
type Effective struct {
	Rule      *rule.Rule
	Value     rule.Value
	DecidedBy *claim.Claim   // nil where everybody leaves things as they are
	Claims    []*claim.Claim // in effect first, then those they beat
}

// Explain says what holds for a file. It returns false if the
// repository has no such file.
func (r *Result) Explain(file string) (*Explanation, bool) {
	files := r.Picture.Tree.Files
	i, found := slices.BinarySearchFunc(files, file, func(f tree.File, p string) int {
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
	x.Facts = r.Evidence.Of(i)
	x.Idle = r.idle(g, file)
	for _, f := range r.Findings {
		if f.Rule != nil && slices.Contains(f.Groups, g) && f.Code.Is(conflict.Contest) {
			x.Clashes = append(x.Clashes, f)
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
	}
	if e.DecidedBy = x.Verdict.Decider(x.Group, ru); e.DecidedBy != nil {
		e.Value = e.DecidedBy.Value
	}
	for _, c := range x.Group.Beaten {
		if c.Rule == ru && x.Verdict.InPlay(c.Program, x.Group) {
			e.Claims = append(e.Claims, c)
		}
	}
	return e, len(e.Claims) > 0
}

// ownFile is the path of the settings file that a program reads for the group.
func ownFile(g *claim.Group, e *catalog.Entry) string {
	at := ""
	for _, place := range e.Settings {
		if list := g.FilesOf(e, place); len(list) > 0 {
			at = list[len(list)-1].Path
		}
	}
	return at
}

// idle lists settings in the folders above the file that have no effect on it.
func (r *Result) idle(g *claim.Group, file string) []Idle {
	var out []Idle
	folder := path.Dir(file)
	covers := func(e *catalog.Entry) bool { _, ok := e.Covering(g.Type.ID); return ok }
	for _, o := range r.Picture.Outdone() {
		if covers(o.Program) && claim.Within(folder, o.File.Folder) {
			out = append(out, Idle{o.File.Path, 0, o.Program.Name + " reads " + o.By.Path + " instead"})
		}
	}
	for _, l := range r.Picture.Lost {
		if covers(l.Program) && claim.Within(folder, path.Dir(l.Path)) {
			out = append(out, Idle{l.Path, 0, l.Why})
		}
	}
	for _, s := range r.Picture.Superseded() {
		if covers(s.Program) && g.Reads(s.File) {
			line, _ := s.File.Doc.Position(s.Node.KeyStart)
			out = append(out, Idle{s.File.Path, line, s.Node.Key + ": " + s.Program.Name + " has settings of its own, " + ownFile(g, s.Program)})
		}
	}
	for _, f := range r.Picture.Files {
		if f.Err != nil && covers(f.Readers[0].Program) && claim.Within(folder, f.Folder) {
			out = append(out, Idle{f.Path, f.Err.Line, "it cannot be read"})
		}
	}
	return out
}
