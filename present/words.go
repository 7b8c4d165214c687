package present

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
)

// count says how many there are of a thing.
func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func fileCount(n int) string { return count(n, "file", "files") }

// place says where a side stands.
func place(s conflict.Side) string {
	switch {
	case s.Path != "" && s.Line > 0:
		return fmt.Sprintf("%s:%d", Clean(s.Path), s.Line)
	case s.Path != "":
		return Clean(s.Path)
	case s.Basis == claim.Default:
		return "its default"
	}
	return ""
}

// placed is place with the basis where that is not plain from the place.
func placed(s conflict.Side) string {
	switch where := place(s); {
	case s.Basis == claim.Default && s.Path != "":
		return where + " (default)"
	case s.Basis == claim.Inherited:
		return where + " (inherited)"
	default:
		return where
	}
}

// subject says what a finding is about in a few words.
func subject(f *conflict.Finding) string {
	if f.Rule != nil {
		return f.Rule.Title
	}
	return cmp.Or(f.Code.Meaning().Title, string(f.Code))
}

// topic is the findings that share a cause, told as one.
type topic struct {
	*conflict.Finding // the first
	all               []*conflict.Finding
	types             []string
	files             int
}

// topics gathers findings by cause, in their order.
func topics(findings []*conflict.Finding) []*topic {
	var list []*topic
	by := map[string]*topic{}
	for _, f := range findings {
		t := by[f.Cause]
		if t == nil {
			t = &topic{Finding: f}
			by[f.Cause] = t
			list = append(list, t)
		}
		if f.Type != nil && !slices.Contains(t.types, f.Type.Name) {
			t.types = append(t.types, f.Type.Name)
		}
		t.files += f.Files
		t.all = append(t.all, f)
	}
	return list
}

// typeNames lists the topic's types, the last ones as a number.
func (t *topic) typeNames(most int) string {
	if len(t.types) > most {
		if most == 1 {
			return fmt.Sprintf("%d types", len(t.types))
		}
		return fmt.Sprintf("%s and %d more", strings.Join(t.types[:most-1], ", "), len(t.types)-most+1)
	}
	return strings.Join(t.types, ", ")
}

// heading names a topic: what it is about, for which types, in how many files;
// with as many types as there is room for.
func (t *topic) heading(width int) string {
	text := ""
	for most := 4; most > 0; most-- {
		text = subject(t.Finding) + t.Code.Meaning().Suffix
		if names := t.typeNames(most); names != "" {
			text += " in " + names
		}
		if t.files > 0 {
			text += ", " + fileCount(t.files)
		}
		if utf8.RuneCountInString(text) <= width {
			return text
		}
	}
	return cut(text, width)
}
