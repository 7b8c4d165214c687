package catalog

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"

	"jollytreaty/core/document"
)

// Known are the keys of a program's own settings that are known, in a notation
// that is read when it is asked for.
type Known struct {
	// Text has one key a line: its path, then what it takes, as in
	//
	//	layout/width whole
	//	layout/{tabs,align} bool
	//	layout/newline unix|dos|keep
	//	checks list{width, tabs}
	//
	// Braces stand for each of the names between them, over lines as well; "*"
	// for any key; quotes for a path with blanks. What it takes is whole, bool,
	// text, list, map, any, which may be left out, words, of which "<whole>" is
	// any whole number, or a list of words of which these are known. Lines that
	// begin with "#" are comments.
	Text string `toml:"keys"`

	once sync.Once
	keys map[string]any
	err  error

	gather sync.Once
	below  map[string][]string
}

// Keys returns what each key takes, by path: see document.DomainText.
func (k *Known) Keys() map[string]any {
	k.once.Do(k.read)
	return k.keys
}

// Below returns the names of the known keys right below a path, as they stand in a
// file, but for those that stand for any; nil where the path leads to no known key.
func (k *Known) Below(path string) []string {
	k.gather.Do(k.sort)
	if names := k.below[path]; names != nil || path == "" || strings.Contains(path, "/") {
		return names
	}
	return k.below["*"] // in whatever section
}

// sort gathers the names of keys by the path they are below.
func (k *Known) sort() {
	k.below = map[string][]string{}
	had := map[string]bool{}
	for key := range k.Keys() {
		for up, rest := "", key; rest != ""; {
			var name string
			name, rest, _ = strings.Cut(rest, "/")
			here := strings.TrimPrefix(up+"/"+name, "/")
			if k.below[up] == nil {
				k.below[up] = []string{}
			}
			if !had[here] && !strings.ContainsAny(name, "*<") {
				k.below[up] = append(k.below[up], document.Unescape(name))
			}
			had[here], up = true, here
		}
	}
	for _, names := range k.below {
		slices.Sort(names)
	}
}

// Check returns what is wrong with the notation.
func (k *Known) Check() error {
	k.Keys()
	return k.err
}

func (k *Known) read() {
	k.keys = map[string]any{}
	for text := k.Text; text != "" && k.err == nil; {
		var line string
		if line, text = cutLine(text); line != "" {
			k.err = k.add(line)
		}
	}
}

// cutLine cuts off the first line; what stands in braces belongs to one.
func cutLine(text string) (line, rest string) {
	text = strings.TrimLeft(text, " \t\r\n")
	if strings.HasPrefix(text, "#") {
		_, rest, _ = strings.Cut(text, "\n")
		return "", rest
	}
	depth := 0
	for i, r := range text {
		switch {
		case r == '{':
			depth++
		case r == '}':
			depth--
		case r == '\n' && depth <= 0:
			return strings.TrimSpace(text[:i]), text[i+1:]
		}
	}
	return strings.TrimSpace(text), ""
}

func (k *Known) add(line string) error {
	path, takes := cutPath(line)
	domain, err := domainOf(takes)
	if err != nil {
		return fmt.Errorf("known key %q: %w", line, err)
	}
	if several(path) > maxAlternatives {
		return fmt.Errorf("known key %q: it stands for more than %d keys", line, maxAlternatives)
	}
	if len(k.keys) > maxKeys {
		return fmt.Errorf("known key %q: these are more than %d keys", line, maxKeys)
	}
	for _, path := range braces(path) {
		if path == "" || strings.ContainsAny(path, "{}\"") {
			return fmt.Errorf("known key %q: a path of keys, one blank and what it takes are needed", line)
		}
		if _, twice := k.keys[path]; twice {
			return fmt.Errorf("known key %q: %s is listed twice", line, path)
		}
		k.keys[path] = domain
	}
	return nil
}

// Takes returns what the key at a path takes, in any of its spellings and variants,
// and whether it is known.
func (e *Entry) Takes(path string) (domain any, known bool) {
	keys := e.Known.Keys()
	if d, ok := lookUp(keys, path); ok {
		return d, true
	}
	if e.Hyphens {
		for _, spelling := range []string{strings.ReplaceAll(path, "_", "-"), strings.ReplaceAll(path, "-", "_")} {
			if d, ok := lookUp(keys, spelling); ok {
				return d, true
			}
		}
	}
	for _, v := range e.Variants {
		for _, name := range v.Names {
			own, has := strings.CutPrefix(path, v.Prefix+name)
			if !has || name == "" {
				continue
			}
			for _, other := range v.Names {
				if d, ok := lookUp(keys, v.Prefix+other+own); ok {
					return d, true
				}
			}
		}
	}
	return nil, false
}

// lookUp returns what the key at a path takes; "*" is known for any one name in the
// path, and "**" for any path.
func lookUp(keys map[string]any, path string) (any, bool) {
	if d, ok := keys[path]; ok {
		return d, true
	}
	parts := strings.Split(path, "/")
	for i := len(parts) - 1; i >= 0; i-- {
		star := slices.Clone(parts)
		star[i] = "*"
		if d, ok := keys[strings.Join(star, "/")]; ok {
			return d, true
		}
		if d, ok := keys[strings.Join(star[:i+1], "/")+"/**"]; ok && i < len(parts)-1 {
			return d, true
		}
	}
	return nil, false
}

// Dotted is a path of keys as people write it.
func Dotted(path string) string {
	return strings.NewReplacer("~1", "/", "~0", "~").Replace(strings.ReplaceAll(path, "/", "."))
}

// NameOf is what people call the key of a way: its path, or the options that set
// it where nothing else does.
func (e *Entry) NameOf(w *Way) string {
	if w.Place != OptionsPlace {
		return Dotted(w.Key)
	}
	var names []string
	for option, sets := range e.Options {
		if key, _, _ := strings.Cut(sets, "="); key == w.Key {
			names = append(names, option)
		}
	}
	slices.Sort(names)
	return strings.Join(names, " ")
}

// cutPath splits a line at the first blank outside quotes and braces.
func cutPath(line string) (path, takes string) {
	if quoted, rest, ok := strings.Cut(strings.TrimPrefix(line, `"`), `"`); ok && line[0] == '"' {
		return quoted, strings.TrimSpace(rest)
	}
	depth := 0
	for i, r := range line {
		switch {
		case r == '{':
			depth++
		case r == '}':
			depth--
		case depth == 0 && (r == ' ' || r == '\t'):
			return line[:i], strings.TrimSpace(line[i:])
		}
	}
	return line, ""
}

// Bounds of how many keys one line may stand for, and all of them; the largest
// built-in entry has a tenth of that.
const (
	maxAlternatives = 4096
	maxKeys         = 20_000
)

// several counts the paths that a pattern of alternatives stands for, up to the
// limit.
func several(text string) int {
	n := 1
	for {
		_, rest, open := strings.Cut(text, "{")
		inner, rest, closed := strings.Cut(rest, "}")
		if !open || !closed || n > maxAlternatives {
			return n
		}
		n *= strings.Count(inner, ",") + 1
		text = rest
	}
}

// braces returns the paths that a pattern of alternatives stands for.
func braces(text string) []string {
	open := strings.IndexByte(text, '{')
	if open < 0 {
		return []string{text}
	}
	end := strings.IndexByte(text[open:], '}')
	if end < 0 {
		return []string{text}
	}
	var out []string
	for _, name := range strings.Split(text[open+1:open+end], ",") {
		for _, rest := range braces(text[open+end+1:]) {
			out = append(out, text[:open]+strings.TrimSpace(name)+rest)
		}
	}
	return out
}

func domainOf(takes string) (any, error) {
	if list, ok := strings.CutPrefix(takes, "list{"); ok && strings.HasSuffix(list, "}") {
		var words document.ListOf
		for _, word := range strings.Split(strings.TrimSuffix(list, "}"), ",") {
			words = append(words, strings.TrimSpace(word))
		}
		return words, nil
	}
	switch takes {
	case "":
		return "any", nil
	case "whole", "bool", "text", "list", "map", "any":
		return takes, nil
	}
	if !strings.Contains(takes, "|") || strings.ContainsAny(takes, " \t") {
		return nil, fmt.Errorf("%q is none of whole, bool, text, list, map, any, and no words with | between them", takes)
	}
	return wordsOf(takes)
}

func wordsOf(text string) ([]any, error) {
	var out []any
	for _, word := range strings.Split(text, "|") {
		if strings.HasPrefix(word, `"`) {
			plain, err := strconv.Unquote(word)
			if err != nil {
				return nil, fmt.Errorf("%s is no text in quotes", word)
			}
			word = plain
		}
		out = append(out, word)
	}
	return out, nil
}
