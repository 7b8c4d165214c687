package document

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	yaml "go.yaml.in/yaml/v4"
)

// parseYAML reads a YAML stream. Of several documents the root is a list.
// Aliases and merges are
// followed for reading but cannot be edited; their text stands elsewhere.
func (d *Document) parseYAML() error {
	src, base := d.body()
	if at, deep := tooDeepYAML(src); deep {
		return d.errorAt(base+at, "nested deeper than %d levels", maxDepth)
	}
	in := yaml.NewDecoder(bytes.NewReader(src))
	y := yamlReader{d: d, text: string(d.Src), left: maxYAMLNodes}
	var roots []*Node
	for {
		var doc yaml.Node
		err := in.Decode(&doc)
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return d.yamlError(err, base)
		}
		if len(doc.Content) > 0 {
			roots = append(roots, y.node(doc.Content[0], 0))
		}
		if y.left < 0 {
			return d.errorAt(base, "expands to more than %d values", maxYAMLNodes)
		}
	}
	switch len(roots) {
	case 0:
		d.Root = &Node{Kind: Map, Start: len(d.Src), End: len(d.Src), insert: len(d.Src)}
	case 1:
		d.Root = roots[0]
	default:
		d.Root = &Node{Kind: List, Start: base, End: len(d.Src), Items: roots, fixed: true}
	}
	return nil
}

func (d *Document) yamlError(err error, base int) error {
	var at *yaml.LoadError
	if !errors.As(err, &at) {
		return d.errorAt(base, "%s", strings.TrimPrefix(err.Error(), "yaml: "))
	}
	if at.Mark.Line == 0 {
		at.Mark = at.ContextMark
	}
	return &SyntaxError{Path: d.Path, Line: max(at.Mark.Line, 1), Column: max(at.Mark.Column, 1), Message: at.Message}
}

// maxYAMLNodes bounds what aliases may expand to.
const maxYAMLNodes = 200_000

// tooDeepYAML finds the first flow bracket nested too deep. Block nesting
// costs a column a level and is bounded by the parser's own limit.
func tooDeepYAML(src []byte) (int, bool) {
	depth := 0
	for i, c := range src {
		switch c {
		case '{', '[':
			if depth++; depth > maxDepth*5 {
				return i, true
			}
		case '}', ']':
			depth = max(depth-1, 0)
		}
	}
	return 0, false
}

type yamlReader struct {
	d    *Document
	text string // of the document
	left int    // nodes that may still be made
}

func (y *yamlReader) node(v *yaml.Node, depth int) *Node {
	if y.left--; y.left < 0 || depth > maxDepth {
		y.left = -1
		return &Node{fixed: true}
	}
	if v.Kind == yaml.AliasNode {
		n := *y.node(v.Alias, depth+1)
		n.fixed = true
		n.KeyStart = y.d.offset(v.Line, v.Column)
		n.Start = n.KeyStart
		n.End = n.Start + len(v.Value) + 1
		return &n
	}
	n := &Node{Start: y.d.offset(v.Line, v.Column), flow: v.Style&yaml.FlowStyle != 0}
	n.KeyStart, n.End = n.Start, n.Start
	switch v.Kind {
	case yaml.MappingNode:
		n.Kind = Map
		for i := 0; i+1 < len(v.Content) && y.left >= 0; i += 2 {
			key := v.Content[i]
			item := y.node(v.Content[i+1], depth+1)
			if key.Tag == "!!merge" {
				y.merge(n, item)
				continue
			}
			if key.Kind != yaml.ScalarNode {
				continue // a key that is a map or list names no setting
			}
			item.Key = key.Value
			item.KeyStart = y.d.offset(key.Line, key.Column)
			if item.Kind == Scalar && item.Start == item.End && v.Content[i+1].Anchor == "" && y.behindColon(key, item) {
				item.fixed = false // an empty value can be written
			}
			n.Items = append(n.Items, item)
			n.End = max(n.End, item.End)
		}
	case yaml.SequenceNode:
		n.Kind = List
		for _, c := range v.Content {
			if y.left < 0 {
				break
			}
			item := y.node(c, depth+1)
			n.Items = append(n.Items, item)
			n.End = max(n.End, item.End)
		}
	default:
		y.scalar(n, v)
	}
	return n
}

// behindColon reports whether nothing but a colon stands between a key and an
// empty value, so that a value can be written there.
func (y *yamlReader) behindColon(key *yaml.Node, value *Node) bool {
	k := &Node{Start: y.d.offset(key.Line, key.Column)}
	k.End = k.Start
	y.scalar(k, key)
	rest := y.d.Src[value.Start:]
	return !k.fixed && k.End > k.Start && k.End <= value.Start && (len(rest) == 0 || rest[0] == '\n' || rest[0] == '\r') &&
		strings.TrimSpace(string(y.d.Src[k.End:value.Start])) == ":"
}

// merge puts the items of a merged map before n's own, which win over them.
func (y *yamlReader) merge(n, merged *Node) {
	maps := []*Node{merged}
	if merged.Kind == List {
		maps = merged.Items
	}
	var items []*Node
	for i := len(maps) - 1; i >= 0; i-- {
		if y.left -= len(maps[i].Items); y.left < 0 {
			return
		}
		for _, item := range maps[i].Items {
			copied := *item
			copied.fixed = true
			items = append(items, &copied)
		}
	}
	n.Items = append(items, n.Items...)
}

// scalar fills in a scalar's value and span. The span is only trusted where the
// text found there is the value again; otherwise the node cannot be edited.
func (y *yamlReader) scalar(n *Node, v *yaml.Node) {
	switch v.ShortTag() {
	case "!!null":
	case "!!bool":
		n.Value = strings.EqualFold(v.Value, "true")
	case "!!int":
		n.Value = number(v.Value)
	case "!!float":
		n.Value = number(v.Value)
	default:
		n.Value = v.Value
	}
	rest := y.text[min(n.Start, len(y.text)):]
	if v.Value == "" && v.Style == 0 {
		n.fixed = true // nothing is there to replace; see behindColon
		return
	}
	if v.Anchor != "" || v.Style&yaml.TaggedStyle != 0 || v.Style&(yaml.LiteralStyle|yaml.FoldedStyle) != 0 {
		n.fixed = true
		return
	}
	raw := v.Value
	switch {
	case v.Style&yaml.DoubleQuotedStyle != 0:
		q, err := strconv.QuotedPrefix(rest)
		if err != nil { // broken over lines, or with escapes of YAML's own
			n.fixed = true
			return
		}
		raw = q
	case v.Style&yaml.SingleQuotedStyle != 0:
		raw = "'" + strings.ReplaceAll(v.Value, "'", "''") + "'"
	}
	if strings.HasPrefix(rest, raw) {
		n.End = n.Start + len(raw)
	} else {
		n.fixed = true
	}
}

// addYAML adds a key to the deepest map of its path that is there.
func (d *Document) addYAML(keys []string, value any) (Edit, error) {
	n, missing := d.Root.deepest(keys, true)
	if n.Kind == List || n.Kind != Map && n.Value != nil || n.fixed {
		return Edit{}, fmt.Errorf("%s: %s is not a map that can be added to", d.Path, n.Key)
	}
	if !n.flow {
		last := len(keys) - 1
		return d.AddPart(keys[:last], yamlMember(d, keys[last], value)+"\n")
	}
	member := yamlFlow(d, missing, value)
	if len(n.Items) == 0 {
		return Edit{n.Start + 1, n.Start + 1, member}, nil
	}
	last := n.Items[len(n.Items)-1]
	if last.Kind != Scalar || last.fixed {
		return Edit{}, fmt.Errorf("%s: %s ends in a value that cannot be added behind", d.Path, n.Key)
	}
	return Edit{last.End, last.End, ", " + member}, nil
}

// indentOf returns blanks as wide as the column of offset; a list's dash counts
// as a blank.
func (d *Document) indentOf(offset int) string {
	return strings.Repeat(" ", offset-d.lineStart(offset))
}

// blockEnd returns the offset behind the last line that belongs to the item at
// offset, whose key stands behind width blanks.
func (d *Document) blockEnd(offset, width int) int {
	end := d.lineEnd(offset)
	for at := end; at < len(d.Src); {
		next := d.lineEnd(at)
		line := strings.TrimRight(string(d.Src[at:next]), " \t\r\n")
		blanks := len(line) - len(strings.TrimLeft(line, " "))
		text := line[blanks:]
		switch {
		case text == "" || text[0] == '#':
		case blanks > width, blanks == width && strings.HasPrefix(text, "-") && !strings.HasPrefix(text, "---"):
			end = next
		default:
			return end
		}
		at = next
	}
	return end
}

func yamlMember(d *Document, key string, value any) string {
	return d.scalar(key, "") + ": " + d.scalar(value, "")
}

func yamlFlow(d *Document, keys []string, value any) string {
	if len(keys) == 1 {
		return yamlMember(d, keys[0], value)
	}
	return d.scalar(keys[0], "") + ": {" + yamlFlow(d, keys[1:], value) + "}"
}

// plainYAML reports whether text can stand without quotes and stay a text.
func plainYAML(text string) bool {
	var v any
	if err := yaml.Unmarshal([]byte(text), &v); err != nil {
		return false
	}
	return v == text && !strings.ContainsAny(text, ":#{}[],&*!|>'\"%@`\n")
}
