package document

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"strings"
)

// parseXML reads an XML document. An element is a map under its name, without
// a prefix, that holds its attributes as "@name", the elements in it, and its
// text, if there is any but blanks, as "#text".
func (d *Document) parseXML() error {
	src, base := d.body()
	d.Root = &Node{Kind: Map, Start: base, End: len(d.Src), insert: -1, fixed: true}
	in := xml.NewDecoder(bytes.NewReader(src))
	in.CharsetReader = func(_ string, r io.Reader) (io.Reader, error) { return r, nil }
	open := []*Node{d.Root}
	for {
		at := base + int(in.InputOffset())
		token, err := in.Token()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			message := err.Error()
			var syntax *xml.SyntaxError
			if errors.As(err, &syntax) {
				message = syntax.Msg
			}
			return d.errorAt(min(base+int(in.InputOffset()), len(d.Src)), "%s", message)
		}
		top := open[len(open)-1]
		switch t := token.(type) {
		case xml.StartElement:
			if len(open) > maxDepth {
				return d.errorAt(at, "nested deeper than %d levels", maxDepth)
			}
			end := base + int(in.InputOffset())
			n := &Node{Kind: Map, Key: t.Name.Local, KeyStart: at, Start: at, End: end, insert: -1, fixed: true}
			n.Items = d.xmlAttributes(t.Attr, at, end)
			top.Items = append(top.Items, n)
			open = append(open, n)
		case xml.EndElement:
			top.End = base + int(in.InputOffset())
			open = open[:len(open)-1]
		case xml.CharData:
			if text := strings.TrimSpace(string(t)); text != "" && len(open) > 1 {
				end := base + int(in.InputOffset())
				raw := string(d.Src[at:end])
				start := at + len(raw) - len(strings.TrimLeft(raw, " \t\r\n"))
				top.Items = append(top.Items, &Node{Key: "#text", KeyStart: start, Start: start, End: start + len(text),
					Value: text, fixed: start+len(text) > end || string(d.Src[start:start+len(text)]) != text})
			}
		}
	}
}

// xmlAttributes makes nodes of an element's attributes. The span of a value is
// looked for in the source; where it is not found the value cannot be edited.
func (d *Document) xmlAttributes(attrs []xml.Attr, start, end int) []*Node {
	var out []*Node
	at := start
	for _, a := range attrs {
		n := &Node{Key: "@" + a.Name.Local, KeyStart: start, Start: start, End: start, Value: a.Value, fixed: true}
		if i := bytes.Index(d.Src[at:end], []byte(a.Name.Local)); i >= 0 {
			n.KeyStart = at + i
			rest := d.Src[n.KeyStart+len(a.Name.Local) : end]
			if q := bytes.IndexAny(rest, `"'`); q >= 0 {
				n.Start = n.KeyStart + len(a.Name.Local) + q + 1
				if n.Start+len(a.Value) < end && string(d.Src[n.Start:n.Start+len(a.Value)]) == a.Value && d.Src[n.Start+len(a.Value)] == rest[q] {
					n.End, n.fixed = n.Start+len(a.Value), false
					at = n.End
				} else {
					n.End = n.Start
				}
			}
		}
		out = append(out, n)
	}
	return out
}

// xmlText writes a text as it stands in an attribute or element.
func xmlText(text string) string {
	var b strings.Builder
	if xml.EscapeText(&b, []byte(text)) != nil {
		return text
	}
	return b.String()
}
