package document

import (
	"bytes"
	"strconv"
	"strings"
)

// OnLine is the document of settings that one line of a text gives in words of
// its own, such as a command line: values by the paths of their keys. They stand
// where the line begins, and are not edited.
func OnLine(file string, src []byte, line int, values map[string]string) *Document {
	d := newDocument(CommandLine, file, src)
	start := d.offset(line, 1)
	rest := src[min(start, len(src)):]
	start += len(rest) - len(bytes.TrimLeft(rest, " \t"))
	root := map[string]any{}
	for path, value := range values {
		parts := strings.Split(path, "/")
		m := root
		for _, key := range parts[:len(parts)-1] {
			below, ok := m[key].(map[string]any)
			if !ok {
				below = map[string]any{}
				m[key] = below
			}
			m = below
		}
		m[parts[len(parts)-1]] = typed(value)
	}
	d.Root = FromData(root)
	d.Root.stand(start)
	return d
}

// stand gives a node and all below it a place.
func (n *Node) stand(at int) {
	n.KeyStart, n.Start, n.End = at, at, at
	for _, item := range n.Items {
		item.stand(at)
	}
}

func typed(text string) any {
	if i, err := strconv.ParseInt(text, 10, 64); err == nil {
		return i
	}
	if text == "true" || text == "false" {
		return text == "true"
	}
	return text
}
