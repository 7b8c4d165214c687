package settle

import (
	"fmt"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// succession says how the settings of a retired program go over to the one that
// follows it: key by key, and what the follower has no key for. It is "" where
// nothing is set or nobody follows.
func (d *draft) succession(f *conflict.Finding) string {
	old := d.catalog().ByID(f.Sides[0].Program)
	if old == nil || old.Retired == nil || len(old.Retired.By) == 0 {
		return ""
	}
	next := d.catalog().ByID(old.Retired.By[0])
	if next == nil {
		return ""
	}
	var carried, lost []string
	for _, g := range d.groups() {
		for _, c := range g.Claims {
			if c.Program != old || c.Basis != claim.Set || c.Value.IsZero() || c.Rule.ID == rule.IndentStyle && g.Claim(old, rule.IndentSize) != nil {
				continue // a size of spaces says both
			}
			what := fmt.Sprintf("%s, %s", c.Rule.Title, c.Rule.Phrase(c.Value))
			if key := keyFor(next, c, g); key != "" {
				carried = appendNew(carried, what+": "+key)
			} else {
				lost = appendNew(lost, what)
			}
		}
	}
	if len(carried)+len(lost) == 0 {
		return ""
	}
	text := "move to " + next.Name
	if where := d.homeOf(next); where != "" && len(carried) > 0 {
		text += ", in " + where + ": " + strings.Join(carried, "; ")
	}
	if len(lost) > 0 {
		text += "; it has no setting for " + strings.Join(lost, "; ")
	}
	return text
}

// homeOf returns the settings file that a program has here, or else the name of
// the one it could have.
func (d *draft) homeOf(e *catalog.Entry) string {
	for _, f := range d.Audit.Picture.Files {
		for _, r := range f.Readers {
			if r.Program == e && r.Place.ID == "" && !r.Ignores {
				return f.Path
			}
		}
	}
	if place := e.Place(""); place != nil {
		return place.Files[0]
	}
	return ""
}

// renewKeys schedules that keys which are no longer to be used go over to those
// that take their place.
func (e *editor) renewKeys() {
	for _, f := range e.d.Audit.Findings {
		at := f.Retired
		if at == nil || f.Waived != nil || at.Key.To == "" || !e.d.Choices.asksForFinding(f) {
			continue
		}
		r := renewal{node: at.Node}
		for _, key := range strings.Split(at.Key.To, "/") {
			r.to = append(r.to, document.Unescape(key))
		}
		if len(at.Key.Values) > 0 {
			if r.value = at.Key.Values[at.Node.Text()]; r.value == nil {
				continue
			}
		}
		if _, err := r.edits(at.File.Doc); err != nil {
			e.d.notes[f.ID] = err.Error()
			continue
		}
		fe := e.file(at.File.Path, at.File.Doc.Syntax, at.File)
		fe.renewals = append(fe.renewals, r)
		for _, reader := range at.File.Readers {
			e.d.mended[reader.Program] = true
		}
	}
}

// renewal is a key that gets another name, or a word of a list that another one
// takes the place of.
type renewal struct {
	node  *document.Node
	to    []string
	value any // nil where it stays
}

func (r renewal) edits(doc *document.Document) ([]document.Edit, error) {
	if r.node.Key == "" {
		edit, err := doc.Set(r.node, r.to[0])
		return []document.Edit{edit}, err
	}
	edits, err := doc.Rename(r.node, r.to)
	if err == nil && r.value != nil {
		var edit document.Edit
		if edit, err = doc.Set(r.node, r.value); err == nil {
			edits = append(edits, edit)
		}
	}
	return edits, err
}

// renewed returns the edits of the file's renewals, or none if the file could not
// be read with all of them.
func (fe *fileEdit) renewed(doc *document.Document) []document.Edit {
	var out []document.Edit
	for _, r := range fe.renewals {
		if edits, err := r.edits(doc); err == nil {
			out = append(out, edits...)
		}
	}
	text, err := doc.Apply(out)
	if err == nil {
		_, err = doc.Again(text)
	}
	if err != nil {
		return nil
	}
	return out
}

// keyFor returns the key by which a program is set to a claim's value, with the
// value as it is written; "" where it has none.
func keyFor(e *catalog.Entry, c *claim.Claim, g *claim.Group) string {
	for _, q := range e.Rules {
		if q.Rule != c.Rule.ID || !q.Concerns(g.Type.ID) {
			continue
		}
		asked := *c
		asked.Program, asked.Question, asked.Way = e, q, nil
		for _, w := range q.From {
			place := e.Place(w.Place)
			if place == nil || place.ID != "" {
				continue
			}
			if raw, ok := rawFor(&asked, w, c.Value, place); ok {
				return fmt.Sprintf("%s = %v", strings.ReplaceAll(w.Key, "~1", "/"), raw)
			}
		}
		if q.Fixed() && q.Default != nil && fmt.Sprint(q.Default) == c.Value.String() {
			return "always so"
		}
	}
	return ""
}
