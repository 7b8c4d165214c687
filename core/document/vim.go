package document

import (
	"strconv"
	"strings"
)

// parseVim reads the option settings of a Vim script. The root holds the
// options that are set, and, for automatic commands, maps "filetype/NAME" and
// "files/PATTERN" of those set for some files. Everything else is passed over.
func (d *Document) parseVim() {
	d.Root = &Node{Kind: Map, End: len(d.Src), insert: -1, fixed: true}
	d.lines(func(start, end int) {
		line := string(d.Src[start:end])
		text := strings.TrimLeft(line, " \t:")
		at := start + len(line) - len(text)
		if text == "" || text[0] == '"' {
			return
		}
		command, rest, _ := strings.Cut(text, " ")
		in := []*Node{d.Root}
		if command = strings.TrimSuffix(command, "!"); command == "au" || command == "autocmd" {
			fields := strings.Fields(rest)
			i := 0
			if len(fields) > 2 && !strings.Contains(fields[0], ",") && !isVimEvent(fields[0]) {
				i = 1 // the name of a group
			}
			if len(fields) < i+3 {
				return
			}
			in = d.vimSections(fields[i], fields[i+1], at)
			text = strings.TrimSpace(rest[strings.Index(rest, fields[i+1])+len(fields[i+1]):])
			at = start + strings.LastIndex(line, text)
			command, _, _ = strings.Cut(text, " ")
		}
		if command != "set" && command != "setlocal" && command != "se" && command != "setl" && command != "setglobal" {
			return
		}
		options := d.vimOptions(text[len(command):], at+len(command))
		for _, n := range in {
			n.Items = append(n.Items, options...)
		}
	})
}

func isVimEvent(word string) bool {
	return strings.HasPrefix(word, "Buf") || strings.HasPrefix(word, "File") || strings.HasPrefix(word, "Vim") || strings.HasPrefix(word, "Syntax")
}

// vimSections returns the maps of an automatic command: one for each file type
// or pattern of its list.
func (d *Document) vimSections(event, patterns string, at int) []*Node {
	kind := "files"
	if strings.HasPrefix(event, "FileType") || event == "Syntax" {
		kind = "filetype"
	}
	above := d.Root.Get(kind)
	if above == nil {
		above = &Node{Kind: Map, Key: kind, KeyStart: at, Start: at, End: at, fixed: true, insert: -1}
		d.Root.Items = append(d.Root.Items, above)
	}
	var out []*Node
	for p := range strings.SplitSeq(patterns, ",") {
		n := above.Get(p)
		if n == nil {
			n = &Node{Kind: Map, Key: p, KeyStart: at, Start: at, End: at, fixed: true, insert: -1}
			above.put(n)
		}
		out = append(out, n)
	}
	return out
}

// vimOptions reads options as they stand behind "set": name=value, name, noname.
func (d *Document) vimOptions(text string, at int) []*Node {
	var out []*Node
	for pos := 0; pos < len(text); {
		if c := text[pos]; c == ' ' || c == '\t' {
			pos++
			continue
		}
		if text[pos] == '"' || text[pos] == '|' {
			break
		}
		end := pos
		for end < len(text) && text[end] != ' ' && text[end] != '\t' && text[end] != '|' {
			if text[end] == '\\' {
				end++
			}
			end++
		}
		end = min(end, len(text))
		out = append(out, vimOption(text[pos:end], at+pos))
		pos = end
	}
	return out
}

func vimOption(word string, at int) *Node {
	n := &Node{Key: word, KeyStart: at, Start: at, End: at + len(word), Value: true, fixed: true}
	if i := strings.IndexAny(word, "=:"); i > 0 {
		n.Key = strings.TrimRight(word[:i], "+-^")
		n.Start = at + i + 1
		n.fixed = n.Key != word[:i] // adds to what is there
		n.Value = word[i+1:]
		if v, err := strconv.ParseInt(word[i+1:], 10, 64); err == nil {
			n.Value = v
		}
		return n
	}
	if name, ok := strings.CutPrefix(word, "no"); ok {
		n.Key, n.Value = name, false
	}
	n.Key = strings.TrimRight(n.Key, "!&<?")
	return n
}
