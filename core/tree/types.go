package tree

import (
	_ "embed"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/nearest"
)

//go:embed types.txt
var typesTable string

//go:embed ambiguous.txt
var ambiguousTable string

// Type is what a file is.
type Type struct {
	ID     string // language identifier, lower case
	Name   string // as people write it
	Styled bool   // text that people lay out and a program could format
	// Extensions and Names say how the type is recognised; Interpreters are
	// the programs a first line "#!" names.
	Extensions, Names, Interpreters []string
}

// Unknown is the type of files that no name, extension or first line tells.
var Unknown = &Type{ID: "unknown", Name: "(unknown)"}

// table is the compiled form of the two embedded tables.
type table struct {
	byID, byExt, byName, byInterpreter map[string]*Type
	ambiguous                          map[string]*ambiguity
}

type ambiguity struct {
	always bool // open the file even where only one type is likely
	rules  []contentRule
}

type contentRule struct {
	typ  *Type
	expr *regexp.Regexp // on a line without its leading blanks; nil: always
}

var theTable = sync.OnceValue(loadTable)

// rows yields the fields of a table's lines.
func rows(text string, fields int, yield func([]string)) {
	for line := range strings.Lines(text) {
		line = strings.TrimSpace(line)
		if line == "" || line[0] == '#' {
			continue
		}
		f := strings.SplitN(line, "|", fields)
		for i := range f {
			f[i] = strings.TrimSpace(f[i])
		}
		for len(f) < fields {
			f = append(f, "")
		}
		yield(f)
	}
}

func loadTable() *table {
	t := &table{
		byID: map[string]*Type{}, byExt: map[string]*Type{}, byName: map[string]*Type{},
		byInterpreter: map[string]*Type{}, ambiguous: map[string]*ambiguity{},
	}
	rows(typesTable, 6, func(f []string) {
		typ := &Type{
			ID: f[0], Name: f[1], Styled: f[2] == "yes",
			Extensions: strings.Fields(f[3]), Names: strings.Fields(f[4]), Interpreters: strings.Fields(f[5]),
		}
		t.byID[typ.ID] = typ
		for _, e := range typ.Extensions {
			t.byExt[e] = typ
		}
		for _, n := range typ.Names {
			t.byName[n] = typ
		}
		for _, i := range typ.Interpreters {
			t.byInterpreter[i] = typ
		}
	})
	rows(ambiguousTable, 3, func(f []string) {
		ext, read, _ := strings.Cut(f[0], " ")
		a := t.ambiguous[ext]
		if a == nil {
			a = &ambiguity{}
			t.ambiguous[ext] = a
		}
		a.always = read == "read"
		rule := contentRule{typ: t.byID[f[1]]}
		if f[2] != "" {
			rule.expr = regexp.MustCompile("^(?:" + f[2] + ")")
		}
		a.rules = append(a.rules, rule)
		if !slices.Contains(rule.typ.Extensions, ext) {
			rule.typ.Extensions = append(rule.typ.Extensions, ext)
		}
	})
	return t
}

// TypeByID returns the type with the given id, or nil.
func TypeByID(id string) *Type {
	if id == Unknown.ID {
		return Unknown
	}
	return theTable().byID[id]
}

// TypeCount is the number of file types known by name, extension or first line.
func TypeCount() int { return len(theTable().byID) }

// byPath tells the type from the path alone. It returns nil where the contents
// must be asked.
func (t *table) byPath(p string) (typ *Type, ext string) {
	name := path.Base(p)
	if typ := t.byName[name]; typ != nil {
		return typ, ""
	}
	// The longest extension first: ".blade.php" before ".php".
	for i := strings.IndexByte(name, '.'); i >= 0; {
		ext = strings.ToLower(name[i:])
		if typ := t.byExt[ext]; typ != nil {
			return typ, ext
		}
		if t.ambiguous[ext] != nil {
			return nil, ext
		}
		j := strings.IndexByte(name[i+1:], '.')
		if j < 0 {
			break
		}
		i += 1 + j
	}
	// "Dockerfile.dev", "LICENSE-MIT", ".env.local" go by what stands first.
	if len(name) > 1 {
		if i := strings.IndexAny(name[1:], ".-"); i >= 0 {
			if typ := t.byName[name[:i+1]]; typ != nil {
				return typ, ""
			}
		}
	}
	if ext != "" {
		return Unknown, ext
	}
	return nil, ""
}

// byFirstLine tells the type of a file without a telling name.
func (t *table) byFirstLine(head []byte) *Type {
	text := strings.TrimPrefix(string(head), "\ufeff")
	line, _, _ := strings.Cut(text, "\n")
	line = strings.TrimRight(line, "\r")
	switch {
	case strings.IndexByte(text, 0) >= 0:
		return t.byID["binary"]
	case strings.HasPrefix(line, "#!"):
		if typ := t.byInterpreter[interpreter(line[2:])]; typ != nil {
			return typ
		}
	case strings.HasPrefix(line, "<?xml"):
		return t.byID["xml"]
	case strings.HasPrefix(line, "<?php"):
		return t.byID["php"]
	case strings.HasPrefix(strings.ToLower(line), "<!doctype html"):
		return t.byID["html"]
	}
	return Unknown
}

// interpreter returns the program a "#!" line starts, without its folder,
// version digits or the env in front of it.
func interpreter(line string) string {
	words := strings.Fields(line)
	if len(words) == 0 {
		return ""
	}
	name := path.Base(words[0])
	if name == "env" {
		for _, w := range words[1:] {
			if !strings.HasPrefix(w, "-") && !strings.Contains(w, "=") {
				name = path.Base(w)
				break
			}
		}
	}
	if theTable().byInterpreter[name] != nil {
		return name
	}
	return strings.TrimRight(name, "0123456789.-")
}

// TypeIDs returns the ids of all types.
func TypeIDs() []string {
	var out []string
	for id := range theTable().byID {
		out = append(out, id)
	}
	slices.Sort(out)
	return out
}

// NoType is the error of a word that is no type's id. It says which type may have
// been meant, by its name, by an extension or by an id that is nearly the same.
func NoType(word string) error {
	meant := TypeNamed(word)
	if meant == nil {
		meant = theTable().byExt["."+strings.ToLower(strings.TrimPrefix(word, "."))]
	}
	if meant == nil && len(word) > 2 { // less is near to everything short
		meant = theTable().byID[nearest.Of(strings.ToLower(word), TypeIDs())]
	}
	if meant == nil {
		return fmt.Errorf("%s is no file type; see the ids in: treaty assign --format json", word)
	}
	return fmt.Errorf("%s is no file type; the id of %s is %s", word, meant.Name, meant.ID)
}

// TypeNamed returns the type with the given id or name, whatever its case, or
// nil.
func TypeNamed(name string) *Type {
	if t := TypeByID(strings.ToLower(name)); t != nil {
		return t
	}
	for _, t := range theTable().byID {
		if strings.EqualFold(t.Name, name) {
			return t
		}
	}
	return nil
}
