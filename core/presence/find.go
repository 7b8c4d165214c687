package presence

import (
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
	"jollytreaty/core/sign"
)

// Found is what shows in the files that run or bring programs.
type Found struct {
	Signs    []Sign
	InCode   []Sign   // of builds that name a settings file in code, or set the style there
	Projects []string // folders with a manifest, where programs are started
	Anything bool     // something may run any program
	Cut      []Cut
	Mistyped []Mistyped

	Ecosystems []string // in which something is declared
	Called     []string // commands that run what others are told to run
}

// Mistyped is an option on a command line that its program does not know.
type Mistyped struct {
	Program *catalog.Entry
	Path    string
	Line    int
	Option  string
	Near    string // the one that was meant
}

// Sign is a sign of a program, and what it says about the program's settings.
type Sign struct {
	Program  *catalog.Entry
	Seen     Seen
	Styled   bool   // it sets the style, which is not guessed at
	Settings string // the settings file that the command line names, from the root; "" for none
}

// Cut is a file that starts more than Most programs: those from Line on are passed over.
type Cut struct {
	Path string
	Line int
	Most int
}

// add takes in what shows in another file.
func (f *Found) add(g Found) {
	f.Signs, f.InCode = append(f.Signs, g.Signs...), append(f.InCode, g.InCode...)
	f.Projects, f.Cut = append(f.Projects, g.Projects...), append(f.Cut, g.Cut...)
	f.Mistyped, f.Ecosystems = append(f.Mistyped, g.Mistyped...), append(f.Ecosystems, g.Ecosystems...)
	f.Called = append(f.Called, g.Called...)
	f.Anything = f.Anything || g.Anything
}

// Finder knows the files in which the programs of a catalog show.
type Finder struct {
	catalog  *catalog.Catalog
	byBase   map[string][]kind // by base name
	byParent map[string][]kind // by the folder's name, where the base name has a star
	byEnding map[string][]kind // by extension, where neither is given
	packages map[string]map[string][]bringer
	commands map[string][]*catalog.Entry // by first word
	expr     sync.Map                    // compiled expressions by text
	wrappers map[string][]*catalog.Wrapper
	callers  []string // commands that run what settings of theirs list
}

// kind is a sort of file with its pattern.
type kind struct {
	pattern  string
	match    pattern.Ignore // of a pattern with a star
	run      *catalog.Run
	manifest *catalog.Manifest
	mark     *programMark
}

type programMark struct {
	program *catalog.Entry
	text    string
	styles  bool
}

// bringer is a program that a package brings; foreign if the package's version
// is not the program's, tagged if that which it is fetched at is.
type bringer struct {
	program *catalog.Entry
	foreign bool
	tagged  bool
}

// NewFinder prepares to look for the programs of c.
func NewFinder(c *catalog.Catalog) *Finder {
	f := &Finder{catalog: c, byBase: map[string][]kind{}, byParent: map[string][]kind{}, byEnding: map[string][]kind{}, packages: map[string]map[string][]bringer{},
		commands: map[string][]*catalog.Entry{}, wrappers: map[string][]*catalog.Wrapper{}}
	for _, r := range c.Places.Runs {
		for _, part := range r.Parts {
			if part.By != "" {
				f.callers = append(f.callers, part.By)
			}
		}
		for _, p := range r.Files {
			f.addKind(kind{pattern: p, run: r})
		}
	}
	for _, m := range c.Places.Manifests {
		for _, p := range m.Files {
			f.addKind(kind{pattern: p, manifest: m})
		}
	}
	for _, w := range c.Places.Wrappers {
		first, _, _ := strings.Cut(w.Words, " ")
		f.wrappers[first] = append(f.wrappers[first], w)
	}
	for _, list := range f.wrappers {
		slices.SortStableFunc(list, func(a, b *catalog.Wrapper) int { return len(b.Words) - len(a.Words) })
	}
	for _, e := range c.Entries {
		for _, m := range e.Marks {
			for _, p := range m.Files {
				f.addKind(kind{pattern: p, mark: &programMark{e, m.Text, m.Styles}})
			}
		}
		for ecosystem, names := range e.Packages {
			for _, n := range names {
				n, foreign := strings.CutPrefix(n, "~")
				n, tagged := strings.CutSuffix(n, "@")
				f.bring(ecosystem, n, bringer{e, foreign, tagged})
			}
		}
		for _, n := range e.EditorNames {
			f.bring("editor", n, bringer{program: e})
		}
		for _, command := range e.Commands {
			first, _, _ := strings.Cut(command, " ")
			f.commands[first] = append(f.commands[first], e)
		}
	}
	return f
}

func (f *Finder) bring(ecosystem, name string, b bringer) {
	by := f.packages[ecosystem]
	if by == nil {
		by = map[string][]bringer{}
		f.packages[ecosystem] = by
	}
	name = f.catalog.Places.Ecosystem(ecosystem).Package(name)
	by[name] = append(by[name], b)
}

func (f *Finder) addKind(k kind) {
	base := path.Base(k.pattern)
	if starred := strings.ContainsAny(k.pattern, "*?["); starred {
		line := k.pattern
		if strings.Contains(line, "/") {
			line = "**/" + line
		}
		k.match, _ = pattern.ParseIgnore(line)
	}
	switch {
	case !strings.ContainsAny(base, "*?["):
		f.byBase[base] = append(f.byBase[base], k)
	case strings.Contains(k.pattern, "/"):
		parent := path.Base(path.Dir(k.pattern))
		if strings.ContainsAny(parent, "*?[") {
			parent = ""
		}
		f.byParent[parent] = append(f.byParent[parent], k)
	default:
		f.byEnding[path.Ext(base)] = append(f.byEnding[path.Ext(base)], k)
	}
}

// is reports whether the file at p is of the kind.
func (k *kind) is(p string) bool {
	if k.match.Pattern != nil {
		return k.match.Match(p)
	}
	return p == k.pattern || strings.HasSuffix(p, "/"+k.pattern)
}

// kindsOf returns what the file at p is.
func (f *Finder) kindsOf(p string) []kind {
	slash := strings.LastIndexByte(p, '/')
	base, parent := p[slash+1:], ""
	if slash > 0 {
		parent = p[strings.LastIndexByte(p[:slash], '/')+1 : slash]
	}
	var out []kind
	add := func(list []kind) {
		for i := range list {
			k := list[i]
			if !k.is(p) || k.run != nil && slices.Contains(f.catalog.Places.Prose, path.Ext(p)) {
				continue
			}
			// Of several patterns of a kind the longest says where the project is.
			same := slices.IndexFunc(out, func(o kind) bool { return k.mark == nil && o.run == k.run && o.manifest == k.manifest })
			switch {
			case same < 0:
				out = append(out, k)
			case strings.Count(k.pattern, "/") > strings.Count(out[same].pattern, "/"):
				out[same] = k
			}
		}
	}
	add(f.byBase[base])
	if parent != "" {
		add(f.byParent[parent])
	}
	if dot := strings.LastIndexByte(base, '.'); dot >= 0 {
		add(f.byEnding[base[dot:]])
	}
	return out
}

// Reads reports whether the file at p is one that runs or brings programs.
func (f *Finder) Reads(p string) bool { return f.kindsOf(p) != nil }

// Look reads the files that run or bring programs.
func (f *Finder) Look(fsys fs.FS, paths []string) Found {
	type work struct {
		path  string
		kinds []kind
	}
	var all []work
	for _, p := range paths {
		if kinds := f.kindsOf(p); kinds != nil && !strings.HasPrefix(p, ".git/") {
			all = append(all, work{p, kinds})
		}
	}
	for _, p := range hidden(fsys) {
		// Wherever they stand, they are the hooks of the repository.
		if _, listed := slices.BinarySearch(paths, p); listed && f.kindsOf(p) != nil && !strings.HasPrefix(p, ".git/") {
			continue
		}
		all = append(all, work{p, f.kindsOf(".git/hooks/" + path.Base(p))})
	}
	found := make([]Found, len(all))
	var wait sync.WaitGroup
	for w := range min(readers, len(all)) {
		wait.Go(func() {
			for i := w; i < len(all); i += readers {
				if text, ok := readText(fsys, all[i].path); ok {
					r := &reading{Finder: f, fsys: fsys, path: all[i].path, text: text}
					r.read(all[i].kinds)
					found[i] = r.Found
				}
			}
		})
	}
	wait.Wait()
	var out Found
	for i := range found {
		out.add(found[i])
	}
	for i := range out.Signs {
		if s := &out.Signs[i].Seen; s.by != "" && !slices.Contains(out.Called, s.by) {
			s.As, s.When = sign.Script, sign.Hand
		}
	}
	return out
}

// readers is how many files are read at a time.
const readers = 4

// maxText bounds the files that are read, in bytes; lockfiles grow large.
const maxText = 16 << 20

func readText(fsys fs.FS, p string) (string, bool) {
	info, err := fs.Stat(fsys, p)
	if err != nil || !info.Mode().IsRegular() || info.Size() > maxText {
		return "", false
	}
	in, err := fsys.Open(p)
	if err != nil {
		return "", false
	}
	defer in.Close()
	var b strings.Builder
	if _, err := io.Copy(&b, io.LimitReader(in, maxText)); err != nil {
		return "", false
	}
	return b.String(), true
}

// hidden returns the hooks of the repository's own git folder, which no listing
// has, and those in the folder that its configuration names.
func hidden(fsys fs.FS) []string {
	var out []string
	folders := []string{".git/hooks"}
	if text, ok := readText(fsys, ".git/config"); ok {
		for line := range strings.Lines(text) {
			key, value, _ := strings.Cut(strings.TrimSpace(line), "=")
			if strings.EqualFold(strings.TrimSpace(key), "hooksPath") {
				if dir := path.Clean(strings.TrimSpace(value)); fs.ValidPath(dir) {
					folders = append(folders, dir)
				}
			}
		}
	}
	for _, dir := range folders {
		entries, err := fs.ReadDir(fsys, dir)
		if err != nil {
			continue
		}
		for _, e := range entries {
			if e.Type().IsRegular() && path.Ext(e.Name()) != ".sample" {
				out = append(out, dir+"/"+e.Name())
			}
		}
	}
	return out
}

// reading is one file being read.
type reading struct {
	*Finder
	fsys  fs.FS
	path  string
	text  string
	had   map[had]int // indexes of signs
	order int         // programs started so far

	Found // what it shows
}

// had keeps one sign of each sort for a program and file.
type had struct {
	program *catalog.Entry
	as      sign.Kind
	when    sign.Moment
	does    sign.Deed
	files   string
	told    string
	folder  string
	version string
	only    string
}

func (r *reading) read(kinds []kind) {
	r.had = map[had]int{}
	docs := map[document.Syntax]*document.Document{}
	parsed := func(s document.Syntax) *document.Document {
		if d, ok := docs[s]; ok {
			return d
		}
		d, err := document.Parse(s, r.path, []byte(r.text))
		if err != nil {
			d = nil // whoever reads it as settings says what is wrong
		}
		docs[s] = d
		return d
	}
	for _, k := range kinds {
		folder := folderAbove(r.path, strings.Count(k.pattern, "/"))
		if strings.HasPrefix(k.pattern, ".git/") {
			folder = "."
		}
		if k.manifest != nil && k.manifest.As == sign.Dependency {
			r.Projects = append(r.Projects, folder)
			r.Ecosystems = append(r.Ecosystems, k.manifest.Ecosystem)
		}
		folder = r.builtFrom(folder)
		switch {
		case k.mark != nil:
			r.mark(k.mark, folder)
		case k.manifest != nil && k.manifest.Syntax != "":
			if d := parsed(k.manifest.Syntax); d != nil {
				r.declared(k.manifest, d, folder)
			}
		case k.manifest != nil:
			r.declaredInLines(k.manifest, folder)
		case k.run.Syntax != "":
			if d := parsed(k.run.Syntax); d != nil {
				r.runIn(k.run, d, folder)
			}
		default:
			r.runInLines(k.run, folder)
		}
	}
	r.Signs = r.plainest()
}

// builtFrom returns the folder that the build in the given one is about.
func (r *reading) builtFrom(folder string) string {
	parts := strings.Split(folder, "/")
	for i, name := range parts {
		if slices.Contains(r.catalog.Places.Builds, name) {
			return path.Join(".", path.Join(parts[:i]...))
		}
	}
	return folder
}

// folderAbove returns the folder of p, less so many more levels.
func folderAbove(p string, levels int) string {
	dir := path.Dir(p)
	for ; levels > 0 && dir != "."; levels-- {
		dir = path.Dir(dir)
	}
	return dir
}

// add keeps a sign unless the file has shown the same already.
func (r *reading) add(f Sign) {
	f.Seen.Path = r.path
	key := had{f.Program, f.Seen.As, f.Seen.When, f.Seen.Does, f.Seen.Files, f.Seen.Folder, f.Seen.Version, "", ""}
	if f.Seen.Only != nil {
		key.only = f.Seen.Only.Text
	}
	if f.Seen.Told != nil {
		key.told = f.Seen.Told.Text
	}
	if i, had := r.had[key]; had && !f.Styled && f.Settings == "" {
		if first := &r.Signs[i].Seen; first.Turn == f.Seen.Turn {
			first.Order = f.Seen.Order // what counts is when it last runs
		}
		return
	}
	r.had[key] = len(r.Signs)
	r.Signs = append(r.Signs, f)
}

// plainest leaves out a declaration without a version where the same line says
// one.
func (r *reading) plainest() []Sign {
	return slices.DeleteFunc(r.Signs, func(f Sign) bool {
		return f.Seen.Version == "" && f.Seen.As == sign.Dependency && slices.ContainsFunc(r.Signs, func(other Sign) bool {
			return other.Program == f.Program && other.Seen.Line == f.Seen.Line && other.Seen.As == f.Seen.As && other.Seen.Version != ""
		})
	})
}

func (r *reading) mark(m *programMark, folder string) {
	number := 0
	for line := range strings.Lines(r.text) {
		number++
		if strings.Contains(withoutComment(line), m.text) {
			r.InCode = append(r.InCode, Sign{Program: m.program, Styled: m.styles, Seen: Seen{As: sign.Dependency, Path: r.path, Line: number, Folder: folder}})
		}
	}
}

// withoutComment cuts a line at a comment sign that stands at its start or
// behind a blank.
func withoutComment(line string) string {
	for _, sign := range []string{"#", "//"} {
		for at := 0; ; {
			i := strings.Index(line[at:], sign)
			if i < 0 {
				break
			}
			at += i
			if before := strings.TrimRight(line[:at], " \t"); before == "" || len(before) < at {
				return line[:at]
			}
			at += len(sign)
		}
	}
	return line
}
