package document

import (
	"strings"

	"jollytreaty/core/scan"
)

// blockText is how comments and texts are written in files of blocks.
var blockText = &scan.Language{
	Lines: []string{"#", "//"}, Blocks: [][2]string{{"/*", "*/"}},
	Quotes: []scan.Quote{{Open: `"""`, Close: `"""`, Lines: true, Raw: true}, {Open: `"`, Close: `"`, Computes: []string{"${"}}},
}

// parseBlocks reads keys with values and blocks in braces, as HOCON and HCL
// have them: a.b = 1, a { b = 1 }, a "name" { b = 1 }, a = [x, y]. Dots in keys
// make maps; names behind the key of a block do, too.
func (d *Document) parseBlocks() error {
	src, base := d.body()
	tokens, err := scan.Tokens(blockText, src)
	if err != nil {
		at := err.(*scan.Error)
		return d.errorAt(base+at.Offset, "%s", at.Message)
	}
	for i := range tokens {
		tokens[i].Start += base
		tokens[i].End += base
	}
	c := &codeReader{d: d, in: &grammar{}, tokens: tokens, left: maxCodeTokens}
	d.Root = &Node{Kind: Map, Start: base, End: len(d.Src), insert: len(d.Src), fixed: true}
	if err := c.block(d.Root, 0); err != nil {
		return err
	}
	if !c.done() {
		return d.errorAt(c.peek(0).Start, "a closing brace without an opening one")
	}
	return nil
}

// block reads pairs and blocks up to the closing brace or the end.
func (c *codeReader) block(in *Node, depth int) error {
	if depth > maxDepth {
		return c.d.errorAt(c.peek(0).Start, "nested deeper than %d levels", maxDepth)
	}
	for {
		c.blank()
		t := c.peek(0)
		switch {
		case c.done(), t.Is("}"):
			return nil
		case c.take(","), c.take(";"):
			continue
		case t.Kind != scan.Word && t.Kind != scan.Text && t.Kind != scan.Number:
			return c.d.errorAt(t.Start, "a key is expected here")
		}
		target := in
		path := c.blockKey()
		last := path[len(path)-1]
		for _, name := range path[:len(path)-1] {
			target = target.child(name)
		}
		switch t := c.peek(0); {
		case t.Is("{") || (t.Is("=") || t.Is(":")) && c.peek(1).Is("{"):
			if !c.take("{") {
				c.pos += 2
			}
			if err := c.block(target.child(last), depth+1); err != nil {
				return err
			}
			if !c.take("}") {
				return c.d.errorAt(t.Start, "a brace that is not closed")
			}
		case t.Is("=") || t.Is(":") || t.Is("+="):
			c.pos++
			c.keep(target, last, c.blockValue(0))
		default:
			return c.d.errorAt(last.Start, "neither a value nor a block follows %s", last.Value)
		}
	}
}

// blockKey reads the key of a pair or block: names with dots between them, or
// one behind the other.
func (c *codeReader) blockKey() []scan.Token {
	var path []scan.Token
	for t := c.peek(0); t.Kind == scan.Word || t.Kind == scan.Text || t.Kind == scan.Number; t = c.peek(0) {
		c.pos++
		for c.d.joined(t, c.peek(0)) && c.peek(0).Is("-") && c.d.joined(c.peek(0), c.peek(1)) {
			t.End = c.peek(1).End
			t.Value = string(c.d.Src[t.Start:t.End])
			c.pos += 2
		}
		path = append(path, t)
		c.take(".")
	}
	return path
}

// joined reports whether no blank stands between two tokens.
func (d *Document) joined(a, b scan.Token) bool { return a.End == b.Start }

// blockValue reads a value: a text, a number, a truth value, a list, or words
// without quotes up to the end of the line.
func (c *codeReader) blockValue(depth int) *Node {
	t := c.peek(0)
	if t.Is("[") && depth < maxDepth {
		c.pos++
		n := &Node{Kind: List, KeyStart: t.Start, Start: t.Start, fixed: true}
		for c.blank(); !c.done() && !c.take("]"); c.blank() {
			before := c.pos
			if !c.take(",") {
				n.Items = append(n.Items, c.blockValue(depth+1))
			}
			if c.pos == before {
				c.pos++
			}
		}
		n.End = c.tokens[c.pos-1].End
		return n
	}
	if t.Is("{") {
		from := c.pos
		c.pos = c.matching(c.pos) + 1
		return c.opaque(from, "")
	}
	from := c.pos
	for !c.done() {
		if t := c.peek(0); t.Kind == scan.Newline || t.Is(",") || t.Is("]") || t.Is("}") {
			break
		}
		if t := c.peek(0); t.Is("(") || t.Is("[") || t.Is("{") {
			c.pos = c.matching(c.pos)
		}
		c.pos++
	}
	if c.pos == from {
		return &Node{KeyStart: t.Start, Start: t.Start, End: t.Start, fixed: true}
	}
	n := &Node{KeyStart: t.Start, Start: t.Start, End: c.tokens[c.pos-1].End}
	raw := string(c.d.Src[n.Start:n.End])
	switch {
	case c.pos-from == 1 && t.Kind == scan.Text && !t.Computed:
		n.Value = t.Value
	case c.pos-from == 1 && t.Kind == scan.Number:
		n.Value = number(raw)
	case raw == "true" || raw == "false":
		n.Value = raw == "true"
	case strings.ContainsAny(raw, "${(\""):
		return c.opaque(from, "")
	default:
		n.Value = raw
	}
	return n
}
