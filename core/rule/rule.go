// Package rule knows the questions of style, the values that answer them, and
// when two answers can live together in one text.
//
// Rules are neutral. Where EditorConfig, the open standard, has a property, the
// rule bears its name; the others are named in the same manner.
package rule

import (
	"slices"
	"strconv"
)

// Rule is one question of style.
type Rule struct {
	ID       string
	Title    string // as it reads in a table
	Sentence string // what it asks
	Example  [2]string
	Domain   Domain

	// Order is the rule's place in the order in which people ask for them.
	Order int

	// Mirrored says that the value is a fact about the code that several
	// programs are told, not a style: they have to be told the same.
	Mirrored bool

	phrases map[string]string // what text looks like that has a value
	units   [2]string         // what a number counts, where it is one and where it is more
}

// Domain is the values a rule can have.
type Domain struct {
	Words     []string // the finite domain; none for whole numbers
	Number    bool     // whole numbers from 1
	Unlimited bool     // and Unlimited
	Text      bool     // any text
	Prose     bool     // any text, of which blanks and the signs of comments do not count
}

// Contains reports whether the domain holds the value.
func (d Domain) Contains(v Value) bool {
	if d.Unlimited && v == Unlimited || d.Number && v.number > 0 && v.word == "" {
		return true
	}
	return v.number == 0 && (slices.Contains(d.Words, v.word) || (d.Text || d.Prose) && v.word != "")
}

var byID = map[string]*Rule{}

func init() {
	for i, r := range rules {
		r.Order = i
		byID[r.ID] = r
	}
}

// All returns the rules in the order in which people ask for them.
func All() []*Rule { return rules }

// ByID returns the rule with the given id, or nil.
func ByID(id string) *Rule { return byID[id] }

// The rules that are compared as the one question of indentation.
const (
	IndentStyle = "indent_style"
	IndentSize  = "indent_size"
	TabWidth    = "tab_width"
)

// Rules that more than a comparison of values is said about.
const (
	EndOfLine   = "end_of_line"
	ImportOrder = "import_order"
	Braces      = "brace_placement"
)

// nameStyles are the ways in which names of several words are written.
var nameStyles = []string{"snake", "camel", "pascal", "upper"}

var truth = Domain{Words: []string{"true", "false"}}

var rules = []*Rule{
	{ID: IndentStyle, Title: "indentation", Sentence: "Whether lines are indented with tabs or with spaces.",
		Example: [2]string{"→x = 1", "····x = 1"}, Domain: Domain{Words: []string{"tab", "space"}},
		phrases: map[string]string{"tab": "tabs", "space": "spaces"}},
	{ID: IndentSize, Title: "indentation", Sentence: "How many columns one level of indentation takes.",
		Example: [2]string{"··x = 1", "····x = 1"}, Domain: Domain{Number: true},
		units: [2]string{"space", "spaces"}},
	{ID: TabWidth, Title: "tab width", Sentence: "How many columns a tab character takes on the screen.",
		Example: [2]string{"4", "8"}, Domain: Domain{Number: true},
		units: [2]string{"column", "columns"}},
	{ID: EndOfLine, Title: "line endings", Sentence: "Which characters end a line.",
		Example: [2]string{"line␊", "line␍␊"}, Domain: Domain{Words: []string{"lf", "crlf", "cr"}},
		phrases: map[string]string{"lf": "LF", "crlf": "CRLF", "cr": "CR"}},
	{ID: "charset", Title: "charset", Sentence: "How characters are stored as bytes.",
		Example: [2]string{"utf-8", "utf-16le"}, Domain: Domain{Words: []string{"utf-8", "utf-8-bom", "utf-16be", "utf-16le", "latin1"}}},
	{ID: "trim_trailing_whitespace", Title: "trailing blanks", Sentence: "Whether blanks at the end of a line are taken away.",
		Example: [2]string{"x = 1", "x = 1··"}, Domain: truth,
		phrases: map[string]string{"true": "no trailing blanks", "false": "trailing blanks"}},
	{ID: "insert_final_newline", Title: "final newline", Sentence: "Whether a file ends with a line break.",
		Example: [2]string{"end␊", "end"}, Domain: truth,
		phrases: map[string]string{"true": "a final newline", "false": "no final newline"}},
	{ID: "max_line_length", Title: "line length", Sentence: "How many columns a line may take.",
		Example: [2]string{"80", "120"}, Domain: Domain{Number: true, Unlimited: true},
		units: [2]string{"column", "columns"}},
	{ID: "comment_line_length", Title: "comment line length", Sentence: "How many columns a line of a comment may take, where that is another limit than the code's.",
		Example: [2]string{"72", "80"}, Domain: Domain{Number: true, Unlimited: true},
		units: [2]string{"column", "columns"}},
	{ID: "quotes", Title: "quotes", Sentence: "Which quotes a text is written in where both would do.",
		Example: [2]string{"'tide'", `"tide"`}, Domain: Domain{Words: []string{"single", "double"}},
		phrases: map[string]string{"single": "single quotes", "double": "double quotes"}},
	{ID: "quote_escapes", Title: "quotes within quotes", Sentence: "How a text is written that holds the usual quotes itself: in the other quotes, or with escapes.",
		Example: [2]string{`"it's"`, `'it\'s'`}, Domain: Domain{Words: []string{"other", "escape"}},
		phrases: map[string]string{"other": "the other quotes where that spares an escape", "escape": "the same quotes everywhere, with escapes"}},
	{ID: "statement_terminator", Title: "statement ends", Sentence: "Whether statements end in a semicolon where the language does not ask for one.",
		Example: [2]string{"sail();", "sail()"}, Domain: Domain{Words: []string{"always", "needed"}},
		phrases: map[string]string{"always": "a semicolon after every statement", "needed": "no needless semicolons"}},
	{ID: "trailing_comma", Title: "trailing commas", Sentence: "Whether the last element of a list that is broken over lines is followed by a comma; \"always\" adds one on a single line, too.",
		Example: [2]string{"  b,\n]", "  b\n]"}, Domain: Domain{Words: []string{"always", "multiline", "never"}},
		phrases: map[string]string{"always": "trailing commas everywhere", "multiline": "trailing commas in broken lists", "never": "no trailing commas"}},
	{ID: "argument_comma", Title: "argument commas", Sentence: "Whether the last argument or parameter of a list that is broken over lines is followed by a comma.",
		Example: [2]string{"  b,\n)", "  b\n)"}, Domain: Domain{Words: []string{"multiline", "never"}},
		phrases: map[string]string{"multiline": "trailing commas in broken arguments", "never": "no trailing commas in arguments"}},
	{ID: ImportOrder, Title: "import order", Sentence: "How import lines are ordered: \"sorted\" within each block that blank lines set apart, or \"grouped\" by origin, each group sorted.",
		Example: [2]string{"sorted", "grouped"}, Domain: Domain{Words: []string{"sorted", "grouped"}},
		phrases: map[string]string{"sorted": "sorted imports", "grouped": "imports sorted by group"}},
	{ID: "bracket_spacing", Title: "spaces in brackets", Sentence: "Whether blanks stand inside the brackets of a literal on one line.",
		Example: [2]string{"{ tide: 4 }", "{tide: 4}"}, Domain: Domain{Words: []string{"spaced", "tight"}},
		phrases: map[string]string{"spaced": "blanks inside brackets", "tight": "no blanks inside brackets"}},
	{ID: Braces, Title: "braces", Sentence: "Where the opening brace of a block stands: behind what opens it, or on a line of its own.",
		Example: [2]string{"sail() {", "sail()\n{"}, Domain: Domain{Words: []string{"same_line", "next_line"}},
		phrases: map[string]string{"same_line": "braces on the same line", "next_line": "braces on the next line"}},
	{ID: "blank_lines", Title: "blank lines", Sentence: "How many blank lines may follow each other.",
		Example: [2]string{"1", "2"}, Domain: Domain{Number: true, Unlimited: true},
		units: [2]string{"blank line", "blank lines"}},
	{ID: "file_header", Title: "file header", Sentence: "Which text every file begins with.",
		Example: [2]string{"// Skerry Line", "// Skerry Line, all rights reserved"}, Domain: Domain{Prose: true}},
	{ID: "type_names", Title: "names of types", Sentence: "How the names of types are written.",
		Example: [2]string{"FareTable", "fare_table"}, Domain: Domain{Words: nameStyles},
		phrases: nameWords},
	{ID: "function_names", Title: "names of functions", Sentence: "How the names of functions and methods are written.",
		Example: [2]string{"next_sailing()", "nextSailing()"}, Domain: Domain{Words: nameStyles},
		phrases: nameWords},
	{ID: "variable_names", Title: "names of variables", Sentence: "How the names of variables are written.",
		Example: [2]string{"tide_table", "tideTable"}, Domain: Domain{Words: nameStyles},
		phrases: nameWords},
	{ID: "language_version", Title: "language version", Sentence: "For which version or edition of the language programs take the code.",
		Example: [2]string{"2018", "2021"}, Domain: Domain{Text: true}, Mirrored: true},
	{ID: "dialect", Title: "dialect", Sentence: "Which dialect of the language programs take the code to be in.",
		Example: [2]string{"postgres", "sqlite"}, Domain: Domain{Text: true}, Mirrored: true},
}

var nameWords = map[string]string{"snake": "names_like_this", "camel": "namesLikeThis", "pascal": "NamesLikeThis", "upper": "NAMES_LIKE_THIS"}

// Phrase says what text looks like that has the value.
func (r *Rule) Phrase(v Value) string {
	if p := r.phrases[v.String()]; p != "" {
		return p
	}
	switch {
	case r.units[0] != "" && v.Int() == 1:
		return v.String() + " " + r.units[0]
	case r.units[1] != "":
		return v.String() + " " + r.units[1]
	case r.Domain.Prose:
		return strconv.Quote(v.String())
	}
	return v.String()
}
