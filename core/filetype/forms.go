package filetype

import "jollytreaty/core/scan"

// Ways of writing that many languages share.
var (
	single = scan.Quote{Open: "'", Close: "'"}
	double = scan.Quote{Open: `"`, Close: `"`}
	// one character; a lone quote is a lifetime, a derivative or an apostrophe
	char = scan.Quote{Open: "'", Close: "'", Short: true}

	lines       = scan.Quote{Open: `"`, Close: `"`, Lines: true}
	doubled     = scan.Quote{Open: "'", Close: "'", Lines: true, Raw: true, Doubled: true}
	longDouble  = scan.Quote{Open: `"""`, Close: `"""`, Lines: true}
	longSingle  = scan.Quote{Open: "'''", Close: "'''", Lines: true}
	backtick    = scan.Quote{Open: "`", Close: "`", Lines: true, Raw: true}
	template    = scan.Quote{Open: "`", Close: "`", Lines: true, Computes: []string{"${"}}
	rawHash     = scan.Quote{Open: `#"`, Close: `"#`, Lines: true, Raw: true}
	perlSingle  = scan.Quote{Open: "'", Close: "'", Plain: true}
	shellSingle = scan.Quote{Open: "'", Close: "'", Lines: true, Raw: true}

	stars  = [][2]string{{"/*", "*/"}}
	slash  = []string{"//"}
	hash   = []string{"#"}
	dashes = []string{"--"}
	tags   = [][2]string{{"<!--", "-->"}}
	parens = [][2]string{{"(*", "*)"}}
)

// pythonPrefixes are the letters that may stand before a text.
var pythonPrefixes = []string{"r", "R", "b", "u", "f", "F", "rb", "br", "fr", "rf"}

// families are languages that write comments and texts alike.
var (
	script = &scan.Language{
		Lines: []string{"//", "#!"}, Blocks: stars, Patterns: true, Starts: "@#",
		Quotes: []scan.Quote{single, double, template},
	}
	curly    = &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{double, char}}
	styles   = &scan.Language{Lines: slash, Lone: true, Blocks: stars, Quotes: []scan.Quote{single, double}}
	pythonic = &scan.Language{
		Lines: hash,
		Quotes: []scan.Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Prefixes: pythonPrefixes}, {Open: "'''", Close: "'''", Lines: true, Prefixes: pythonPrefixes},
			{Open: `"`, Close: `"`, Prefixes: pythonPrefixes}, {Open: "'", Close: "'", Prefixes: pythonPrefixes},
		},
		Starts: "@",
	}
	cpp    = &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{{Open: `"(`, Close: `)"`, Lines: true, Raw: true, Prefixes: []string{"R", "LR", "uR", "u8R"}, Prefixed: true}, double, char}}
	markup = &scan.Language{Blocks: tags}
	lisp   = &scan.Language{Lines: []string{";"}, Blocks: [][2]string{{"#|", "|#"}}, Quotes: []scan.Quote{lines}}
	ml     = &scan.Language{Blocks: parens, Quotes: []scan.Quote{lines, char}}
	pure   = &scan.Language{Lines: dashes, Blocks: [][2]string{{"{-", "-}"}}, Quotes: []scan.Quote{longDouble, double, char}}
	hashes = &scan.Language{Lines: hash, Lone: true, Quotes: []scan.Quote{double, single}}
	shell  = &scan.Language{
		Lines: hash, Lone: true, Quotes: []scan.Quote{shellSingle, lines},
		Here: "<<", HereSigns: "-", HereLower: true, HereStrict: true,
	}
	lists     = &scan.Language{Lines: []string{"#", ";"}, FirstOnly: true}
	hashLists = &scan.Language{Lines: hash, FirstOnly: true}
	infra     = &scan.Language{Lines: []string{"#", "//"}, Blocks: stars, Quotes: []scan.Quote{{Open: `"`, Close: `"`, Computes: []string{"${"}}}, Here: "<<", HereSigns: "-", HereLower: true}
	percent   = &scan.Language{Lines: []string{"%"}}
	circuits  = &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{double}}
)
