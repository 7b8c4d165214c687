package document

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
)

// Remove returns the edit that takes a key and its value out of the document. What
// shares its line with something else, is the only one of its map, or stands
// elsewhere is refused.
func (d *Document) Remove(n *Node) (Edit, error) {
	return d.remove(n, map[*Node]bool{n: true})
}

// RemoveAll is Remove for several. Those that are refused stay.
func (d *Document) RemoveAll(nodes []*Node) []Edit {
	going := map[*Node]bool{}
	for _, n := range nodes {
		going[n] = true
	}
	var edits []Edit
	for _, n := range nodes {
		edit, err := d.remove(n, going)
		if err != nil {
			delete(going, n)
			continue
		}
		edits = append(edits, edit)
	}
	if len(edits) < len(nodes) { // what stays may be what the others were set apart from
		edits = edits[:0]
		for n := range going {
			if edit, err := d.remove(n, going); err == nil {
				edits = append(edits, edit)
			}
		}
	}
	return edits
}

// remove is Remove where others go, too.
func (d *Document) remove(n *Node, going map[*Node]bool) (Edit, error) {
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
	kept := slices.ContainsFunc(above.Items, func(item *Node) bool { return !going[item] })
	switch how := d.how.removal; {
	case how == never:
		return refuse("cannot be taken out of a file of this kind")
	case how != asLine && !kept, how == asBlock && above.flow:
		return refuse("cannot be taken out without its map")
	case how == asMember:
		return d.removeMember(above.Items, at, going, refuse)
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
// apart from the one behind it, or, where none of those stays, from the one before.
func (d *Document) removeMember(items []*Node, at int, going map[*Node]bool, refuse func(string) (Edit, error)) (Edit, error) {
	n := items[at]
	from, to := 0, n.End
	if slices.ContainsFunc(items[at+1:], func(item *Node) bool { return !going[item] }) {
		from, to = n.KeyStart, items[at+1].KeyStart
	} else {
		from = items[at-1].End
	}
	between := string(d.Src[from:max(from, n.KeyStart)]) + string(d.Src[n.End:to])
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
