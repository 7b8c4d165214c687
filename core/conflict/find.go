package conflict

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"jollytreaty/core/assign"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/evidence"
	"jollytreaty/core/treaty"
)

// Find returns every finding, those that cost people most first. The verdicts
// are the assignments of the picture's groups, in order; day decides which
// waivers still hold. Measured is what the code of each group does, in the same
// order; nil where it was not looked at.
func Find(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, measured []evidence.Set, day time.Time) []*Finding {
	var groups, whole collector
	var wait sync.WaitGroup
	wait.Go(func() {
		for i, g := range p.Groups {
			if !g.Type.Styled || t.Exemption(g.Type.ID) != nil {
				continue
			}
			a := &verdicts[i]
			rivalries(g, a, &groups)
			clashes(g, a, importers(g, a, &groups), &groups)
			frictions(g, a, &groups)
			orders(g, a, &groups)
			layouts(g, a, &groups)
			personal(p, g, a, &groups)
		}
		disagreements(p, verdicts, measured, &groups)
	})
	wait.Go(func() {
		gaps(p, verdicts, t, &whole)
		untriggered(p, verdicts, t, &whole)
		exclusions(p, verdicts, t, &whole)
		regions(p, verdicts, t, &whole)
		levels(p, verdicts, &whole)
		mirrors(p, verdicts, &whole)
		slips(p, &whole)
		opaque(p, &whole)
		homes(p, &whole)
		bases(p, &whole)
		needs(p, &whole)
		reaches(p, &whole)
		provided(p, &whole)
		versions(p, &whole)
		retired(p, &whole)
		shadows(p, &whole)
		breaches(p, verdicts, t, &whole)
		expired(t, day, &whole)
	})
	wait.Wait()
	whole.countRest()
	for _, f := range whole.list {
		groups.add(f)
	}
	return groups.finished(p, t, day)
}

// Restated returns the settings that say what holds without them, which are
// listed only when asked for.
func Restated(p *claim.Picture, verdicts []assign.Assignment, t *treaty.Treaty, day time.Time) []*Finding {
	var c collector
	restated(p, verdicts, &c)
	return c.finished(p, t, day)
}

// countRest says how many findings were too many to be told.
func (c *collector) countRest() {
	for key, n := range c.alike {
		if n.rest != nil && n.more > 1 {
			n.rest.Message = fmt.Sprintf("%s has %d more of the kind from here on", key.path, n.more)
		}
	}
}

// finished returns the findings in order, with what is waived.
func (c *collector) finished(p *claim.Picture, t *treaty.Treaty, day time.Time) []*Finding {
	c.list = slices.DeleteFunc(c.list, func(f *Finding) bool { return sampled(f, p.Catalog.Places.Samples) })
	for _, f := range c.list {
		f.Waived = t.Waiver(f.ID, day)
	}
	return c.sorted()
}

// sampled reports whether the finding is only about settings files that lie in
// wait for tests.
func sampled(f *Finding, folders []string) bool {
	if !f.Code.Is(Place) || len(f.Sides) == 0 {
		return false
	}
	return !slices.ContainsFunc(f.Sides, func(s Side) bool {
		return !slices.ContainsFunc(strings.Split(s.Path, "/"), func(part string) bool { return slices.Contains(folders, part) })
	})
}

// shadows finds written settings that lose, to another value, for every file
// they could apply to.
func shadows(p *claim.Picture, into *collector) {
	type loss struct {
		claim *claim.Claim
		files int
		group *claim.Group
		last  *claim.Group // counted
	}
	effective := map[*document.Node]bool{}
	lost := map[*document.Node]*loss{}
	var order []*document.Node
	for _, g := range p.Groups {
		if !g.Type.Styled {
			continue
		}
		for _, c := range g.Claims {
			effective[c.Where.Node] = true
		}
		for _, c := range g.Beaten {
			if c.Beaten.Value == c.Value {
				effective[c.Where.Node] = true // it would be missed by nobody, and misleads nobody
				continue
			}
			if c.Basis != claim.Set || c.Value.IsZero() {
				continue
			}
			if c.Beaten.Where.File == c.Where.File && c.Beaten.Where.Scope == c.Where.Scope {
				continue // said as a contradiction within the section
			}
			l := lost[c.Where.Node]
			if l == nil {
				l = &loss{claim: c, group: g}
				lost[c.Where.Node] = l
				order = append(order, c.Where.Node)
			}
			if l.last != g {
				l.files += g.Files
				l.last = g
			}
		}
	}
	for _, s := range p.Superseded() {
		side, by := sideAt(s.Editor, s.File, s.Node), sideAt(s.Program, s.By, nil)
		side.Value, side.scope, by.key = scalarOf(s.Node), s.Node.Key, s.Program.ID
		into.add(&Finding{Code: DeadShadowed, Files: s.Files, Sides: []Side{side, by},
			Message: fmt.Sprintf("%s has no effect: %s has settings of its own, such as %s", s.Node.Key, s.Program.Name, s.By.Path)})
	}
	for _, n := range order {
		if l := lost[n]; !effective[n] {
			into.add(&Finding{Code: DeadShadowed, Rule: l.claim.Rule, Files: l.files, Examples: l.group.Examples,
				Message: fmt.Sprintf("%s %s never takes effect: for every file another setting wins, such as %s", l.claim.Program.Name, l.claim.Where.Node.Key, place(l.claim.Beaten)),
				Sides:   []Side{SideOf(l.claim, l.group), SideOf(l.claim.Beaten, l.group)}})
		}
	}
}

func place(c *claim.Claim) string {
	line, _ := c.Where.Position()
	return fmt.Sprintf("%s:%d", c.Where.Path(), line)
}
