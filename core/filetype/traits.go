package filetype

import (
	"slices"
	"strings"

	"jollytreaty/core/scan"
)

// Traits say what can be told of the code of a language.
type Traits struct {
	Openers string // what a line ends with before a line that is indented further; "" for anything

	Quotes   bool // both quotes write the same texts
	Computed bool // except texts with computed parts, which only double quotes write
	Markup   bool // quotes behind "=" belong to markup

	Ends  string // words that begin statements which a line end may end; "*" for any
	Lists string // brackets that hold lists, whose last comma is optional
	Args  bool   // so it is in arguments
	Brace bool   // a block's brace may stand on either line
	Space bool   // blanks inside the braces of a literal are a matter of taste

	Blocks bool // a line may end in the sign of a literal block that is indented further

	Tag  string // a line that only begins the code, before which no header stands
	Arms string // the word of a block whose branches end in commas, which is no list

	Imports  []string // beginnings of import lines
	Module   bool     // they are ordered by the text in quotes
	Quoted   bool     // they stand in brackets, each a text in quotes
	Sections string   // words of an import line that come in sections of their own
	Parts    *Parts   // of the paths that it imports, where its formatter orders by them
}

// Parts says how a language's own formatter orders paths that are imported: part by
// part, First before others, then by how their letters are written.
type Parts struct {
	Between string   // what stands between two parts
	First   []string // parts that come before others, in this order
}

// Rank is a part's place among others: those that come first, names in small letters,
// with a capital in front and all in capitals, everything, and lists.
func (p *Parts) Rank(part []byte) int {
	text := string(part)
	if i := slices.Index(p.First, text); i >= 0 {
		return i
	}
	n := len(p.First)
	switch {
	case text == "" || text[0] == '{':
		return n + 4
	case text[0] == '*':
		return n + 3
	case text[0] < 'A' || text[0] > 'Z':
		return n
	case len(text) > 1 && text == strings.ToUpper(text):
		return n + 2
	}
	return n + 1
}

var (
	scripts = Traits{Openers: "{[", Quotes: true, Ends: "import export const let var return throw break continue", Lists: "[{", Args: true, Brace: true, Space: true, Imports: []string{"import "}, Module: true}
	cLike   = Traits{Openers: "{", Brace: true, Imports: []string{"#include "}}
	styled  = Traits{Openers: "{", Quotes: true, Brace: true}
	records = Traits{Openers: "{["}
	nested  = Traits{}
	python  = Traits{Openers: ":", Quotes: true, Lists: "[{", Args: true, Imports: []string{"import ", "from "}, Sections: "from"}
	hcl     = Traits{Openers: "{["}
)

func markedUp(t Traits) *Traits {
	t.Markup = true
	return &t
}

// Signs are those that have to be looked at.
func (t *Traits) Signs() scan.Signs {
	switch {
	case t == nil || t.Blocks || t.Openers == "" && !t.Brace && t.Imports == nil && t.Lists == "" && !t.Args:
		return scan.NoSigns
	case t.Lists == "" && !t.Args:
		return scan.Brackets
	}
	return scan.AllSigns
}
