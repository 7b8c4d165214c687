package claim

import (
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
)

// Friction is two programs of which the one is not content with what the other writes,
// where no rule stands behind it.
type Friction struct {
	Row    *catalog.Friction
	Writer *catalog.Entry
	Other  *catalog.Entry // the linter or sorter
	Checks []Check        // of the linter, those that fail
}

// Check is a check of a linter that is on.
type Check struct {
	Name  string
	Where Where // what switches it on; no place where it is on by itself
}

// rubs finds the frictions between the programs that are there for the group.
func (p *Picture) rubs(g *Group, here []*catalog.Entry) {
	for _, row := range p.Catalog.Friction {
		other := p.Catalog.ByID(row.Linter + row.Sorter)
		if other == nil || !slices.Contains(here, other) {
			continue
		}
		for _, id := range row.Writers {
			if writer := p.Catalog.ByID(id); writer != nil && slices.Contains(here, writer) {
				if f := g.friction(row, writer, other); f != nil {
					g.Frictions = append(g.Frictions, *f)
				}
			}
		}
	}
}

// friction is what a row of the table says about the group; nil for nothing.
func (g *Group) friction(row *catalog.Friction, writer, other *catalog.Entry) *Friction {
	if _, left := g.Excludes[other]; left || g.opaque[other] != (Seen{}) || g.opaque[writer] != (Seen{}) {
		return nil
	}
	out := &Friction{Row: row, Writer: writer, Other: other}
	mine, theirs := stackOf(writer, g), stackOf(other, g)
	if mine.broken || theirs.broken {
		return nil
	}
	if slices.ContainsFunc(row.Given, func(c catalog.Condition) bool { return !g.meets(writer, mine, c) }) {
		return nil
	}
	for _, all := range row.Unless {
		if !slices.ContainsFunc(all, func(c catalog.Condition) bool { return !g.meets(other, theirs, c) }) {
			return nil
		}
	}
	if row.Linter == "" {
		return out
	}
	if other.Checks == nil {
		return nil
	}
	for name, words := range row.Fails {
		if since := row.Since[writer.ID][name]; since != "" && older(map[string]bool{since: true}, g.signs[writer]) != "" {
			continue
		}
		for _, variant := range variants(other, name) {
			if where, fails := theirs.fails(other.Checks, variant, row.At[name], words); fails {
				out.Checks = append(out.Checks, Check{variant, where})
			}
		}
	}
	if len(out.Checks) == 0 {
		return nil
	}
	slices.SortFunc(out.Checks, func(a, b Check) int { return strings.Compare(a.Name, b.Name) })
	return out
}

// meets reports whether a program's settings meet a condition.
func (g *Group) meets(e *catalog.Entry, s stack, c catalog.Condition) bool {
	if c.Rule != "" {
		claim := g.Claim(e, c.Rule)
		return claim != nil && slices.Contains(c.Is, claim.Value.String())
	}
	text := ""
	if n, _ := s.find(c.Key); n != nil {
		text = n.Text()
	}
	return slices.ContainsFunc(c.Is, func(word string) bool { return strings.EqualFold(word, text) })
}

// find returns what the strongest layer of the program's own settings has at a key.
func (s *stack) find(key string) (*document.Node, layer) {
	for i := len(s.layers) - 1; i >= 0; i-- {
		if l := s.layers[i]; l.node != nil && l.place != nil && l.place.ID == "" {
			if n := l.node.Find(key); n != nil {
				return n, l
			}
		}
	}
	return nil, layer{}
}

// variants are the names under which a linter and its plugins have a check.
func variants(e *catalog.Entry, name string) []string {
	out := []string{name}
	for _, v := range e.Variants {
		for _, prefix := range v.Names {
			if prefix != "" {
				out = append(out, document.Unescape(prefix)+name)
			}
		}
	}
	return out
}

// fails reports whether a check is on, and given one of the words as its option.
func (s *stack) fails(c *catalog.Checks, name, at string, words []string) (Where, bool) {
	named := func(text string) string { return strings.ReplaceAll(text, "{}", document.Escape(name)) }
	on := *c.On
	on.Name = strings.ReplaceAll(on.Name, "{}", name)
	on.Keys = nil
	for _, key := range c.On.Keys {
		on.Keys = append(on.Keys, named(key))
	}
	for _, off := range c.Off {
		if strings.HasPrefix(name, off) && !slices.ContainsFunc(c.Lifted, func(key string) bool { n, _ := s.find(key); return n != nil }) {
			on.Unset = "off"
		}
	}
	state, where := s.state(&on)
	if state != stateOn {
		return Where{}, false
	}
	if slices.Contains(words, "*") {
		return where, true
	}
	key := named(c.Option)
	if at != "" {
		key += "/" + at
	}
	text := ""
	if n, _ := s.find(key); n != nil {
		if n.Kind != document.Scalar {
			return Where{}, false // what that comes to was not measured
		}
		text = n.Text()
	}
	return where, slices.Contains(words, text)
}
