package scan

// Language is how comments and texts are written in a programming language.
type Language struct {
	Lines  []string    // what starts a comment to the end of the line
	Blocks [][2]string // what starts and ends a comment; tried before Lines
	Quotes []Quote     // longer ones first

	Starts   string // signs that may start a word
	Ends     string // signs that may end one
	Patterns bool   // slashes may enclose a regular expression

	// Here starts a here-document, HereSigns may follow it before the word that
	// ends the document; HereLower says that this word may be in lower case.
	Here      string
	HereSigns string
	HereLower bool
}

// Quote is one way to write a text.
type Quote struct {
	Open, Close string
	Lines       bool     // may hold line breaks
	Raw         bool     // a backslash stands for itself
	Plain       bool     // only the quote and the backslash are escaped
	Doubled     bool     // the closing quote written twice stands for itself
	Computes    []string // what starts a part that is worked out at run time
	Prefixes    []string // letters that may stand before it
}

var (
	single = Quote{Open: "'", Close: "'"}
	double = Quote{Open: `"`, Close: `"`}
)

var python = []string{"r", "R", "b", "u", "f", "F", "rb", "br", "fr", "rf"}

// Languages are the languages known, by the identifier of the Language Server
// Protocol.
var Languages = map[string]*Language{
	"javascript": {
		Lines: []string{"//", "#!"}, Blocks: [][2]string{{"/*", "*/"}}, Patterns: true, Starts: "@#",
		Quotes: []Quote{single, double, {Open: "`", Close: "`", Lines: true, Computes: []string{"${"}}},
	},
	"ruby": {
		Lines: []string{"#"}, Blocks: [][2]string{{"=begin\n", "\n=end"}}, Patterns: true, Starts: "@", Ends: "?!",
		Quotes: []Quote{
			{Open: "'", Close: "'", Lines: true, Plain: true},
			{Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}},
			{Open: "%w[", Close: "]", Lines: true, Raw: true}, {Open: "%w(", Close: ")", Lines: true, Raw: true},
			{Open: "%w{", Close: "}", Lines: true, Raw: true}, {Open: "%i[", Close: "]", Lines: true, Raw: true},
		},
		Here: "<<", HereSigns: "~-",
	},
	"php": {
		Lines: []string{"//", "# ", "#!", "#\n"}, Blocks: [][2]string{{"/*", "*/"}},
		Quotes: []Quote{{Open: "'", Close: "'", Lines: true, Plain: true}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"$", "{$"}}},
		Here:   "<<<",
	},
	"python": {
		Lines: []string{"#"},
		Quotes: []Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Prefixes: python}, {Open: "'''", Close: "'''", Lines: true, Prefixes: python},
			{Open: `"`, Close: `"`, Prefixes: python}, {Open: "'", Close: "'", Prefixes: python},
		},
		Starts: "@",
	},
	"lua": {
		Lines: []string{"--", "#!"}, Blocks: [][2]string{{"--[[", "]]"}, {"--[=[", "]=]"}},
		Quotes: []Quote{single, double, {Open: "[[", Close: "]]", Lines: true, Raw: true}, {Open: "[=[", Close: "]=]", Lines: true, Raw: true}},
	},
	"elixir": {
		Lines: []string{"#"}, Ends: "?!", Starts: "@",
		Quotes: []Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Computes: []string{"#{"}}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}}, {Open: "'", Close: "'", Lines: true},
			{Open: "~w(", Close: ")", Lines: true, Raw: true}, {Open: "~w[", Close: "]", Lines: true, Raw: true},
		},
	},
}
