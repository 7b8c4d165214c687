package document

import (
	"errors"
	"slices"
	"strings"

	"jollytreaty/core/filetype"
	"jollytreaty/core/scan"
)

// maxCodeTokens bounds the text that is read as code.
const maxCodeTokens = 200_000

type codeReader struct {
	d      *Document
	in     *grammar
	tokens []scan.Token
	pos    int
	depth  int
	left   int
	values map[string]*Node // names bound to a value
	bound  map[string]int   // how often a name is given a value or changed
	result *Node            // what the file exports or returns
}

// parseCode reads settings written as code. The root is what the file exports
// or returns, else a map of what it sets at its top level.
func (d *Document) parseCode() error {
	src, base := d.body()
	g := d.how.grammar
	if i := strings.Index(string(src), g.opening); i > 0 || i == 0 && g.opening != "" {
		base += i + len(g.opening)
		src = src[i+len(g.opening):]
	}
	tokens, err := scan.Tokens(filetype.ByID(string(d.Syntax)).Forms, src)
	if err != nil {
		var at *scan.Error
		errors.As(err, &at)
		return d.errorAt(base+at.Offset, "%s", at.Message)
	}
	if len(tokens) > maxCodeTokens {
		return d.errorAt(base, "more than %d words, too much for settings", maxCodeTokens)
	}
	for i := range tokens {
		tokens[i].Start += base
		tokens[i].End += base
	}
	c := &codeReader{d: d, in: g, tokens: tokens, left: maxCodeTokens, values: map[string]*Node{}, bound: map[string]int{}}
	c.countBindings()
	d.Root = &Node{Kind: Map, Start: base, End: len(d.Src), insert: -1, fixed: true}
	for c.pos < len(c.tokens) {
		before := c.pos
		c.statement()
		if c.pos == before {
			c.pos++
		}
	}
	if c.result != nil {
		d.Root = c.result
		d.Root.Key = ""
	}
	return nil
}

var assigns = []string{"=", "+=", "-=", "||=", "&&=", "??=", ".=", "<<"}

// countBindings counts how often each name is given a value, or what it names
// is changed.
func (c *codeReader) countBindings() {
	for i, t := range c.tokens {
		if t.Kind != scan.Word || i > 0 && (c.tokens[i-1].Is(".") || c.tokens[i-1].Is("->")) {
			continue
		}
		next := func(n int) scan.Token {
			if i+n < len(c.tokens) {
				return c.tokens[i+n]
			}
			return scan.Token{Kind: scan.Comment}
		}
		switch {
		case next(1).Kind == scan.Sign && slices.Contains(assigns, next(1).Value):
			c.bound[t.Value]++
		case next(1).Is(":") && next(3).Is("="): // with a type
			c.bound[t.Value]++
		case next(1).Is(".") && (slices.Contains(assigns, next(3).Value) || slices.Contains([]string{"push", "unshift", "splice", "append", "update", "extend", "sort", "concat!"}, next(2).Value)):
			c.bound[t.Value] += 2
		case next(1).Is("[") && c.in.indexed && i+1 < len(c.tokens):
			if end := c.matching(i + 1); end+1 < len(c.tokens) && slices.Contains(assigns, c.tokens[end+1].Value) {
				c.bound[t.Value] += 2
			}
		}
	}
}

// matching returns the index of the bracket that closes the one at i, or the
// last token.
func (c *codeReader) matching(i int) int {
	depth := 0
	for ; i < len(c.tokens); i++ {
		if t := c.tokens[i]; t.Kind == scan.Sign {
			switch t.Value {
			case "(", "[", "{":
				depth++
			case ")", "]", "}":
				if depth--; depth <= 0 {
					return i
				}
			}
		}
	}
	return len(c.tokens) - 1
}

func (c *codeReader) peek(n int) scan.Token {
	if c.pos+n < len(c.tokens) {
		return c.tokens[c.pos+n]
	}
	return scan.Token{Kind: scan.Comment, Start: len(c.d.Src), End: len(c.d.Src)} // the end
}

func (c *codeReader) done() bool { return c.pos >= len(c.tokens) }

func (c *codeReader) blank() {
	for !c.done() && c.peek(0).Kind == scan.Newline {
		c.pos++
	}
}

// take steps over the words and signs if they are next.
func (c *codeReader) take(words ...string) bool {
	for i, w := range words {
		if !c.peek(i).Is(w) {
			return false
		}
	}
	c.pos += len(words)
	return true
}

// skip steps to the end of the expression: the next comma or end of statement
// outside of brackets.
func (c *codeReader) skip() {
	for !c.done() {
		switch t := c.peek(0); {
		case t.Is("(") || t.Is("[") || t.Is("{"):
			c.pos = c.matching(c.pos) + 1
		case c.ends(t):
			return
		default:
			c.pos++
		}
	}
}

// ends reports whether a token ends an expression.
func (c *codeReader) ends(t scan.Token) bool {
	if t.Kind == scan.Newline {
		return c.depth == 0
	}
	return t.Is(",") || t.Is(";") || t.Is(")") || t.Is("]") || t.Is("}")
}

func (c *codeReader) opaque(from int, what string) *Node {
	start := c.tokens[min(from, len(c.tokens)-1)].Start
	end := start
	if c.pos > from {
		end = c.tokens[c.pos-1].End
	}
	n := &Node{Kind: Opaque, KeyStart: start, Start: start, End: end, fixed: true}
	if what != "" {
		n.Value = what
	}
	return n
}

// value reads an expression.
func (c *codeReader) value() *Node {
	c.blank()
	from := c.pos
	if c.left--; c.left < 0 || c.depth > maxDepth || c.done() {
		c.pos = max(c.pos, len(c.tokens))
		return c.opaque(max(from-1, 0), "")
	}
	n := c.primary()
	for {
		if c.depth > 0 && c.peek(0).Kind == scan.Newline {
			ahead := c.pos
			c.blank()
			if c.done() {
				c.pos = ahead
				break
			}
		}
		if c.peek(0).Kind == scan.Newline && (c.peek(1).Is("->") || c.peek(1).Is(".")) {
			c.pos++
		}
		if n.Kind == Map && (c.peek(0).Is("->") || c.in.dotCalls && c.peek(0).Is(".")) && c.peek(2).Is("(") {
			c.method(n)
			continue
		}
		break
	}
	t := c.peek(0)
	if t.Is("as") || t.Is("satisfies") || t.Is("!") {
		c.skip()
		return n
	}
	if c.done() || c.ends(t) || c.depth > 0 && t.Kind == scan.Newline {
		return n
	}
	c.skip()
	return c.opaque(from, "")
}

// method reads a call on an object whose methods set what their argument says.
func (c *codeReader) method(n *Node) {
	c.pos++
	name := c.peek(0)
	c.pos++
	args := c.arguments()
	item := &Node{Kind: Scalar, Value: true, Start: name.Start, End: name.End, fixed: true}
	if len(args.Items) == 1 {
		item = args.Items[0]
	} else if len(args.Items) > 1 {
		item = args
	}
	item.Key, item.KeyStart = name.Value, name.Start
	n.Items = append(n.Items, item)
}

func (c *codeReader) primary() *Node {
	from, t := c.pos, c.peek(0)
	scalar := func(v any) *Node {
		c.pos++
		return &Node{KeyStart: t.Start, Start: t.Start, End: t.End, Value: v}
	}
	switch {
	case t.Kind == scan.Text && t.Computed:
		c.pos++
		return c.opaque(from, "")
	case t.Kind == scan.Text && len(t.Value) > 0 && (c.d.Src[t.Start] == '%' || c.d.Src[t.Start] == '~'):
		return c.words(t)
	case t.Kind == scan.Text:
		return scalar(t.Value)
	case t.Kind == scan.Number:
		return scalar(number(t.Value))
	case (t.Is("-") || t.Is("+")) && c.peek(1).Kind == scan.Number:
		end := c.peek(1)
		n := scalar(number(t.Value + end.Value))
		c.pos++
		n.End = end.End
		return n
	case t.Is(":") && c.peek(1).Kind == scan.Word: // a symbol
		name := c.peek(1)
		n := scalar(name.Value)
		c.pos++
		n.End = name.End
		return n
	case t.Is("[") || t.Is("{"):
		c.pos++
		return c.brackets(map[string]string{"[": "]", "{": "}"}[t.Value])
	case t.Is("%") && c.peek(1).Is("{"):
		c.pos += 2
		return c.brackets("}")
	case t.Is("("):
		list := c.arguments()
		if list.Kind == List && len(list.Items) == 1 {
			return list.Items[0]
		}
		return list
	case t.Kind == scan.Word:
		return c.word()
	}
	c.skip()
	return c.opaque(from, "")
}

// arguments reads what stands in round brackets.
func (c *codeReader) arguments() *Node {
	c.pos++
	return c.brackets(")")
}

// words reads a list of words written as one text.
func (c *codeReader) words(t scan.Token) *Node {
	c.pos++
	n := &Node{Kind: List, KeyStart: t.Start, Start: t.Start, End: t.End, fixed: true}
	at := t.Start + 3
	for _, w := range strings.Fields(t.Value) {
		at += strings.Index(string(c.d.Src[at:t.End]), w)
		n.Items = append(n.Items, &Node{KeyStart: at, Start: at, End: at + len(w), Value: w, fixed: true})
		at += len(w)
	}
	return n
}

var constants = map[string]any{
	"true": true, "True": true, "TRUE": true, "false": false, "False": false, "FALSE": false,
	"null": nil, "nil": nil, "None": nil, "undefined": nil, "NULL": nil,
}

// word reads what starts with a name: a constant, a name bound to a value, a
// call.
func (c *codeReader) word() *Node {
	from, t := c.pos, c.peek(0)
	if v, ok := constants[t.Value]; ok {
		c.pos++
		return &Node{KeyStart: t.Start, Start: t.Start, End: t.End, Value: v, fixed: v == nil}
	}
	if t.Value == "new" {
		c.pos++
		for c.peek(0).Kind == scan.Word || c.peek(0).Is(".") || c.peek(0).Is("::") || c.peek(0).Is("\\") {
			c.pos++
		}
		if c.peek(0).Is("(") {
			c.pos = c.matching(c.pos) + 1
		}
		return &Node{Kind: Map, KeyStart: t.Start, Start: t.Start, End: t.End, insert: -1, fixed: true}
	}
	path := []string{t.Value}
	c.pos++
	for (c.peek(0).Is(".") || c.peek(0).Is("::") || c.peek(0).Is("\\")) && c.peek(1).Kind == scan.Word {
		path = append(path, c.peek(1).Value)
		c.pos += 2
	}
	last := path[len(path)-1]
	if c.peek(0).Is("(") {
		if last == "require" && c.peek(1).Kind == scan.Text {
			module := c.peek(1).Value
			c.pos = c.matching(c.pos) + 1
			if c.peek(0).Is(".") && c.peek(1).Kind == scan.Word {
				module += "." + c.peek(1).Value
				c.pos += 2
			}
			return c.opaque(from, module)
		}
		if list := slices.Contains(c.in.lists, last); list || slices.Contains(c.in.keeps, last) || slices.Contains(c.d.functions, last) {
			args := c.arguments()
			if args.Kind == List && len(args.Items) == 1 && !list && args.Items[0].Kind != Scalar {
				return args.Items[0]
			}
			return args
		}
		c.pos = c.matching(c.pos) + 1
		return c.opaque(from, c.reference(path)+"()")
	}
	if v := c.values[path[0]]; v != nil && v.Kind != Opaque && c.bound[path[0]] == 1 {
		if v = v.Find(strings.Join(path[1:], "/")); v != nil {
			copied := *v
			copied.fixed = true
			return &copied
		}
	}
	return c.opaque(from, c.reference(path))
}

// reference names what a path of names stands for; a name that was imported
// comes with its module.
func (c *codeReader) reference(path []string) string {
	if v := c.values[path[0]]; v != nil && v.Kind == Opaque && v.Value != nil && c.bound[path[0]] <= 1 {
		path = append([]string{v.Text()}, path[1:]...)
	}
	return strings.Join(path, ".")
}

// pairSigns stand between a key and its value.
var pairSigns = []string{":", "=>", "="}

// brackets reads elements up to the closing bracket: a map if they have keys,
// else a list.
func (c *codeReader) brackets(closing string) *Node {
	open := c.tokens[c.pos-1]
	n := &Node{Kind: List, KeyStart: open.Start, Start: open.Start, insert: -1, flow: true, fixed: true}
	keyed := c.in.objects && closing == "}"
	if keyed || closing == "}" && c.peek(0).Is("}") && !c.in.tuples {
		n.Kind = Map
	}
	c.depth++
	for {
		c.blank()
		if c.done() || c.take(closing) {
			break
		}
		if c.take(",") || c.take(";") {
			continue
		}
		before := c.pos
		c.element(n, keyed)
		if c.pos == before {
			c.pos++
		}
	}
	c.depth--
	n.End = c.tokens[min(c.pos, len(c.tokens))-1].End
	return n
}

// element reads one element of a map or list into n.
func (c *codeReader) element(n *Node, keyed bool) {
	from := c.pos
	if c.take("...") || c.in.spreads && (c.take("**") || c.take("*")) {
		v := c.value()
		if (v.Kind == n.Kind || v.Kind == Map) && len(v.Items) <= c.left {
			n.Kind = v.Kind
			c.left -= len(v.Items)
			n.Items = append(n.Items, fixedCopies(v.Items)...)
		} else {
			n.Items = append(n.Items, v) // what it holds is not known
		}
		return
	}
	key, at, ok := c.key()
	if ok {
		v := c.value()
		v.Key, v.KeyStart = key, at
		if n.Kind == List && len(n.Items) == 0 || n.Kind == Map {
			n.Kind = Map
			n.Items = append(n.Items, v)
			return
		}
		last := n.Items[len(n.Items)-1] // keys behind plain arguments
		if last.Kind != Map || last.flow {
			last = &Node{Kind: Map, Start: at, End: at, KeyStart: at, insert: -1, fixed: true}
			n.Items = append(n.Items, last)
		}
		last.Items = append(last.Items, v)
		return
	}
	if keyed {
		t := c.peek(0)
		if t.Kind == scan.Word && (c.peek(1).Is(",") || c.peek(1).Is("}") || c.peek(1).Kind == scan.Newline) {
			v := c.value()
			v.Key = t.Value
			n.Items = append(n.Items, v)
			return
		}
		c.skip()
		o := c.opaque(from, "")
		if t.Kind == scan.Word && from+1 < len(c.tokens) && c.tokens[from+1].Is("(") {
			o.Key = t.Value // a method
		}
		n.Items = append(n.Items, o)
		return
	}
	n.Items = append(n.Items, c.value())
}

func fixedCopies(items []*Node) []*Node {
	out := make([]*Node, len(items))
	for i, item := range items {
		copied := *item
		copied.fixed = true
		out[i] = &copied
	}
	return out
}

// key reads a key and the sign behind it, if the element has one.
func (c *codeReader) key() (key string, at int, ok bool) {
	t := c.peek(0)
	switch {
	case (t.Kind == scan.Word || t.Kind == scan.Text && !t.Computed || t.Kind == scan.Number) && c.isPair(c.peek(1)):
		c.pos += 2
		return t.Value, t.Start, true
	case t.Is(":") && c.peek(1).Kind == scan.Word && c.peek(2).Is("=>"):
		c.pos += 3
		return c.tokens[c.pos-2].Value, t.Start, true
	case t.Is("[") && c.peek(1).Kind == scan.Text && c.peek(2).Is("]") && c.isPair(c.peek(3)):
		c.pos += 4
		return c.tokens[c.pos-3].Value, t.Start, true
	}
	return "", 0, false
}

func (c *codeReader) isPair(t scan.Token) bool {
	return t.Kind == scan.Sign && slices.Contains(pairSigns, t.Value)
}
