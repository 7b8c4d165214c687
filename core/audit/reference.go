package audit

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// Reference is a rule with what each program makes of it.
type Reference struct {
	Rule    *rule.Rule
	Answers []Answer
}

// Answer is how one program answers a rule.
type Answer struct {
	Program *catalog.Entry
	Role    rule.Role
	Keys    []string // of its settings; none where it has one fixed style
	Default string   // "" where it has none
	InPlay  bool
	Here    []Here
}

// Here is a value in this repository, and where it is set; Path is "" for a
// default that holds.
type Here struct {
	Value string
	Path  string
	Line  int
	Files int
}

// Key is a key of a program's own settings.
type Key struct {
	Program *catalog.Entry
	Name    string // with dots between its parts
	Takes   string // what values it takes, in words; "" where that is not known
	Rule    *rule.Rule
	Default string
	Instead string // for a retired key, what to use instead
	Retired bool
	Here    []Here
}

// References returns every rule with the answers of the programs in play, or of
// every program that is known.
func (r *Result) References(every bool) []Reference {
	var out []Reference
	for _, ru := range rule.All() {
		ref := Reference{Rule: ru}
		for _, e := range r.Picture.Catalog.Entries {
			if a, ok := r.answer(e, ru); ok && (every || a.InPlay) {
				ref.Answers = append(ref.Answers, a)
			}
		}
		out = append(out, ref)
	}
	return out
}

func (r *Result) answer(e *catalog.Entry, ru *rule.Rule) (Answer, bool) {
	a := Answer{Program: e, InPlay: r.plays(e)}
	var defaults []string
	found := false
	for _, q := range e.Rules {
		if q.Rule != ru.ID {
			continue
		}
		found = true
		a.Role = q.Role
		for _, w := range q.From {
			if name := e.NameOf(w); !slices.Contains(a.Keys, name) {
				a.Keys = append(a.Keys, name)
			}
		}
		if text := defaultText(q); text != "" && !slices.Contains(defaults, text) {
			defaults = append(defaults, text)
		}
	}
	a.Default = strings.Join(defaults, " or ")
	if a.InPlay {
		a.Here = r.claimed(e, ru)
	}
	return a, found
}

// claimed gathers what a program claims about a rule, by value and place.
func (r *Result) claimed(e *catalog.Entry, ru *rule.Rule) []Here {
	var out []Here
	for i, g := range r.Picture.Groups {
		c := g.Claim(e, ru.ID)
		if c == nil || !g.Type.Styled || !r.Verdicts[i].InPlay(e, g) {
			continue
		}
		h := Here{Value: "left alone", Path: c.Where.Path()}
		if !c.Value.IsZero() {
			h.Value = c.Value.String()
		}
		if c.Basis != claim.Default {
			h.Line, _ = c.Where.Position()
		} else {
			h.Path = ""
		}
		if j := slices.IndexFunc(out, func(had Here) bool { had.Files = 0; return had == h }); j >= 0 {
			out[j].Files += g.Files
			continue
		}
		h.Files = g.Files
		out = append(out, h)
	}
	return out
}

func (r *Result) plays(e *catalog.Entry) bool {
	return slices.ContainsFunc(r.Programs, func(p Program) bool { return p.Entry == e })
}

func defaultText(q *catalog.Question) string {
	switch {
	case q.On != nil && q.On.Unset == "off":
		return "off"
	case q.Default == nil:
		return ""
	case q.Default == catalog.LeavesWord:
		return "left alone"
	case q.Default == catalog.MachineWord:
		return "the machine's"
	}
	return fmt.Sprint(q.Default)
}

// Keys returns every key of a program's settings that is known, in name order.
func (r *Result) Keys(e *catalog.Entry) []Key {
	byPath := map[string]*Key{}
	key := func(path string) *Key {
		if byPath[path] == nil {
			byPath[path] = &Key{Program: e, Name: catalog.Dotted(path)}
		}
		return byPath[path]
	}
	for path, domain := range e.Known.Keys() {
		if !strings.Contains(path, "*") {
			key(path).Takes = document.DomainText(domain)
		}
	}
	for _, q := range e.Rules {
		for _, w := range q.From {
			k := key(w.Key)
			k.Name = e.NameOf(w)
			k.Rule, k.Default = rule.ByID(q.Rule), defaultText(q)
			if k.Takes == "" {
				k.Takes = waysText(w)
			}
		}
		if q.On != nil {
			for _, path := range slices.Concat(q.On.Keys, q.On.Enabled, q.On.Disabled, q.On.Only) {
				key(path)
			}
		}
	}
	for path, retired := range e.RetiredKeys {
		k := key(path)
		k.Retired, k.Instead = true, retired.Use
	}
	var out []Key
	for path, k := range byPath {
		k.Here = r.setAt(e, path)
		out = append(out, *k)
	}
	slices.SortFunc(out, func(a, b Key) int { return strings.Compare(a.Name, b.Name) })
	return out
}

// waysText says which words a key's translation knows.
func waysText(w *catalog.Way) string {
	var words []string
	for word := range w.Values {
		words = append(words, strings.Trim(fmt.Sprintf("%q", word), `"`))
	}
	slices.Sort(words)
	return strings.Join(words, ", ")
}

// setAt finds where the program's settings files set a key.
func (r *Result) setAt(e *catalog.Entry, path string) []Here {
	var out []Here
	for _, f := range r.Picture.Files {
		for _, reader := range f.Readers {
			if reader.Program != e || reader.Ignores || f.Doc == nil {
				continue
			}
			for _, n := range claim.SettingsIn(f, reader) {
				item := n.Find(path)
				if item == nil {
					continue
				}
				line, _ := f.Doc.Position(item.KeyStart)
				h := Here{Value: valueText(item), Path: f.Path, Line: line, Files: f.Governs}
				if !slices.Contains(out, h) {
					out = append(out, h)
				}
			}
		}
	}
	return out
}

func valueText(n *document.Node) string {
	switch n.Kind {
	case document.Scalar:
		return n.Text()
	case document.Opaque:
		return "(code)"
	case document.List:
		var words []string
		for _, w := range n.Words() {
			words = append(words, w.Text())
		}
		return "[" + strings.Join(words, ", ") + "]"
	}
	return "{…}"
}

// Matches reports whether every word stands in one of the texts, whatever its
// case.
func Matches(words []string, texts ...string) bool {
	all := strings.ToLower(strings.Join(texts, " "))
	plain := strings.NewReplacer("_", " ", "-", " ", ".", " ").Replace(all)
	for _, w := range words {
		w = strings.ToLower(w)
		if !strings.Contains(all, w) && !strings.Contains(plain, w) {
			return false
		}
	}
	return true
}
