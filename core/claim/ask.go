package claim

import (
	"slices"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/presence"
)

// Outdone is a settings file that its program does not read, for another in the
// same folder.
type Outdone struct {
	Program  *catalog.Entry
	File, By *File
}

// Outdone returns the settings files that lose to another in their folder.
func (p *Picture) Outdone() []Outdone {
	var out []Outdone
	beside := map[string][]*File{}
	for _, f := range p.Files {
		beside[f.Folder] = append(beside[f.Folder], f)
	}
	for _, f := range p.Files {
		for _, r := range f.Readers {
			if r.Ignores || r.Place.Shared || f.BaseOf != nil || f.Named || len(beside[f.Folder]) == 1 || !f.found(r.Program, r.Place) {
				continue
			}
			if by := rival(f, r, beside[f.Folder]); by != nil && !p.extended(f) {
				out = append(out, Outdone{r.Program, f, by})
			}
		}
	}
	return out
}

// IsOutdone reports whether every program that looks for the file reads another
// in its folder instead.
func (p *Picture) IsOutdone(f *File) bool {
	beaten := 0
	for _, o := range p.Outdone() {
		if o.File == f {
			beaten++
		}
	}
	return beaten > 0 && beaten == len(f.Readers)
}

// rival returns the file in the same folder that the program reads instead.
func rival(f *File, r Reader, beside []*File) *File {
	before := true
	for _, place := range r.Program.Settings {
		same := place == r.Place
		if same {
			before = false
		}
		if !same && (r.Place.Pool == "" || place.Pool != r.Place.Pool || !before) {
			continue
		}
		for _, other := range beside {
			if other == f || other.BaseOf != nil || !other.readAs(r.Program, place) {
				continue
			}
			if !same || preference(place, other.Path) < preference(place, f.Path) {
				return other
			}
		}
	}
	return nil
}

// Says reports whether the key is set in the file, in one above it that the
// program merges with it, or where that cannot be known.
func (p *Picture) Says(r Reader, f *File, key string) bool {
	if len(p.styled[r.Program]) > 0 || len(f.bases) > 0 {
		return true
	}
	for _, other := range p.Files {
		if other != f && (r.Place.Search != "merged" || !Within(f.Folder, other.Folder) || !other.readAs(r.Program, r.Place)) || other.Doc == nil {
			continue
		}
		root := other.Doc.Root.Find(r.Place.Section)
		if root == nil || root.Kind == document.Opaque {
			return true
		}
		if n, computed := root.Look(key); n != nil || computed != nil {
			return true
		}
	}
	return false
}

// Idle is a pattern in a settings file that reaches no file.
type Idle struct {
	Program *catalog.Entry
	File    *File
	Node    *document.Node
	Pattern string
}

// Idle returns the patterns for which settings are kept and that reach no file.
func (p *Picture) Idle() []Idle {
	var out []Idle
	for _, f := range p.Files {
		for _, sec := range f.sections {
			if f.BaseOf != nil || sec.kind != settingsSection || sec.types != nil || sec.reach == everywhere || !f.styles(sec) || p.any(f, sec) {
				continue
			}
			idle := Idle{Program: f.Readers[0].Program, File: f, Node: sec.node, Pattern: sec.node.Key}
			for _, r := range f.Readers {
				if r.Place == sec.place {
					idle.Program = r.Program
				}
			}
			if len(sec.shown) > 0 {
				idle.Pattern = sec.shown[0]
			}
			if !slices.ContainsFunc(out, func(had Idle) bool { return had.File == f && had.Node == sec.node }) {
				out = append(out, idle)
			}
		}
	}
	return out
}

// styles reports whether a section holds anything about style, where the file
// may hold anything else.
func (f *File) styles(sec section) bool {
	keys := f.Readers[0].Place.OnlyKeys
	return f.Doc.Syntax.Form() != document.Rows || keys == nil || slices.ContainsFunc(sec.node.Items, func(n *document.Node) bool {
		return slices.Contains(keys, n.Key) && n.Value != false // what is taken back may wait for files
	})
}

func (p *Picture) any(f *File, sec section) bool {
	return slices.ContainsFunc(p.Groups, func(g *Group) bool { return g.Reads(f) && sec.applies(g, g.chain.offset(f)) })
}

// FilesOf counts the files of types that the program covers and does not leave
// out, where it is in play.
func (p *Picture) FilesOf(e *catalog.Entry) int {
	files := 0
	for _, g := range p.Groups {
		if _, covers := e.Covering(g.Type.ID); covers && g.Type.Styled && len(g.Signs(e)) > 0 {
			if _, out := g.Excludes[e]; !out {
				files += g.Files
			}
		}
	}
	return files
}

// Reaches reports whether the program is used here in a version from since on,
// as far as its version is said.
func (p *Picture) Reaches(e *catalog.Entry, since string) bool {
	if since == "" {
		return true
	}
	return !slices.ContainsFunc(p.Seen[e], func(s Seen) bool { return !s.Foreign && presence.Before(s.Version, since) })
}

// Bare reports whether the program could be told something about the group's
// files, and nothing in the repository tells it anything.
func (g *Group) Bare(e *catalog.Entry) bool {
	if !slices.ContainsFunc(e.Rules, func(q *catalog.Question) bool { return !q.Fixed() && q.Concerns(g.Type.ID) }) {
		return false
	}
	s := stackOf(e, g)
	return len(s.layers) == 0 && s.files == 0 && g.told[e] == nil && g.opaque[e] == (Seen{}) && !s.broken
}
