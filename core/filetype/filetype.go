// Package filetype knows the types of file, one entry each: how a type is told by a
// file's name or first lines, how its comments and texts are written, what its code
// shows of habits, and whether it speaks of programs.
package filetype

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/nearest"
	"jollytreaty/core/scan"
)

// Type is what a file is.
type Type struct {
	// ID is the language identifier of the Language Server Protocol 3.17 where it
	// lists one, else the language's name in lower case.
	ID     string
	Name   string // as people write it
	Styled bool   // text that people lay out and a program could format

	// Extensions and Names, compared without and with regard to case, tell the type by
	// a file's name; Interpreters are programs that a first line "#!" names, and
	// Begins what a file without a telling name starts with, whatever the case.
	Extensions, Names, Interpreters, Begins []string

	// Modes are what editors call the type in mode lines, where that is neither its id,
	// its name nor an interpreter.
	Modes []string

	// Shared are extensions that other types use, too.
	Shared []Shared

	// Speaks says how files of the type speak of programs.
	Speaks Speech

	// Prose says that lines are paragraphs, which two blanks may end.
	Prose bool

	// Forms say how comments and texts are written, and Traits what can be told of the
	// code; nil where that is not known.
	Forms  *scan.Language
	Traits *Traits
}

// Shared is an extension that several types use. The first whose expression matches
// the start of some line, blanks aside, in a file's first bytes has the file; a type
// without an expression has all that is left.
type Shared struct {
	Extension string
	Line      string // a regular expression, "" for none
	First     bool   // it is tried before those of other types

	// Read says that the file is opened even where no other of the types has files of
	// its own in the repository.
	Read bool
}

// Speech is how files speak of programs.
type Speech uint8

// The ways.
const (
	Silent   Speech = iota
	Builds          // or tests a project: it may run them
	Explains        // it only tells of them
)

// Unknown is the type of files that no name, extension or first line tells.
var Unknown = &Type{ID: "unknown", Name: "(unknown)"}

// binary is the type of what holds a NUL byte, and of much else.
const binary = "binary"

// table is the types by what tells them.
type table struct {
	byID, byExt, byName, byInterpreter, byMode map[string]*Type

	doubts map[string]*Doubt // by extension
	begins []beginning
}

type beginning struct {
	text string // in lower case
	typ  *Type
}

var theTable = sync.OnceValue(loadTable)

func loadTable() *table {
	t := &table{byID: map[string]*Type{}, byExt: map[string]*Type{}, byName: map[string]*Type{}, byInterpreter: map[string]*Type{}, byMode: map[string]*Type{}, doubts: map[string]*Doubt{}}
	for _, list := range [][]Type{codeTypes, markupTypes, dataTypes, otherTypes} {
		for i := range list {
			t.add(&list[i])
		}
	}
	for _, d := range t.doubts {
		d.arrange()
	}
	return t
}

func (t *table) add(typ *Type) {
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
	for _, m := range append([]string{typ.ID, strings.ToLower(typ.Name)}, typ.Modes...) {
		t.byMode[m] = typ
	}
	for _, b := range typ.Begins {
		t.begins = append(t.begins, beginning{b, typ})
	}
	for _, s := range typ.Shared {
		d := t.doubts[s.Extension]
		if d == nil {
			d = &Doubt{}
			t.doubts[s.Extension] = d
		}
		d.claims = append(d.claims, newClaim(typ, s))
		if !slices.Contains(typ.Extensions, s.Extension) {
			typ.Extensions = append(typ.Extensions, s.Extension)
		}
	}
}

// ByID returns the type with the given id, or nil.
func ByID(id string) *Type {
	if id == Unknown.ID {
		return Unknown
	}
	return theTable().byID[id]
}

// Number is how many types are known by name, extension or first line.
func Number() int { return len(theTable().byID) }

// IDs returns the ids of all types, in order.
func IDs() []string {
	var out []string
	for id := range theTable().byID {
		out = append(out, id)
	}
	slices.Sort(out)
	return out
}

// Named returns the type with the given id or name, whatever its case, or nil.
func Named(name string) *Type {
	if t := ByID(strings.ToLower(name)); t != nil {
		return t
	}
	for _, t := range theTable().byID {
		if strings.EqualFold(t.Name, name) {
			return t
		}
	}
	return nil
}

// NotOne is the error of a word that is no type's id. It says which type may have
// been meant, by its name, by an extension or by an id that is nearly the same.
func NotOne(word string) error {
	meant := Named(word)
	if meant == nil {
		meant = theTable().byExt["."+strings.ToLower(strings.TrimPrefix(word, "."))]
	}
	if meant == nil && len(word) > 2 { // less is near to everything short
		meant = theTable().byID[nearest.Of(strings.ToLower(word), IDs())]
	}
	if meant == nil {
		return fmt.Errorf("%s is no file type; see the ids in: treaty assign --format json", word)
	}
	return fmt.Errorf("%s is no file type; the id of %s is %s", word, meant.Name, meant.ID)
}
