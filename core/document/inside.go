package document

import (
	"path"
	"regexp"
	"strings"
)

// modelineReach is how many lines at each end are looked at for a modeline,
// as is the default of the option that says so.
const modelineReach = 5

var (
	modeline  = regexp.MustCompile(`(?:^|\s)(?:vi|[vV]im(?:[<=>]?\d+)?|ex):\s*(?:set?\s+)?(.*)$`)
	firstLine = regexp.MustCompile(`-\*-(.*)-\*-`)
	listStart = regexp.MustCompile(`(?i)^(.*)Local Variables:(.*)$`)
)

// ParseInside reads the settings that stand in a program text in the given way.
// The root holds one map, under the file's base name. It is nil where there are
// none.
func ParseInside(way Syntax, file string, src []byte) *Document {
	d := newDocument(way, file, src)
	m := &Node{Kind: Map, Key: path.Base(file), fixed: true, insert: -1}
	if way == Modeline {
		d.modelines(m)
	} else {
		d.variables(m)
	}
	if len(m.Items) == 0 {
		return nil
	}
	m.KeyStart, m.Start, m.End = m.Items[0].KeyStart, m.Items[0].Start, m.Items[0].End
	d.Root = &Node{Kind: Map, Items: []*Node{m}, End: len(src), fixed: true, insert: -1}
	return d
}

// spans returns the start and end of the line with the number, from 0.
func (d *Document) span(line int) (start, end int) {
	start = d.lineStarts[line]
	return start, start + len(strings.TrimRight(string(d.Src[start:d.lineEnd(start)]), "\r\n"))
}

func (d *Document) modelines(m *Node) {
	lines := len(d.lineStarts)
	for i := range lines {
		if i >= modelineReach && i < lines-modelineReach-1 {
			continue
		}
		start, end := d.span(i)
		at := modeline.FindSubmatchIndex(d.Src[start:end])
		if at == nil {
			continue
		}
		text := string(d.Src[start+at[2] : start+at[3]])
		sets := strings.Contains(string(d.Src[start+at[0]:start+at[2]]), "se")
		if closing := strings.LastIndexByte(text, ':'); closing >= 0 && sets {
			text = text[:closing] // "set" options end at a colon
		}
		if !sets {
			text = strings.ReplaceAll(text, ":", " ")
		}
		m.Items = append(m.Items, d.vimOptions(text, start+at[2])...)
	}
}

func (d *Document) variables(m *Node) {
	for i := range min(2, len(d.lineStarts)) {
		start, end := d.span(i)
		if at := firstLine.FindSubmatchIndex(d.Src[start:end]); at != nil {
			offset := start + at[2]
			for part := range strings.SplitSeq(string(d.Src[start+at[2]:start+at[3]]), ";") {
				d.variable(m, part, offset)
				offset += len(part) + 1
			}
		}
	}
	inList, prefix, suffix := false, "", ""
	for i := max(0, len(d.lineStarts)-60); i < len(d.lineStarts); i++ {
		start, end := d.span(i)
		line := string(d.Src[start:end])
		if !inList {
			if at := listStart.FindStringSubmatch(line); at != nil {
				inList, prefix, suffix = true, at[1], strings.TrimSpace(at[2])
			}
			continue
		}
		if !strings.HasPrefix(line, prefix) {
			return
		}
		text := strings.TrimSuffix(strings.TrimRight(line[len(prefix):], " \t"), suffix)
		if text = strings.TrimSpace(text); len(text) >= 4 && strings.EqualFold(text[:4], "End:") {
			return
		}
		d.variable(m, strings.TrimSuffix(strings.TrimRight(line[len(prefix):], " \t"), suffix), start+len(prefix))
	}
}

// variable adds "name: value".
func (d *Document) variable(m *Node, text string, at int) {
	name, value, found := strings.Cut(text, ":")
	key := strings.TrimSpace(name)
	if !found || key == "" {
		return
	}
	value = strings.TrimSpace(value)
	start := at + strings.Index(text, key)
	valueAt := at + len(name) + 1 + strings.Index(text[len(name)+1:], value)
	n := &Node{Key: key, KeyStart: start, Start: valueAt, End: valueAt + len(value), Value: number(value), fixed: value == ""}
	switch value {
	case "nil":
		n.Value = false
	case "t":
		n.Value = true
	}
	m.Items = append(m.Items, n)
}
