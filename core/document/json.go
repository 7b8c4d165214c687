package document

import (
	"errors"
	"regexp"
	"strconv"
	"strings"

	"github.com/tailscale/hujson"
)

var jsonPosition = regexp.MustCompile(`line (\d+), column (\d+): (.*)$`)

// maxDepth bounds how deep maps and lists may nest.
const maxDepth = 200

// parseStrictJSON reads JSON in which comments and trailing commas are errors.
func (d *Document) parseStrictJSON() error { return d.readJSON(true) }

// parseJSON reads JSON with comments and trailing commas.
func (d *Document) parseJSON() error { return d.readJSON(false) }

func (d *Document) readJSON(strict bool) error {
	src, base := d.body()
	if len(strings.TrimSpace(string(src))) == 0 {
		d.Root = &Node{Kind: Map, Start: len(d.Src), End: len(d.Src), insert: -1}
		return nil
	}
	if at, deep := tooDeep(src); deep {
		return d.errorAt(base+at, "nested deeper than %d levels", maxDepth)
	}
	v, err := hujson.Parse(src)
	if err != nil {
		return d.jsonError(err)
	}
	if strict && !v.IsStandard() {
		return d.errorAt(base+beyondStrict(src), "a comment or trailing comma; this program reads strict JSON")
	}
	d.Root = jsonNode(&v, base, "", d)
	d.Root.KeyStart = d.Root.Start
	return nil
}

// beyondStrict finds the first comment or trailing comma of a document that
// parses.
func beyondStrict(src []byte) int {
	comma, inText := -1, false
	for i := 0; i < len(src); i++ {
		switch c := src[i]; {
		case inText && c == '\\':
			i++
		case c == '"':
			inText, comma = !inText, -1
		case inText, c == ' ', c == '\t', c == '\r', c == '\n':
		case c == '/':
			return i
		case c == ',':
			comma = i
		case (c == '}' || c == ']') && comma >= 0:
			return comma
		default:
			comma = -1
		}
	}
	return 0
}

func (d *Document) jsonError(err error) error {
	m := jsonPosition.FindStringSubmatch(err.Error())
	if m == nil {
		return d.errorAt(0, "%s", strings.TrimPrefix(err.Error(), "hujson: "))
	}
	line, _ := strconv.Atoi(m[1])
	column, _ := strconv.Atoi(m[2])
	if inner := errors.Unwrap(err); inner != nil && m[3] == "" {
		m[3] = inner.Error()
	}
	return &SyntaxError{Path: d.Path, Line: line, Column: column, Message: m[3]}
}

// tooDeep finds the first bracket that opens more than maxDepth levels.
func tooDeep(src []byte) (int, bool) {
	depth, inText := 0, false
	for i := 0; i < len(src); i++ {
		switch c := src[i]; {
		case inText && c == '\\':
			i++
		case c == '"':
			inText = !inText
		case inText:
		case c == '{' || c == '[':
			if depth++; depth > maxDepth {
				return i, true
			}
		case c == '}' || c == ']':
			depth--
		}
	}
	return 0, false
}

func jsonNode(v *hujson.Value, base int, indent string, d *Document) *Node {
	n := &Node{Start: base + v.StartOffset, End: base + v.EndOffset, flow: true}
	switch val := v.Value.(type) {
	case *hujson.Object:
		n.Kind = Map
		n.insert = n.Start + 1
		for i := range val.Members {
			m := &val.Members[i]
			item := jsonNode(&m.Value, base, indent, d)
			item.Key = m.Name.Value.(hujson.Literal).String()
			item.KeyStart = base + m.Name.StartOffset
			n.Items = append(n.Items, item)
			n.insert = item.End
			n.indent = d.blanksBefore(item.KeyStart)
		}
	case *hujson.Array:
		n.Kind = List
		for i := range val.Elements {
			item := jsonNode(&val.Elements[i], base, indent, d)
			item.KeyStart = item.Start
			n.Items = append(n.Items, item)
		}
	case hujson.Literal:
		switch val.Kind() {
		case '"':
			n.Value = val.String()
		case 't', 'f':
			n.Value = val.Bool()
		case 'n':
		default:
			n.Value = number(string(val))
		}
	}
	return n
}

// number reads a number, whole if it can be.
func number(text string) any {
	text = strings.ReplaceAll(text, "_", "")
	if i, err := strconv.ParseInt(text, 0, 64); err == nil {
		return i
	}
	if f, err := strconv.ParseFloat(text, 64); err == nil {
		return f
	}
	return text
}

// blanksBefore returns the blanks between the start of the line and offset, or
// "" if anything else stands there.
func (d *Document) blanksBefore(offset int) string {
	start := offset
	for start > 0 && (d.Src[start-1] == ' ' || d.Src[start-1] == '\t') {
		start--
	}
	if start > 0 && d.Src[start-1] != '\n' {
		return ""
	}
	return string(d.Src[start:offset])
}

// addJSON adds a member to the deepest object of its path that is there.
func (d *Document) addJSON(keys []string, value any) (Edit, error) {
	n, keys := d.Root.deepest(keys, false)
	if n.insert < 0 { // an empty file
		return d.addLine("{" + d.newline() + "  " + d.jsonMember(keys, value, "  ") + d.newline() + "}"), nil
	}
	nl := d.newline()
	if len(n.Items) == 0 {
		outer := leadingBlanks(string(d.Src[d.lineStart(n.Start):n.Start]))
		inner := outer + d.jsonUnit()
		return Edit{n.Start, n.End, "{" + nl + inner + d.jsonMember(keys, value, inner) + nl + outer + "}"}, nil
	}
	if n.indent == "" {
		return Edit{n.insert, n.insert, ", " + d.jsonMember(keys, value, "")}, nil
	}
	return d.behind(n.insert, nl+n.indent+d.jsonMember(keys, value, n.indent)), nil
}

// behind returns the edit that puts what starts a line behind the member or item that
// ends at the given place. A comment there stays with what it is about.
func (d *Document) behind(end int, text string) Edit {
	rest := strings.TrimRight(string(d.Src[end:d.lineEnd(end)]), "\r\n")
	if m := trailingComment.FindStringSubmatch(rest); m != nil {
		return Edit{end, end + len(rest), "," + m[2] + text + strings.TrimSpace(m[1])}
	}
	return Edit{end, end, "," + text}
}

// trailingComment matches what stands behind a member when that is a comment; the
// first group is the comma before it.
var trailingComment = regexp.MustCompile(`^([ \t]*,)?([ \t]*(?://.*|/\*[^*]*\*/[ \t]*))$`)

// jsonUnit is what a level of the document is indented by.
func (d *Document) jsonUnit() string {
	if d.Root.indent != "" {
		return d.Root.indent
	}
	return "  "
}

// deepest follows keys as far as there are maps that can be added to, and
// returns the last of them with the keys that remain. A key without a value
// counts as a map where empty says so.
func (n *Node) deepest(keys []string, empty bool) (*Node, []string) {
	for len(keys) > 1 {
		next := n.Get(keys[0])
		if next == nil || !next.holds(empty) {
			break
		}
		n, keys = next, keys[1:]
	}
	return n, keys
}

// holds reports whether keys can be added below a node.
func (n *Node) holds(empty bool) bool {
	if n.Kind == Scalar {
		return empty && n.Value == nil
	}
	return !n.fixed
}

func (d *Document) lineStart(offset int) int {
	line, _ := d.Position(offset)
	return d.lineStarts[line-1]
}

func leadingBlanks(s string) string { return s[:len(s)-len(strings.TrimLeft(s, " \t"))] }

func (d *Document) jsonMember(keys []string, value any, indent string) string {
	if len(keys) == 1 {
		return Quoted(keys[0]) + ": " + d.scalar(value, "")
	}
	if indent == "" {
		return Quoted(keys[0]) + ": { " + d.jsonMember(keys[1:], value, "") + " }"
	}
	nl, inner := d.newline(), indent+d.jsonUnit()
	return Quoted(keys[0]) + ": {" + nl + inner + d.jsonMember(keys[1:], value, inner) + nl + indent + "}"
}
