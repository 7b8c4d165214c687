package settle

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"slices"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/conflict"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/treaty"
	"jollytreaty/core/tree"
)

// Choices are what the person decides beforehand.
type Choices struct {
	Set   []Value      // values of rules
	Words treaty.Words // what the treaty shall say
	Leave []string     // ids of findings that stay open
	Only  []string     // rules, file types or ids of findings that are settled; none for all

	// Houses are the files, by path, in which house rules from elsewhere are kept with
	// the repository, which the words adopt.
	Houses map[string][]byte
}

// Value is a value chosen for a rule, of one file type or of all.
type Value struct {
	Type  string // "" for all
	Rule  *rule.Rule
	Value rule.Value
}

// chosen returns the value that was chosen for a rule.
func (c Choices) chosen(t *filetype.Type, r *rule.Rule) (rule.Value, bool) {
	var out rule.Value
	for _, v := range c.Set {
		if v.Rule == r && (v.Type == t.ID || v.Type == "" && out.IsZero()) {
			out = v.Value
		}
	}
	return out, !out.IsZero()
}

// Check returns an error that names the first choice there is nothing of.
func (c Choices) Check(r *audit.Result) error {
	for _, id := range c.Leave {
		if r.Finding(id) == nil {
			return fmt.Errorf("%s is no finding here; see: treaty conflicts", id)
		}
	}
	here := func(typeID string) bool {
		return slices.ContainsFunc(r.Picture.Tree.Counts(), func(n tree.Count) bool { return n.Type.ID == typeID })
	}
	for _, v := range c.Set {
		if v.Type != "" && !here(v.Type) {
			return fmt.Errorf("there are no %s files here, for which %s could be decided", filetype.ByID(v.Type).Name, v.Rule.ID)
		}
	}
	for typeID := range c.Words.Formatters {
		if !here(typeID) {
			return fmt.Errorf("there are no %s files here, which a formatter could have", filetype.ByID(typeID).Name)
		}
	}
	for _, what := range c.Only {
		if rule.ByID(what) == nil && filetype.ByID(what) == nil && r.Finding(what) == nil {
			return fmt.Errorf("%s is no rule, file type or finding here; see: treaty conflicts", what)
		}
	}
	return nil
}

// leftOut are the subjects that the choices keep from being settled, and why.
func (c Choices) leftOut(r *audit.Result) map[subject]string {
	out := map[subject]string{}
	for _, id := range c.Leave {
		if f := r.Finding(id); f != nil {
			out[subjectOf(f)] = "left open, as you said"
		}
	}
	if len(c.Only) == 0 {
		return out
	}
	const why = "not asked for"
	for _, count := range r.Picture.Tree.Counts() {
		for _, ru := range append(slices.Clone(rule.All()), nil) {
			s := subject{typ: count.Type}
			if ru != nil {
				s.rule = ru.ID
			}
			if !c.asksFor(s, r) {
				out[s] = why
			}
		}
	}
	return out
}

// asksFor reports whether a subject is among those that are settled.
func (c Choices) asksFor(s subject, r *audit.Result) bool {
	return len(c.Only) == 0 || slices.ContainsFunc(c.Only, func(what string) bool {
		if f := r.Finding(what); f != nil {
			asked := subjectOf(f)
			return s == asked || s.typ == asked.typ && isIndent(s.rule) && isIndent(asked.rule)
		}
		return what == s.typ.ID || what == s.rule || isIndent(what) && isIndent(s.rule)
	})
}

// asksForFinding reports whether a finding that is about no type is settled.
func (c Choices) asksForFinding(f *conflict.Finding) bool {
	return !slices.Contains(c.Leave, f.ID) && (len(c.Only) == 0 || slices.Contains(c.Only, f.ID))
}

// isIndent reports whether the rule is a part of the one question of indentation.
func isIndent(id string) bool { return id == rule.IndentStyle || id == rule.IndentSize }

func subjectOf(f *conflict.Finding) subject {
	if f.Friction != nil {
		return frictionOf(f)
	}
	s := subject{typ: f.Type}
	if f.Rule != nil {
		s.rule = f.Rule.ID
	}
	return s
}

// agree puts formatters and house rules that were chosen into the treaty of a copy
// in memory, so that everything follows from there.
func (in Input) agree() (Input, error) {
	if in.Choices.Words.None() {
		return in, nil
	}
	text, err := in.Audit.Treaty.With(in.Choices.Words)
	if err != nil {
		return in, err
	}
	out := in
	out.Choices.Words, out.Choices.Houses = treaty.Words{}, nil
	files := map[string][]byte{treaty.Name: text}
	maps.Copy(files, in.Choices.Houses)
	out.FS = &overlay{FS: in.FS, files: files}
	out.Paths = slices.Clone(in.Paths)
	changed := slices.Sorted(maps.Keys(files))
	for _, p := range changed {
		if i, there := slices.BinarySearch(out.Paths, p); !there {
			out.Paths = slices.Insert(out.Paths, i, p)
		}
	}
	out.Audit, err = in.Audit.Again(context.Background(), out.FS, out.Paths, changed)
	if err != nil {
		return in, fmt.Errorf("with what was chosen: %w", err)
	}
	return out, nil
}

// sinceBefore makes the edits of the treaty, and of house rules that are kept with it,
// edits of the files as they are on disk.
func (p *Plan) sinceBefore(in Input, chosen []byte) error {
	files := map[string][]byte{treaty.Name: chosen}
	maps.Copy(files, in.Choices.Houses)
	for name, after := range files {
		edit := Edit{Path: name, Action: Create, After: after}
		if i := slices.IndexFunc(p.Edits, func(e Edit) bool { return e.Path == name }); i >= 0 {
			edit.After = p.Edits[i].After
			p.Edits = slices.Delete(p.Edits, i, i+1)
		}
		before, err := fs.ReadFile(in.FS, name)
		switch {
		case err == nil:
			edit.Action, edit.Before = Change, before
		case !errors.Is(err, fs.ErrNotExist):
			return fmt.Errorf("%s cannot be read: %w", name, err)
		}
		if edit.Before == nil || string(edit.Before) != string(edit.After) {
			p.Edits = append(p.Edits, edit)
		}
	}
	slices.SortFunc(p.Edits, func(a, b Edit) int { return strings.Compare(a.Path, b.Path) })
	return nil
}
