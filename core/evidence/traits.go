package evidence

import "jollytreaty/core/scan"

// traits say what can be told of the code of a language.
type traits struct {
	openers string // what a line ends with before a line that is indented further; "" for anything

	quotes   bool // both quotes write the same texts
	computed bool // except texts with computed parts, which only double quotes write
	markup   bool // quotes behind "=" belong to markup

	ends  string // words that begin statements which a line end may end; "*" for any
	lists string // brackets that hold lists, whose last comma is optional
	args  bool   // so it is in arguments
	brace bool   // a block's brace may stand on either line
	space bool   // blanks inside the braces of a literal are a matter of taste

	blocks bool // a line may end in the sign of a literal block that is indented further

	tag  string // a line that only begins the code, before which no header stands
	arms string // the word of a block whose branches end in commas, which is no list

	imports  []string // beginnings of import lines
	module   bool     // they are ordered by the text in quotes
	quoted   bool     // they stand in brackets, each a text in quotes
	sections string   // words of an import line that come in sections of their own
}

var (
	scripts = traits{openers: "{[", quotes: true, ends: "import export const let var return throw break continue", lists: "[{", args: true, brace: true, space: true, imports: []string{"import "}, module: true}
	cLike   = traits{openers: "{", brace: true, imports: []string{"#include "}}
	styled  = traits{openers: "{", quotes: true, brace: true}
	data    = traits{openers: "{["}
	nested  = traits{}
	python  = traits{openers: ":", quotes: true, lists: "[{", args: true, imports: []string{"import ", "from "}, sections: "from"}
	hcl     = traits{openers: "{["}
)

var traitsOf = map[string]*traits{
	"javascript": &scripts, "typescript": &scripts,
	"javascriptreact": markedUp(scripts), "typescriptreact": markedUp(scripts),
	"c": &cLike, "cpp": &cLike, "objective-c": &cLike, "objective-cpp": &cLike, "cuda": &cLike, "glsl": &cLike, "hlsl": &cLike, "proto3": &cLike,
	"java":     {openers: "{", brace: true, imports: []string{"import "}, sections: "static"},
	"csharp":   {openers: "{", brace: true, imports: []string{"using "}},
	"kotlin":   {openers: "{", ends: "*", lists: "[", args: true, brace: true, imports: []string{"import "}},
	"scala":    {openers: "{", ends: "*", brace: true, imports: []string{"import "}},
	"groovy":   {openers: "{", imports: []string{"import "}},
	"swift":    {openers: "{", ends: "*", lists: "[", brace: true, imports: []string{"import "}},
	"dart":     {openers: "{[", quotes: true, lists: "[", args: true, brace: true, imports: []string{"import "}, module: true},
	"rust":     {openers: "{", lists: "[{", args: true, brace: true, arms: "match", imports: []string{"use "}},
	"go":       {openers: "{", quoted: true, imports: []string{"import ("}},
	"php":      {openers: "{", tag: "<?php", quotes: true, computed: true, lists: "[", args: true, brace: true, imports: []string{"use "}},
	"solidity": {openers: "{", quotes: true, brace: true, imports: []string{"import "}, module: true},
	"css":      &styled, "scss": &styled, "less": &styled,
	"json": &data, "jsonc": &data, "json5": &data, "graphql": &data, "prisma": &data, "zig": &data, "d": &cLike, "v": &data, "vala": &cLike, "verilog": &nested, "systemverilog": &nested,
	"yaml": {openers: ":", quotes: true, blocks: true}, "toml": {openers: "["},
	"terraform": &hcl, "terraform-vars": &hcl, "hcl": &hcl, "nix": {openers: "{["},
	"python": &python, "cython": &python, "bazel": {openers: "([{:", quotes: true, lists: "[{", args: true}, "gdscript": {openers: ":", quotes: true},
	"ruby":   {quotes: true, computed: true, lists: "[{", args: true},
	"elixir": {lists: ""}, "crystal": &nested, "lua": {quotes: true, lists: "{"},
	"shellscript": &nested, "fish": &nested, "perl": {openers: "{", brace: true}, "r": {openers: "{", quotes: true, brace: true}, "julia": &nested,
	"powershell": {openers: "{(", brace: true}, "cmake": &nested, "viml": &nested, "sql": &nested, "nim": &nested,
	"html": &nested, "xml": &nested, "xsl": &nested, "plist": &nested, "xaml": &nested, "vue": &nested, "svelte": &nested,
	"haskell": {imports: []string{"import "}}, "elm": &nested, "fsharp": &nested, "latex": &nested,
}

// signs are those that have to be looked at.
func (t *traits) signs() scan.Signs {
	switch {
	case t == nil || t.blocks || t.openers == "" && !t.brace && t.imports == nil && t.lists == "" && !t.args:
		return scan.NoSigns
	case t.lists == "" && !t.args:
		return scan.Brackets
	}
	return scan.AllSigns
}

func markedUp(t traits) *traits {
	t.markup = true
	return &t
}
