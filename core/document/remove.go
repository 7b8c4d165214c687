package document

import (
	"bytes"
	"fmt"
	"strings"
)

// Remove returns the edit that takes a key and its value out of the document. What
// shares its line with something else, is the only one of its map, or stands
// elsewhere is refused.
func (d *Document) Remove(n *Node) (Edit, error) {
	line, _ := d.Position(n.KeyStart)
	refuse := func(why string) (Edit, error) {
		return Edit{}, fmt.Errorf("%s:%d: %s %s", d.Path, line, n.Key, why)
	}
	above, at := d.above(d.Root, n)
	switch {
	case n.fixed || above == nil:
		return refuse("is no value of its own that can be taken out")
	case above.Kind != Map:
		return refuse("is an item of a list, and only keys are taken out")
	}
	switch d.Syntax {
	case EditorConfig, INI, Properties, TOML, Options:
	case YAML:
		if above.flow || len(above.Items) == 1 {
			return refuse("cannot be taken out without its map")
		}
	case JSON, JSONC:
		return d.removeMember(above, at, refuse)
	default:
		return refuse("cannot be taken out of a file of this kind")
	}
	if above.flow || n.Kind != Scalar {
		return refuse("is no line of its own")
	}
	start, end := bytes.LastIndexByte(d.Src[:n.KeyStart], '\n')+1, d.lineEnd(n.End)
	before, behind := string(d.Src[start:n.KeyStart]), string(d.Src[n.End:end])
	if strings.Trim(before, " \t-\"'") != "" || strings.Trim(behind, " \t\r\n\"'") != "" {
		return refuse("shares its line with something else")
	}
	return Edit{start, end, ""}, nil
}

// removeMember takes a member out of a JSON object, with the comma that sets it
// apart.
func (d *Document) removeMember(above *Node, at int, refuse func(string) (Edit, error)) (Edit, error) {
	items, n := above.Items, above.Items[at]
	if len(items) == 1 {
		return refuse("cannot be taken out without its map")
	}
	from, to := n.KeyStart, 0
	if at+1 < len(items) {
		to = items[at+1].KeyStart
	} else {
		from, to = items[at-1].End, n.End
	}
	between := string(d.Src[from:n.KeyStart]) + string(d.Src[n.End:to])
	if strings.Contains(between, "//") || strings.Contains(between, "/*") {
		return refuse("stands beside a comment")
	}
	return Edit{from, to, ""}, nil
}

// above returns the map or list that holds a node, and its place there.
func (d *Document) above(in, n *Node) (*Node, int) {
	if in == nil {
		return nil, 0
	}
	for i, item := range in.Items {
		if item == n {
			return in, i
		}
		if found, at := d.above(item, n); found != nil {
			return found, at
		}
	}
	return nil, 0
}
