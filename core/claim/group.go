package claim

import (
	"cmp"
	"path"
	"runtime"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/filetype"
	"jollytreaty/core/tree"
)

// chain is the settings files above a folder, from the root down. Folders
// without settings of their own share the chain of the folder above.
type chain struct {
	folder  string
	files   []*File
	byPlace map[*catalog.Place][]*File // those that are read as a place's settings
	leaves  bool                       // some file tells a program to leave files out

	mutex   sync.Mutex
	applies map[*catalog.Place][]*File // what FilesOf found

	// Reaches of all the files, one after the other. Those whose answer
	// depends on more than a file's extension are listed in rest.
	reaches []chainReach
	rest    []int
}

type chainReach struct {
	reach
	skip int // bytes of the path before the part relative to the file's folder
}

type extKey struct {
	chain *chain
	typ   *filetype.Type
	ext   string
}

// extGroup is what the extension alone tells about the files of a type.
type extGroup struct {
	matched []bool
	group   *Group            // where the extension tells all
	groups  map[string]*Group // by the answers of the rest
}

// maxExamples is how many paths a group keeps as examples.
const maxExamples = 5

// grouper gathers files into groups.
type grouper struct {
	byFolder map[string][]*File
	borders  map[string]bool // folders that signs of a program concern
	chains   map[string]*chain
	groups   []*Group
}

func newGrouper(files []*File, seen map[*catalog.Entry][]Seen, parts []func(string) bool) *grouper {
	g := &grouper{byFolder: map[string][]*File{}, borders: map[string]bool{}, chains: map[string]*chain{}}
	// What tells files apart though no program reads it: articles, and the
	// patterns of hooks and command lines.
	others := map[string]*File{}
	tell := func(folder string, match func(string) bool) {
		if others[folder] == nil {
			others[folder] = &File{Folder: folder}
			g.byFolder[folder] = append(g.byFolder[folder], others[folder])
		}
		others[folder].reaches = append(others[folder].reaches, reach{match: match})
	}
	for _, part := range parts {
		tell(".", part)
	}
	told := map[string]bool{}
	for _, list := range seen {
		for _, s := range list {
			g.borders[s.Folder] = true
			path := s.Only.Path()
			if path == nil || told[s.Folder+" "+s.Only.Text] {
				continue
			}
			told[s.Folder+" "+s.Only.Text] = true
			if s.Folder == "." {
				tell(".", path)
			} else {
				tell(s.Folder, func(rel string) bool { return path(s.Folder + "/" + rel) })
			}
		}
	}
	for _, f := range files {
		if f.BaseOf != nil {
			continue // it speaks through the file that extends it
		}
		g.byFolder[f.Folder] = append(g.byFolder[f.Folder], f)
	}
	return g
}

// chain returns the chain of a folder.
func (g *grouper) chain(folder string) *chain {
	if c := g.chains[folder]; c != nil {
		return c
	}
	var above *chain
	if folder != "." {
		above = g.chain(path.Dir(folder))
	}
	own := g.byFolder[folder]
	if above != nil && len(own) == 0 && !g.borders[folder] {
		g.chains[folder] = above
		return above
	}
	c := &chain{folder: folder, byPlace: map[*catalog.Place][]*File{}, applies: map[*catalog.Place][]*File{}}
	if above != nil {
		c.files = slices.Clone(above.files)
	}
	c.files = append(c.files, own...)
	for _, f := range c.files {
		for _, r := range f.Readers {
			if !r.Ignores {
				c.byPlace[r.Place] = append(c.byPlace[r.Place], f)
			}
		}
		c.leaves = c.leaves || slices.ContainsFunc(slices.Concat(f.sections, f.borrowed), func(s section) bool { return s.kind == excludeSection })
		skip := 0
		if f.Folder != "." {
			skip = len(f.Folder) + 1
		}
		for _, r := range f.reaches {
			if !r.byExtension {
				c.rest = append(c.rest, len(c.reaches))
			}
			c.reaches = append(c.reaches, chainReach{r, skip})
		}
	}
	g.chains[folder] = c
	return c
}

// fewestApart is how many files are grouped on each core at least.
const fewestApart = 4096

// group puts every file of the tree into a group and returns, for each, the
// number of its group.
func (g *grouper) group(t *tree.Tree) []int32 {
	of := make([]*Group, len(t.Files))
	folder := ""
	for i := range t.Files { // all chains first: they are shared
		if dir := folderOf(t.Files[i].Path); dir != folder {
			g.chain(dir)
			folder = dir
		}
	}
	parts := make([]gathering, min(runtime.GOMAXPROCS(0), len(of)/fewestApart+1))
	var wait sync.WaitGroup
	for k := range parts {
		wait.Go(func() {
			from, to := k*len(of)/len(parts), (k+1)*len(of)/len(parts)
			parts[k] = gathering{chains: g.chains, byExt: map[extKey]*extGroup{}}
			parts[k].gather(t.Files[from:to], of[from:to])
		})
	}
	wait.Wait()
	for _, part := range parts {
		g.groups = append(g.groups, part.groups...)
	}
	return g.number(of, g.merge())
}

// folderOf returns the folder of a path.
func folderOf(p string) string {
	if slash := strings.LastIndexByte(p, '/'); slash >= 0 {
		return p[:slash]
	}
	return "."
}

// gathering puts neighbouring files into groups.
type gathering struct {
	chains map[string]*chain
	byExt  map[extKey]*extGroup
	groups []*Group
}

func (g *gathering) gather(files []tree.File, of []*Group) {
	var c, lastChain *chain
	var e *extGroup
	folder := ""
	var answers []byte
	for i := range files {
		f := &files[i]
		if dir := folderOf(f.Path); c == nil || dir != folder {
			folder, c = dir, g.chains[dir]
		}
		if i == 0 || c != lastChain || f.Type != files[i-1].Type || extension(f.Path) != extension(files[i-1].Path) {
			e = g.extGroup(c, f)
		}
		lastChain = c
		grp := e.group
		if len(c.rest) > 0 {
			answers = answers[:0]
			for _, r := range c.rest {
				answer := byte('0')
				if c.reaches[r].match(f.Path[c.reaches[r].skip:]) {
					answer = '1'
				}
				answers = append(answers, answer)
			}
			grp = e.groups[string(answers)]
			if grp == nil {
				matched := slices.Clone(e.matched)
				for j, r := range c.rest {
					matched[r] = answers[j] == '1'
				}
				grp = g.add(f.Type, c, matched)
				e.groups[string(answers)] = grp
			}
		} else if grp == nil {
			grp = g.add(f.Type, c, e.matched)
			e.group = grp
		}
		grp.Files++
		if len(grp.Examples) < maxExamples {
			grp.Examples = append(grp.Examples, f.Path)
		}
		of[i] = grp
	}
}

// extension is what stands behind the last dot of a path's last part, dot
// included.
func extension(p string) string {
	for i := len(p) - 1; i >= 0 && p[i] != '/'; i-- {
		if p[i] == '.' {
			return p[i:]
		}
	}
	return ""
}

func (g *gathering) extGroup(c *chain, f *tree.File) *extGroup {
	key := extKey{c, f.Type, extension(f.Path)}
	e := g.byExt[key]
	if e == nil {
		e = &extGroup{matched: make([]bool, len(c.reaches)), groups: map[string]*Group{}}
		for i, r := range c.reaches {
			e.matched[i] = r.byExtension && r.match(f.Path[r.skip:])
		}
		g.byExt[key] = e
	}
	return e
}

func (g *gathering) add(t *filetype.Type, c *chain, matched []bool) *Group {
	grp := &Group{Type: t, chain: c, matched: matched}
	g.groups = append(g.groups, grp)
	return grp
}

// merge joins groups that differ in extension only, or were gathered apart, and
// returns which went into which.
func (g *grouper) merge() map[*Group]*Group {
	type key struct {
		typ     *filetype.Type
		chain   *chain
		matched string
	}
	first := map[key]*Group{}
	into := map[*Group]*Group{}
	kept := g.groups[:0]
	for _, grp := range g.groups {
		bits := make([]byte, len(grp.matched))
		for i, m := range grp.matched {
			if m {
				bits[i] = 1
			}
		}
		k := key{grp.Type, grp.chain, string(bits)}
		if target := first[k]; target != nil {
			target.Files += grp.Files
			target.Examples = append(target.Examples, grp.Examples...)
			slices.Sort(target.Examples)
			target.Examples = target.Examples[:min(len(target.Examples), maxExamples)]
			into[grp] = target
			continue
		}
		first[k] = grp
		kept = append(kept, grp)
	}
	g.groups = kept
	return into
}

// number orders the groups and returns each file's group number; into says which
// groups were joined to others.
func (g *grouper) number(of []*Group, into map[*Group]*Group) []int32 {
	slices.SortStableFunc(g.groups, func(a, b *Group) int {
		return cmp.Or(cmp.Compare(b.Files, a.Files), cmp.Compare(a.Examples[0], b.Examples[0]))
	})
	index := make(map[*Group]int32, len(g.groups))
	for i, grp := range g.groups {
		index[grp] = int32(i)
	}
	for grp, target := range into {
		index[grp] = index[target]
	}
	out := make([]int32, len(of))
	last, lastIndex := (*Group)(nil), int32(0)
	for i, grp := range of {
		if grp != last {
			last, lastIndex = grp, index[grp]
		}
		out[i] = lastIndex
	}
	return out
}
