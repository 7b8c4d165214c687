package settle

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
)

// exception is a key with another value for some files of a type only.
type exception struct {
	typ    *filetype.Type
	rule   string
	place  *catalog.Place
	kind   *catalog.Overrides
	path   []string // of the key, within the settings for those files
	raw    any
	groups []*claim.Group
}

// overridesOf returns how a settings file is told of settings for some files, or nil
// where it has no list of them: that which it has some of already, or the first.
func overridesOf(place *catalog.Place, fe *fileEdit) *catalog.Overrides {
	var first *catalog.Overrides
	for _, o := range place.Overrides {
		if o.Key == "." || o.Item != "" || strings.ContainsAny(o.Files, "#@") || o.Globs != pattern.Names && o.Globs != pattern.Paths {
			continue
		}
		if first == nil {
			first = o
		}
		if fe.doc == nil {
			continue
		}
		list := fe.doc.Root.Find(strings.Join(escaped(keyPath(place, o.Key)), "/"))
		if list != nil && slices.ContainsFunc(list.Items, func(n *document.Node) bool { return n.Get(o.Files) != nil }) {
			return o
		}
	}
	return first
}

// except schedules a key for the group's files only.
func (fe *fileEdit) except(kind *catalog.Overrides, s step, g *claim.Group, ruleID string) {
	within := s.path
	if s.place.Section != "" {
		within = within[strings.Count(s.place.Section, "/")+1:]
	}
	if kind.Options != "" {
		within = append(strings.Split(kind.Options, "/"), within...)
	}
	for _, x := range fe.exceptions {
		if x.typ == g.Type && x.raw == s.raw && slices.Equal(x.path, within) {
			x.groups = append(x.groups, g)
			return
		}
	}
	fe.exceptions = append(fe.exceptions, &exception{g.Type, ruleID, s.place, kind, within, s.raw, []*claim.Group{g}})
}

// withExceptions adds overrides to a settings file: one for the keys that are for
// the same files.
func (e *editor) withExceptions(fe *fileEdit, text []byte) []byte {
	for len(fe.exceptions) > 0 {
		first := fe.exceptions[0]
		var members []document.Member
		var rest []*exception
		for _, x := range fe.exceptions {
			if x.typ == first.typ && x.kind == first.kind && slices.Equal(x.groups, first.groups) {
				members = put(members, x.path, x.raw)
			} else {
				rest = append(rest, x)
			}
		}
		patterns, err := e.d.patternsFrom(path.Dir(fe.path), first.typ, first.groups)
		if err == nil {
			text, err = fe.withOverride(text, first, patterns, members)
		}
		if err != nil {
			for _, x := range fe.exceptions {
				e.d.block(x.groups[0], x.rule, err.Error())
			}
		}
		fe.exceptions = rest
	}
	return text
}

// withOverride adds one override. The patterns are lines of an ignore list.
func (fe *fileEdit) withOverride(text []byte, x *exception, patterns []string, members []document.Member) ([]byte, error) {
	doc, err := document.Parse(fe.syntax, fe.path, text)
	if err != nil {
		return text, err
	}
	globs := make([]string, len(patterns))
	for i, p := range patterns {
		switch rooted := strings.TrimPrefix(p, "/"); {
		case rooted != p:
			globs[i] = rooted
		case x.kind.Globs == pattern.Paths:
			globs[i] = "**/" + p
		default:
			globs[i] = p
		}
	}
	item := append([]document.Member{{Key: x.kind.Files, Value: globs}}, members...)
	edit, err := doc.AddItem(keyPath(x.place, x.kind.Key), item)
	if err != nil {
		return text, fmt.Errorf("%w; say it there by hand", err)
	}
	after, err := doc.Apply([]document.Edit{edit})
	if err != nil {
		return text, err
	}
	return after, nil
}

// put adds a value at a path of keys to members.
func put(members []document.Member, path []string, raw any) []document.Member {
	if len(path) == 1 {
		return append(members, document.Member{Key: path[0], Value: raw})
	}
	for i, m := range members {
		if inner, ok := m.Value.([]document.Member); ok && m.Key == path[0] {
			members[i].Value = put(inner, path[1:], raw)
			return members
		}
	}
	return append(members, document.Member{Key: path[0], Value: put(nil, path[1:], raw)})
}
