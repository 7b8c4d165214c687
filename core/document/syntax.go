package document

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// Syntax is how a settings file is written, by its name in the catalog's data. All
// that tells documents of one syntax from others stands in one table, in this file.
type Syntax string

// The syntaxes. Settings in languages are read, never run: literals, names bound once
// to literals, calls known to return their argument, and spreads of those.
const (
	EditorConfig Syntax = "editorconfig" // the open standard, spec.editorconfig.org
	Attributes   Syntax = "attributes"   // patterns with attributes, gitattributes(5)
	Ignores      Syntax = "ignores"      // a list of patterns, gitignore(5)
	TOML         Syntax = "toml"         // TOML 1.0
	YAML         Syntax = "yaml"         // YAML 1.2; of several documents a list
	JSON         Syntax = "json"         // RFC 8259
	JSONC        Syntax = "jsonc"        // JSON with comments and trailing commas
	JSON5        Syntax = "json5"        // JSON5 1.0, spec.json5.org
	Options      Syntax = "options"      // one command-line option a line
	INI          Syntax = "ini"          // sections of keys with values, in its usual dialects
	Properties   Syntax = "properties"   // a key with its value a line, java.util.Properties and shell-like lists
	Blocks       Syntax = "blocks"       // keys with values and blocks in braces: HOCON, HCL
	XML          Syntax = "xml"          // XML 1.0
	Lisp         Syntax = "lisp"         // lists, pairs and maps of Lisp readers
	Vim          Syntax = "vim"          // option settings of Vim scripts
	JavaScript   Syntax = "javascript"   // both module systems, and TypeScript
	Ruby         Syntax = "ruby"
	PHP          Syntax = "php"
	Python       Syntax = "python"
	Lua          Syntax = "lua"
	Elixir       Syntax = "elixir"
	Code         Syntax = "code" // settings in a language that is not read
)

// Settings that stand in a text that is about something else; see ParseInside and
// OnLine.
const (
	Modeline    Syntax = "modeline"  // of Vi and its successors, in the first or last lines
	Variables   Syntax = "variables" // of Emacs, on the first line or in a list at the end
	CommandLine Syntax = ""          // of a command
)

// Form is how settings are arranged in a document.
type Form uint8

// The forms.
const (
	_        Form = iota
	Keys          // keys with values, which may be keys with values
	Sections      // patterns of files, and below each keys with values, all in lower case
	Rows          // patterns of files, with keys and values on the same line
	Patterns      // patterns of files alone
	Elements      // keys with values, of which any may come several times
)

// Repeat is what a key does that comes twice.
type Repeat uint8

// What repeated keys do.
const (
	_        Repeat = iota
	Replaces        // the last one counts
	Adds            // all count
	Depends         // some add to each other, some replace
)

// removal is how a key goes.
type removal uint8

const (
	_        removal = iota
	never            // it does not
	asLine           // with its line
	asBlock          // with its line, unless it is the only one of its map
	asMember         // with the comma that sets it apart
)

// syntax is what there is to know of one syntax. None of the functions is nil, and
// none of the kinds zero: what a syntax does not have it refuses by a function.
type syntax struct {
	name    Syntax
	endings []string // of files that are always written so
	form    Form
	repeats Repeat
	removal removal

	parse func(*Document) error
	// text writes a text where old stood, in the same quotes.
	text func(text, old string) string
	// add puts a value at a path of keys.
	add func(d *Document, keys []string, value any) (Edit, error)
	// item puts a map behind what stands in a list at a path of keys, which may be nil.
	item func(d *Document, keys []string, list *Node, item []Member) (Edit, error)
	// lines puts lines below a path of keys.
	lines func(d *Document, under []string, lines string) (Edit, error)
	// key writes the name of a key that stands outside of quotes.
	key func(name string) string

	constants map[string]string // what is written for true, false and null
	between   string            // a key and its value, where one is added as a line

	breaks   bool // texts may hold line breaks, escaped
	untyped  bool // every value is a text
	unquoted bool // numbers and truth values may stand in quotes
	headed   bool // maps have headers, which may be taken out
	apart    bool // an empty value has to be set apart from its key by a blank
	nested   bool // a key may be moved into a table beside it
	alsoJSON bool // what starts with a brace may be JSON, indented as only that may be
	oldTruth bool // older versions have other words for true and false
	adds     bool // keys can be added
	inner    bool // no files are written so

	grammar *grammar // of a language that is read
}

// refuseAdd, refuseItem and refuseLines are of syntaxes that cannot be added to.
func refuseAdd(d *Document, _ []string, _ any) (Edit, error) {
	return Edit{}, fmt.Errorf("%s: nothing can be added to this kind of file", d.Path)
}

func refuseItem(d *Document, _ []string, _ *Node, _ []Member) (Edit, error) {
	return Edit{}, fmt.Errorf("%s: nothing can be added to lists of this kind of file", d.Path)
}

func refuseLines(d *Document, _ []string, _ string) (Edit, error) {
	return Edit{}, fmt.Errorf("%s is no map, so nothing can be added to it", d.Path)
}

// sure is a way of parsing that has no errors.
func sure(parse func(*Document)) func(*Document) error {
	return func(d *Document) error {
		parse(d)
		return nil
	}
}

func asItIs(text string) string { return text }

// bare writes a text without quotes, whatever stood there.
func bare(text, _ string) string { return text }

func doubleQuoted(text, _ string) string { return Quoted(text) }

// eitherQuotes keeps single quotes, in which nothing is escaped.
func eitherQuotes(text, old string) string {
	if strings.HasPrefix(old, "'") && !strings.ContainsAny(text, "'\\\n\t") {
		return "'" + text + "'"
	}
	return Quoted(text)
}

// quotesOf keeps the quotes that are there, and puts quotes around outer blanks.
func quotesOf(text, old string) string {
	if old != "" && (old[0] == '"' || old[0] == '\'') {
		return old[:1] + text + old[:1]
	}
	if strings.TrimSpace(text) != text {
		return "'" + text + "'"
	}
	return text
}

func yamlText(text, old string) string {
	switch {
	case strings.HasPrefix(old, "'") && !strings.Contains(text, "'"):
		return "'" + text + "'"
	case strings.HasPrefix(old, `"`) || !plainYAML(text):
		return Quoted(text)
	}
	return text
}

func lispText(text, old string) string {
	if strings.HasPrefix(old, `"`) {
		return Quoted(text)
	}
	return text
}

func wordText(text, old string) string {
	if old == "" || strings.HasPrefix(old, `"`) || strings.Trim(text, wordLetters) != "" {
		return Quoted(text)
	}
	return text
}

// language is the syntax of settings written in a language that is read.
func language(name Syntax, g *grammar, endings ...string) syntax {
	return syntax{name: name, endings: endings, form: Keys, repeats: Depends, removal: never, breaks: true, grammar: g,
		parse: (*Document).parseCode, text: eitherQuotes, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs}
}

// within is the syntax of settings in a text that is about something else.
func within(name Syntax) syntax {
	return syntax{name: name, form: Keys, repeats: Depends, removal: never, breaks: true, inner: true,
		parse: func(*Document) error { return errors.New("such settings are no file of their own") },
		text:  eitherQuotes, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs}
}

// python's constants differ from those of the other languages.
func python() syntax {
	s := language(Python, pythonGrammar)
	s.constants = map[string]string{"true": "True", "false": "False", "null": "None"}
	return s
}

// syntaxes are all of them by name.
var syntaxes = func() map[Syntax]*syntax {
	table := []syntax{
		{name: EditorConfig, adds: true, form: Sections, repeats: Replaces, removal: asLine, untyped: true, unquoted: true,
			parse: (*Document).parseEditorConfig, text: bare, add: addToSection, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Attributes, adds: true, form: Rows, repeats: Replaces, removal: never, untyped: true, unquoted: true,
			parse: (*Document).parseAttributes, text: bare, add: addRow, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Ignores, form: Patterns, repeats: Depends, removal: never,
			parse: sure((*Document).parseIgnores), text: bare, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: TOML, adds: true, endings: []string{".toml"}, form: Keys, repeats: Depends, removal: asLine, breaks: true, headed: true, nested: true,
			parse: (*Document).parseTOML, text: eitherQuotes, add: (*Document).addTOML, item: (*Document).addTOMLItem, lines: refuseLines,
			key: func(name string) string { return tomlKey([]string{name}) }},
		{name: YAML, adds: true, endings: []string{".yml", ".yaml"}, form: Keys, repeats: Replaces, removal: asBlock, breaks: true, unquoted: true, apart: true, alsoJSON: true, oldTruth: true,
			parse: (*Document).parseYAML, text: yamlText, add: (*Document).addYAML, item: (*Document).addYAMLItem, lines: (*Document).addYAMLLines, key: asItIs},
		{name: JSON, adds: true, form: Keys, repeats: Replaces, removal: asMember, breaks: true,
			parse: (*Document).parseStrictJSON, text: doubleQuoted, add: (*Document).addJSON, item: (*Document).addJSONItem, lines: refuseLines, key: asItIs},
		{name: JSONC, adds: true, endings: []string{".json"}, form: Keys, repeats: Replaces, removal: asMember, breaks: true,
			parse: (*Document).parseJSON, text: doubleQuoted, add: (*Document).addJSON, item: (*Document).addJSONItem, lines: refuseLines, key: asItIs},
		{name: JSON5, form: Keys, repeats: Replaces, removal: never, breaks: true,
			parse: (*Document).parseJSON5, text: eitherQuotes, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Options, adds: true, form: Keys, repeats: Depends, removal: asLine, untyped: true, unquoted: true,
			parse: sure((*Document).parseOptions), text: bare, add: addOption, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: INI, adds: true, form: Keys, repeats: Replaces, removal: asLine, headed: true, between: " = ",
			parse: (*Document).parseINI, text: quotesOf, add: (*Document).addPair, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Properties, adds: true, form: Keys, repeats: Depends, removal: asLine, between: "=",
			parse: sure((*Document).parseProperties), text: quotesOf, add: (*Document).addPair, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Blocks, form: Keys, repeats: Depends, removal: never, breaks: true,
			parse: (*Document).parseBlocks, text: wordText, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: XML, form: Elements, repeats: Adds, removal: never,
			parse: (*Document).parseXML, text: func(text, _ string) string { return xmlText(text) }, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Lisp, form: Keys, repeats: Depends, removal: never, breaks: true, constants: map[string]string{"true": "t", "false": "nil", "null": "nil"},
			parse: (*Document).parseLisp, text: lispText, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
		{name: Vim, form: Keys, repeats: Depends, removal: never,
			parse: sure((*Document).parseVim), text: bare, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
		language(JavaScript, scriptGrammar, ".js", ".cjs", ".mjs", ".ts"),
		language(Ruby, rubyGrammar),
		language(PHP, phpGrammar),
		python(),
		language(Lua, luaGrammar),
		language(Elixir, elixirGrammar),
		within(Modeline),
		within(Variables),
		within(CommandLine),
		{name: Code, form: Keys, repeats: Depends, removal: never, breaks: true,
			parse: func(*Document) error { return errors.New("settings in this language are not read") },
			text:  eitherQuotes, add: refuseAdd, item: refuseItem, lines: refuseLines, key: asItIs},
	}
	by := make(map[Syntax]*syntax, len(table))
	for i := range table {
		by[table[i].name] = &table[i]
	}
	return by
}()

// Known reports whether it is the name of a syntax of files.
func (s Syntax) Known() bool { return syntaxes[s] != nil && !syntaxes[s].inner }

// SyntaxNames returns the names of all syntaxes of files, in order.
func SyntaxNames() []Syntax {
	var names []Syntax
	for name := range syntaxes {
		if name.Known() {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	return names
}

// ByEnding returns the syntax in which files whose names end so, with a dot, are
// always written, or "" where there is none.
func ByEnding(ending string) Syntax {
	for name, s := range syntaxes {
		if slices.Contains(s.endings, ending) {
			return name
		}
	}
	return ""
}

// Form is how settings are arranged in documents of the syntax.
func (s Syntax) Form() Form { return syntaxes[s].form }

// ByFiles reports whether all settings stand beside patterns of the files they are
// about.
func (s Syntax) ByFiles() bool { return s.Form() == Sections || s.Form() == Rows }

// Repeats is what a key does that comes twice.
func (s Syntax) Repeats() Repeat { return syntaxes[s].repeats }

// IsCode reports whether settings in the syntax are written as code.
func (s Syntax) IsCode() bool { return s == Code || syntaxes[s].grammar != nil }

// IsStandard reports whether it is that of the open standard, in which editors and
// programs are told the same.
func (s Syntax) IsStandard() bool { return s == EditorConfig }

// Untyped reports whether every value is a text, numbers and truth values included.
func (s Syntax) Untyped() bool { return syntaxes[s].untyped }

// Loose reports whether numbers and truth values may be written as texts.
func (s Syntax) Loose() bool { return syntaxes[s].unquoted }

// OldTruth reports whether readers of the syntax's older versions, of which there are
// many, take a text for a truth value, as those of YAML 1.1 do.
func (s Syntax) OldTruth(text string) bool {
	return syntaxes[s].oldTruth && slices.Contains([]string{"yes", "no", "on", "off", "y", "n"}, strings.ToLower(text))
}

// addToSection adds a property in a section of its own.
func addToSection(d *Document, keys []string, value any) (Edit, error) {
	return d.AddSection(nil, keys[0], [][2]string{{keys[1], d.scalar(value, "")}}), nil
}

// addRow adds a line with a pattern and an attribute.
func addRow(d *Document, keys []string, value any) (Edit, error) {
	return d.addLine(keys[0] + " " + keys[1] + "=" + d.scalar(value, "")), nil
}

// addOption adds a line with an option.
func addOption(d *Document, keys []string, value any) (Edit, error) {
	return d.addLine("--" + keys[0] + " " + d.scalar(value, "")), nil
}
