package document

import (
	"bytes"
	"errors"
	"fmt"
	"strings"

	"github.com/pelletier/go-toml/v2"
	"github.com/pelletier/go-toml/v2/unstable"
)

// parseTOML checks the document with the full parser, then takes the spans
// from the syntax tree.
func (d *Document) parseTOML() error {
	src, base := d.body()
	if at, deep := tooDeep(src); deep {
		return d.errorAt(base+at, "nested deeper than %d levels", maxDepth)
	}
	if at, many := crowdedTOML(src); many {
		return d.errorAt(base+at, "more than %d keys in one table, too many to be read", maxTableKeys)
	}
	var all map[string]any
	if err := toml.Unmarshal(src, &all); err != nil {
		var at *toml.DecodeError
		if errors.As(err, &at) {
			line, column := at.Position()
			return &SyntaxError{Path: d.Path, Line: line, Column: column, Message: strings.TrimPrefix(at.Error(), "toml: ")}
		}
		return d.errorAt(base, "%s", strings.TrimPrefix(err.Error(), "toml: "))
	}
	d.Root = &Node{Kind: Map, Start: base, End: len(d.Src), insert: base}
	table := d.Root
	var p unstable.Parser
	p.Reset(src)
	for p.NextExpression() {
		e := p.Expression()
		switch e.Kind {
		case unstable.Table, unstable.ArrayTable:
			table = d.tomlTable(e, base)
		case unstable.KeyValue:
			item := d.tomlPair(table, e, base)
			table.insert = d.lineEnd(item.End)
			table.indent = d.blanksBefore(base + int(e.Raw.Offset))
		}
	}
	if err := p.Error(); err != nil {
		return d.errorAt(base, "%s", strings.TrimPrefix(err.Error(), "toml: "))
	}
	return nil
}

// maxTableKeys bounds the keys of one table, and the tables in one: the full parser
// compares each with all before it.
const maxTableKeys = 10_000

// crowdedTOML finds the first key or table that is one too many where it stands.
func crowdedTOML(src []byte) (int, bool) {
	if bytes.Count(src, []byte("\n")) < maxTableKeys {
		return 0, false
	}
	keys := 0
	tables := map[string]int{} // within each
	var p unstable.Parser
	p.Reset(src)
	for p.NextExpression() {
		e := p.Expression()
		at := int(e.Raw.Offset)
		switch e.Kind {
		case unstable.KeyValue:
			keys++
		case unstable.Table:
			keys = 0
			above := ""
			for it := e.Key(); it.Next(); {
				at = int(it.Node().Raw.Offset)
				if !it.IsLast() {
					above += string(it.Node().Data) + "\x00"
				}
			}
			if tables[above]++; tables[above] > maxTableKeys {
				return at, true
			}
		case unstable.ArrayTable:
			keys = 0
		}
		if keys > maxTableKeys {
			return at, true
		}
	}
	return 0, false
}

// tomlTable returns the map a table header names.
func (d *Document) tomlTable(e *unstable.Node, base int) *Node {
	n := d.Root
	it := e.Key()
	start := 0
	for it.Next() {
		k := it.Node()
		at := base + int(k.Raw.Offset)
		if start == 0 {
			start = at
		}
		if it.IsLast() && e.Kind == unstable.ArrayTable {
			list := n.Get(string(k.Data))
			if list == nil {
				list = &Node{Kind: List, Key: string(k.Data), KeyStart: at, Start: at, End: at, fixed: true}
				n.put(list)
			}
			table := &Node{Kind: Map, KeyStart: at, Start: at, End: at}
			list.Items = append(list.Items, table)
			n = table
			break
		}
		next := n.Get(string(k.Data))
		if next == nil {
			next = &Node{Kind: Map, Key: string(k.Data), KeyStart: at, Start: at, End: at, insert: -1}
			n.put(next)
		}
		if next.Kind == List { // a table within the last of an array of tables
			next = next.Items[len(next.Items)-1]
		}
		n = next
	}
	n.insert = d.lineEnd(n.Start)
	if n.Start < start {
		n.insert = d.lineEnd(start)
	}
	return n
}

// tomlPair adds a key and its value to the table and returns the value.
func (d *Document) tomlPair(table *Node, e *unstable.Node, base int) *Node {
	start, end := base+int(e.Raw.Offset), base+int(e.Raw.Offset+e.Raw.Length)
	it := e.Key()
	for it.Next() {
		k := it.Node()
		at := base + int(k.Raw.Offset)
		if it.IsLast() {
			item := d.tomlValue(e.Value(), base)
			item.Key, item.KeyStart = string(k.Data), at
			if item.Kind != Scalar {
				item.Start, item.End = at, end
			}
			table.put(item)
			return item
		}
		next := table.Get(string(k.Data))
		if next == nil {
			next = &Node{Kind: Map, Key: string(k.Data), KeyStart: at, Start: start, insert: -1, flow: true}
			table.put(next)
		}
		next.End = end
		table = next
	}
	return table
}

func (d *Document) tomlValue(v *unstable.Node, base int) *Node {
	n := &Node{Start: base + int(v.Raw.Offset), End: base + int(v.Raw.Offset+v.Raw.Length)}
	n.KeyStart = n.Start
	switch v.Kind {
	case unstable.Array:
		n.Kind, n.fixed = List, true
		it := v.Children()
		for it.Next() {
			if it.Node().Kind != unstable.Comment {
				n.Items = append(n.Items, d.tomlValue(it.Node(), base))
			}
		}
	case unstable.InlineTable:
		n.Kind, n.flow, n.insert = Map, true, -1
		it := v.Children()
		for it.Next() {
			if it.Node().Kind == unstable.KeyValue {
				d.tomlPair(n, it.Node(), base)
			}
		}
	case unstable.Bool:
		n.Value = string(v.Data) == "true"
	case unstable.Integer, unstable.Float:
		n.Value = number(string(v.Data))
	default:
		n.Value = string(v.Data)
	}
	return n
}

// addTOML adds a key to the deepest table of its path that is written out, or
// else a table at the end.
func (d *Document) addTOML(keys []string, value any) (Edit, error) {
	table, last := d.Root, len(keys)-1
	for i, k := range keys[:last] {
		next := table.Get(k)
		if next == nil {
			return d.newTable(keys, value), nil
		}
		if next.Kind == Map && d.inBraces(next) {
			return d.addInBraces(next, keys[i+1:], value), nil
		}
		if next.flow || next.Kind == Scalar {
			return Edit{}, fmt.Errorf("%s: %s is written in one line with its keys, to which nothing is added", d.Path, k)
		}
		table = next
	}
	if table.insert < 0 { // only tables within it have headers
		return d.newTable(keys, value), nil
	}
	return Edit{table.insert, table.insert, d.lineBreakBefore(table.insert) + table.indent +
		tomlKey(keys[last:]) + " = " + d.scalar(value, "") + d.newline()}, nil
}

// inBraces reports whether a table is written in braces.
func (d *Document) inBraces(n *Node) bool {
	return n.flow && n.End > n.Start && d.Src[n.End-1] == '}' && d.braces(n)
}

// braces reports whether the value of a key starts with a brace.
func (d *Document) braces(n *Node) bool {
	_, value, found := bytes.Cut(d.Src[n.KeyStart:n.End], []byte("="))
	return found && bytes.HasPrefix(bytes.TrimLeft(value, " \t"), []byte("{"))
}

// addInBraces adds a key behind those of a table in braces.
func (d *Document) addInBraces(table *Node, keys []string, value any) Edit {
	pair := tomlKey(keys) + " = " + d.scalar(value, "")
	if len(table.Items) == 0 {
		return Edit{table.End - 1, table.End - 1, " " + pair + " "}
	}
	end := 0
	for _, item := range table.Items {
		end = max(end, item.End)
	}
	return Edit{end, end, ", " + pair}
}

// newTable adds a key in a table of its own at the end.
func (d *Document) newTable(keys []string, value any) Edit {
	last := len(keys) - 1
	return d.addLine(d.blankLine() + "[" + tomlKey(keys[:last]) + "]" + d.newline() + tomlKey(keys[last:]) + " = " + d.scalar(value, ""))
}

// AddTable returns the edit that puts a table, under a header and with its keys
// indented, behind the keys of the table given.
func (d *Document) AddTable(after *Node, header, indent string, pairs [][2]any) Edit {
	at := after.insert
	var b strings.Builder
	b.WriteString(d.lineBreakBefore(at))
	b.WriteString(header + d.newline())
	for _, p := range pairs {
		b.WriteString(indent + tomlKey([]string{fmt.Sprint(p[0])}) + " = " + d.scalar(p[1], "") + d.newline())
	}
	return Edit{at, at, b.String()}
}

// blankLine returns a line break that sets off what is appended, where there is
// anything before it.
func (d *Document) blankLine() string {
	if len(bytes.TrimSpace(d.Src)) == 0 {
		return ""
	}
	return d.newline()
}

func tomlKey(keys []string) string {
	quoted := make([]string, len(keys))
	for i, k := range keys {
		quoted[i] = k
		if k == "" || strings.Trim(k, wordLetters) != "" {
			quoted[i] = Quoted(k)
		}
	}
	return strings.Join(quoted, ".")
}
