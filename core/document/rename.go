package document

import (
	"bytes"
	"fmt"
	"strings"
)

// Rename returns the edits that give a key another name, or, in TOML, another place
// in a table beside it: to is the path of keys from the map it is in. The value
// and comments behind it stay, or come along. A name that is taken is refused.
func (d *Document) Rename(n *Node, to []string) ([]Edit, error) {
	line, _ := d.Position(n.KeyStart)
	refuse := func(why string) ([]Edit, error) {
		return nil, fmt.Errorf("%s:%d: %s %s", d.Path, line, n.Key, why)
	}
	above, _ := d.above(d.Root, n)
	start, end, ok := d.keySpan(n)
	switch {
	case above == nil || above.Kind != Map || !ok:
		return refuse("is no key that can be renamed")
	case above.Find(escaped(to)) != nil:
		return refuse("cannot be renamed, as " + to[len(to)-1] + " is there already")
	case len(to) == 1:
		return []Edit{{start, end, d.keyText(to[0], start)}}, nil
	case len(to) > 2 || !d.how.nested || above.flow:
		return refuse("cannot be moved")
	}
	if own := d.headers(n, nil); len(own) > 0 {
		if len(own) > 1 {
			return refuse("has sections within it")
		}
		return []Edit{{start, end, tomlKey(to)}}, nil
	}
	table := above.Get(to[0])
	if table == nil || table.Kind == Map && table.flow && !(d.braces(table) && len(table.Items) > 0) {
		return []Edit{{start, end, tomlKey(to)}}, nil
	}
	if table.Kind != Map || table.flow || table.insert < 0 {
		return refuse("cannot be moved")
	}
	from, until := d.lineStart(n.KeyStart), d.lineEnd(n.End)
	text := strings.TrimSuffix(string(d.Src[start:until]), d.newline()) // without its indentation
	return []Edit{
		{table.insert, table.insert, d.lineBreakBefore(table.insert) + table.indent + tomlKey(to[1:]) + text[end-start:] + d.newline()},
		{from, until, ""},
	}, nil
}

// escaped joins keys as a path for Find.
func escaped(keys []string) string {
	out := make([]string, len(keys))
	for i, key := range keys {
		out[i] = Escape(key)
	}
	return strings.Join(out, "/")
}

// keySpan returns where the name of a key stands, without quotes.
func (d *Document) keySpan(n *Node) (start, end int, ok bool) {
	at := n.KeyStart
	if at < len(d.Src) && (d.Src[at] == '"' || d.Src[at] == '\'') {
		at++
	}
	if n.Key == "" || !bytes.HasPrefix(d.Src[at:], []byte(n.Key)) {
		return 0, 0, false
	}
	return at, at + len(n.Key), true
}

// keyText writes a name where another one stood.
func (d *Document) keyText(name string, start int) string {
	quoted := start > 0 && (d.Src[start-1] == '"' || d.Src[start-1] == '\'')
	if quoted {
		return name
	}
	return d.how.key(name)
}
