package document

import (
	"fmt"
	"strings"
)

// AddPart returns the edit that puts lines of YAML, written from the margin, behind
// what stands at a path of keys: into a map or a list. Keys that are missing are
// added. The error says why there is no place for them.
func (d *Document) AddPart(under []string, lines string) (Edit, error) {
	if d.Root.Kind != Map && !d.Empty() {
		return refuseLines(d, under, lines)
	}
	return d.how.lines(d, under, lines)
}

func (d *Document) addYAMLLines(under []string, lines string) (Edit, error) {
	n, missing := d.Root.deepest(append(under[:len(under):len(under)], ""), true)
	missing = missing[:len(missing)-1]
	indent := ""
	for i := len(missing) - 1; i >= 0; i-- {
		lines = d.scalar(missing[i], "") + ":\n" + indented(lines, "  ")
	}
	switch {
	case n.fixed && n.Kind != Scalar, n.Kind == Scalar && n.Value != nil && n != d.Root, len(missing) > 0 && n.Get(missing[0]) != nil:
		return Edit{}, fmt.Errorf("%s: the %s there cannot be added to", d.Path, strings.Join(under, " "))
	case n.flow && len(n.Items) > 0, n.Kind == List && len(missing) > 0:
		return Edit{}, fmt.Errorf("%s: there is no place for more lines in %s", d.Path, n.Key)
	case n == d.Root && len(n.Items) == 0:
		return d.addLine(strings.TrimSuffix(d.native(lines), d.newline())), nil
	case len(n.Items) == 0: // "key:", "key: []" or "key: {}"
		end := d.lineEnd(n.KeyStart)
		start, rest := end-len(d.lineBreakAt(end)), ""
		if n.flow {
			_, rest, _ = strings.Cut(string(d.Src[n.Start:start]), map[Kind]string{List: "]", Map: "}"}[n.Kind])
			start, rest = n.Start, strings.TrimLeft(rest, " ")
		}
		return Edit{start, end, rest + d.newline() + d.native(indented(lines, d.indentOf(n.KeyStart)+"  "))}, nil
	case n.Kind == List:
		start := d.lineStart(n.Items[0].Start)
		line := string(d.Src[start:d.lineEnd(start)])
		if indent = leadingBlanks(line); !strings.HasPrefix(line[len(indent):], "-") {
			return Edit{}, fmt.Errorf("%s: %s is not written as a list of lines", d.Path, n.Key)
		}
	default:
		indent = d.indentOf(n.Items[0].KeyStart)
	}
	at := d.blockEnd(n.Items[len(n.Items)-1].Start, len(indent))
	return Edit{at, at, d.lineBreakBefore(at) + d.native(indented(lines, indent))}, nil
}

// lineBreakAt returns the line break that ends at an offset, if one does.
func (d *Document) lineBreakAt(end int) string {
	line := string(d.Src[max(end-2, 0):end])
	return line[len(strings.TrimSuffix(strings.TrimSuffix(line, "\n"), "\r")):]
}

// indented puts blanks before each line that is not empty.
func indented(lines, blanks string) string {
	var b strings.Builder
	for line := range strings.Lines(lines) {
		if line != "\n" {
			b.WriteString(blanks)
		}
		b.WriteString(line)
	}
	return b.String()
}

// native gives lines the line breaks of the document.
func (d *Document) native(lines string) string { return strings.ReplaceAll(lines, "\n", d.newline()) }
