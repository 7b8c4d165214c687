package document

import (
	"strings"
)

// parseINI reads sections of keys with values. Signs between key and value are
// "=" and ":"; comments start with "#" or ";"; a line that is indented deeper
// than its key goes on with the value; a key may stand without a value. The
// root holds the keys before the first section and the sections.
func (d *Document) parseINI() error {
	_, bom := d.body()
	d.Root = &Node{Kind: Map, Start: bom, End: len(d.Src), insert: bom}
	section, last := d.Root, (*Node)(nil)
	lastIndent := 0
	var goesOn []string // the lines of the last value, where it has several
	finish := func() {
		if len(goesOn) > 0 {
			last.Value = strings.TrimPrefix(strings.Join(goesOn, "\n"), "\n")
			goesOn = nil
		}
	}
	var err error
	d.lines(func(start, end int) {
		line := string(d.Src[start:end])
		text := strings.TrimSpace(line)
		if err != nil || text == "" || text[0] == '#' || text[0] == ';' {
			return
		}
		indent := strings.Index(line, text)
		at := start + indent
		switch {
		case last != nil && indent > lastIndent:
			last.End = start + len(strings.TrimRight(line, " \t"))
			if goesOn == nil {
				first, _ := last.Value.(string)
				if first == "" {
					last.Start = at
				}
				goesOn = []string{first}
			}
			goesOn = append(goesOn, text)
			section.insert = d.lineEnd(start)
			return
		case text[0] == '[':
			finish()
			last = nil
			closing := strings.LastIndexByte(text, ']')
			if closing < 0 {
				err = d.errorAt(at, "section header without a closing bracket")
				return
			}
			if len(d.Root.Items) >= maxSections {
				err = d.errorAt(at, "more than %d sections", maxSections)
				return
			}
			section = &Node{Kind: Map, Key: strings.TrimSpace(text[1:closing]), KeyStart: at, Start: at, End: end, insert: d.lineEnd(start)}
			d.Root.Items = append(d.Root.Items, section)
			return
		}
		finish()
		last = d.pair(text, at, strings.IndexAny(text, "=:"))
		lastIndent = indent
		section.Items = append(section.Items, last)
		section.End, section.insert, section.indent = end, d.lineEnd(start), line[:indent]
	})
	finish()
	return err
}

// pair makes a node of a key and a value on one line; sep is where the sign
// between them stands in text, or -1.
func (d *Document) pair(text string, at, sep int) *Node {
	if sep < 0 {
		return &Node{Key: text, KeyStart: at, Start: at + len(text), End: at + len(text), Value: true, fixed: true}
	}
	value := strings.TrimSpace(text[sep+1:])
	valueAt := at + len(text) - len(value)
	n := &Node{Key: strings.TrimSpace(text[:sep]), KeyStart: at, Start: valueAt, End: valueAt + len(value), Value: value}
	if len(value) > 1 && (value[0] == '"' || value[0] == '\'') && value[len(value)-1] == value[0] {
		n.Value = value[1 : len(value)-1]
	}
	return n
}

// parseProperties reads a key with its value a line, separated by "=", ":" or
// blanks; comments start with "#" or "!", or with "#" behind a blank; a backslash at the end joins lines; a
// leading "export" is passed over.
func (d *Document) parseProperties() {
	_, bom := d.body()
	d.Root = &Node{Kind: Map, Start: bom, End: len(d.Src), insert: bom}
	var open *Node // its value goes on
	var value strings.Builder
	d.lines(func(start, end int) {
		line := string(d.Src[start:end])
		text := strings.TrimSpace(line)
		goesOn := strings.HasSuffix(text, `\`) && !strings.HasSuffix(text, `\\`)
		if open != nil {
			value.WriteString(strings.TrimSuffix(text, `\`))
			open.End, open.fixed = end, true
			if !goesOn {
				open.Value = value.String()
				open = nil
			}
			return
		}
		if text == "" || text[0] == '#' || text[0] == '!' || text[0] == ';' {
			return
		}
		at := start + strings.Index(line, text)
		if rest, ok := strings.CutPrefix(text, "export "); ok {
			at += len(text) - len(rest)
			text = rest
		}
		if i := strings.IndexByte(text, '#'); i > 0 && (text[i-1] == ' ' || text[i-1] == '\t') && !goesOn {
			text = strings.TrimRight(text[:i], " \t")
		}
		n := d.pair(text, at, propertySign(text))
		d.Root.Items = append(d.Root.Items, n)
		d.Root.insert = d.lineEnd(start)
		if goesOn {
			n.Value = strings.TrimSuffix(n.Text(), `\`)
			open = n
			value.Reset()
			value.WriteString(n.Text())
		}
	})
	if open != nil {
		open.Value = value.String()
	}
}

// propertySign returns where the key of a property ends.
func propertySign(text string) int {
	i := strings.IndexAny(text, "=: \t")
	if i < 0 {
		return -1
	}
	if rest := strings.TrimLeft(text[i:], " \t"); rest != "" && (rest[0] == '=' || rest[0] == ':') {
		return len(text) - len(rest)
	}
	return i
}

// addPair adds a key to a section, which is made if it is not there, or to the
// keys before the first one.
func (d *Document) addPair(keys []string, value any) (Edit, error) {
	line := keys[len(keys)-1] + d.how.between + d.scalar(value, "") + d.newline()
	if len(keys) == 1 {
		return Edit{d.Root.insert, d.Root.insert, d.lineBreakBefore(d.Root.insert) + line}, nil
	}
	section := d.Root.Get(keys[0])
	if section == nil || section.Kind != Map {
		return d.addLine(d.blankLine() + "[" + keys[0] + "]" + d.newline() + strings.TrimSuffix(line, d.newline())), nil
	}
	return Edit{section.insert, section.insert, d.lineBreakBefore(section.insert) + section.indent + line}, nil
}
