package document

import (
	"strconv"
	"strings"
)

// Get returns the last item of a map with the given key, or the item of a list
// at that index; nil if there is none.
func (n *Node) Get(key string) *Node {
	if n == nil {
		return nil
	}
	switch n.Kind {
	case Map:
		for i := len(n.Items) - 1; i >= n.keyed; i-- {
			if n.Items[i].Key == key {
				return n.Items[i]
			}
		}
		return n.byKey[key]
	case List:
		if i, err := strconv.Atoi(key); err == nil && i >= 0 && i < len(n.Items) {
			return n.Items[i]
		}
	}
	return nil
}

// Find follows a path of keys separated by slashes. An empty path is the node
// itself. As in JSON Pointer (RFC 6901), "~1" stands for a slash within a key
// and "~0" for a tilde. As in XPath, name[@a=v] is the last item called name
// that holds "@a" with the value v, and [0=v] the last item of a list that is a
// list itself and begins with v. In a map without an item of that name, a
// list's item that holds the key, directly or as its only word, is taken. A path
// that begins with "*" is looked for in every map, the last of which counts.
func (n *Node) Find(path string) *Node {
	if path == "" {
		return n
	}
	if rest, any := strings.CutPrefix(path, "*/"); any {
		return n.findBelow(rest)
	}
	if strings.IndexByte(path, '/') < 0 {
		return n.step(path)
	}
	for key := range strings.SplitSeq(path, "/") {
		if n = n.step(key); n == nil {
			return nil
		}
	}
	return n
}

// findBelow returns what stands at a path in the last of the maps that have it.
func (n *Node) findBelow(path string) *Node {
	if n == nil {
		return nil
	}
	for i := len(n.Items) - 1; i >= 0; i-- {
		if found := n.Items[i].Find(path); found != nil && n.Items[i].Kind == Map {
			return found
		}
	}
	return nil
}

// FindAll follows a path of keys, and of several elements of the same name,
// which XML has, every one, in their order.
func (n *Node) FindAll(path string) []*Node {
	key, rest, more := strings.Cut(path, "/")
	var out []*Node
	for _, item := range n.Items {
		switch {
		case item.Key != key:
		case more:
			out = append(out, item.FindAll(rest)...)
		default:
			out = append(out, item)
		}
	}
	return out
}

func (n *Node) step(key string) *Node {
	if strings.IndexByte(key, '[') < 0 {
		return n.Get(Unescape(key))
	}
	name, test, tested := strings.Cut(key, "[")
	if !tested || n == nil || n.Kind != Map && (n.Kind != List || name != "") {
		return n.Get(Unescape(key))
	}
	attribute, want, _ := strings.Cut(strings.TrimSuffix(test, "]"), "=")
	want = Unescape(want)
	for i := len(n.Items) - 1; i >= 0; i-- {
		if item := n.Items[i]; item.Key == name {
			if a := item.Get(attribute); a != nil && a.Text() == want {
				return item
			}
		}
	}
	return n.Get(key)
}

// Escape returns a key as it stands in a path.
func Escape(key string) string {
	if !strings.ContainsAny(key, "/~") {
		return key
	}
	return strings.NewReplacer("~", "~0", "/", "~1").Replace(key)
}

// Unescape returns the key that a step of a path stands for.
func Unescape(key string) string {
	if strings.IndexByte(key, '~') < 0 {
		return key
	}
	return strings.NewReplacer("~1", "/", "~0", "~").Replace(key)
}

// Look follows a path of keys like Find. Where code decides what stands there,
// it returns the node of that code instead.
func (n *Node) Look(path string) (found, computed *Node) {
	if path == "" {
		return n, nil
	}
	if rest, any := strings.CutPrefix(path, "*/"); any {
		return n.findBelow(rest), nil
	}
	for more := true; more; {
		var key string
		key, path, more = strings.Cut(path, "/")
		if n == nil {
			return nil, nil
		}
		if n.Kind == Opaque {
			return nil, n
		}
		next := n.step(key)
		for i := len(n.Items) - 1; i >= 0 && n.Items[i] != next; i-- {
			if item := n.Items[i]; item.Kind == Opaque && item.Key == "" && n.Kind == Map {
				return nil, item
			}
		}
		n = next
	}
	if n != nil && n.Kind == Opaque {
		return nil, n
	}
	return n, nil
}
