package audit

import (
	"bytes"
	"io/fs"

	"jollytreaty/core/evidence"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// Cost is what the files of a type would have to change for a rule to have a
// value.
type Cost struct {
	Type     *filetype.Type
	Telling  int // files that say something about the rule
	Files    int // of those, that would change
	Lines    int // in them
	Certain  bool
	Excerpts []Excerpt
}

// Excerpt is a line or a few as they are and as they would be.
type Excerpt struct {
	Path          string
	Line          int
	Before, After []string
}

// Costed are the rules of which a cost can be worked out.
func Costed() []*rule.Rule {
	var out []*rule.Rule
	for _, r := range rule.All() {
		if evidence.Measures(r.ID) {
			out = append(out, r)
		}
	}
	return out
}

// mostExcerpts is how many excerpts are shown of each type.
const mostExcerpts = 3

// Cost works out what a value of a rule would cost, by type, for those measured
// files that keep chooses. Where the change is certain, files are read again and
// rewritten in memory.
func (r *Result) Cost(fsys fs.FS, ru *rule.Rule, v rule.Value, keep func(file int) bool) []Cost {
	var out []Cost
	files := r.Picture.Tree.Files
	for _, count := range r.Picture.Tree.Counts() {
		if !count.Type.Styled {
			continue
		}
		c := Cost{Type: count.Type, Certain: evidence.Certain(ru.ID)}
		set := r.Evidence.Where(func(i int) bool { return files[i].Type == count.Type && keep(i) })
		for i, f := range set.Of {
			fits, told := f.Fits(ru.ID, v)
			if !told {
				continue
			}
			c.Telling++
			if fits {
				continue
			}
			if !c.Certain {
				c.Files++
				lines, _ := set.Changes(f, ru.ID, v)
				c.Lines += lines
				continue
			}
			name := files[set.Index[i]].Path
			src, err := fs.ReadFile(fsys, name)
			if err != nil {
				continue
			}
			c.compare(name, src, evidence.Rewrite(count.Type, src, ru.ID, v))
		}
		if c.Telling > 0 {
			out = append(out, c)
		}
	}
	return out
}

// compare counts the lines that differ, and keeps the first as an excerpt.
func (c *Cost) compare(name string, before, after []byte) {
	if bytes.Equal(before, after) {
		return
	}
	c.Files++
	was, is := bytes.SplitAfter(before, []byte("\n")), bytes.SplitAfter(after, []byte("\n"))
	shown := len(c.Excerpts) >= mostExcerpts
	i, j := 0, 0
	for i < len(was) {
		if j < len(is) && bytes.Equal(was[i], is[j]) {
			i, j = i+1, j+1
			continue
		}
		e := Excerpt{Path: name, Line: i + 1}
		gone := len(was)-i > len(is)-j && len(bytes.TrimSpace(was[i])) == 0 // a blank line that goes
		for ; i < len(was) && (j >= len(is) || !bytes.Equal(was[i], is[j])); i++ {
			c.Lines++
			if len(e.Before) < 3 {
				e.Before = append(e.Before, string(was[i]))
				if !gone && j < len(is) {
					e.After = append(e.After, string(is[j]))
				}
			}
			if !gone {
				j++
			}
		}
		if !shown {
			c.Excerpts = append(c.Excerpts, e)
			shown = true
		}
	}
}
