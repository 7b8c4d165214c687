// Package document reads settings documents and edits them in place.
//
// Every syntax yields the same small tree of nodes, each with its position.
// The source bytes are never re-printed: an edit replaces one span, and
// everything outside of it, comments, order, quoting, blanks, line endings and
// a byte order mark included, stays as it was, byte for byte.
package document

import (
	"bytes"
	"cmp"
	"fmt"
	"slices"
	"sort"
	"strings"
	"sync"
	"unicode/utf8"
)

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

	folds    bool             // words are compared without regard to case
	resets   bool             // takes back what weaker settings say
	fixed    bool             // stands for text elsewhere (alias, merge, macro): not editable
	flow     bool             // a map or list in brackets
	expanded bool             // what a macro that stands there stands for
	insert   int              // where a new item's text goes
	indent   string           // what stands before a new item on its line
	byKey    map[string]*Node // the last of the first items with each key, where there are many
	keyed    int              // how many items are looked up so
}

// Document is a parsed settings file.
type Document struct {
	Path   string
	Syntax Syntax
	Src    []byte
	Root   *Node

	how        *syntax  // what there is to know of the syntax
	functions  []string // that return their argument
	lineStarts []int
	cursor     cursor
	counting   sync.Once
	runes      []int // characters before each step, see runesBefore
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

// newDocument is a document that is not parsed yet.
func newDocument(syntax Syntax, path string, src []byte, functions ...string) *Document {
	d := &Document{Path: path, Syntax: syntax, how: syntaxes[syntax], Src: src, functions: functions}
	d.index()
	return d
}

// Parse reads src. In settings written as code, calls of the functions are known to
// return their argument. The error is a *SyntaxError.
func Parse(syntax Syntax, path string, src []byte, functions ...string) (*Document, error) {
	d := newDocument(syntax, path, src, functions...)
	switch {
	case d.how == nil:
		return nil, d.errorAt(0, "unknown syntax %q", syntax)
	case len(src) > MaxSize:
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
	if d.how.alsoJSON && d.opensBrace() {
		asJSON := newDocument(JSONC, path, src)
		if asJSON.how.parse(asJSON) == nil {
			d = asJSON
		}
	}
	if d.Root == nil {
		if err := d.how.parse(d); err != nil {
			return nil, err
		}
	}
	d.Root.indexKeys(0)
	return d, nil
}

// Again reads another text as the document was read. The error is a *SyntaxError.
func (d *Document) Again(src []byte) (*Document, error) {
	return Parse(d.Syntax, d.Path, src, d.functions...)
}

// opensBrace reports whether the document starts as a JSON object does.
func (d *Document) opensBrace() bool {
	src, _ := d.body()
	return bytes.HasPrefix(bytes.TrimLeft(src, " \t\r\n"), []byte("{"))
}

// largeMap is how many items a map has to have for its keys to be looked up.
const largeMap = 64

// indexKeys makes the keys of large maps at and below the node ones to be looked up.
func (n *Node) indexKeys(depth int) {
	if depth > maxDepth {
		return
	}
	if n.Kind == Map && len(n.Items) > largeMap {
		n.lookUp()
	}
	for _, item := range n.Items {
		if len(item.Items) > 0 {
			item.indexKeys(depth + 1)
		}
	}
}

// lookUp makes the keys of all items ones to be looked up.
func (n *Node) lookUp() {
	if n.byKey == nil {
		n.byKey = make(map[string]*Node, len(n.Items))
	}
	for _, item := range n.Items[n.keyed:] {
		n.byKey[item.Key] = item
	}
	n.keyed = len(n.Items)
}

// put adds an item to a map that may grow large while its keys are asked for.
func (n *Node) put(item *Node) {
	n.Items = append(n.Items, item)
	if n.Kind == Map && len(n.Items)-n.keyed > largeMap {
		n.lookUp()
	}
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
	start, end := d.lineStarts[i], min(offset, len(d.Src))
	if i == 0 {
		_, start = d.body()
	}
	if end-start < 2*runesStep {
		return i + 1, utf8.RuneCount(d.Src[start:max(start, end)]) + 1
	}
	return i + 1, d.runesBefore(end) - d.runesBefore(start) + 1
}

// runesStep is how many bytes lie between the places at which the characters before
// are known, in a document with long lines.
const runesStep = 1024

// runesBefore counts the characters before a byte offset.
func (d *Document) runesBefore(offset int) int {
	d.counting.Do(func() {
		total := 0
		for at := 0; at < len(d.Src); at += runesStep {
			d.runes = append(d.runes, total)
			total += runeStarts(d.Src[at:min(at+runesStep, len(d.Src))])
		}
		d.runes = append(d.runes, total)
	})
	step := offset / runesStep
	return d.runes[step] + runeStarts(d.Src[step*runesStep:offset])
}

// runeStarts counts the characters that begin in a text of valid UTF-8.
func runeStarts(text []byte) int {
	n := 0
	for _, c := range text {
		if utf8.RuneStart(c) {
			n++
		}
	}
	return n
}

// cursor is a position that was asked for, from which the next is not far.
type cursor struct{ line, column, offset int }

// offset is the inverse of Position, clamped to the document.
func (d *Document) offset(line, column int) int {
	if line < 1 || line > len(d.lineStarts) {
		return len(d.Src)
	}
	at := d.cursor
	if at.line != line || at.column > column {
		at = cursor{line, 1, d.lineStarts[line-1]}
		if line == 1 {
			_, bom := d.body()
			at.offset += bom
		}
	}
	for ; at.column < column && at.offset < len(d.Src) && d.Src[at.offset] != '\n'; at.column++ {
		_, size := utf8.DecodeRune(d.Src[at.offset:])
		at.offset += size
	}
	if at.column == column {
		d.cursor = at
	}
	return at.offset
}

// MaxSettings is how many keys, list items and sections settings may have; what has
// more is made by a machine to be read by one.
const MaxSettings = 50_000

// maxLines bounds the lines of settings, and the commas, so that what has far more
// than MaxSettings need not be parsed to see that.
const maxLines = 2 * MaxSettings

// ParseSettings reads src as Parse does, but not more than MaxSettings.
func ParseSettings(syntax Syntax, path string, src []byte, functions ...string) (*Document, error) {
	if len(src) <= MaxSize && (bytes.Count(src, []byte("\n")) > maxLines || bytes.Count(src, []byte(",")) > maxLines) {
		return nil, newDocument(syntax, path, src).errorAt(0, "has more than %d lines or commas, too much to be read as settings", maxLines)
	}
	d, err := Parse(syntax, path, src, functions...)
	if err == nil {
		err = d.excess()
	}
	if err != nil {
		return nil, err
	}
	return d, nil
}

// excess returns an error at the first of the nodes, and of the words in lists written
// as one text, that are more than MaxSettings, nil where there are not so many.
func (d *Document) excess() error {
	left := MaxSettings
	var count func(n *Node) *Node
	count = func(n *Node) *Node {
		for _, item := range n.Items {
			left--
			if text, ok := item.Value.(string); ok {
				left -= strings.Count(text, ",") + strings.Count(text, "\n")
			}
			if left < 0 {
				return item
			}
			if over := count(item); over != nil {
				return over
			}
		}
		return nil
	}
	if over := count(d.Root); over != nil {
		return d.errorAt(over.KeyStart, "holds more than %d settings, too many to be read", MaxSettings)
	}
	return nil
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
	return d.Root == nil || (d.Root.Kind == Map || d.Root.Kind == List) && len(d.Root.Items) == 0 ||
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
	if strings.ContainsAny(text, "\r\n") && n.Kind == Scalar && !strings.ContainsAny(old, "\r\n") && !d.how.breaks {
		return Edit{}, fmt.Errorf("%s: %s cannot hold a line break", d.Path, n.Key)
	}
	if n.Start == n.End && n.Start > 0 && d.Src[n.Start-1] != ' ' && d.how.apart {
		text = " " + text
	}
	return Edit{n.Start, n.End, text}, nil
}

// Add returns the edit that puts a value at a path of keys from the root, the
// last of which is not there yet. In an EditorConfig file the path is a section
// name and a property, and makes a new section; see also AddPair.
func (d *Document) Add(keys []string, value any) (Edit, error) {
	if n := d.Root.Find(escaped(keys)); n != nil {
		return Edit{}, fmt.Errorf("%s: %s is there already", d.Path, strings.Join(keys, " "))
	}
	return d.how.add(d, keys, value)
}

// Adds reports whether keys can be added to the document, and not only changed.
func (d *Document) Adds() bool { return d.how.adds && d.Root.Kind == Map }

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
	return d.how.text(text, old)
}

// Quoted writes a text in double quotes, with the escapes that JSON, TOML, YAML and
// the languages in which settings are written have in common. What is no valid UTF-8
// cannot stand in any of them and becomes the replacement character.
func Quoted(text string) string {
	var b strings.Builder
	b.WriteByte('"')
	for _, r := range text {
		switch {
		case r == '"' || r == '\\':
			b.WriteByte('\\')
			b.WriteRune(r)
		case r == '\n':
			b.WriteString(`\n`)
		case r == '\r':
			b.WriteString(`\r`)
		case r == '\t':
			b.WriteString(`\t`)
		case r < ' ' || r >= 0x7f && r < 0xa0 || r >= 0x200e && r <= 0x200f || r >= 0x2028 && r <= 0x202e || r >= 0x2066 && r <= 0x2069 || r == 0xfeff:
			fmt.Fprintf(&b, `\u%04x`, r)
		default:
			b.WriteRune(r)
		}
	}
	b.WriteByte('"')
	return b.String()
}

// wordLetters are what a word without quotes may be made of.
const wordLetters = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_-"

// constant writes a number or truth value as the document's syntax has it.
func (d *Document) constant(text string) string { return cmp.Or(d.how.constants[text], text) }

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
