package claim

import (
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/filetype"
	"jollytreaty/core/sign"
	"jollytreaty/core/tree"
)

// maxMentions is how many files are searched for a mention, and maxMentionSize
// how large they may be, in bytes.
const (
	maxMentions    = 3000
	maxMentionSize = 1 << 18
)

// mention looks for programs that are configured and that nothing brings, and for
// formatters that nothing runs, in the files that build, test or explain the project. A mention shows that somebody
// knows of the program, and no more.
func (p *Picture) mention(fsys fs.FS) {
	lonely := map[string][]*catalog.Entry{} // by command
	for _, e := range p.Catalog.Entries {
		if seen := p.Seen[e]; len(seen) > 0 && (!slices.ContainsFunc(seen, func(s Seen) bool { return s.As.Brings() }) || e.Has(catalog.Formatter) && slices.ContainsFunc(seen, chosen) && !slices.ContainsFunc(seen, decided)) {
			for _, name := range e.Commands {
				lonely[name] = append(lonely[name], e)
			}
		}
	}
	if len(lonely) == 0 {
		return
	}
	searched := 0
	for _, f := range p.Tree.Files {
		if !mayMention(f) {
			continue
		}
		if searched++; searched > maxMentions {
			return
		}
		text, err := readAll(fsys, f.Path)
		if err != nil || len(text) > maxMentionSize {
			continue
		}
		for _, name := range slices.Sorted(maps.Keys(lonely)) {
			entries := lonely[name]
			line := lineWith(string(text), name)
			if line == 0 {
				continue
			}
			if f.Type.Speaks != filetype.Explains {
				delete(lonely, name)
			}
			for _, e := range entries {
				as := sign.Mentioned
				if f.Type.Speaks == filetype.Explains {
					as = sign.Told
				}
				if !slices.ContainsFunc(p.Seen[e], func(s Seen) bool { return s.As == sign.Mentioned || s.As == as }) {
					for _, folder := range folders(p.Seen[e]) {
						p.Seen[e] = append(p.Seen[e], Seen{As: as, Path: f.Path, Line: line, Folder: folder})
					}
				}
			}
		}
	}
}

// decided reports whether a sign shows that the program is run, or may be.
func decided(s Seen) bool { return s.When != sign.Never || s.Build }

func chosen(s Seen) bool { return !s.As.Weak() }

// folders are the parts of the tree that signs concern; a mention says no more.
func folders(seen []Seen) []string {
	var out []string
	for _, s := range seen {
		if chosen(s) && !slices.Contains(out, s.Folder) {
			out = append(out, s.Folder)
		}
	}
	return out
}

// mayMention reports whether a file may tell of programs that the whole project uses.
func mayMention(f tree.File) bool {
	low, depth := strings.ToLower(f.Path), strings.Count(f.Path, "/")
	switch f.Type.Speaks {
	case filetype.Explains:
		base := path.Base(f.Path)
		return depth < 2 && strings.ToUpper(base[:1]) == base[:1] || strings.Contains(low, "contribut")
	case filetype.Builds:
		return depth < 2 || strings.Contains(low, "script") || strings.Contains(low, "tools/") || strings.Contains(low, "ci/")
	}
	return f.Type == filetype.Unknown && depth == 0
}

// lineWith returns the number of the first line that holds the word, or 0.
func lineWith(text, word string) int {
	for at := 0; ; {
		i := strings.Index(text[at:], word)
		if i < 0 {
			return 0
		}
		start, end := at+i, at+i+len(word)
		if (start == 0 || !nameByte(text[start-1])) && (end == len(text) || !nameByte(text[end]) || text[end] == '.' && (end+1 == len(text) || !nameByte(text[end+1]))) {
			return 1 + strings.Count(text[:start], "\n")
		}
		at = start + 1
	}
}

func nameByte(b byte) bool {
	return b == '-' || b == '_' || b == '.' || '0' <= b && b <= '9' || 'a' <= b && b <= 'z' || 'A' <= b && b <= 'Z'
}
