package settle

import (
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
)

// nameInEditors schedules that the workspace settings of editors name the group's
// formatter for its type. Where an editor has no name for it, what they name
// instead is switched off for the type.
func (e *editor) nameInEditors(g *claim.Group, v *assign.Assignment) {
	for _, editor := range e.d.catalog().Entries {
		place := editor.Place("")
		if editor.Picks == nil || place == nil || place.Languages == "" {
			continue
		}
		files := g.FilesOf(editor, place)
		if len(files) == 0 || files[len(files)-1].Doc == nil || !files[len(files)-1].Doc.Adds() {
			continue
		}
		f := files[len(files)-1]
		if pick, named := g.Picked[v.Formatter.Program]; named && pick.Editor == editor || e.divided(g, v, f) {
			continue
		}
		rival := slices.ContainsFunc(v.Rivals, func(c assign.Candidate) bool { return g.Picked[c.Program].Editor == editor })
		name := editorName(v.Formatter.Program)
		switch {
		case name != "":
			e.say(f, place, g, editor.Picks.Formatter, name)
		case rival:
			e.say(f, place, g, editor.Picks.Formatter, nil)
			for _, key := range []string{editor.Picks.OnSave, editor.Picks.OnPaste, editor.Picks.OnType} {
				if isOn(f.Doc.Root, g.Type.ID, place, key) {
					e.say(f, place, g, key, false)
				}
			}
		}
	}
}

// divided reports whether files of the group's type for which the settings file
// speaks, too, have another formatter: its section is about the whole type.
func (e *editor) divided(g *claim.Group, v *assign.Assignment, f *claim.File) bool {
	for i, h := range e.d.groups() {
		other := e.d.Audit.Verdicts[i].Formatter
		if h.Type == g.Type && other != nil && other.Program != v.Formatter.Program && h.Reads(f) {
			return true
		}
	}
	return false
}

// editorName returns what an editor's settings call a formatter: the first of its
// names that is no action's.
func editorName(e *catalog.Entry) string {
	for _, n := range e.EditorNames {
		if !strings.HasPrefix(n, "source.") {
			return n
		}
	}
	return ""
}

// say schedules a value in the section of the group's type.
func (e *editor) say(f *claim.File, place *catalog.Place, g *claim.Group, key string, value any) {
	section := strings.ReplaceAll(place.Languages, "{type}", g.Type.ID)
	fe := e.file(f.Path, f.Doc.Syntax, f)
	if n := f.Doc.Root.Get(section).Find(key); n != nil && n.Kind == document.Scalar {
		fe.sets[n] = value
		return
	}
	fe.add([]string{section, key}, value)
}

// isOn reports whether a key is true for the type.
func isOn(root *document.Node, typeID string, place *catalog.Place, key string) bool {
	n := root.Get(strings.ReplaceAll(place.Languages, "{type}", typeID)).Find(key)
	if n == nil {
		n = root.Find(key)
	}
	return n != nil && n.Value == true
}
