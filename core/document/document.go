// Package document reads settings documents and edits them in place.
//
// Every syntax yields the same small tree of nodes, each with its position.
// The source bytes are never re-printed: an edit replaces one span, and
// everything outside of it, comments, order, quoting, blanks, line endings and
// a byte order mark included, stays as it was, byte for byte.
package document

import (
	"bytes"
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Syntax is how a settings file is written.
type Syntax string

// The syntaxes that are read.
const (
	EditorConfig Syntax = "editorconfig" // the open standard, spec.editorconfig.org
	Attributes   Syntax = "attributes"   // patterns with attributes, gitattributes(5)
	Ignores      Syntax = "ignores"      // a list of patterns, gitignore(5)
	TOML         Syntax = "toml"         // TOML 1.0
	YAML         Syntax = "yaml"         // YAML 1.2; of several documents a list
	JSON         Syntax = "json"         // RFC 8259
	JSONC        Syntax = "jsonc"        // JSON with comments and trailing commas
	JSON5        Syntax = "json5"        // JSON5 1.0, spec.json5.org
	INI          Syntax = "ini"          // sections of keys with values, in its usual dialects
	Properties   Syntax = "properties"   // a key with its value a line, java.util.Properties and shell-like lists
	Blocks       Syntax = "blocks"       // keys with values and blocks in braces: HOCON, HCL
	XML          Syntax = "xml"          // XML 1.0
	Lisp         Syntax = "lisp"         // lists, pairs and maps of Lisp readers
	Vim          Syntax = "vim"          // option settings of Vim scripts
	Options      Syntax = "options"      // one command-line option a line
	Code         Syntax = "code"         // settings in a language that is not read
)

// Syntaxes are all of them.
var Syntaxes = []Syntax{EditorConfig, Attributes, Ignores, TOML, YAML, JSON, JSONC, JSON5, Options, INI, Properties, Blocks, XML, Lisp, Vim,
	JavaScript, Ruby, PHP, Python, Lua, Elixir, Code}

// Kind tells maps, lists and scalars apart.
type Kind uint8

// The kinds of node.
const (
	Scalar Kind = iota
	Map
	List
	Opaque // worked out by code; Value names what it refers to, if anything
)

// Node is a value in a document. Offsets are bytes from the start of the file.
type Node struct {
	Kind     Kind
	Key      string // name within the map above; EditorConfig keys in lower case
	KeyStart int    // where the key stands; for list items and the root, the value
	Start    int    // the value's span; Start == End for an empty one
	End      int
	Value    any // of a scalar: string, int64, float64, bool or nil
	Items    []*Node

	folds  bool   // words are compared without regard to case
	resets bool   // takes back what weaker settings say
	fixed  bool   // stands for text elsewhere (alias, merge, macro): not editable
	flow   bool   // a map or list in brackets
	insert int    // where a new item's text goes
	indent string // what stands before a new item on its line
}

// Document is a parsed settings file.
type Document struct {
	Path   string
	Syntax Syntax
	Src    []byte
	Root   *Node

	lineStarts []int
}

// SyntaxError says where and why a document could not be read.
type SyntaxError struct {
	Path         string
	Line, Column int // from 1; the column counts characters
	Message      string
}

func (e *SyntaxError) Error() string {
	return fmt.Sprintf("%s:%d:%d: %s", e.Path, e.Line, e.Column, e.Message)
}

// MaxSize is the largest settings file that is read, in bytes.
const MaxSize = 4 << 20

// Parse reads src. The error is a *SyntaxError.
func Parse(syntax Syntax, path string, src []byte) (*Document, error) {
	d := &Document{Path: path, Syntax: syntax, Src: src}
	d.index()
	if len(src) > MaxSize {
		return nil, d.errorAt(0, "larger than %d MiB, too large for a settings file", MaxSize>>20)
	}
	if i := bytes.IndexByte(src, 0); i >= 0 {
		return nil, d.errorAt(i, "holds a NUL byte, so it is not a text file")
	}
	for i := 0; i < len(src); {
		r, size := utf8.DecodeRune(src[i:])
		if r == utf8.RuneError && size == 1 {
			return nil, d.errorAt(i, "is not valid UTF-8 here")
		}
		i += size
	}
	var err error
	switch syntax {
	case EditorConfig:
		err = d.parseEditorConfig()
	case Attributes:
		err = d.parseAttributes()
	case Ignores:
		d.parseIgnores()
	case TOML:
		err = d.parseTOML()
	case YAML:
		if d.looksLikeJSON() {
			d.Syntax = JSONC
			if err = d.parseJSON(); err == nil {
				break
			}
			d.Syntax = YAML
		}
		err = d.parseYAML()
	case JSON, JSONC:
		err = d.parseJSON()
	case JSON5:
		err = d.parseJSON5()
	case Options:
		d.parseOptions()
	case INI:
		err = d.parseINI()
	case Properties:
		d.parseProperties()
	case Blocks:
		err = d.parseBlocks()
	case XML:
		err = d.parseXML()
	case Lisp:
		err = d.parseLisp()
	case Vim:
		d.parseVim()
	case JavaScript, Ruby, PHP, Python, Lua, Elixir:
		err = d.parseCode()
	default:
		err = d.errorAt(0, "unknown syntax %q", syntax)
	}
	if err != nil {
		return nil, err
	}
	return d, nil
}

// looksLikeJSON reports whether a YAML document starts as a JSON object does.
// JSON may be indented with tabs, which YAML readers refuse.
func (d *Document) looksLikeJSON() bool {
	src, _ := d.body()
	return bytes.HasPrefix(bytes.TrimLeft(src, " \t\r\n"), []byte("{"))
}

// body returns the source behind a byte order mark and its offset.
func (d *Document) body() ([]byte, int) {
	if bytes.HasPrefix(d.Src, []byte("\ufeff")) {
		return d.Src[3:], 3
	}
	return d.Src, 0
}

func (d *Document) index() {
	d.lineStarts = append(d.lineStarts, 0)
	for i, b := range d.Src {
		if b == '\n' {
			d.lineStarts = append(d.lineStarts, i+1)
		}
	}
}

// Position returns the line and column, from 1, of a byte offset. Columns count
// characters.
func (d *Document) Position(offset int) (line, column int) {
	i := sort.SearchInts(d.lineStarts, offset+1) - 1
	text := d.Src[d.lineStarts[i]:min(offset, len(d.Src))]
	if i == 0 {
		text = bytes.TrimPrefix(text, []byte("\ufeff"))
	}
	return i + 1, utf8.RuneCount(text) + 1
}

// offset is the inverse of Position, clamped to the document.
func (d *Document) offset(line, column int) int {
	if line < 1 || line > len(d.lineStarts) {
		return len(d.Src)
	}
	i := d.lineStarts[line-1]
	if line == 1 {
		_, bom := d.body()
		i += bom
	}
	for ; column > 1 && i < len(d.Src) && d.Src[i] != '\n'; column-- {
		_, size := utf8.DecodeRune(d.Src[i:])
		i += size
	}
	return i
}

func (d *Document) errorAt(offset int, format string, args ...any) error {
	line, column := d.Position(offset)
	return &SyntaxError{Path: d.Path, Line: line, Column: column, Message: fmt.Sprintf(format, args...)}
}

// lineEnd returns the offset behind the line that holds offset, line break
// included.
func (d *Document) lineEnd(offset int) int {
	if i := bytes.IndexByte(d.Src[offset:], '\n'); i >= 0 {
		return offset + i + 1
	}
	return len(d.Src)
}

// newline returns the line break the document uses.
func (d *Document) newline() string {
	if bytes.Contains(d.Src, []byte("\r\n")) {
		return "\r\n"
	}
	return "\n"
}

// lines yields each line's span without its line break.
func (d *Document) lines(yield func(start, end int)) {
	_, start := d.body()
	for start < len(d.Src) {
		next := d.lineEnd(start)
		end := next
		for end > start && (d.Src[end-1] == '\n' || d.Src[end-1] == '\r') {
			end--
		}
		yield(start, end)
		start = next
	}
}

// Empty reports whether the document sets nothing.
func (d *Document) Empty() bool {
	return d.Root == nil || d.Root.Kind != Scalar && len(d.Root.Items) == 0 ||
		d.Root.Kind == Scalar && d.Root.Value == nil
}

// Text returns a scalar as it would be written without quotes.
func (n *Node) Text() string {
	switch v := n.Value.(type) {
	case string:
		return v
	case nil:
		return ""
	default:
		return fmt.Sprint(v)
	}
}

// Words returns the texts of a list of scalars. A scalar counts as the list of
// the words in it, separated by line breaks or by commas outside braces.
func (n *Node) Words() []*Node {
	if n == nil {
		return nil
	}
	if n.Kind == List {
		var out []*Node
		for _, item := range n.Items {
			if item.Kind == Scalar {
				out = append(out, item)
			}
		}
		return out
	}
	if n.Kind != Scalar {
		return nil
	}
	if n.Value == nil {
		return nil
	}
	var out []*Node
	text, from, depth := n.Text(), 0, 0
	for at, r := range text + "\n" {
		switch {
		case r == '{':
			depth++
		case r == '}':
			depth--
		case r == '\n' || r == ',' && depth <= 0:
			word := text[from:at]
			if trimmed := strings.TrimSpace(word); trimmed != "" {
				start := n.Start + from + strings.Index(word, trimmed)
				out = append(out, &Node{Kind: Scalar, Value: trimmed, KeyStart: start, Start: start, End: start + len(trimmed), fixed: true})
			}
			from = at + 1
			if r == '\n' {
				depth = 0
			}
		}
	}
	return out
}

// Folds reports whether the value's words are compared without regard to case,
// as in EditorConfig files.
func (n *Node) Folds() bool { return n.folds }

// Resets reports whether the value takes back what weaker settings say, as "!"
// and "-" before the name of an attribute do.
func (n *Node) Resets() bool { return n.resets }

// Edit replaces the bytes from Start to End by Text.
type Edit struct {
	Start, End int
	Text       string
}

// Apply returns the source with the edits carried out. Edits must not overlap;
// of several at one place the first given comes first.
func (d *Document) Apply(edits []Edit) ([]byte, error) {
	sorted := slices.Clone(edits)
	slices.SortStableFunc(sorted, func(a, b Edit) int { return a.Start - b.Start })
	var out []byte
	at := 0
	for _, e := range sorted {
		if e.Start < at || e.End < e.Start || e.End > len(d.Src) {
			return nil, fmt.Errorf("%s: edits overlap at byte %d", d.Path, e.Start)
		}
		out = append(out, d.Src[at:e.Start]...)
		out = append(out, e.Text...)
		at = e.End
	}
	return append(out, d.Src[at:]...), nil
}

// Set returns the edit that gives a scalar another value.
func (d *Document) Set(n *Node, value any) (Edit, error) {
	if n.Kind != Scalar || n.fixed {
		line, _ := d.Position(n.Start)
		return Edit{}, fmt.Errorf("%s:%d: %s is not a value of its own that can be replaced", d.Path, line, n.Key)
	}
	old := string(d.Src[n.Start:n.End])
	text := d.scalar(value, old)
	if strings.ContainsAny(text, "\r\n") && n.Kind == Scalar && !strings.ContainsAny(old, "\r\n") && !d.quotes() {
		return Edit{}, fmt.Errorf("%s: %s cannot hold a line break", d.Path, n.Key)
	}
	if n.Start == n.End && n.Start > 0 && d.Src[n.Start-1] != ' ' && d.Syntax == YAML {
		text = " " + text
	}
	return Edit{n.Start, n.End, text}, nil
}

// Add returns the edit that puts a value at a path of keys from the root, the
// last of which is not there yet. In an EditorConfig file the path is a section
// name and a property, and makes a new section; see also AddPair.
func (d *Document) Add(keys []string, value any) (Edit, error) {
	if n := d.Root.Find(strings.Join(keys, "/")); n != nil {
		return Edit{}, fmt.Errorf("%s: %s is there already", d.Path, strings.Join(keys, " "))
	}
	switch d.Syntax {
	case EditorConfig:
		return d.AddSection(nil, keys[0], [][2]string{{keys[1], d.scalar(value, "")}}), nil
	case Attributes:
		return d.addLine(keys[0] + " " + keys[1] + "=" + d.scalar(value, "")), nil
	case Options:
		return d.addLine("--" + keys[0] + " " + d.scalar(value, "")), nil
	case INI, Properties:
		return d.addPair(keys, value), nil
	case TOML:
		return d.addTOML(keys, value)
	case YAML:
		return d.addYAML(keys, value)
	case JSON, JSONC:
		return d.addJSON(keys, value), nil
	}
	return Edit{}, fmt.Errorf("%s: nothing can be added to this kind of file", d.Path)
}

// Adds reports whether keys can be added to the document, and not only changed.
func (d *Document) Adds() bool {
	switch d.Syntax {
	case EditorConfig, Attributes, Options, INI, Properties, TOML, YAML, JSON, JSONC:
		return d.Root.Kind == Map
	}
	return false
}

// addLine appends a line to the document.
func (d *Document) addLine(line string) Edit {
	return Edit{len(d.Src), len(d.Src), d.lineBreakBefore(len(d.Src)) + line + d.newline()}
}

// lineBreakBefore returns a line break where offset does not stand at the start
// of a line.
func (d *Document) lineBreakBefore(offset int) string {
	if _, bom := d.body(); offset > bom && d.Src[offset-1] != '\n' {
		return d.newline()
	}
	return ""
}

// scalar writes a value in the document's syntax, in the quotes old is in.
func (d *Document) scalar(value any, old string) string {
	if w, ok := value.(written); ok {
		return string(w)
	}
	text, isText := value.(string)
	switch {
	case value == nil:
		return d.constant("null")
	case !isText:
		return d.constant(fmt.Sprint(value))
	}
	switch d.Syntax {
	case JSON, JSONC:
		return strconv.Quote(text)
	case TOML, JavaScript, JSON5, Python, Ruby, PHP, Lua, Elixir:
		if strings.HasPrefix(old, "'") && !strings.ContainsAny(text, "'\\\n\t") {
			return "'" + text + "'"
		}
		return strconv.Quote(text)
	case Lisp:
		if strings.HasPrefix(old, `"`) {
			return strconv.Quote(text)
		}
	case Blocks:
		if old == "" || strings.HasPrefix(old, `"`) || strings.Trim(text, wordLetters) != "" {
			return strconv.Quote(text)
		}
	case INI, Properties:
		if old != "" && (old[0] == '"' || old[0] == '\'') {
			return old[:1] + text + old[:1]
		}
		if strings.TrimSpace(text) != text {
			return "'" + text + "'"
		}
	case XML:
		return xmlText(text)
	case YAML:
		switch {
		case strings.HasPrefix(old, "'") && !strings.Contains(text, "'"):
			return "'" + text + "'"
		case strings.HasPrefix(old, `"`) || !plainYAML(text):
			return strconv.Quote(text)
		}
	}
	return text
}

// wordLetters are what a word without quotes may be made of.
const wordLetters = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_-"

// constant writes a number or truth value as the document's language has it.
func (d *Document) constant(text string) string {
	words := map[string]string{}
	switch d.Syntax {
	case Python:
		words = map[string]string{"true": "True", "false": "False", "null": "None"}
	case Lisp:
		words = map[string]string{"true": "t", "false": "nil", "null": "nil"}
	}
	if w, ok := words[text]; ok {
		return w
	}
	return text
}

// FromData builds nodes from decoded data, for settings that stand in no file.
// They have no positions and cannot be edited.
func FromData(data any) *Node {
	n := &Node{fixed: true}
	switch v := data.(type) {
	case map[string]any:
		n.Kind = Map
		for key, value := range v {
			item := FromData(value)
			item.Key = key
			n.Items = append(n.Items, item)
		}
		slices.SortFunc(n.Items, func(a, b *Node) int { return strings.Compare(a.Key, b.Key) })
	case []any:
		n.Kind = List
		for _, value := range v {
			n.Items = append(n.Items, FromData(value))
		}
	default:
		n.Value = v
	}
	return n
}

// quotes reports whether texts of the syntax can hold escaped line breaks.
func (d *Document) quotes() bool {
	switch d.Syntax {
	case EditorConfig, Attributes, Ignores, Options, INI, Properties, Vim, XML:
		return false
	}
	return true
}
