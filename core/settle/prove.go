package settle

import (
	"cmp"
	"context"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/memory"
	"jollytreaty/core/rule"
	"jollytreaty/core/treaty"
	"jollytreaty/core/tree"
)

// edited is a copy in memory that has the plan's edits, audited.
func (d *draft) edited(plan *Plan) (Input, error) {
	copied := &overlay{FS: d.FS, files: map[string][]byte{}}
	paths := append(make([]string, 0, len(d.Paths)+len(plan.Edits)), d.Paths...)
	changed := []string{}
	for _, e := range plan.Edits {
		copied.files[e.Path] = e.After
		changed = append(changed, e.Path)
		switch e.Action {
		case Create:
			paths = append(paths, e.Path)
		case Delete:
			paths = slices.DeleteFunc(paths, func(p string) bool { return p == e.Path })
		}
	}
	slices.Sort(paths)
	in := Input{FS: copied, Paths: slices.Compact(paths), Follow: d.Follow, Choices: d.Choices, Prune: d.Prune, Gather: d.Gather}
	var err error
	in.Audit, err = d.Audit.Again(context.Background(), copied, in.Paths, changed)
	return in, err
}

// prove returns the subjects that the plan says it settles and does not, or
// for which it brings up something new.
func (d *draft) prove(plan *Plan, after *audit.Result) map[subject]string {
	failed := map[subject]string{}
	for _, f := range after.Findings {
		if !f.Code.Meaning().Proved || f.Waived != nil || plan.madeAll(f.Examples) {
			continue
		}
		s := subjectOf(f)
		switch {
		case sameIn(d.Audit, f, after) == nil:
			failed[s] = "settling it would bring up another conflict: " + f.Message
		case f.Type != nil && f.Code.Meaning().ByHand == "" && d.blocked[s] == "" && d.asides[s] == "" && d.decided(s):
			failed[s] = "no edit was found that settles it: " + f.Message
		}
	}
	for s, why := range d.strayed(plan, after) {
		if failed[s] == "" {
			failed[s] = why
		}
	}
	return failed
}

// strayed returns the subjects of which the plan decides nothing and for which a claim
// in effect would be another one all the same.
func (d *draft) strayed(plan *Plan, after *audit.Result) map[subject]string {
	out := map[subject]string{}
	for i, g := range d.groups() {
		if !d.concerns(g) || plan.madeAll(g.Examples) {
			continue
		}
		x, ok := after.Explain(g.Examples[0])
		if !ok {
			continue
		}
		v := &d.Audit.Verdicts[i]
		for _, c := range g.Claims {
			s := subject{g.Type, c.Rule.ID}
			if d.decides(s) || d.mended[c.Program] || !v.InPlay(c.Program, g) || d.leaves(c.Program, g) || c.Role == rule.Shows {
				continue
			}
			now := x.Group.Claim(after.Picture.Catalog.ByID(c.Program.ID), c.Rule.ID)
			if now == nil || now.Value != c.Value || !now.Set.Equal(c.Set) {
				if g.Several(c) || now == nil && c.Role == rule.Accepts && d.relieved[c.Program] {
					continue
				}
				out[s] = fmt.Sprintf("it would change what %s does about %s in %s", c.Program.Name, c.Rule.Title, g.Examples[0])
			}
		}
	}
	return out
}

// decides reports whether something has to change about the subject.
func (d *draft) decides(s subject) bool {
	return slices.ContainsFunc(d.groups(), func(g *claim.Group) bool { return g.Type == s.typ && d.needed(g, s.rule) })
}

// Holds returns what an audit of the plan's result says against the plan: a
// finding that should be gone, or a clash, rivalry or slip that is new; nil where
// there is none.
func (p *Plan) Holds(after *audit.Result) error {
	for _, f := range p.Settles {
		if !f.Code.Is(conflict.Text) && sameIn(after, f, p.before) != nil {
			return fmt.Errorf("%s is still there: %s", f.ID, f.Message)
		}
	}
	for _, f := range after.Findings {
		if !f.Code.Meaning().Proved || f.Waived != nil || p.madeAll(f.Examples) || sameIn(p.before, f, after) != nil {
			continue
		}
		return fmt.Errorf("%s is new: %s", f.ID, f.Message)
	}
	return nil
}

// sameIn returns the finding in an audit that is about the same as one of another
// audit, or nil. Rivals are the same whatever it is that shows them best.
func sameIn(r *audit.Result, f *conflict.Finding, of *audit.Result) *conflict.Finding {
	if same := r.Finding(f.ID); same != nil || f.Code != conflict.Rivalry && f.Code != conflict.RivalryTriggers {
		return same
	}
	for _, g := range r.Findings {
		if g.Code == f.Code && g.Type == f.Type && of.Finding(g.ID) == nil && slices.Equal(programsOf(g), programsOf(f)) {
			return g
		}
	}
	return nil
}

// programsOf returns the programs of a finding's sides, in name order.
func programsOf(f *conflict.Finding) []string {
	var out []string
	for _, s := range f.Sides {
		out = append(out, s.Program)
	}
	slices.Sort(out)
	return out
}

// madeAll reports whether a finding is about nothing but files the plan makes.
// What holds for their types is settled when the plan is carried on.
func (p *Plan) madeAll(paths []string) bool {
	for _, path := range paths {
		if !slices.ContainsFunc(p.Edits, func(e Edit) bool { return e.Path == path && e.Action == Create }) {
			return false
		}
	}
	return len(paths) > 0
}

// decided reports whether the draft says to have an answer for the subject.
func (d *draft) decided(s subject) bool {
	if s.rule == "" {
		return true
	}
	if strings.HasPrefix(s.rule, "checks of ") {
		return d.skip[s] == ""
	}
	for _, g := range d.groups() {
		if _, ok := d.wants[g][s.rule]; ok && g.Type == s.typ {
			return true
		}
	}
	return false
}

// conclude notes what the proof showed: what is settled, and what stays open.
func (d *draft) conclude(plan *Plan, after *audit.Result) {
	plan.before = d.Audit
	for _, f := range d.Audit.Findings {
		if f.Waived != nil {
			continue
		}
		still := sameIn(after, f, d.Audit)
		if still != nil && (f.Type != nil && !d.Choices.asksFor(subjectOf(f), d.Audit) || f.Type == nil && len(d.Choices.Only) > 0) {
			continue // nobody asked
		}
		if still != nil {
			plan.LeftOpen = append(plan.LeftOpen, Open{f, still.Message, d.whyOpen(f)})
			continue
		}
		plan.Settles = append(plan.Settles, f)
		for i := range plan.Decisions {
			if dec := &plan.Decisions[i]; dec.Type == f.Type && dec.Rule == f.Rule && (dec.Paths == nil || shares(dec.groups, f)) {
				dec.Settles = append(dec.Settles, f.ID)
			}
		}
	}
	// What neither settles anything nor is written into an article says nothing.
	plan.Decisions = slices.DeleteFunc(plan.Decisions, func(dec Decision) bool {
		slices.Sort(dec.Settles)
		owned := slices.ContainsFunc(plan.Assignments, func(a Assignment) bool { return a.Type == dec.Type })
		return !owned && len(dec.Settles) == 0 && !dec.FromCode
	})
}

// shares reports whether the finding is about files of the groups.
func shares(groups []*claim.Group, f *conflict.Finding) bool {
	for _, g := range groups {
		for _, example := range g.Examples {
			if slices.Contains(f.Examples, example) {
				return true
			}
		}
	}
	return false
}

// whyOpen says in one sentence why a finding stays.
func (d *draft) whyOpen(f *conflict.Finding) string {
	if why := f.Code.Meaning().ByHand; why != "" && f.Code == conflict.RivalryTriggers {
		return why + choosing(f)
	} else if why != "" {
		return why
	}
	s := subjectOf(f)
	if why := cmp.Or(d.blocked[s], d.asides[s], d.skip[s]); why == undecided && f.Code == conflict.Rivalry {
		return "the reasons for each are equally strong" + choosing(f)
	} else if why != "" && f.Type != nil {
		return why
	}
	switch f.Code {
	case conflict.GapNoFormatter:
		var names []string
		for _, e := range d.catalog().FormattersOf(f.Type.ID) {
			names = append(names, e.Name)
		}
		if len(names) == 0 {
			return "the catalog knows no formatter for it; exempt the type in " + treaty.Name + " if that is as it should be"
		}
		return "choosing a program is up to you; the catalog knows " + strings.Join(names, ", ")
	case conflict.CodeDisagrees:
		return d.followed(f)
	case conflict.DriftRetired:
		if why := d.notes[f.ID]; why != "" {
			return why
		}
		if how := d.succession(f); how != "" {
			return how
		}
	}
	return cmp.Or(f.Code.Meaning().Open, "mend it by hand")
}

// followed says how code comes to follow a value that most of it does not have, and
// how not, where the code has a value that it could be asked to have.
func (d *draft) followed(f *conflict.Finding) string {
	why := "the code follows as files are edited and saved"
	for _, g := range f.Groups {
		if d.owner(g, &d.Audit.Verdicts[slices.Index(d.groups(), g)]) != nil {
			why = "the code follows when its formatter is run on it"
		}
	}
	c := f.Sides[0].Claim
	if d.Follow == FollowCode || c == nil {
		return why
	}
	all, kept := 0, 0 // of those files that tell
	for _, g := range f.Groups {
		_, telling := d.Audit.Measured(g).Fit(f.Rule.ID, c.Value)
		all += telling
		if o, ok := d.habit(g, f.Rule, []*claim.Claim{c}); ok && o.value != c.Value && adjustable(c, o.value, g) == nil {
			kept += telling
		}
	}
	if kept*2 <= all {
		return why
	}
	return why + "; to keep the code as it is: treaty settle --follow code"
}

// choosing says how to choose between the sides of a rivalry.
func choosing(f *conflict.Finding) string {
	if f.Type == nil || len(f.Sides) == 0 {
		return ""
	}
	var words []string
	for _, s := range f.Sides {
		words = append(words, f.Type.ID+"="+s.Program)
	}
	return "; choose one: treaty settle --formatter " + strings.Join(words, " or ")
}

// overlay is a file system with some files replaced in memory; nil contents
// stand for a file that is gone.
type overlay struct {
	fs.FS
	files map[string][]byte
}

func (o *overlay) Open(name string) (fs.File, error) {
	text, ok := o.files[name]
	switch {
	case !ok:
		return o.FS.Open(name)
	case text == nil:
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return memory.File(path.Base(name), text), nil
}

// OpenFolder opens a folder of the file system below, where none of its files is
// replaced.
func (o *overlay) OpenFolder(name string) (tree.Folder, error) {
	for p := range o.files {
		if path.Dir(p) == name {
			return nil, fs.ErrInvalid
		}
	}
	if below, ok := o.FS.(tree.Opener); ok {
		return below.OpenFolder(name)
	}
	return nil, fs.ErrInvalid
}

// Annotate puts into each finding what the plan proposes for it, or why it
// stays.
func (p *Plan) Annotate() {
	for _, o := range p.LeftOpen {
		o.Finding.Open = o.Why
	}
	for _, f := range p.Settles {
		f.Proposal = &conflict.Proposal{Because: "the edits of the plan take it away"}
		switch {
		case f.Meant != nil:
			f.Proposal.Because = fmt.Sprintf("%s becomes %s", f.Meant.Node.Key, f.Meant.Key)
		case f.Friction != nil && f.Friction.Row.Linter != "":
			f.Proposal.Because = f.Friction.Other.Name + " no longer checks it, as layout is the formatter's"
		case f.Friction != nil:
			f.Proposal.Because = f.Friction.Other.Name + " is told to do it as " + f.Friction.Writer.Name + " does"
		}
		for _, d := range p.Decisions {
			if slices.Contains(d.Settles, f.ID) && f.Code.Is(conflict.Values) {
				f.Proposal = &conflict.Proposal{Value: d.Value, Because: d.Because}
			}
		}
		for _, a := range p.Assignments {
			if f.Code == conflict.Rivalry && a.Type == f.Type && shares(a.groups, f) {
				f.Proposal.Because = strings.Join(append([]string{a.Formatter.Name + " keeps the files: " + a.Because}, a.Leaving...), "; ")
			}
		}
	}
}
