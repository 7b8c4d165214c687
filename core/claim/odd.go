package claim

import (
	"fmt"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
)

// odd finds files that look like settings of style and that nobody reads: names
// that no program known here looks for, and mistyped ones.
type odd struct {
	catalog    *catalog.Catalog
	unfamiliar pattern.List
	hidden     pattern.List
	maybe      []string         // files whose contents may tell
	lasts      [256]bool        // bytes with which names end that may be odd
	byLength   map[int][]string // known names of files that start with a dot
	bare       map[string]string
	owners     map[string]*catalog.Entry
	unread     []string
	lost       []Lost
}

// minName is the shortest file name that is compared with known ones; shorter
// ones resemble each other by chance.
const minName = 9

func newOdd(c *catalog.Catalog, x nameIndex) *odd {
	o := &odd{catalog: c, byLength: map[int][]string{}, bare: map[string]string{}, owners: map[string]*catalog.Entry{}}
	o.unfamiliar = pattern.Compile(pattern.Names, c.Places.Unfamiliar)
	for _, ending := range slices.Concat(c.Places.Endings, c.Places.Data) {
		o.lasts[ending[len(ending)-1]] = true
	}
	o.hidden = pattern.Compile(pattern.Names, c.Places.Hidden)
	for base, list := range x.byBase {
		if !strings.HasPrefix(base, ".") || strings.Contains(list[0].pattern, "/") || list[0].reader.Place.Section != "" {
			continue
		}
		o.owners[base] = list[0].reader.Program
		if len(base) >= minName {
			o.byLength[len(base)] = append(o.byLength[len(base)], base)
		}
		if strings.HasSuffix(base, "rc") || base == ".editorconfig" || base == ".gitattributes" {
			o.bare[base[1:]] = base
		}
	}
	for _, names := range o.byLength {
		slices.Sort(names)
	}
	return o
}

// see looks at a file that no program known here reads.
func (o *odd) see(p string) {
	base := p[strings.LastIndexByte(p, '/')+1:]
	if base == "" || base[0] != '.' {
		if len(base) == len(p) && o.bare[base] != "" {
			o.lose(p, o.bare[base])
			return
		}
		if base == "" || !o.lasts[base[len(base)-1]] {
			return // as most are
		}
		for _, ending := range o.catalog.Places.Endings {
			if strings.HasSuffix(base, ending) {
				o.unread = append(o.unread, p)
				return
			}
		}
		if o.mayTell(base) {
			o.maybe = append(o.maybe, p)
		}
		return
	}
	if slices.Contains(o.catalog.Places.Others, base) {
		o.unread = append(o.unread, p)
	} else if known := o.nearly(base); known != "" {
		o.lose(p, known)
	} else if o.unfamiliar.Reaches(base) {
		o.unread = append(o.unread, p)
	} else if o.hidden.Reaches(base) {
		o.maybe = append(o.maybe, p)
	}
}

// mayTell reports whether a name without a dot in front is one of data with a
// word of style in it.
func (o *odd) mayTell(base string) bool {
	return slices.Contains(o.catalog.Places.Data, path.Ext(base)) &&
		slices.ContainsFunc(o.catalog.Places.Words, func(w string) bool { return strings.Contains(base, w) })
}

// Bounds on the files whose contents are looked at for keys of style.
const (
	maxMaybe     = 1000
	maxMaybeSize = 64 << 10 // bytes
)

// look reads the files whose contents may tell, and lists those that do, but
// for those that are read otherwise.
func (o *odd) look(fsys fs.FS, otherwise func(path string) bool) {
	o.unread = slices.DeleteFunc(o.unread, otherwise)
	o.maybe = slices.DeleteFunc(o.maybe, otherwise)
	if len(o.maybe) == 0 {
		return
	}
	var keys []*regexp.Regexp
	for _, k := range o.catalog.Places.Keys {
		keys = append(keys, regexp.MustCompile(`(?im)(^|[{,;:<\s])(set\s+)?["']?(`+k+`)["']?(\s*[:=>]|\s+\d|\s+(on|off|true|false|yes|no)\b)`))
	}
	o.maybe = o.maybe[:min(len(o.maybe), maxMaybe)]
	tells := make([]bool, len(o.maybe))
	each(len(o.maybe), func(i int) {
		info, err := fs.Stat(fsys, o.maybe[i])
		if err != nil || info.Size() > maxMaybeSize {
			return
		}
		src, err := readAll(fsys, o.maybe[i])
		if err != nil {
			return
		}
		n := 0
		for _, k := range keys {
			if k.Match(src) {
				n++
			}
		}
		tells[i] = n >= 2
	})
	for i, p := range o.maybe {
		if tells[i] {
			o.unread = append(o.unread, p)
		}
	}
	slices.Sort(o.unread)
}

// nearly returns the known name that differs from base in one letter or two
// that are swapped, or "". Endings have to be the same: with another one a file
// may well be meant for somebody else.
func (o *odd) nearly(base string) string {
	for _, length := range []int{len(base), len(base) + 1, len(base) - 1} {
		for _, known := range o.byLength[length] {
			if path.Ext(known[1:]) == path.Ext(base[1:]) && nearest.Within(1, base, known) && !numbered(base, known) {
				return known
			}
		}
	}
	return ""
}

// numbered reports whether two names differ in a digit only.
func numbered(a, b string) bool {
	digits := func(s string) string { return strings.Trim(s, "0123456789") }
	return digits(a) == digits(b)
}

func (o *odd) lose(p, known string) {
	e := o.owners[known]
	o.lost = append(o.lost, Lost{e, p, fmt.Sprintf("%s looks for %s, not for %s", e.Name, known, path.Base(p))})
}

// lose finds settings files where their programs do not look: in folders below
// the only one that counts, and in folders for settings where there is nothing
// to style.
func (p *Picture) lose() {
	homes := p.Catalog.Places.Homes
	for _, f := range p.Files {
		if f.Named || f.Inside || f.BaseOf != nil || f.Readers[0].Ignores || f.Doc == nil && f.Err == nil {
			continue
		}
		r := f.Readers[0]
		switch {
		case len(f.Readers) > 1 || r.Place.Shared || r.Place.Section != "" || p.extended(f):
		case !f.found(r.Program, r.Place):
			p.Lost = append(p.Lost, Lost{r.Program, f.Path, fmt.Sprintf("%s only looks in the folder it is started in, and nothing shows that it is in %s", r.Program.Name, f.Folder)})
		case slices.Contains(homes, f.Folder) && f.Governs <= p.settingsIn(f.Folder) && r.Place.Search != "given" && p.anythingFor(r.Program):
			p.Lost = append(p.Lost, Lost{r.Program, f.Path, fmt.Sprintf("%s looks in the folder of a file and those above it, and %s holds no file it reads", r.Program.Name, f.Folder)})
		}
	}
	slices.SortFunc(p.Lost, func(a, b Lost) int { return strings.Compare(a.Path, b.Path) })
}

// settingsIn counts the settings files in a folder, which a program may read as
// files of their type, too.
func (p *Picture) settingsIn(folder string) int {
	n := 0
	for _, f := range p.Files {
		if Within(path.Dir(f.Path), folder) {
			n++
		}
	}
	return n
}

// extended reports whether another settings file extends f.
func (p *Picture) extended(f *File) bool {
	return slices.ContainsFunc(p.Files, func(other *File) bool {
		return slices.ContainsFunc(other.bases, func(b base) bool { return b.file == f })
	})
}

// anythingFor reports whether the repository has files that the program covers.
func (p *Picture) anythingFor(e *catalog.Entry) bool {
	return slices.ContainsFunc(p.Groups, func(g *Group) bool {
		_, covers := e.Covering(g.Type.ID)
		return covers && g.Type.Styled
	})
}

// Misplaced reports why a settings file is not where its program looks, or "".
func (p *Picture) Misplaced(f *File) string {
	for _, l := range p.Lost {
		if l.Path == f.Path {
			return l.Why
		}
	}
	return ""
}

// IsCode reports whether the file's settings are in a language that is not read.
func (f *File) IsCode() bool {
	return f.Doc == nil && f.Err == nil || f.Doc != nil && f.Doc.Root.Kind == document.Opaque
}
