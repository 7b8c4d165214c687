package settle

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// step is how a program is brought to a value: a key at a place in its
// settings and the value to write there.
type step struct {
	place *catalog.Place
	way   *catalog.Way
	node  *document.Node // to replace; nil to add the key
	file  *claim.File    // the file to edit; nil where none is there yet
	path  []string       // of the key
	raw   any
	off   bool // the check is switched off instead
	home  bool // there is no file yet; one is made, or a section of another
}

// adjustable returns why the claim's program cannot be set to the value, or
// nil.
func adjustable(c *claim.Claim, v rule.Value, g *claim.Group) error {
	_, err := stepTo(c, v, g)
	return err
}

// stepTo finds how to set the claim's program to the value for the group.
func stepTo(c *claim.Claim, v rule.Value, g *claim.Group) (step, error) {
	if f := c.Where.File; f != nil && f.Inside {
		return step{}, fmt.Errorf("files say so themselves, such as %s, and are changed by hand only", f.Path)
	}
	if f := c.Where.File; f != nil && f.CommandLine {
		line, _ := c.Where.Position()
		return step{}, fmt.Errorf("a command line tells %s so, %s:%d, and is changed by hand only", c.Program.Name, f.Path, line)
	}
	ways := c.Question.From
	if c.Way != nil {
		ways = []*catalog.Way{c.Way}
	}
	if c.Question.Fixed() {
		if c.Role == rule.Accepts && switchable(c.Question.On) {
			return step{place: c.Program.Place(""), off: true}, nil
		}
		return step{}, fmt.Errorf("%s has one fixed style here", c.Program.Name)
	}
	why := fmt.Errorf("%s cannot be set to %s", c.Program.Name, c.Rule.Phrase(v))
	if w := c.Way; w != nil && (w.Present != "" || w.Match != "") && c.Where.File != nil {
		why = fmt.Errorf("what %s says is changed by hand only", c.Where.File.Path)
	}
	for i := len(ways) - 1; i >= 0; i-- { // where nothing is set: the standard's place first, it is listed last
		w := ways[i]
		place := placeFor(g, c.Program, w.Place)
		raw, ok := rawFor(c, w, v, place)
		if !ok || unheard(g, c.Program, place) {
			continue
		}
		s := step{place: place, way: w, raw: raw, path: keyPath(place, w.Key)}
		if c.Way != nil && c.Basis == claim.Set {
			s.node, s.file = c.Where.Node, c.Where.File
			return s, nil
		}
		files := g.FilesOf(c.Program, place)
		if len(files) > 0 {
			s.file = files[len(files)-1]
			if s.file.Doc == nil {
				why = fmt.Errorf("%s is not read, so it is not touched", s.file.Path)
				continue
			}
			if n := s.file.Doc.Root.Find(strings.Join(escaped(s.path), "/")); n != nil && !place.Syntax.IsStandard() {
				s.node = n
			} else if !s.file.Doc.Adds() || !addable(s.path) {
				why = fmt.Errorf("%s has no %s that could be changed, and nothing is added to a file like it", s.file.Path, w.Key)
				continue
			}
			return s, nil
		}
		if place.Syntax.IsStandard() || place.Create != "" && addable(s.path) {
			return s, nil
		}
		if place.ID == "" && place.Search != "given" && addable(s.path) && !strings.HasPrefix(w.Key, "*/") {
			s.home = true
			return s, nil
		}
		why = fmt.Errorf("%s has no settings file to write %s into", c.Program.Name, w.Key)
	}
	if c.Role == rule.Accepts && switchable(c.Question.On) { // layout is the formatter's
		return step{place: c.Program.Place(""), off: true}, nil
	}
	return step{}, why
}

// placeFor returns the place with the id that has a file for the group, or else
// the first.
func placeFor(g *claim.Group, e *catalog.Entry, id string) *catalog.Place {
	for _, place := range e.Settings {
		if place.ID == id && len(g.FilesOf(e, place)) > 0 {
			return place
		}
	}
	return e.Place(id)
}

// unheard reports whether the program reads other settings of the place's pool
// instead.
func unheard(g *claim.Group, e *catalog.Entry, place *catalog.Place) bool {
	return place.Syntax.IsStandard() && place.Pool != "" && len(g.FilesOf(e, place)) == 0 && slices.ContainsFunc(e.Settings, func(other *catalog.Place) bool {
		return other != place && other.Pool == place.Pool && len(g.FilesOf(e, other)) > 0
	})
}

// addable reports whether a key can be written where it is not: an item of a
// list cannot, since others would have to stand before it.
func addable(path []string) bool {
	return !slices.ContainsFunc(path, func(key string) bool {
		_, err := strconv.Atoi(key)
		return err == nil
	})
}

func keyPath(place *catalog.Place, key string) []string {
	path := strings.Split(key, "/")
	for i := range path {
		path[i] = strings.ReplaceAll(path[i], "~1", "/")
	}
	if place.Section != "" {
		path = append(strings.Split(place.Section, "/"), path...)
	}
	return path
}

// rawFor translates a value back into the words of a key.
func rawFor(c *claim.Claim, w *catalog.Way, v rule.Value, place *catalog.Place) (any, bool) {
	text := place.Syntax.Untyped()
	typed := func(raw string) any {
		if i, err := strconv.ParseInt(raw, 10, 64); err == nil && !text {
			return i
		}
		if (raw == "true" || raw == "false") && !text {
			return raw == "true"
		}
		return raw
	}
	if c.Rule.Domain.Prose {
		return nil, false // how it is set out is not known
	}
	if w.Blanks {
		switch {
		case c.Rule.ID == rule.IndentSize && v.Int() > 0:
			return strings.Repeat(" ", v.Int()), true
		case v == rule.Word("tab"):
			return "\t", true
		}
		return nil, false
	}
	if w.Present != "" || w.Match != "" {
		return nil, false
	}
	best := ""
	for raw, value := range w.Values {
		parsed, err := c.Rule.Domain.Parse(value)
		if err == nil && parsed == v && (best == "" || raw < best) {
			best = raw
		}
	}
	_, elsewhere := w.Values[v.String()] // the word means something else to the program
	switch {
	case best != "":
		return typed(best), true
	case elsewhere:
		return nil, false
	case w.Number != "" || len(w.Values) > 0 && v.Int() == 0 && !accepts(w, v):
		return nil, false
	case c.Rule.ID == rule.IndentStyle && w.Key != rule.IndentStyle:
		return nil, false
	case text:
		return v.String(), true
	}
	return v.Plain(), true
}

// accepts reports whether a way with translations of its own also takes the
// rule's words as they are.
func accepts(w *catalog.Way, v rule.Value) bool {
	for _, value := range w.Values {
		if value != catalog.LeavesWord && value != catalog.UnknownWord && value != catalog.MachineWord {
			return false
		}
	}
	return true
}
