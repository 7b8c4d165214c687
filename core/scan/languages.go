package scan

// Ways of writing that many languages share.
var (
	single = Quote{Open: "'", Close: "'"}
	double = Quote{Open: `"`, Close: `"`}
	// one character; a lone quote is a lifetime, a derivative or an apostrophe
	char = Quote{Open: "'", Close: "'", Short: true}

	lines       = Quote{Open: `"`, Close: `"`, Lines: true}
	doubled     = Quote{Open: "'", Close: "'", Lines: true, Raw: true, Doubled: true}
	longDouble  = Quote{Open: `"""`, Close: `"""`, Lines: true}
	longSingle  = Quote{Open: "'''", Close: "'''", Lines: true}
	backtick    = Quote{Open: "`", Close: "`", Lines: true, Raw: true}
	template    = Quote{Open: "`", Close: "`", Lines: true, Computes: []string{"${"}}
	rawHash     = Quote{Open: `#"`, Close: `"#`, Lines: true, Raw: true}
	perlSingle  = Quote{Open: "'", Close: "'", Plain: true}
	shellSingle = Quote{Open: "'", Close: "'", Lines: true, Raw: true}

	stars  = [][2]string{{"/*", "*/"}}
	slash  = []string{"//"}
	hash   = []string{"#"}
	dashes = []string{"--"}
	tags   = [][2]string{{"<!--", "-->"}}
	parens = [][2]string{{"(*", "*)"}}
)

var python = []string{"r", "R", "b", "u", "f", "F", "rb", "br", "fr", "rf"}

// families are languages that write comments and texts alike.
var (
	script = &Language{
		Lines: []string{"//", "#!"}, Blocks: stars, Patterns: true, Starts: "@#",
		Quotes: []Quote{single, double, template},
	}
	curly    = &Language{Lines: slash, Blocks: stars, Quotes: []Quote{double, char}}
	styles   = &Language{Lines: slash, Lone: true, Blocks: stars, Quotes: []Quote{single, double}}
	pythonic = &Language{
		Lines: hash,
		Quotes: []Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Prefixes: python}, {Open: "'''", Close: "'''", Lines: true, Prefixes: python},
			{Open: `"`, Close: `"`, Prefixes: python}, {Open: "'", Close: "'", Prefixes: python},
		},
		Starts: "@",
	}
	cpp    = &Language{Lines: slash, Blocks: stars, Quotes: []Quote{{Open: `"(`, Close: `)"`, Lines: true, Raw: true, Prefixes: []string{"R", "LR", "uR", "u8R"}, Prefixed: true}, double, char}}
	markup = &Language{Blocks: tags}
	lisp   = &Language{Lines: []string{";"}, Blocks: [][2]string{{"#|", "|#"}}, Quotes: []Quote{lines}}
	ml     = &Language{Blocks: parens, Quotes: []Quote{lines, char}}
	pure   = &Language{Lines: dashes, Blocks: [][2]string{{"{-", "-}"}}, Quotes: []Quote{longDouble, double, char}}
	hashes = &Language{Lines: hash, Lone: true, Quotes: []Quote{double, single}}
	shell  = &Language{
		Lines: hash, Lone: true, Quotes: []Quote{shellSingle, lines},
		Here: "<<", HereSigns: "-", HereLower: true, HereStrict: true,
	}
	lists     = &Language{Lines: []string{"#", ";"}, FirstOnly: true}
	hashLists = &Language{Lines: hash, FirstOnly: true}
	infra     = &Language{Lines: []string{"#", "//"}, Blocks: stars, Quotes: []Quote{{Open: `"`, Close: `"`, Computes: []string{"${"}}}, Here: "<<", HereSigns: "-", HereLower: true}
	percent   = &Language{Lines: []string{"%"}}
	circuits  = &Language{Lines: slash, Blocks: stars, Quotes: []Quote{double}}
)

// Languages are the languages known, by the identifier of the Language Server
// Protocol where it has one.
var Languages = map[string]*Language{
	"javascript": script, "javascriptreact": script, "typescript": script, "typescriptreact": script,
	"c": curly, "cpp": cpp, "objective-c": curly, "objective-cpp": cpp, "cuda": cpp, "glsl": curly, "hlsl": curly, "wgsl": curly,
	"d": curly, "haxe": styles, "solidity": styles, "proto3": styles, "thrift": styles, "flatbuffers": curly, "v": curly, "vala": curly, "zig": curly,
	"prisma": curly, "antlr": curly, "bicep": styles, "qml": script, "gleam": curly, "cue": {Lines: slash, Quotes: []Quote{longDouble, double}},
	"verilog": circuits, "systemverilog": circuits, "rego": hashes, "capnp": hashes,
	"java":   {Lines: slash, Blocks: stars, Quotes: []Quote{longDouble, double, char}},
	"csharp": {Lines: slash, Blocks: stars, Quotes: []Quote{longDouble, {Open: `@"`, Close: `"`, Lines: true, Raw: true, Doubled: true}, double, char}},
	"fsharp": {Lines: slash, Blocks: parens, Quotes: []Quote{longDouble, lines, char}},
	"go":     {Lines: slash, Blocks: stars, Quotes: []Quote{backtick, double, char}},
	"rust": {Lines: slash, Blocks: stars, Quotes: []Quote{
		{Open: `#"`, Close: `"#`, Lines: true, Raw: true, Prefixes: []string{"r", "br"}, Prefixed: true},
		{Open: `"`, Close: `"`, Lines: true, Prefixes: []string{"r", "b", "br"}}, char,
	}},
	"swift": {Lines: slash, Blocks: stars, Quotes: []Quote{
		{Open: `"""`, Close: `"""`, Lines: true, Computes: []string{`\(`}}, rawHash, {Open: `"`, Close: `"`, Computes: []string{`\(`}},
	}},
	"kotlin": {Lines: slash, Blocks: stars, Quotes: []Quote{
		{Open: `"""`, Close: `"""`, Lines: true, Raw: true}, {Open: `"`, Close: `"`, Computes: []string{"${"}}, char,
	}},
	"scala":  {Lines: slash, Blocks: stars, Quotes: []Quote{{Open: `"""`, Close: `"""`, Lines: true, Raw: true}, double, char}},
	"groovy": {Lines: slash, Blocks: stars, Quotes: []Quote{longSingle, longDouble, single, double}},
	"dart": {Lines: slash, Blocks: stars, Quotes: []Quote{
		longSingle, longDouble, {Open: "'", Close: "'", Computes: []string{"${"}, Prefixes: []string{"r"}}, {Open: `"`, Close: `"`, Computes: []string{"${"}, Prefixes: []string{"r"}},
	}},
	"css": {Blocks: stars, Quotes: []Quote{single, double}}, "scss": styles, "less": styles, "stylus": styles,
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
		Lines: []string{"//", "# ", "#!", "#\n"}, Blocks: stars,
		Quotes: []Quote{{Open: "'", Close: "'", Lines: true, Plain: true}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"$", "{$"}}},
		Here:   "<<<",
	},
	"python": pythonic, "cython": pythonic, "bazel": pythonic, "gdscript": pythonic,
	"meson": {Lines: hash, Quotes: []Quote{longSingle, single}},
	"lua": {
		Lines: []string{"--", "#!"}, Blocks: [][2]string{{"--[[", "]]"}, {"--[=[", "]=]"}},
		Quotes: []Quote{single, double, {Open: "[[", Close: "]]", Lines: true, Raw: true}, {Open: "[=[", Close: "]=]", Lines: true, Raw: true}},
	},
	"elixir": {
		Lines: hash, Ends: "?!", Starts: "@",
		Quotes: []Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Computes: []string{"#{"}}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}}, {Open: "'", Close: "'", Lines: true},
			{Open: "~w(", Close: ")", Lines: true, Raw: true}, {Open: "~w[", Close: "]", Lines: true, Raw: true},
		},
	},
	"shellscript": shell, "fish": shell, "just": hashes, "tcl": hashLists,
	"perl": {
		Lines: hash, Lone: true, Quotes: []Quote{perlSingle, double},
		Blocks: [][2]string{{"=pod", "\n=cut"}, {"=head", "\n=cut"}, {"=over", "\n=cut"}, {"=begin", "\n=cut"}, {"=encoding", "\n=cut"}},
	},
	"r": {Lines: hash, Quotes: []Quote{lines, {Open: "'", Close: "'", Lines: true}}}, "julia": {Lines: hash, Blocks: [][2]string{{"#=", "=#"}}, Quotes: []Quote{longDouble, double, char}},
	"crystal": {Lines: hash, Quotes: []Quote{{Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}}, char}}, "nim": {Lines: hash, Quotes: []Quote{longDouble, double, char}},
	"yaml": {Lines: hash, Lone: true, Quotes: []Quote{{Open: `"`, Close: `"`, Lines: true, Lone: true}, {Open: "'", Close: "'", Lines: true, Raw: true, Doubled: true, Lone: true}}},
	"toml": {Lines: hash, Quotes: []Quote{longDouble, {Open: "'''", Close: "'''", Lines: true, Raw: true}, double, {Open: "'", Close: "'", Raw: true}}},
	"json": {Quotes: []Quote{double}}, "jsonc": {Lines: slash, Blocks: stars, Quotes: []Quote{double}}, "json5": {Lines: slash, Blocks: stars, Quotes: []Quote{double, single}},
	"terraform": infra, "terraform-vars": infra, "hcl": infra,
	"nix":        {Lines: hash, Blocks: stars, Quotes: []Quote{{Open: "''", Close: "''", Lines: true, Raw: true}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"${"}}}},
	"graphql":    {Lines: hash, Quotes: []Quote{longDouble, double}},
	"dockerfile": hashLists, "makefile": hashLists, "properties": hashLists, "ini": lists, "robotframework": hashLists, "puppet": hashes,
	"cmake":   {Lines: hash, Blocks: [][2]string{{"#[[", "]]"}}, Quotes: []Quote{lines}},
	"sql":     {Lines: dashes, Blocks: stars, Quotes: []Quote{doubled}},
	"haskell": pure, "elm": pure, "purescript": pure, "idris": pure, "ada": {Lines: dashes, Quotes: []Quote{double, char}}, "vhdl": {Lines: dashes, Quotes: []Quote{double, char}},
	"clojure": lisp, "commonlisp": lisp, "emacslisp": lisp, "scheme": lisp, "racket": lisp,
	"ocaml": ml, "sml": ml, "reason": curly, "rescript": curly,
	"erlang": {Lines: []string{"%"}, Quotes: []Quote{lines, {Open: "'", Close: "'"}}}, "latex": percent, "bibtex": percent, "matlab": percent, "prolog": percent,
	"powershell": {Lines: hash, Lone: true, Blocks: [][2]string{{"<#", "#>"}}, Quotes: []Quote{{Open: "@\"", Close: "\n\"@", Lines: true, Raw: true}, {Open: "@'", Close: "\n'@", Lines: true, Raw: true}, shellSingle, {Open: `"`, Close: `"`, Lines: true, Raw: true, Doubled: true}}},
	"viml":       {Lines: []string{`"`}, FirstOnly: true, Quotes: []Quote{{Open: "'", Close: "'", Raw: true, Doubled: true}, double}},
	"bat":        {Lines: []string{"REM ", "rem ", "::", "@rem ", "@REM "}, FirstOnly: true},
	"pascal":     {Lines: slash, Blocks: [][2]string{{"{", "}"}, {"(*", "*)"}}, Quotes: []Quote{{Open: "'", Close: "'", Raw: true, Doubled: true}}},
	"html":       markup, "xml": markup, "xsl": markup, "plist": markup, "xaml": markup, "vue": markup, "svelte": markup, "astro": markup,
}
