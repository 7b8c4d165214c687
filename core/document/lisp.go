package document

import "strings"

// parseLisp reads what Lisp readers read: lists, pairs, vectors, maps, texts,
// numbers and symbols. The root is the first form. A list whose items are all
// pairs or lists that start with a symbol is a map from these, as directory
// variables have it; a map in braces is one.
func (d *Document) parseLisp() error {
	src, base := d.body()
	l := &lispReader{d: d, pos: base, end: base + len(src)}
	l.blank()
	d.Root = &Node{Kind: Map, Start: base, End: len(d.Src), insert: -1, fixed: true}
	if l.pos >= l.end {
		return nil
	}
	n, err := l.form(0)
	if err != nil {
		return err
	}
	if n.Kind == List && len(n.Items) == 0 {
		n.Kind = Map
	}
	d.Root = n
	return nil
}

type lispReader struct {
	d        *Document
	pos, end int
}

func (l *lispReader) peek() byte {
	if l.pos < l.end {
		return l.d.Src[l.pos]
	}
	return 0
}

// blank steps over blanks, commas and comments.
func (l *lispReader) blank() {
	for l.pos < l.end {
		switch c := l.d.Src[l.pos]; {
		case c == ';':
			for l.pos < l.end && l.d.Src[l.pos] != '\n' {
				l.pos++
			}
		case c <= ' ' || c == ',' || c == '\'' || c == '#' && l.pos+1 < l.end && l.d.Src[l.pos+1] == '{':
			l.pos++
		default:
			return
		}
	}
}

func (l *lispReader) form(depth int) (*Node, error) {
	l.blank()
	start := l.pos
	if depth > maxDepth {
		return nil, l.d.errorAt(start, "nested deeper than %d levels", maxDepth)
	}
	switch c := l.peek(); c {
	case '(', '[', '{':
		closing := map[byte]byte{'(': ')', '[': ']', '{': '}'}[c]
		l.pos++
		n := &Node{Kind: List, KeyStart: start, Start: start, fixed: true, insert: -1}
		dotted := false
		for {
			l.blank()
			if l.pos >= l.end {
				return nil, l.d.errorAt(start, "a bracket that is not closed")
			}
			if l.peek() == closing {
				l.pos++
				break
			}
			item, err := l.form(depth + 1)
			if err != nil {
				return nil, err
			}
			if item.Value == "." && item.End-item.Start == 1 && c == '(' {
				dotted = true
				continue
			}
			n.Items = append(n.Items, item)
		}
		n.End = l.pos
		switch {
		case dotted && len(n.Items) == 2: // a pair
			n.Kind, n.flow = Map, true
			n.Items = []*Node{keyed(n.Items[0], n.Items[1])}
		case c == '{':
			n.Kind = Map
			var items []*Node
			for i := 0; i+1 < len(n.Items); i += 2 {
				items = append(items, keyed(n.Items[i], n.Items[i+1]))
			}
			n.Items = items
		case c == '(':
			gather(n)
		}
		return n, nil
	case ')', ']', '}':
		return nil, l.d.errorAt(start, "a closing bracket without an opening one")
	case '"':
		for l.pos++; l.pos < l.end && l.d.Src[l.pos] != '"'; l.pos++ {
			if l.d.Src[l.pos] == '\\' {
				l.pos++
			}
		}
		if l.pos >= l.end {
			return nil, l.d.errorAt(start, "a text that does not end")
		}
		l.pos++
		text := string(l.d.Src[start+1 : l.pos-1])
		return &Node{KeyStart: start, Start: start, End: l.pos, Value: strings.NewReplacer(`\"`, `"`, `\\`, `\`, `\n`, "\n", `\t`, "\t").Replace(text)}, nil
	case 0:
		return nil, l.d.errorAt(min(start, len(l.d.Src)), "a value is expected here")
	}
	for l.pos < l.end && l.d.Src[l.pos] > ' ' && !strings.ContainsRune("()[]{}\";,", rune(l.d.Src[l.pos])) {
		l.pos++
	}
	if l.pos == start {
		l.pos++
	}
	text := string(l.d.Src[start:l.pos])
	n := &Node{KeyStart: start, Start: start, End: l.pos}
	switch text {
	case "nil", "false":
		n.Value = false
	case "t", "true":
		n.Value = true
	default:
		n.Value = number(strings.TrimPrefix(text, ":"))
		n.fixed = strings.HasPrefix(text, ":")
	}
	return n, nil
}

// keyed is a value under the key that a form names.
func keyed(key, value *Node) *Node {
	item := *value
	item.Key, item.KeyStart = key.Text(), key.Start
	if key.Value == false {
		item.Key = "nil"
	}
	return &item
}

// gather makes a map of a list of pairs, or of lists that start with a name and
// hold pairs.
func gather(n *Node) {
	var items []*Node
	for _, item := range n.Items {
		switch {
		case item.Kind == Map && item.flow && len(item.Items) == 1:
			items = append(items, item.Items[0])
		case item.Kind == List && len(item.Items) == 2 && item.Items[0].Kind == Scalar && item.Items[1].Kind == Map:
			items = append(items, keyed(item.Items[0], item.Items[1]))
		case item.Kind == List && len(item.Items) > 1 && item.Items[0].Kind == Scalar && allPairs(item.Items[1:]):
			m := &Node{Kind: Map, KeyStart: item.KeyStart, Start: item.Start, End: item.End, fixed: true, insert: -1}
			for _, pair := range item.Items[1:] {
				m.Items = append(m.Items, pair.Items...)
			}
			items = append(items, keyed(item.Items[0], m))
		default:
			return
		}
	}
	if len(items) > 0 {
		n.Kind, n.Items = Map, items
	}
}

func allPairs(items []*Node) bool {
	for _, item := range items {
		if item.Kind != Map {
			return false
		}
	}
	return true
}
