package settle

import (
	"slices"

	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/rule"
)

// findNeeds notes for which groups and rules something has to change: where a finding
// says so, or the person does. What holds already is only written into the treaty.
func (d *draft) findNeeds() {
	d.needs = map[*claim.Group]map[string]bool{}
	need := func(g *claim.Group, id string) {
		if d.needs[g] == nil {
			d.needs[g] = map[string]bool{}
		}
		d.needs[g][id] = true
		if isIndent(id) { // style and size are one question
			d.needs[g][rule.IndentStyle], d.needs[g][rule.IndentSize] = true, true
		}
	}
	for _, f := range d.Audit.Findings {
		follows := f.Code == conflict.CodeDisagrees && d.Follow == FollowCode || f.Code == conflict.DriftMirror // between editors
		if f.Rule == nil || f.Waived != nil || !follows && !(f.Code.Meaning().Proved && f.Code.Meaning().ByHand == "") {
			continue
		}
		for _, g := range f.Groups {
			need(g, f.Rule.ID)
		}
	}
	for _, g := range d.groups() {
		for _, v := range d.Choices.Set {
			if v.Type == "" || v.Type == g.Type.ID {
				need(g, v.Rule.ID)
			}
		}
		if len(d.Audit.Picture.Files) == 0 { // nobody wrote anything yet: the first settings are the code's
			for _, r := range rule.All() {
				need(g, r.ID)
			}
		}
	}
}

// needed reports whether something has to change for a group's rule.
func (d *draft) needed(g *claim.Group, id string) bool { return d.needs[g][id] }

// neededSubjects are the subjects that something is needed for, in order.
func (d *draft) neededSubjects() []subject {
	var out []subject
	for _, g := range d.groups() {
		for _, r := range rule.All() {
			s := subject{g.Type, r.ID}
			if s.rule == rule.IndentSize {
				continue // goes with the style
			}
			if d.needed(g, r.ID) && !slices.Contains(out, s) {
				out = append(out, s)
			}
		}
		if s := (subject{g.Type, ""}); !slices.Contains(out, s) {
			out = append(out, s)
		}
	}
	for _, f := range d.Audit.Findings {
		if f.Friction != nil && !slices.Contains(out, subjectOf(f)) {
			out = append(out, subjectOf(f))
		}
	}
	return out
}
