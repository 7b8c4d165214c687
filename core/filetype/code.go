package filetype

import "jollytreaty/core/scan"

// codeTypes are programming languages, in the order of their ids.
var codeTypes = []Type{
	{ID: "abap", Name: "ABAP", Styled: true, Extensions: []string{".abap"}},
	{
		ID: "ada", Name: "Ada", Styled: true, Extensions: []string{".adb", ".ads", ".gpr"},
		Forms: &scan.Language{Lines: dashes, Quotes: []scan.Quote{double, char}},
	},
	{ID: "agda", Name: "Agda", Styled: true, Extensions: []string{".agda"}},
	{
		ID: "apex", Name: "Apex", Styled: true, Extensions: []string{".trigger"},
		Shared: []Shared{{Extension: ".cls", Line: `(?i)(public|private|global)\b.*\bclass\b`, Read: true}},
	},
	{ID: "applescript", Name: "AppleScript", Styled: true, Extensions: []string{".applescript"}},
	{ID: "asm", Name: "Assembly", Styled: true, Extensions: []string{".s", ".asm", ".nasm"}},
	{
		ID: "awk", Name: "AWK", Styled: true, Extensions: []string{".awk", ".gawk"},
		Interpreters: []string{"awk", "gawk", "mawk"},
	},
	{
		ID: "bat", Name: "Batch", Styled: true, Extensions: []string{".bat", ".cmd"}, Speaks: Builds,
		Forms: &scan.Language{Lines: []string{"REM ", "rem ", "::", "@rem ", "@REM "}, FirstOnly: true},
	},
	{
		ID: "c", Name: "C", Styled: true, Extensions: []string{".c", ".idc"}, Shared: []Shared{{Extension: ".h"}},
		Forms: curly, Traits: &cLike,
	},
	{
		ID: "clojure", Name: "Clojure", Styled: true, Extensions: []string{".clj", ".cljs", ".cljc", ".edn", ".bb"},
		Interpreters: []string{"bb"}, Forms: lisp,
	},
	{ID: "cobol", Name: "COBOL", Styled: true, Extensions: []string{".cob", ".cbl", ".cpy"}},
	{
		ID: "coffeescript", Name: "CoffeeScript", Styled: true, Extensions: []string{".coffee", ".litcoffee"},
		Names: []string{"Cakefile"}, Interpreters: []string{"coffee"},
	},
	{
		ID: "commonlisp", Name: "Common Lisp", Styled: true, Extensions: []string{".lisp", ".lsp", ".asd", ".cl"},
		Forms: lisp,
	},
	{
		ID: "coq", Name: "Coq", Styled: true,
		Shared: []Shared{{Extension: ".v", Line: `(Require\s+(Import|Export)|From\s+\w+\s+Require|Lemma|Theorem|Definition|Inductive)\b`, Read: true}},
	},
	{
		ID: "cpp", Name: "C++", Styled: true,
		Extensions: []string{".cpp", ".cc", ".cxx", ".c++", ".hpp", ".hh", ".hxx", ".h++", ".ipp", ".tpp", ".inl", ".ixx", ".cppm"},
		Shared:     []Shared{{Extension: ".h", Line: `(class\s+\w+|namespace\b|template\s*<|using\s+\w+\s*=|(public|private|protected)\s*:|#include\s+<[a-z_]+>\s*$)`}},
		Forms:      cpp, Traits: &cLike,
	},
	{
		ID: "crystal", Name: "Crystal", Styled: true, Extensions: []string{".cr"}, Interpreters: []string{"crystal"},
		Forms:  &scan.Language{Lines: hash, Quotes: []scan.Quote{{Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}}, char}},
		Traits: &nested,
	},
	{
		ID: "csharp", Name: "C#", Styled: true, Extensions: []string{".cs", ".csx", ".cake"},
		Forms:  &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{longDouble, {Open: `@"`, Close: `"`, Lines: true, Raw: true, Doubled: true}, double, char}},
		Traits: &Traits{Openers: "{", Brace: true, Imports: []string{"using "}},
	},
	{ID: "cuda", Name: "CUDA", Styled: true, Extensions: []string{".cu", ".cuh"}, Forms: cpp, Traits: &cLike},
	{
		ID: "cython", Name: "Cython", Styled: true, Extensions: []string{".pyx", ".pxd", ".pxi"}, Forms: pythonic,
		Traits: &python,
	},
	{
		ID: "d", Name: "D", Styled: true, Extensions: []string{".di"}, Interpreters: []string{"rdmd"},
		Shared: []Shared{{Extension: ".d"}},
		Forms:  curly, Traits: &cLike,
	},
	{
		ID: "dart", Name: "Dart", Styled: true, Extensions: []string{".dart"}, Interpreters: []string{"dart"},
		Forms: &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{
			longSingle, longDouble, {Open: "'", Close: "'", Computes: []string{"${"}, Prefixes: []string{"r"}}, {Open: `"`, Close: `"`, Computes: []string{"${"}, Prefixes: []string{"r"}},
		}},
		Traits: &Traits{Openers: "{[", Quotes: true, Lists: "[", Args: true, Brace: true, Imports: []string{"import "}, Module: true},
	},
	{ID: "dhall", Name: "Dhall", Styled: true, Extensions: []string{".dhall"}},
	{ID: "eex", Name: "EEx template", Styled: true, Extensions: []string{".eex", ".heex", ".leex"}},
	{
		ID: "elixir", Name: "Elixir", Styled: true, Extensions: []string{".ex", ".exs"},
		Interpreters: []string{"elixir"},
		Forms: &scan.Language{
			Lines: hash, Ends: "?!", Starts: "@",
			Quotes: []scan.Quote{
				{Open: `"""`, Close: `"""`, Lines: true, Computes: []string{"#{"}}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}}, {Open: "'", Close: "'", Lines: true},
				{Open: "~w(", Close: ")", Lines: true, Raw: true}, {Open: "~w[", Close: "]", Lines: true, Raw: true},
			},
		},
		Traits: &Traits{Lists: ""},
	},
	{ID: "elm", Name: "Elm", Styled: true, Extensions: []string{".elm"}, Forms: pure, Traits: &nested},
	{
		ID: "emacslisp", Name: "Emacs Lisp", Styled: true, Modes: []string{"emacs-lisp", "lisp-data"}, Extensions: []string{".el"},
		Names: []string{".emacs", "Cask", "Eask"}, Forms: lisp,
	},
	{
		ID: "erlang", Name: "Erlang", Styled: true, Extensions: []string{".erl", ".hrl", ".escript", ".app.src"},
		Names: []string{"rebar.config"}, Interpreters: []string{"escript"},
		Forms: &scan.Language{Lines: []string{"%"}, Quotes: []scan.Quote{lines, {Open: "'", Close: "'"}}},
	},
	{
		ID: "fish", Name: "Fish", Styled: true, Extensions: []string{".fish"}, Interpreters: []string{"fish"},
		Speaks: Builds, Forms: shell, Traits: &nested,
	},
	{ID: "forth", Name: "Forth", Styled: true, Extensions: []string{".forth", ".4th"}},
	{
		ID: "fortran", Name: "Fortran", Styled: true,
		Extensions: []string{".f90", ".f95", ".f03", ".f08", ".f", ".for", ".f77"},
	},
	{
		ID: "fsharp", Name: "F#", Styled: true, Extensions: []string{".fs", ".fsi", ".fsx"},
		Forms:  &scan.Language{Lines: slash, Blocks: parens, Quotes: []scan.Quote{longDouble, lines, char}},
		Traits: &nested,
	},
	{
		ID: "gdscript", Name: "GDScript", Styled: true, Extensions: []string{".gd"}, Forms: pythonic,
		Traits: &Traits{Openers: ":", Quotes: true},
	},
	{ID: "gleam", Name: "Gleam", Styled: true, Extensions: []string{".gleam"}, Forms: curly},
	{
		ID: "glsl", Name: "GLSL", Styled: true,
		Extensions: []string{".glsl", ".vert", ".frag", ".geom", ".comp", ".tesc", ".tese"}, Forms: curly,
		Traits: &cLike,
	},
	{
		ID: "go", Name: "Go", Styled: true, Extensions: []string{".go"},
		Forms:  &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{backtick, double, char}},
		Traits: &Traits{Openers: "{", Quoted: true, Imports: []string{"import ("}},
	},
	{
		ID: "groovy", Name: "Groovy", Styled: true, Extensions: []string{".groovy", ".gradle", ".gvy", ".gy"},
		Names: []string{"Jenkinsfile"}, Interpreters: []string{"groovy"}, Speaks: Builds,
		Forms:  &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{longSingle, longDouble, single, double}},
		Traits: &Traits{Openers: "{", Imports: []string{"import "}},
	},
	{ID: "hack", Name: "Hack", Styled: true, Extensions: []string{".hack", ".hhi"}},
	{
		ID: "haskell", Name: "Haskell", Styled: true, Extensions: []string{".hs", ".lhs", ".hsc"},
		Interpreters: []string{"runghc", "runhaskell", "stack"}, Forms: pure,
		Traits: &Traits{Imports: []string{"import "}},
	},
	{ID: "haxe", Name: "Haxe", Styled: true, Extensions: []string{".hx"}, Forms: styles},
	{ID: "hlsl", Name: "HLSL", Styled: true, Extensions: []string{".hlsl", ".fx"}, Forms: curly, Traits: &cLike},
	{ID: "idris", Name: "Idris", Styled: true, Extensions: []string{".idr"}, Forms: pure},
	{
		ID: "java", Name: "Java", Styled: true, Extensions: []string{".java", ".jav"},
		Forms:  &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{longDouble, double, char}},
		Traits: &Traits{Openers: "{", Brace: true, Imports: []string{"import "}, Sections: "static"},
	},
	{
		ID: "javascript", Name: "JavaScript", Styled: true, Modes: []string{"js", "js2", "javascript"}, Extensions: []string{".js", ".mjs", ".cjs", ".es6"},
		Names: []string{"Jakefile"}, Interpreters: []string{"node", "nodejs", "deno", "bun", "qjs"}, Speaks: Builds,
		Forms: script, Traits: &scripts,
	},
	{
		ID: "javascriptreact", Name: "JavaScript JSX", Styled: true, Extensions: []string{".jsx"}, Forms: script,
		Traits: markedUp(scripts),
	},
	{
		ID: "julia", Name: "Julia", Styled: true, Extensions: []string{".jl"}, Interpreters: []string{"julia"},
		Forms:  &scan.Language{Lines: hash, Blocks: [][2]string{{"#=", "=#"}}, Quotes: []scan.Quote{longDouble, double, char}},
		Traits: &nested,
	},
	{
		ID: "kotlin", Name: "Kotlin", Styled: true, Extensions: []string{".kt", ".kts", ".ktm"},
		Forms: &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Raw: true}, {Open: `"`, Close: `"`, Computes: []string{"${"}}, char,
		}},
		Traits: &Traits{Openers: "{", Ends: "*", Lists: "[", Args: true, Brace: true, Imports: []string{"import "}},
	},
	{ID: "lean", Name: "Lean", Styled: true, Extensions: []string{".lean"}},
	{
		ID: "lua", Name: "Lua", Styled: true, Extensions: []string{".lua", ".rockspec"},
		Names: []string{".luacheckrc"}, Interpreters: []string{"lua", "luajit"}, Speaks: Builds,
		Forms: &scan.Language{
			Lines: []string{"--", "#!"}, Blocks: [][2]string{{"--[[", "]]"}, {"--[=[", "]=]"}},
			Quotes: []scan.Quote{single, double, {Open: "[[", Close: "]]", Lines: true, Raw: true}, {Open: "[=[", Close: "]=]", Lines: true, Raw: true}},
		},
		Traits: &Traits{Quotes: true, Lists: "{"},
	},
	{ID: "m4", Name: "M4", Styled: true, Extensions: []string{".m4", ".ac"}, Names: []string{"configure.ac"}},
	{
		ID: "matlab", Name: "MATLAB", Styled: true, Extensions: []string{".mlx"},
		Shared: []Shared{{Extension: ".m", Line: `(%|function\b|end\s*$|\w+\s*=.*;\s*$)`, Read: true}}, Forms: percent,
	},
	{
		ID: "nim", Name: "Nim", Styled: true, Extensions: []string{".nim", ".nims", ".nimble"},
		Forms: &scan.Language{Lines: hash, Quotes: []scan.Quote{longDouble, double, char}}, Traits: &nested,
	},
	{
		ID: "nix", Name: "Nix", Styled: true, Extensions: []string{".nix"}, Speaks: Builds,
		Forms:  &scan.Language{Lines: hash, Blocks: stars, Quotes: []scan.Quote{{Open: "''", Close: "''", Lines: true, Raw: true}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"${"}}}},
		Traits: &Traits{Openers: "{["},
	},
	{ID: "notebook", Name: "Notebook", Styled: true, Extensions: []string{".ipynb"}},
	{
		ID: "objective-c", Name: "Objective-C", Styled: true,
		Shared: []Shared{{Extension: ".h", First: true, Line: `(@interface|@protocol|@class|@import|#import)\b`}, {Extension: ".m", First: true, Line: `(@interface|@implementation|@protocol|@import|@class|#import|#include|//|/\*)`, Read: true}, {Extension: ".m", Read: true}},
		Forms:  curly, Traits: &cLike,
	},
	{
		ID: "objective-cpp", Name: "Objective-C++", Styled: true, Extensions: []string{".mm"}, Forms: cpp,
		Traits: &cLike,
	},
	{
		ID: "ocaml", Name: "OCaml", Styled: true, Extensions: []string{".ml", ".mli", ".mll", ".mly"},
		Interpreters: []string{"ocaml"}, Forms: ml,
	},
	{ID: "odin", Name: "Odin", Styled: true, Extensions: []string{".odin"}},
	{
		ID: "pascal", Name: "Pascal", Styled: true,
		Extensions: []string{".pas", ".pp", ".dpr", ".lpr", ".dfm", ".lfm"},
		Forms:      &scan.Language{Lines: slash, Blocks: [][2]string{{"{", "}"}, {"(*", "*)"}}, Quotes: []scan.Quote{{Open: "'", Close: "'", Raw: true, Doubled: true}}},
	},
	{
		ID: "perl", Name: "Perl", Styled: true, Modes: []string{"cperl"}, Extensions: []string{".pm", ".t", ".pod", ".psgi"},
		Names: []string{"cpanfile"}, Interpreters: []string{"perl"}, Shared: []Shared{{Extension: ".pl", Read: true}},
		Speaks: Builds,
		Forms: &scan.Language{
			Lines: hash, Lone: true, Quotes: []scan.Quote{perlSingle, double},
			Blocks: [][2]string{{"=pod", "\n=cut"}, {"=head", "\n=cut"}, {"=over", "\n=cut"}, {"=begin", "\n=cut"}, {"=encoding", "\n=cut"}},
		},
		Traits: &Traits{Openers: "{", Brace: true},
	},
	{
		ID: "php", Name: "PHP", Styled: true,
		Extensions: []string{".php", ".phtml", ".php3", ".php4", ".php5", ".phps"}, Interpreters: []string{"php"},
		Begins: []string{"<?php"}, Speaks: Builds,
		Forms: &scan.Language{
			Lines: []string{"//", "# ", "#!", "#\n"}, Blocks: stars,
			Quotes: []scan.Quote{{Open: "'", Close: "'", Lines: true, Plain: true}, {Open: `"`, Close: `"`, Lines: true, Computes: []string{"$", "{$"}}},
			Here:   "<<<",
		},
		Traits: &Traits{Openers: "{", Tag: "<?php", Quotes: true, Computed: true, Lists: "[", Args: true, Brace: true, Imports: []string{"use "}},
	},
	{
		ID: "powershell", Name: "PowerShell", Styled: true, Extensions: []string{".ps1", ".psm1", ".psd1"},
		Interpreters: []string{"pwsh", "powershell"}, Speaks: Builds,
		Forms:  &scan.Language{Lines: hash, Lone: true, Blocks: [][2]string{{"<#", "#>"}}, Quotes: []scan.Quote{{Open: "@\"", Close: "\n\"@", Lines: true, Raw: true}, {Open: "@'", Close: "\n'@", Lines: true, Raw: true}, shellSingle, {Open: `"`, Close: `"`, Lines: true, Raw: true, Doubled: true}}},
		Traits: &Traits{Openers: "{(", Brace: true},
	},
	{
		ID: "prolog", Name: "Prolog", Styled: true, Extensions: []string{".prolog"}, Interpreters: []string{"swipl"},
		Shared: []Shared{{Extension: ".pl", Line: `(:-\s|[a-z]\w*\([^)]*\)\s*:-)`, Read: true}}, Forms: percent,
	},
	{ID: "purescript", Name: "PureScript", Styled: true, Extensions: []string{".purs"}, Forms: pure},
	{
		ID: "python", Name: "Python", Styled: true,
		Extensions:   []string{".py", ".pyi", ".pyw", ".py3", ".wsgi", ".gyp", ".gypi"},
		Names:        []string{"SConstruct", "SConscript", "wscript", "Snakefile"},
		Interpreters: []string{"python", "python2", "python3", "pypy", "pypy3", "uv"}, Speaks: Builds, Forms: pythonic,
		Traits: &python,
	},
	{ID: "qml", Name: "QML", Styled: true, Extensions: []string{".qml"}, Forms: script},
	{
		ID: "r", Name: "R", Styled: true, Extensions: []string{".r", ".rmd", ".rprofile"},
		Names: []string{".Rprofile"}, Interpreters: []string{"Rscript"},
		Forms:  &scan.Language{Lines: hash, Quotes: []scan.Quote{lines, {Open: "'", Close: "'", Lines: true}}},
		Traits: &Traits{Openers: "{", Quotes: true, Brace: true},
	},
	{
		ID: "racket", Name: "Racket", Styled: true, Extensions: []string{".rkt", ".rktd", ".rktl"},
		Interpreters: []string{"racket"}, Forms: lisp,
	},
	{
		ID: "raku", Name: "Raku", Styled: true, Extensions: []string{".raku", ".rakumod", ".rakutest", ".p6", ".pm6"},
		Interpreters: []string{"raku"},
	},
	{ID: "reason", Name: "ReasonML", Styled: true, Extensions: []string{".re", ".rei"}, Forms: curly},
	{
		ID: "rescript", Name: "ReScript", Styled: true, Extensions: []string{".resi"},
		Shared: []Shared{{Extension: ".res", Line: `(let|open|module|type|external|@react)\b`, Read: true}},
		Forms:  curly,
	},
	{ID: "robotframework", Name: "Robot Framework", Styled: true, Extensions: []string{".robot"}, Forms: hashLists},
	{
		ID: "ruby", Name: "Ruby", Styled: true,
		Extensions:   []string{".rb", ".rake", ".gemspec", ".ru", ".rbi", ".podspec", ".jbuilder", ".thor"},
		Names:        []string{"Gemfile", "Rakefile", "Podfile", "Vagrantfile", "Brewfile", "Guardfile", "Fastfile", "Appfile", "Matchfile", "Dangerfile", "Berksfile", "Capfile"},
		Interpreters: []string{"ruby", "jruby", "rake"}, Speaks: Builds,
		Forms: &scan.Language{
			Lines: []string{"#"}, Blocks: [][2]string{{"=begin\n", "\n=end"}}, Patterns: true, Starts: "@", Ends: "?!",
			Quotes: []scan.Quote{
				{Open: "'", Close: "'", Lines: true, Plain: true},
				{Open: `"`, Close: `"`, Lines: true, Computes: []string{"#{"}},
				{Open: "%w[", Close: "]", Lines: true, Raw: true}, {Open: "%w(", Close: ")", Lines: true, Raw: true},
				{Open: "%w{", Close: "}", Lines: true, Raw: true}, {Open: "%i[", Close: "]", Lines: true, Raw: true},
			},
			Here: "<<", HereSigns: "~-",
		},
		Traits: &Traits{Quotes: true, Computed: true, Lists: "[{", Args: true},
	},
	{
		ID: "rust", Name: "Rust", Styled: true, Extensions: []string{".rs"},
		Forms: &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{
			{Open: `#"`, Close: `"#`, Lines: true, Raw: true, Prefixes: []string{"r", "br"}, Prefixed: true},
			{Open: `"`, Close: `"`, Lines: true, Prefixes: []string{"r", "b", "br"}}, char,
		}},
		Traits: &Traits{Openers: "{", Lists: "[{", Args: true, Brace: true, Arms: "match", Imports: []string{"use "}, Parts: &Parts{Between: "::", First: []string{"self", "super", "crate"}}},
	},
	{
		ID: "scala", Name: "Scala", Styled: true, Extensions: []string{".scala", ".sc", ".sbt", ".mill"},
		Interpreters: []string{"scala", "scala-cli"},
		Forms:        &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{{Open: `"""`, Close: `"""`, Lines: true, Raw: true}, double, char}},
		Traits:       &Traits{Openers: "{", Ends: "*", Brace: true, Imports: []string{"import "}},
	},
	{
		ID: "scheme", Name: "Scheme", Styled: true, Extensions: []string{".scm", ".ss", ".sld"},
		Interpreters: []string{"guile", "scheme", "chibi-scheme"}, Forms: lisp,
	},
	{
		ID: "shellscript", Name: "Shell", Styled: true, Modes: []string{"shell-script"},
		Extensions:   []string{".sh", ".bash", ".zsh", ".ksh", ".bats", ".ebuild", ".eclass", ".command"},
		Names:        []string{".bashrc", ".bash_profile", ".profile", ".zshrc", ".zshenv", ".envrc", "PKGBUILD", "APKBUILD", "gradlew"},
		Interpreters: []string{"sh", "bash", "dash", "ash", "ksh", "zsh", "mksh", "bats"}, Speaks: Builds,
		Forms: shell, Traits: &nested,
	},
	{ID: "smalltalk", Name: "Smalltalk", Styled: true, Extensions: []string{".st"}},
	{ID: "sml", Name: "Standard ML", Styled: true, Extensions: []string{".sml", ".sig", ".fun"}, Forms: ml},
	{
		ID: "solidity", Name: "Solidity", Styled: true, Extensions: []string{".sol"}, Forms: styles,
		Traits: &Traits{Openers: "{", Quotes: true, Brace: true, Imports: []string{"import "}, Module: true},
	},
	{
		ID: "sql", Name: "SQL", Styled: true,
		Extensions: []string{".sql", ".ddl", ".dml", ".psql", ".plsql", ".pks", ".pkb"},
		Forms:      &scan.Language{Lines: dashes, Blocks: stars, Quotes: []scan.Quote{doubled}}, Traits: &nested,
	},
	{
		ID: "swift", Name: "Swift", Styled: true, Extensions: []string{".swift"}, Interpreters: []string{"swift"},
		Forms: &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{
			{Open: `"""`, Close: `"""`, Lines: true, Computes: []string{`\(`}}, rawHash, {Open: `"`, Close: `"`, Computes: []string{`\(`}},
		}},
		Traits: &Traits{Openers: "{", Ends: "*", Lists: "[", Brace: true, Imports: []string{"import "}},
	},
	{
		ID: "systemverilog", Name: "SystemVerilog", Styled: true, Extensions: []string{".sv", ".svh"}, Forms: circuits,
		Traits: &nested,
	},
	{
		ID: "tcl", Name: "Tcl", Styled: true, Extensions: []string{".tcl", ".tk", ".itcl"},
		Interpreters: []string{"tclsh", "wish", "expect"}, Forms: hashLists,
	},
	{ID: "teal", Name: "Teal", Styled: true, Extensions: []string{".tl"}},
	{
		ID: "typescript", Name: "TypeScript", Styled: true, Extensions: []string{".mts", ".cts"},
		Interpreters: []string{"ts-node", "tsx"}, Shared: []Shared{{Extension: ".ts"}}, Forms: script,
		Traits: &scripts,
	},
	{
		ID: "typescriptreact", Name: "TypeScript TSX", Styled: true, Extensions: []string{".tsx"}, Forms: script,
		Traits: markedUp(scripts),
	},
	{
		ID: "v", Name: "V", Styled: true, Extensions: []string{".vsh"}, Names: []string{"v.mod"},
		Shared: []Shared{{Extension: ".v", Line: `((pub\s+)?(fn\s+\w+\s*\(|struct\s+\w+\s*\{)|import\s+\w+$)`, Read: true}},
		Forms:  curly, Traits: &records,
	},
	{ID: "vala", Name: "Vala", Styled: true, Extensions: []string{".vala", ".vapi"}, Forms: curly, Traits: &cLike},
	{
		ID: "vb", Name: "Visual Basic", Styled: true, Extensions: []string{".vb", ".bas", ".vbs", ".frm"},
		Shared: []Shared{{Extension: ".cls", Read: true}},
	},
	{
		ID: "verilog", Name: "Verilog", Styled: true, Extensions: []string{".vh"},
		Shared: []Shared{{Extension: ".v", Read: true}}, Forms: circuits, Traits: &nested,
	},
	{
		ID: "vhdl", Name: "VHDL", Styled: true, Extensions: []string{".vhd", ".vhdl"},
		Forms: &scan.Language{Lines: dashes, Quotes: []scan.Quote{double, char}},
	},
	{
		ID: "viml", Name: "Vim script", Styled: true, Extensions: []string{".vim"},
		Names:  []string{".vimrc", ".gvimrc", "_vimrc"},
		Forms:  &scan.Language{Lines: []string{`"`}, FirstOnly: true, Quotes: []scan.Quote{{Open: "'", Close: "'", Raw: true, Doubled: true}, double}},
		Traits: &nested,
	},
	{ID: "wgsl", Name: "WGSL", Styled: true, Extensions: []string{".wgsl"}, Forms: curly},
	{ID: "xquery", Name: "XQuery", Styled: true, Extensions: []string{".xq", ".xql", ".xquery", ".xqm"}},
	{ID: "yacc", Name: "Yacc or Lex", Styled: true, Extensions: []string{".y", ".yy", ".l", ".lex"}},
	{ID: "zig", Name: "Zig", Styled: true, Extensions: []string{".zig", ".zon"}, Forms: curly, Traits: &records},
}
