// Package rule knows the questions of style, the values that answer them, and
// when two answers can live together in one text.
//
// Rules are neutral. Where EditorConfig, the open standard, has a property, the
// rule bears its name; the others are named in the same manner.
package rule

import "slices"

// Rule is one question of style.
type Rule struct {
	ID       string
	Title    string // as it reads in a table
	Sentence string // what it asks
	Example  [2]string
	Domain   Domain
}

// Domain is the values a rule can have.
type Domain struct {
	Words  []string // the finite domain; none for whole numbers
	Number bool     // whole numbers from 1, and Unlimited
}

// Contains reports whether the domain holds the value.
func (d Domain) Contains(v Value) bool {
	if d.Number && (v == Unlimited || v.number > 0 && v.word == "") {
		return true
	}
	return v.number == 0 && slices.Contains(d.Words, v.word)
}

// All returns the rules in the order in which people ask for them.
func All() []*Rule { return rules }

// ByID returns the rule with the given id, or nil.
func ByID(id string) *Rule {
	for _, r := range rules {
		if r.ID == id {
			return r
		}
	}
	return nil
}

// The rules that are compared as the one question of indentation.
const (
	IndentStyle = "indent_style"
	IndentSize  = "indent_size"
	TabWidth    = "tab_width"
)

var truth = Domain{Words: []string{"true", "false"}}

var rules = []*Rule{
	{IndentStyle, "indentation", "Whether lines are indented with tabs or with spaces.",
		[2]string{"→x = 1", "····x = 1"}, Domain{Words: []string{"tab", "space"}}},
	{IndentSize, "indentation", "How many columns one level of indentation takes.",
		[2]string{"··x = 1", "····x = 1"}, Domain{Number: true}},
	{TabWidth, "tab width", "How many columns a tab character takes on the screen.",
		[2]string{"4", "8"}, Domain{Number: true}},
	{"end_of_line", "line endings", "Which characters end a line.",
		[2]string{"line␊", "line␍␊"}, Domain{Words: []string{"lf", "crlf", "cr"}}},
	{"charset", "charset", "How characters are stored as bytes.",
		[2]string{"utf-8", "utf-16le"}, Domain{Words: []string{"utf-8", "utf-8-bom", "utf-16be", "utf-16le", "latin1"}}},
	{"trim_trailing_whitespace", "trailing blanks", "Whether blanks at the end of a line are taken away.",
		[2]string{"x = 1", "x = 1··"}, truth},
	{"insert_final_newline", "final newline", "Whether a file ends with a line break.",
		[2]string{"end␊", "end"}, truth},
	{"max_line_length", "line length", "How many columns a line may take.",
		[2]string{"80", "120"}, Domain{Number: true}},
	{"quotes", "quotes", "Which quotes a text is written in where both would do.",
		[2]string{"'tide'", `"tide"`}, Domain{Words: []string{"single", "double"}}},
	{"statement_terminator", "statement ends", "Whether statements end in a semicolon where the language does not ask for one.",
		[2]string{"sail();", "sail()"}, Domain{Words: []string{"always", "needed"}}},
	{"trailing_comma", "trailing commas", "Whether the last element of a list that is broken over lines is followed by a comma; \"always\" adds one on a single line, too.",
		[2]string{"  b,\n]", "  b\n]"}, Domain{Words: []string{"always", "multiline", "never"}}},
	{"import_order", "import order", "How import lines are ordered: \"sorted\" within each block that blank lines set apart, or \"grouped\" by origin, each group sorted.",
		[2]string{"sorted", "grouped"}, Domain{Words: []string{"sorted", "grouped"}}},
}

// phrases say what text looks like that has a value.
var phrases = map[string]map[string]string{
	IndentStyle:                {"tab": "tabs", "space": "spaces"},
	"end_of_line":              {"lf": "LF", "crlf": "CRLF", "cr": "CR"},
	"trim_trailing_whitespace": {"true": "no trailing blanks", "false": "trailing blanks"},
	"insert_final_newline":     {"true": "a final newline", "false": "no final newline"},
	"quotes":                   {"single": "single quotes", "double": "double quotes"},
	"statement_terminator":     {"always": "a semicolon after every statement", "needed": "no needless semicolons"},
	"trailing_comma":           {"always": "trailing commas everywhere", "multiline": "trailing commas in broken lists", "never": "no trailing commas"},
	"import_order":             {"sorted": "sorted imports", "grouped": "imports sorted by group"},
}

// Phrase says what text looks like that has the value.
func (r *Rule) Phrase(v Value) string {
	if p := phrases[r.ID][v.String()]; p != "" {
		return p
	}
	switch r.ID {
	case IndentSize:
		return v.String() + " spaces"
	case TabWidth, "max_line_length":
		return v.String() + " columns"
	}
	return v.String()
}
