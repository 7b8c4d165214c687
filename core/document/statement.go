package document

import (
	"strings"

	"jollytreaty/core/scan"
)

// statement reads one statement at the top level of settings written as code.
func (c *codeReader) statement() {
	c.blank()
	if c.done() || c.take(";") {
		return
	}
	c.in.statement(c)
}

// lastValue reads an assignment, or a value, of which the last is the file's.
func (c *codeReader) lastValue() {
	if c.peek(0).Kind == scan.Word && c.peek(1).Is("=") {
		c.assignment()
		return
	}
	c.result = c.value()
}

// rest steps over what is left of a statement.
func (c *codeReader) rest() {
	for !c.done() && !c.peek(0).Is(";") && c.peek(0).Kind != scan.Newline {
		before := c.pos
		c.skip()
		if c.pos == before {
			c.pos++
		}
	}
}

// assignment reads "name = value" and keeps the value.
func (c *codeReader) assignment() (name scan.Token, v *Node) {
	name = c.peek(0)
	c.pos += 2
	v = c.value()
	c.values[name.Value] = v
	c.rest()
	return name, v
}

func (c *codeReader) scriptStatement() {
	if c.take("import") {
		c.imports()
		return
	}
	exported := c.take("export")
	switch {
	case exported && c.take("default"), exported && c.take("="), c.take("module", ".", "exports", "="), c.take("exports", "="):
		c.result = c.value()
		c.rest()
		return
	case c.take("module", ".", "exports", ".") || c.take("exports", "."):
		if c.peek(1).Is("=") {
			name, v := c.assignment()
			v.Key, v.KeyStart = name.Value, name.Start
			c.d.Root.Items = append(c.d.Root.Items, v)
		}
		c.rest()
		return
	}
	if c.take("const") || c.take("let") || c.take("var") {
		switch {
		case c.peek(0).Kind == scan.Word && c.peek(1).Is("="):
			c.assignment()
		case c.peek(0).Kind == scan.Word && c.peek(1).Is(":"):
			name := c.peek(0)
			for !c.done() && !c.peek(0).Is("=") && !c.peek(0).Is(";") {
				c.pos++
			}
			if c.take("=") {
				c.values[name.Value] = c.value()
			}
		}
	}
	c.rest()
}

// imports binds the names of an import statement to what they stand for.
func (c *codeReader) imports() {
	names := map[string]string{} // name to member of the module
	for !c.done() && !c.peek(0).Is("from") && c.peek(0).Kind != scan.Text && !c.peek(0).Is(";") {
		t := c.peek(0)
		switch {
		case t.Is("*") && c.peek(1).Is("as"):
			names[c.peek(2).Value] = ""
			c.pos += 3
		case t.Kind == scan.Word && c.peek(1).Is("as"):
			names[c.peek(2).Value] = "." + t.Value
			c.pos += 3
		case t.Kind == scan.Word:
			if c.pos > 0 && !c.tokens[c.pos-1].Is("import") {
				names[t.Value] = "." + t.Value
			} else {
				names[t.Value] = ""
			}
			c.pos++
		default:
			c.pos++
		}
	}
	c.take("from")
	module := c.peek(0)
	for name, member := range names {
		if module.Kind == scan.Text {
			c.values[name] = &Node{Kind: Opaque, Value: module.Value + strings.TrimSuffix(member, ".default"), fixed: true}
		}
	}
	c.rest()
}

func (c *codeReader) phpStatement() {
	switch t := c.peek(0); {
	case c.take("return"):
		c.result = c.value()
	case t.Kind == scan.Word && c.peek(1).Is("="):
		c.assignment()
		return
	case t.Kind == scan.Word && c.peek(1).Is("->") && c.values[t.Value] != nil && c.values[t.Value].Kind == Map:
		object := c.values[t.Value]
		c.pos++
		for c.peek(0).Is("->") && c.peek(2).Is("(") {
			c.method(object)
			c.blank()
		}
	}
	for !c.done() && !c.take(";") {
		before := c.pos
		c.skip()
		if c.pos == before {
			c.pos++
		}
	}
}

// plainStatement reads a statement that sets something at the top level: an
// assignment, or a call without brackets.
func (c *codeReader) plainStatement() {
	t := c.peek(0)
	switch {
	case c.take("return"):
		c.result = c.value()
		c.rest()
	case c.in.local != "" && c.take(c.in.local):
		if c.peek(0).Kind == scan.Word && c.peek(1).Is("=") {
			c.assignment()
		} else {
			c.rest()
		}
	case c.in.sections && t.Is("with") && c.peek(2).Is("(") && c.peek(3).Kind == scan.Text:
		c.section()
	case t.Kind == scan.Word && c.peek(1).Is("="):
		_, v := c.assignment()
		c.keep(c.d.Root, t, v)
	case t.Kind == scan.Word && (c.peek(1).Is(".") || c.peek(1).Is("[")):
		c.member()
	case c.in.calls && t.Kind == scan.Word && !c.peek(1).Is("."):
		c.call()
	default:
		c.rest()
	}
}

func (c *codeReader) keep(in *Node, name scan.Token, v *Node) {
	item := *v
	item.Key, item.KeyStart = name.Value, name.Start
	in.put(&item)
}

// member reads an assignment to a member: a.b = value, a["b"] = value.
func (c *codeReader) member() {
	in, name := c.d.Root, c.peek(0)
	c.pos++
	for {
		var next scan.Token
		switch {
		case c.peek(0).Is(".") && c.peek(1).Kind == scan.Word:
			next = c.peek(1)
			c.pos += 2
		case c.peek(0).Is("[") && c.peek(1).Kind == scan.Text && c.peek(2).Is("]"):
			next = c.peek(1)
			c.pos += 3
		case c.take("="):
			c.keep(in, name, c.value())
			c.rest()
			return
		default:
			c.rest()
			return
		}
		in, name = in.child(name), next
	}
}

// child returns the map under the key, made if it is not there.
func (n *Node) child(name scan.Token) *Node {
	if had := n.Get(name.Value); had != nil && had.Kind == Map {
		return had
	}
	made := &Node{Kind: Map, Key: name.Value, KeyStart: name.Start, Start: name.Start, End: name.End, insert: -1, fixed: true}
	n.put(made)
	return made
}

// section reads an indented block of assignments that belong to a named part.
func (c *codeReader) section() {
	in := c.d.Root.child(scan.Token{Value: c.peek(3).Value, Start: c.peek(3).Start, End: c.peek(3).End})
	c.rest()
	for !c.done() {
		c.blank()
		t := c.peek(0)
		if _, column := c.d.Position(t.Start); c.done() || column == 1 {
			return
		}
		if t.Kind == scan.Word && c.peek(1).Is("=") {
			c.pos += 2
			c.keep(in, t, c.value())
		}
		c.rest()
	}
}

// call reads a call without brackets that sets what its first argument names:
// the keys behind it, or, alone, itself. What is called twice is a list.
func (c *codeReader) call() {
	name := c.peek(0)
	c.pos++
	args := &Node{Kind: List}
	for !c.done() && c.peek(0).Kind != scan.Newline && !c.peek(0).Is(";") {
		before := c.pos
		c.element(args, false)
		if c.take(",") {
			c.blank()
		} else if c.pos == before {
			c.rest()
		}
	}
	switch {
	case len(args.Items) == 0:
		c.keep(c.d.Root, name, &Node{Start: name.Start, End: name.End, Value: true, fixed: true})
	case args.Kind == Map:
		c.keep(c.d.Root, name, args)
	case len(args.Items) == 1:
		item := *args.Items[0]
		if had := c.d.Root.Get(name.Value); had != nil && had.Kind != Map {
			if had.Kind != List {
				first := *had
				*had = Node{Kind: List, Key: name.Value, KeyStart: had.KeyStart, Start: had.Start, End: had.End, fixed: true, Items: []*Node{&first}}
			}
			had.Items = append(had.Items, &item)
			return
		}
		c.keep(c.d.Root, name, &item)
	case args.Items[0].Kind == Scalar:
		key := args.Items[0]
		c.keep(c.d.Root.child(name), scan.Token{Value: key.Text(), Start: key.KeyStart}, args.Items[1])
	}
}
