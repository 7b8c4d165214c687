package evidence

import (
	"bytes"
	"strings"

	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/scan"
)

// Certain reports whether it is certain what a file looks like with another value
// of the rule, so that Rewrite can tell.
func Certain(ruleID string) bool {
	switch ruleID {
	case rule.IndentStyle, rule.IndentSize, rule.EndOfLine, "insert_final_newline", "trim_trailing_whitespace", "quotes", "blank_lines":
		return true
	}
	return false
}

// Rewrite returns the file's text with the value of a rule of which that is
// certain. Texts of several lines and here-documents stay as they are. Files that
// are indented in several ways are returned as they are, too.
func Rewrite(t *filetype.Type, src []byte, ruleID string, v rule.Value) []byte {
	switch ruleID {
	case rule.EndOfLine:
		plain := bytes.ReplaceAll(bytes.ReplaceAll(src, []byte("\r\n"), []byte("\n")), []byte("\r"), []byte("\n"))
		return bytes.ReplaceAll(plain, []byte("\n"), []byte(map[string]string{"lf": "\n", "crlf": "\r\n", "cr": "\r"}[v.String()]))
	case "insert_final_newline":
		if v == rule.Word("true") && len(src) > 0 && src[len(src)-1] != '\n' {
			ending := "\n"
			if bytes.Contains(src, []byte("\r\n")) {
				ending = "\r\n"
			}
			return append(bytes.Clone(src), ending...)
		}
		return src
	case "quotes":
		return requote(t, src, v)
	}
	return relined(t, src, ruleID, v)
}

// requote writes texts in the other quotes that hold neither.
func requote(t *filetype.Type, src []byte, v rule.Value) []byte {
	lang, traits := t.Forms, t.Traits
	if lang == nil || traits == nil || !traits.Quotes {
		return src
	}
	want := byte('"')
	if v == rule.Word("single") {
		want = '\''
	}
	out := bytes.Clone(src)
	m := newMeter(nil)
	m.f, m.src, m.traits = &Facts{}, src, traits
	var s scan.Scanner
	s.Start(lang, src, scan.NoSigns)
	for {
		span, more := s.Next()
		if !more {
			return out
		}
		if span.Kind != scan.Text {
			continue
		}
		had := m.f.single + m.f.double
		m.text(span)
		q := src[span.End-1]
		body := src[span.Start:span.End]
		if m.f.single+m.f.double == had || q == want || bytes.IndexByte(body, '\\') >= 0 {
			continue
		}
		out[span.Start+bytes.IndexByte(body, q)], out[span.End-1] = want, want
	}
}

// relined rewrites line by line.
func relined(t *filetype.Type, src []byte, ruleID string, v rule.Value) []byte {
	var f Facts
	m := newMeter(limitsWith(nil))
	m.keep = &layout{}
	m.measure(&f, t, src, nil)
	if f.skipped != measured || f.charset == utf16BE || f.charset == utf16LE {
		return src
	}
	from := source(&f)
	isIndent := ruleID == rule.IndentStyle || ruleID == rule.IndentSize
	if isIndent && from == 0 {
		return src
	}
	var out bytes.Buffer
	offset := len(src) - len(m.src)
	out.Write(src[:offset])
	blanks := 0
	for n, at := 0, 0; at < len(m.src); n++ {
		end := bytes.IndexByte(m.src[at:], '\n')
		if end < 0 {
			end = len(m.src) - at
		} else {
			end++
		}
		line := m.src[at : at+end]
		at += end
		if n < len(m.keep.ends) && (m.keep.starts[n] || m.keep.ends[n] && !isIndent) {
			blanks = 0
			out.Write(line)
			continue
		}
		body := bytes.TrimRight(line, "\r\n")
		ending := line[len(body):]
		isBlank := len(bytes.TrimLeft(body, " \t")) == 0
		switch {
		case ruleID == "trim_trailing_whitespace" && v == rule.Word("true"):
			if !(m.prosaic && !isBlank && bytes.HasSuffix(body, []byte("  "))) {
				body = bytes.TrimRight(body, " \t")
			}
		case ruleID == "blank_lines":
			if !isBlank {
				blanks = 0
			} else if blanks++; v.Int() > 0 && blanks > v.Int() {
				continue
			}
		case isIndent && !isBlank:
			body = reindent(body, &f, from, ruleID, v)
		}
		out.Write(body)
		out.Write(ending)
	}
	return out.Bytes()
}

// source is how many columns a level of the file's indentation has; 0 where that
// is not clear.
func source(f *Facts) int {
	style, answer := f.Value(rule.IndentStyle)
	switch {
	case answer != Told:
		return 0
	case style == rule.Word("tab"):
		return 1 // in tabs
	}
	return int(f.size)
}

// reindent rewrites the indentation of a line. What is more than whole levels
// lines text up, and stays.
func reindent(line []byte, f *Facts, from int, ruleID string, v rule.Value) []byte {
	rest := bytes.TrimLeft(line, " \t")
	lead := line[:len(line)-len(rest)]
	tabs := len(lead) - len(bytes.TrimLeft(lead, "\t"))
	levels, more := tabs, len(lead)-tabs
	if style, _ := f.Value(rule.IndentStyle); style == rule.Word("space") {
		if tabs > 0 {
			return line
		}
		levels, more = len(lead)/from, len(lead)%from
	}
	unit := "\t"
	switch {
	case ruleID == rule.IndentSize:
		unit = strings.Repeat(" ", v.Int())
	case v == rule.Word("space"):
		unit = "    "
	}
	return append([]byte(strings.Repeat(unit, levels)+strings.Repeat(" ", more)), rest...)
}

// layout is what is kept of a file's lines for rewriting them.
type layout struct {
	starts, ends []bool // by line: it starts or ends within a text of several lines or the like
}
