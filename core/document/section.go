package document

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
)

// RemoveSection returns the edits that take a section of a TOML or INI document
// out, with the sections within it, or a member of a JSON object. One with
// comments in it or right above is refused, as they would go, too.
func (d *Document) RemoveSection(n *Node) ([]Edit, error) {
	line, _ := d.Position(n.KeyStart)
	if d.how.removal == asMember {
		edit, err := d.Remove(n)
		if err == nil && hasComment(string(d.Src[n.Start:n.End]), "//", "/*") {
			err = fmt.Errorf("%s:%d: %s has comments in it", d.Path, line, n.Key)
		}
		return []Edit{edit}, err
	}
	if !d.how.headed || n.Kind != Map {
		return nil, fmt.Errorf("%s:%d: %s is not a section that can be taken out", d.Path, line, n.Key)
	}
	all, own := d.headers(d.Root, nil), d.headers(n, nil)
	slices.Sort(all)
	slices.Sort(own)
	var edits []Edit
	for _, start := range slices.Compact(own) {
		end := len(d.Src)
		if i := slices.IndexFunc(all, func(at int) bool { return at > start }); i >= 0 {
			end = all[i]
		}
		end = d.withoutTail(start, end)
		above := string(d.Src[d.lineStart(max(start-1, 0)):start])
		if hasComment(string(d.Src[start:end]), "#", ";") || hasComment(above, "#", ";") {
			return nil, fmt.Errorf("%s:%d: %s has comments about it", d.Path, line, n.Key)
		}
		for end < len(d.Src) && len(bytes.TrimSpace(d.Src[end:d.lineEnd(end)])) == 0 {
			end = d.lineEnd(end)
		}
		for end == len(d.Src) && start > 0 && len(bytes.TrimSpace(d.Src[d.lineStart(start-1):start])) == 0 {
			start = d.lineStart(start - 1)
		}
		edits = append(edits, Edit{start, end, ""})
	}
	if len(edits) == 0 {
		return nil, fmt.Errorf("%s:%d: %s has no lines of its own", d.Path, line, n.Key)
	}
	return edits, nil
}

// headers lists where the lines start on which maps have a header of their own.
func (d *Document) headers(n *Node, into []int) []int {
	if n.Kind == Map && n != d.Root && !n.flow {
		start := d.lineStart(n.KeyStart)
		if bytes.HasPrefix(bytes.TrimLeft(d.Src[start:], " \t"), []byte("[")) {
			into = append(into, start)
		}
	}
	for _, item := range n.Items {
		into = d.headers(item, into)
	}
	return into
}

// withoutTail moves the end of a section before the blank lines and comments that
// lead over to what follows.
func (d *Document) withoutTail(start, end int) int {
	for end > start {
		from := d.lineStart(end - 1)
		if text := bytes.TrimSpace(d.Src[from:end]); len(text) > 0 && text[0] != '#' && text[0] != ';' {
			break
		}
		end = from
	}
	return end
}

func hasComment(text string, signs ...string) bool {
	return slices.ContainsFunc(signs, func(sign string) bool { return strings.Contains(text, sign) })
}
