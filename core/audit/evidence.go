package audit

import (
	"context"
	"io/fs"
	"slices"

	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
)

// measure looks at the code. Lengths that settings speak of are counted besides
// the usual ones.
func (r *Result) measure(ctx context.Context, fsys fs.FS, o evidence.Options) error {
	for _, g := range r.Picture.Groups {
		for _, c := range g.Claims {
			if n := c.Value.Int(); c.Rule.ID == "max_line_length" && n > 0 && !slices.Contains(o.Limits, n) {
				o.Limits = append(o.Limits, n)
			}
		}
	}
	o.Ignore = r.Picture.Catalog.Places.Foreign
	var err error
	if r.Evidence, err = evidence.Read(ctx, fsys, r.Picture.Tree, o); err != nil {
		return err
	}
	r.partition()
	return nil
}

// partition sorts what was measured by group.
func (r *Result) partition() {
	r.numberOf = make(map[*claim.Group]int, len(r.Picture.Groups))
	for i, g := range r.Picture.Groups {
		r.numberOf[g] = i
	}
	r.sets = r.Evidence.Partition(len(r.Picture.Groups), func(file int) int { return int(r.Picture.GroupOf[file]) })
}

// Measured returns what was measured of the groups' files.
func (r *Result) Measured(groups ...*claim.Group) evidence.Set {
	if r.sets == nil {
		return evidence.Set{}
	}
	if len(groups) == 1 {
		return r.sets[r.numberOf[groups[0]]]
	}
	sets := make([]*evidence.Set, len(groups))
	for i, g := range groups {
		sets[i] = &r.sets[r.numberOf[g]]
	}
	return evidence.Join(sets...)
}

// weigh puts beside the values of each finding how much of the code has them.
func (r *Result) weigh() {
	if r.sets == nil {
		return
	}
	for _, f := range r.Findings {
		if f.Rule == nil || len(f.Groups) == 0 {
			continue
		}
		set := r.Measured(f.Groups...)
		for _, s := range f.Sides {
			v, ok := s.Value.(rule.Value)
			if !ok || slices.ContainsFunc(f.Evidence, func(had conflict.Weight) bool { return had.Value == v }) {
				continue
			}
			if share, telling := set.Fit(f.Rule.ID, v); telling > 0 {
				f.Evidence = append(f.Evidence, conflict.Weight{Value: v, Share: share, Files: telling})
			}
		}
	}
}
