package document

import (
	"errors"

	"jollytreaty/core/filetype"
	"jollytreaty/core/scan"
)

// parseJSON5 reads JSON5: an expression of literals as in ECMAScript.
func (d *Document) parseJSON5() error {
	src, base := d.body()
	tokens, err := scan.Tokens(filetype.ByID(string(JavaScript)).Forms, src)
	if err != nil {
		var at *scan.Error
		errors.As(err, &at)
		return d.errorAt(base+at.Offset, "%s", at.Message)
	}
	for i := range tokens {
		tokens[i].Start += base
		tokens[i].End += base
	}
	c := &codeReader{d: d, in: &grammar{}, tokens: tokens, left: maxCodeTokens, depth: 1}
	d.Root = &Node{Kind: Map, Start: base, End: len(d.Src), insert: -1, fixed: true}
	if c.blank(); c.done() {
		return nil
	}
	d.Syntax = JavaScript // for the keys and brackets of a script's literals
	defer func() { d.Syntax = JSON5 }()
	d.Root = c.primary()
	if c.blank(); !c.done() {
		return d.errorAt(c.peek(0).Start, "nothing may follow the value")
	}
	if n := d.Root.computed(); n != nil {
		return d.errorAt(n.Start, "this is not a value of JSON5")
	}
	return nil
}

// computed returns the first node that is worked out by code, or nil.
func (n *Node) computed() *Node {
	if n.Kind == Opaque {
		return n
	}
	for _, item := range n.Items {
		if o := item.computed(); o != nil {
			return o
		}
	}
	return nil
}
