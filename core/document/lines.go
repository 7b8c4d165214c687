package document

import (
	"bytes"
	"cmp"
	"slices"
	"strings"
)

// Lengths an EditorConfig file may use, in characters; the specification asks
// every reader to accept at least these.
const (
	MaxSectionName = 4096
	maxKey         = 1024
	maxValue       = 4096
)

// maxSections bounds the sections or pattern lines of a settings file: each is
// compared with every file below it.
const maxSections = 5000

// parseEditorConfig reads an EditorConfig file. The root holds the preamble's
// pairs and the sections, each a map, in file order. Keys come in lower case;
// values keep theirs. A line that is none of blank, comment, section header or
// pair is an error.
func (d *Document) parseEditorConfig() error {
	d.Root = &Node{Kind: Map, End: len(d.Src), insert: -1}
	section := d.Root
	var err error
	d.lines(func(start, end int) {
		line := string(d.Src[start:end])
		text := strings.TrimSpace(line)
		if err != nil || text == "" || text[0] == '#' || text[0] == ';' {
			return
		}
		at := start + strings.Index(line, text)
		if text[0] == '[' {
			last := strings.LastIndexByte(text, ']')
			if last < 0 {
				err = d.errorAt(at, "section header without a closing bracket")
				return
			}
			name := text[1:last]
			if len([]rune(name)) > MaxSectionName {
				name = "" // longer than anyone has to read: reaches nothing
			}
			if len(d.Root.Items) == maxSections {
				err = d.errorAt(at, "more than %d sections", maxSections)
				return
			}
			section = &Node{Kind: Map, Key: name, KeyStart: at, Start: at, End: end, insert: d.lineEnd(start)}
			d.Root.Items = append(d.Root.Items, section)
			return
		}
		key, value, found := strings.Cut(text, "=")
		if !found {
			err = d.errorAt(at, "neither a section, a comment nor a key with a value")
			return
		}
		key = strings.ToLower(strings.TrimSpace(key))
		rest := strings.TrimSpace(value)
		if key == "" || len([]rune(key)) > maxKey || len([]rune(rest)) > maxValue {
			return
		}
		valueAt := at + len(text) - len(value) + strings.Index(value, rest)
		if rest == "" {
			valueAt = at + len(text)
		}
		section.Items = append(section.Items, &Node{
			Key: key, KeyStart: at, Start: valueAt, End: valueAt + len(rest), Value: rest, folds: true,
		})
		section.End = end
		section.insert = d.lineEnd(start)
		section.indent = line[:strings.Index(line, text)]
	})
	return err
}

// AddPair returns the edit that adds a property to an EditorConfig section.
func (d *Document) AddPair(section *Node, key, value string) Edit {
	at := section.insert
	if at < 0 {
		_, at = d.body()
	}
	return Edit{at, at, d.lineBreakBefore(at) + section.indent + key + " = " + value + d.newline()}
}

// AddSection returns the edit that puts a new EditorConfig section behind the
// given one, or at the end of the file.
func (d *Document) AddSection(after *Node, name string, pairs [][2]string) Edit {
	at := len(d.Src)
	if after != nil {
		at = after.insert
	}
	nl := d.newline()
	var b strings.Builder
	b.WriteString(d.lineBreakBefore(at))
	if len(bytes.TrimSpace(d.Src[:at])) > 0 && !bytes.HasSuffix(d.Src[:at], []byte(nl+nl)) {
		b.WriteString(nl)
	}
	b.WriteString("[" + name + "]" + nl)
	for _, p := range pairs {
		b.WriteString(p[0] + " = " + p[1] + nl)
	}
	return Edit{at, at, b.String()}
}

// maxExpanded bounds how many attributes the macros of a file stand for together.
const maxExpanded = 50_000

// macros are the macros of an attributes file with their own attributes, in which
// others may be named.
type macros map[string][]*Node

// binary is the macro that is built in, gitattributes(5).
var binary = []*Node{
	{Key: "diff", Value: false, fixed: true}, {Key: "merge", Value: false, fixed: true}, {Key: "text", Value: false, fixed: true},
}

// UseMacros expands macros that another attributes file, the one at the root,
// defines. The error is that of a file whose macros stand for too much.
func (d *Document) UseMacros(from *Document) error {
	known, left := macros{}, maxExpanded
	for _, line := range from.Root.Items {
		known.define(line)
	}
	for _, line := range d.Root.Items {
		if strings.HasPrefix(line.Key, "[attr]") {
			continue
		}
		items, ok := known.expand(line.Items, &left)
		if !ok {
			return d.errorAt(line.KeyStart, "macros stand for more than %d attributes", maxExpanded)
		}
		line.Items, line.byKey, line.keyed = items, nil, 0
	}
	return nil
}

// define keeps the macro that a line defines, and reports whether it defines one.
func (m macros) define(line *Node) bool {
	name, isMacro := strings.CutPrefix(line.Key, "[attr]")
	if isMacro {
		m[name] = line.Items
	}
	return isMacro
}

// expand returns attributes with those that macros among them stand for, in the order
// in which the last of several wins. As in git each macro counts once for a line,
// where it stands last. It returns false where that takes more than what is left.
func (m macros) expand(items []*Node, left *int) ([]*Node, bool) {
	if !slices.ContainsFunc(items, m.names) {
		return items, true
	}
	done := map[string]bool{}
	for _, attr := range items {
		done[attr.Key] = done[attr.Key] || attr.expanded // as it was before
	}
	var out []*Node // the last first
	var add func(items []*Node, at *Node)
	add = func(items []*Node, at *Node) {
		for _, one := range slices.Backward(items) {
			if at != nil {
				n := *one
				n.KeyStart, n.Start, n.End, n.fixed, n.expanded = at.KeyStart, at.Start, at.End, true, true
				one = &n
				*left--
			}
			if *left < 0 {
				return
			}
			if m.names(one) && !done[one.Key] {
				done[one.Key] = true
				add(m[one.Key], cmp.Or(at, one))
			}
			out = append(out, one)
		}
	}
	add(items, nil)
	slices.Reverse(out)
	return out, *left >= 0
}

// names reports whether an attribute is a macro that is set.
func (m macros) names(attr *Node) bool { return attr.Value == true && attr.fixed && m[attr.Key] != nil }

// parseAttributes reads a git attributes file. Each pattern line is a map with
// the pattern as its key; attributes are true (set), false ("-"), nil ("!") or
// a text. Macros defined in the file, and the built-in "binary", are expanded
// in place. A macro line is kept as a map with the key "[attr]NAME".
func (d *Document) parseAttributes() error {
	d.Root = &Node{Kind: Map, End: len(d.Src)}
	known, left := macros{"binary": binary}, maxExpanded
	var err error
	d.lines(func(start, end int) {
		if err != nil {
			return
		}
		pos := start
		blank := func() {
			for pos < end && (d.Src[pos] == ' ' || d.Src[pos] == '\t') {
				pos++
			}
		}
		blank()
		if pos == end || d.Src[pos] == '#' {
			return
		}
		if len(d.Root.Items) == maxSections {
			err = d.errorAt(pos, "more than %d lines with patterns", maxSections)
			return
		}
		line := &Node{Kind: Map, KeyStart: pos, Start: pos, End: end, insert: end}
		if d.Src[pos] == '"' {
			name, n, ok := cQuoted(string(d.Src[pos:end]))
			if !ok {
				err = d.errorAt(pos, "quoted pattern without a closing quote")
				return
			}
			line.Key = name
			pos += n
		} else {
			for pos < end && d.Src[pos] != ' ' && d.Src[pos] != '\t' {
				pos++
			}
			line.Key = string(d.Src[line.KeyStart:pos])
		}
		if strings.HasPrefix(line.Key, "!") {
			err = d.errorAt(line.KeyStart, "a pattern here cannot be negated; unset the attribute instead (-name)")
			return
		}
		for {
			blank()
			if pos == end {
				break
			}
			wordStart := pos
			for pos < end && d.Src[pos] != ' ' && d.Src[pos] != '\t' {
				pos++
			}
			line.Items = append(line.Items, attribute(string(d.Src[wordStart:pos]), wordStart))
		}
		if !known.define(line) {
			items, ok := known.expand(line.Items, &left)
			if !ok {
				err = d.errorAt(line.KeyStart, "macros stand for more than %d attributes", maxExpanded)
				return
			}
			line.Items = items
		}
		d.Root.Items = append(d.Root.Items, line)
	})
	return err
}

func attribute(word string, at int) *Node {
	n := &Node{KeyStart: at, Start: at, End: at + len(word), Value: true, Key: word}
	switch {
	case strings.HasPrefix(word, "-"): // git passes over a value then
		n.Key, _, _ = strings.Cut(word[1:], "=")
		n.Value, n.resets = false, true
	case strings.HasPrefix(word, "!"):
		n.Key, _, _ = strings.Cut(word[1:], "=")
		n.Value, n.resets = nil, true
	default:
		if key, value, ok := strings.Cut(word, "="); ok {
			n.Key, n.Value = key, value
			n.Start = at + len(key) + 1
			return n
		}
	}
	n.fixed = true
	return n
}

// cQuoted reads a string in C quotes at the start of s and the bytes it took.
func cQuoted(s string) (string, int, bool) {
	var b strings.Builder
	for i := 1; i < len(s); i++ {
		switch {
		case s[i] == '"':
			return b.String(), i + 1, true
		case s[i] == '\\' && i+1 < len(s):
			i++
			if c, ok := map[byte]byte{'n': '\n', 't': '\t', 'r': '\r'}[s[i]]; ok {
				b.WriteByte(c)
			} else {
				b.WriteByte(s[i])
			}
		default:
			b.WriteByte(s[i])
		}
	}
	return "", 0, false
}

// parseIgnores reads an ignore list: a list of its pattern lines.
func (d *Document) parseIgnores() {
	d.Root = &Node{Kind: List, End: len(d.Src)}
	d.lines(func(start, end int) {
		if text := strings.TrimSpace(string(d.Src[start:end])); text != "" && text[0] != '#' {
			d.Root.Items = append(d.Root.Items, &Node{KeyStart: start, Start: start, End: end, Value: string(d.Src[start:end])})
		}
	})
}

// parseOptions reads a list of command-line options, each with what stands
// behind it, or behind a "=", as its value. Keys come without their dashes.
func (d *Document) parseOptions() {
	d.Root = &Node{Kind: Map, End: len(d.Src)}
	d.lines(func(start, end int) {
		line := string(d.Src[start:end])
		if i := strings.Index(line, "#"); i >= 0 {
			line = line[:i]
		}
		for at := strings.IndexByte(line, '-'); at >= 0 && strings.TrimSpace(line[:at]) == ""; {
			next := len(line)
			for i := at + 1; i+2 < len(line); i++ {
				if (line[i] == ' ' || line[i] == '\t') && line[i+1] == '-' && (line[i+2] == '-' || line[i+2] >= 'a' && line[i+2] <= 'z') {
					next = i + 1
					break
				}
			}
			d.option(strings.TrimRight(line[at:next], " \t\r\f\v"), start+at)
			line, start = line[next:], start+next
			at = strings.IndexByte(line, '-')
		}
	})
}

// option adds one option to the root.
func (d *Document) option(text string, at int) {
	name := strings.TrimLeft(text, "-")
	if name == "" || name[0] == '=' || name[0] == ' ' {
		return
	}
	dashes := len(text) - len(name)
	i := strings.IndexAny(name, " \t=")
	if i < 0 {
		i = len(name)
	}
	value := strings.TrimSpace(strings.TrimPrefix(name[i:], "="))
	valueAt := at + len(text) - len(value)
	n := &Node{Key: name[:i], KeyStart: at, Start: valueAt, End: valueAt + len(value), Value: value}
	if dashes > 2 {
		return
	}
	if value == "" {
		n.Value = true
		n.fixed = true
	}
	d.Root.Items = append(d.Root.Items, n)
}
