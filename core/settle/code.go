package settle

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"jollytreaty/core/claim"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
)

// Ranks of what the code does among options: right behind the treaty's word where
// the code is followed, else behind every default.
const (
	rankCode     = 1
	rankLastWord = 100
)

// agreed is the share of files from which on what they do is what the code does.
const agreed = 0.6

// fewest is how many files have to tell before they mean anything, and fewestLong
// before a limit is taken from them that nobody set.
const (
	fewest     = 3
	fewestLong = 10
)

// kept is the share of files that a limit taken from the code has to let in.
const kept = 0.95

// usual are limits that are considered where no setting names one, in columns.
var usual = []int{80, 100, 120}

// codeOption returns what the code of the group's type does about a rule, if most
// of it does so, as an option. Where settings are followed the code only speaks in
// a repository without any.
func (d *draft) codeOption(g *claim.Group, r *rule.Rule, claims []*claim.Claim) (option, bool) {
	if d.Audit.Evidence == nil || d.Follow != FollowCode && len(d.Audit.Picture.Files) > 0 {
		return option{}, false
	}
	if len(claims) == 0 && (d.standard == nil || !d.standard.has(r)) {
		return option{}, false // there would be nowhere to write it
	}
	return d.habit(g, r, claims)
}

// habit is what the code of the group's type does about a rule, or else that of the
// group.
func (d *draft) habit(g *claim.Group, r *rule.Rule, claims []*claim.Claim) (option, bool) {
	if o, ok := d.habitOf(d.ofType(g), r, claims); ok && o.share >= clear {
		return o, true
	}
	return d.habitOf(d.Audit.Measured(g), r, claims)
}

// clear is the share from which on the files of a type count as one, wherever they
// lie.
const clear = 0.9

// ofType is what was measured of all files of the group's type.
func (d *draft) ofType(g *claim.Group) evidence.Set {
	d.mutex.Lock()
	defer d.mutex.Unlock()
	if set, ok := d.types[g.Type]; ok {
		return set
	}
	var same []*claim.Group
	for _, h := range d.groups() {
		if h.Type == g.Type {
			same = append(same, h)
		}
	}
	d.types[g.Type] = d.Audit.Measured(same...)
	return d.types[g.Type]
}

// habitOf is what most of the files do about a rule.
func (d *draft) habitOf(set evidence.Set, r *rule.Rule, claims []*claim.Claim) (option, bool) {
	if r.ID == "max_line_length" {
		limits := slices.Clone(usual)
		for _, c := range claims {
			if n := c.Value.Int(); n > 0 && !slices.Contains(limits, n) {
				limits = append(limits, n)
			}
		}
		slices.Sort(limits)
		for _, n := range limits {
			share, telling := set.Fit(r.ID, rule.Number(n))
			if enough := telling >= fewestLong || telling >= fewest && len(claims) > 0; enough && share >= kept {
				return d.option(rule.Number(n), share, fmt.Sprintf("%s fit in %d columns", portion(share, telling), n)), true
			}
		}
		return option{}, false
	}
	t := set.Count(r)
	if len(t.Shares) == 0 || t.Telling < fewest || t.Of(t.Shares[0].Files) < agreed {
		return option{}, false
	}
	best := t.Shares[0]
	if best.Value == rule.Word("false") {
		return option{}, false // nobody asks for blanks at line ends, or for no line break at the end
	}
	return d.option(best.Value, t.Of(best.Files), fmt.Sprintf("%s have %s", portion(t.Of(best.Files), t.Telling), r.Phrase(best.Value))), true
}

func (d *draft) option(v rule.Value, share float64, because string) option {
	rank := rankLastWord
	if d.Follow == FollowCode {
		rank = rankCode
	}
	return option{value: v, rank: rank, because: because, code: true, share: share}
}

// portion is a share of files in words.
func portion(share float64, of int) string {
	if share == 1 {
		return fmt.Sprintf("all of %d files that tell", of)
	}
	return fmt.Sprintf("%s of %d files that tell", evidence.Percent(share), of)
}

// rewritten is how many of the group's files do otherwise than the value asks.
func (d *draft) rewritten(g *claim.Group, r *rule.Rule, v rule.Value) int {
	if d.Audit.Evidence == nil {
		return 0
	}
	set := d.Audit.Measured(g)
	share, telling := set.Fit(r.ID, v)
	return telling - int(math.Round(share*float64(telling)))
}

// touched is how many files a decision would touch, in proportion to what was
// read; -1 where that is not known.
func (d *draft) touched(dec *Decision) int {
	if d.Audit.Evidence == nil {
		return -1
	}
	set := d.Audit.Measured(dec.groups...)
	share, telling := set.Fit(dec.Rule.ID, dec.Value)
	if telling == 0 {
		return -1
	}
	return int(math.Round((1 - share) * float64(telling) * float64(set.Files) / float64(cmp.Or(len(set.Of), 1))))
}
