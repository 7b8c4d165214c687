package filetype

import "jollytreaty/core/scan"

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
