package claim

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
	"jollytreaty/core/presence"
	"jollytreaty/core/sign"
)

// File is a settings file.
type File struct {
	Path    string
	Folder  string // the part of the tree it speaks for, "." for all
	Readers []Reader
	Doc     *document.Document    // nil if it could not be parsed, or is code
	Err     *document.SyntaxError // why it could not be parsed
	Governs int                   // files of the types its programs cover, below Folder
	BaseOf  *File                 // the file that extends it, where it counts for that reason alone
	Named   bool                  // a command line names it
	Starts  bool                  // programs are started in its folder
	Inside  bool                  // its settings are about itself

	// CommandLine marks settings that a command line gives, which is no settings
	// file of the repository.
	CommandLine bool

	reaches  []reach
	sections []section // in file order
	borrowed []section // those of its bases, weakest first
	bases    []base    // in the order in which they are named
	resolved bool      // its bases are
	shows    []Reader  // the programs it shows to be in play
	preset   presets
	notBy    map[*catalog.Entry]bool // programs that are started elsewhere only
}

// mayNameBase reports whether the whole of the file may be the name of a base.
func (f *File) mayNameBase() bool {
	return slices.ContainsFunc(f.Readers, func(r Reader) bool {
		return slices.ContainsFunc(r.Place.Extends, func(i catalog.Inherit) bool { return i.Key == "" })
	})
}

// seen is the file as a sign of a program.
func (f *File) seen() Seen {
	if f.Inside {
		return Seen{As: sign.Inside, Path: f.Path, Folder: f.Folder}
	}
	return Seen{As: sign.Settings, Path: f.Path, Folder: f.Folder}
}

// seenAs is the file, read as a place's settings, as a sign of their program.
func (f *File) seenAs(place *catalog.Place) Seen {
	s := f.seen()
	if place.As != 0 {
		s.As = place.As
	}
	if s.As == sign.BuiltIn {
		s.When, s.Does = sign.Save, sign.Writes
	}
	return s
}

// Reader is a program that reads a settings file.
type Reader struct {
	Program *catalog.Entry
	Place   *catalog.Place
	Ignores bool // the file is only an ignore list of the program
}

// nameIndex finds the readers of a file from its base name.
type nameIndex struct {
	byBase   map[string][]named
	byEnding map[string][]named // by extension, of names with a star
}

type named struct {
	pattern string // a base name or a path with slashes
	match   pattern.Ignore
	reader  Reader
}

func indexNames(c *catalog.Catalog) nameIndex {
	x := nameIndex{map[string][]named{}, map[string][]named{}}
	add := func(p string, r Reader) {
		base := path.Base(p)
		if !strings.Contains(base, "*") {
			x.byBase[base] = append(x.byBase[base], named{pattern: p, reader: r})
			return
		}
		ig, _ := pattern.ParseIgnore("**/" + p)
		x.byEnding[path.Ext(base)] = append(x.byEnding[path.Ext(base)], named{p, ig, r})
	}
	for _, e := range c.Entries {
		for _, place := range e.Settings {
			for _, f := range place.Files {
				add(f, Reader{e, place, false})
			}
			for _, f := range place.IgnoreFiles {
				add(f, Reader{e, place, true})
			}
		}
	}
	// A program's own settings come before those it reads of others.
	borrowed := func(n named) int {
		if p := n.reader.Place; p.ID != "" || p.Shared || len(p.OnlyKeys) > 0 {
			return 1
		}
		return 0
	}
	for _, list := range x.byBase {
		slices.SortStableFunc(list, func(a, b named) int { return borrowed(a) - borrowed(b) })
	}
	return x
}

// folderOf returns the folder that the file at p speaks for, if its name is the
// pattern's.
func (n *named) folderOf(p string) (string, bool) {
	if n.match.Pattern != nil {
		if !n.match.Match(p) {
			return "", false
		}
		folder := path.Dir(p)
		for range strings.Count(n.pattern, "/") {
			folder = path.Dir(folder)
		}
		return folder, true
	}
	if p != n.pattern && !strings.HasSuffix(p, "/"+n.pattern) {
		return "", false
	}
	return path.Clean(strings.TrimSuffix(p, n.pattern)), true
}

// readers returns who reads the file at p, and the folder it speaks for.
func (x nameIndex) readers(p string) (folder string, readers []Reader) {
	base := p[strings.LastIndexByte(p, '/')+1:]
	list := x.byBase[base]
	if dot := strings.LastIndexByte(base, '.'); dot >= 0 {
		if starred := x.byEnding[base[dot:]]; starred != nil {
			list = slices.Concat(list, starred)
		}
	}
	for i := range list {
		f, ok := list[i].folderOf(p)
		switch {
		case !ok:
		case readers == nil || len(f) < len(folder):
			folder, readers = f, []Reader{list[i].reader}
		case f == folder:
			readers = append(readers, list[i].reader)
		}
	}
	return folder, readers
}

// discover finds and parses the settings files: those with a known name, and
// those that command lines name. Files that are known to be read for what they
// run or bring are not taken for settings of somebody else.
func (p *Picture) discover(fsys fs.FS, paths []string, given map[string]*File, otherwise func(path string) bool) {
	index := indexNames(p.Catalog)
	var files []*File
	odd := newOdd(p.Catalog, index)
	for _, path := range paths {
		folder, readers := index.readers(path)
		readers = slices.DeleteFunc(readers, func(r Reader) bool {
			return r.Place.Since != "" && older(map[string]bool{r.Place.Since: true}, p.Seen[r.Program]) != ""
		})
		if len(readers) == 0 {
			readers = nil
		}
		if f := given[path]; f != nil {
			for _, r := range readers {
				if !slices.ContainsFunc(f.Readers, func(had Reader) bool { return had.Program == r.Program }) {
					f.Readers = append(f.Readers, r)
				}
			}
			if readers != nil && Within(f.Folder, folder) {
				f.Folder = folder // it is found there without being named, too
			}
			files = append(files, f)
		} else if readers != nil {
			files = append(files, &File{Path: path, Folder: folder, Readers: readers})
		} else {
			odd.see(path)
		}
	}
	for _, f := range files {
		f.preset = p.preset
	}
	errs := make([]error, len(files))
	each(len(files), func(i int) { errs[i] = files[i].read(fsys) })
	kept := files[:0]
	for i, f := range files {
		switch {
		case errors.Is(errs[i], fs.ErrNotExist), errors.Is(errs[i], errNoSection):
		case f.Err != nil && len(f.Readers) == 0:
			p.Broken = append(p.Broken, Broken{Path: f.Path, Line: f.Err.Line, Column: f.Err.Column, Why: "cannot be read: " + f.Err.Message})
		case errs[i] != nil:
			p.Broken = append(p.Broken, Broken{Path: f.Path, Why: fmt.Sprintf("cannot be opened: %v", plain(errs[i]))})
		default:
			kept = append(kept, f)
		}
	}
	shareMacros(kept)
	in := &inheriting{fsys: fsys, places: p.Catalog.Places, known: map[string]*File{}}
	for _, f := range kept {
		in.known[f.Path] = f
	}
	for _, f := range kept {
		in.resolve(f, nil)
	}
	for _, f := range kept {
		f.borrow(f)
	}
	p.Missing = in.missing
	p.Files = append(kept, in.extra...)
	slices.SortFunc(p.Files, func(a, b *File) int { return cmp.Compare(a.Path, b.Path) })
	odd.look(fsys, func(path string) bool { return in.known[path] != nil || otherwise(path) })
	p.Unread, p.Lost = odd.unread, odd.lost
}

// givenFiles returns the settings files that command lines name.
func givenFiles(found []presence.Sign) map[string]*File {
	out := map[string]*File{}
	for _, f := range found {
		if f.Settings == "" {
			continue
		}
		place := placeFor(f.Program, f.Settings)
		if place == nil {
			continue
		}
		file := out[f.Settings]
		if file == nil {
			file = &File{Path: f.Settings, Folder: f.Seen.Folder, Named: true}
			out[f.Settings] = file
		}
		if !Within(f.Seen.Folder, file.Folder) {
			file.Folder = "."
		}
		r := Reader{Program: f.Program, Place: place}
		if !slices.Contains(file.Readers, r) {
			file.Readers = append(file.Readers, r)
		}
	}
	return out
}

// placeFor returns the place of a program's own settings as which a file with
// any name is read.
func placeFor(e *catalog.Entry, file string) *catalog.Place {
	var best *catalog.Place
	for _, p := range e.Settings {
		if p.ID != "" || p.Shared {
			continue
		}
		for _, name := range p.Files {
			if path.Base(name) == path.Base(file) {
				return p
			}
		}
		if best == nil && p.Section == "" {
			best = p
		}
	}
	return best
}

// plain strips what an error repeats of the path.
func plain(err error) error {
	var at *fs.PathError
	if !errors.As(err, &at) {
		return err
	}
	return at.Err
}

// shareMacros makes the macros of the root's attributes file known to those in
// the folders below, the only ones that git lets them use.
func shareMacros(files []*File) {
	isAttributes := func(f *File) bool { return f.Doc != nil && f.Doc.Syntax.Form() == document.Rows }
	root := slices.IndexFunc(files, func(f *File) bool { return isAttributes(f) && f.Folder == "." })
	for i, f := range files {
		if root >= 0 && i != root && isAttributes(f) {
			if err := f.Doc.UseMacros(files[root].Doc); errors.As(err, &f.Err) {
				f.Doc = nil
			}
		}
	}
}

// each calls work for 0 to n-1 on a few goroutines.
func each(n int, work func(int)) {
	const workers = 4
	var wait sync.WaitGroup
	for w := range min(workers, n) {
		wait.Go(func() {
			for i := w; i < n; i += workers {
				work(i)
			}
		})
	}
	wait.Wait()
}

// errNoSection says that a shared file holds no section of any reader.
var errNoSection = errors.New("no section of interest")

func (f *File) read(fsys fs.FS) error {
	syntax := f.Readers[0].Place.SyntaxOf(path.Base(f.Path))
	if f.Readers[0].Ignores {
		syntax = document.Ignores
	}
	if syntax == document.Code {
		return nil
	}
	src, err := readAll(fsys, f.Path)
	if err != nil {
		return err
	}
	f.Doc, err = document.ParseSettings(syntax, f.Path, src, f.Readers[0].Place.Functions...)
	if err != nil {
		if !errors.As(err, &f.Err) {
			return err
		}
		if sections := f.sectionNames(); sections != nil && !mentions(src, sections) {
			return errNoSection // a broken shared file that is none of our business
		}
		// Who would have a section there is not known, so that it speaks for nobody.
		f.Readers = slices.DeleteFunc(f.Readers, func(r Reader) bool { return r.Place.Section != "" })
		return nil
	}
	f.Readers = slices.DeleteFunc(f.Readers, func(r Reader) bool {
		return r.Place.Section != "" && f.Doc.Root.Find(r.Place.Section) == nil
	})
	if len(f.Readers) == 0 {
		return errNoSection
	}
	if root := f.Doc.Root; root.Kind == document.Scalar && syntax.Form() != document.Patterns && !f.Doc.Empty() && !f.mayNameBase() {
		line, column := f.Doc.Position(root.Start)
		f.Err = &document.SyntaxError{Path: f.Path, Line: line, Column: column, Message: "holds a single value where keys with values are expected"}
		f.Doc = nil
		return nil
	}
	if syntax.Form() == document.Rows && f.Readers[0].Place.OnlyKeys != nil && !f.Readers[0].showsIn(f) {
		return errNoSection // attributes that are about anything but style
	}
	for _, r := range f.Readers {
		if r.Place.FoldKeys {
			foldKeys(f.Doc.Root.Find(r.Place.Section), r.Program.Known.Below(""))
		}
	}
	f.findSections()
	return nil
}

// foldKeys gives the keys of a section the names under which they are known.
func foldKeys(section *document.Node, known []string) {
	if section == nil {
		return
	}
	for _, n := range section.Items {
		if i := slices.IndexFunc(known, func(k string) bool { return strings.EqualFold(k, n.Key) }); i >= 0 {
			n.Key = known[i]
		} else {
			n.Key = strings.ToLower(n.Key)
		}
	}
}

// sectionNames returns the last words of the sections the readers look for, or
// nil if one of them reads the whole file.
func (f *File) sectionNames() []string {
	var names []string
	for _, r := range f.Readers {
		if r.Place.Section == "" {
			return nil
		}
		names = append(names, path.Base(r.Place.Section))
	}
	return names
}

func mentions(src []byte, words []string) bool {
	for _, w := range words {
		if bytes.Contains(src, []byte(`"`+w+`"`)) || bytes.Contains(src, []byte("["+w)) || bytes.Contains(src, []byte("."+w)) {
			return true
		}
	}
	return false
}

// readAll reads a regular file, up to one byte more than a settings file may
// have.
func readAll(fsys fs.FS, p string) ([]byte, error) {
	info, err := fs.Stat(fsys, p)
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() {
		return nil, errors.New("it is not a regular file")
	}
	in, err := fsys.Open(p)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return io.ReadAll(io.LimitReader(in, document.MaxSize+1))
}

// Shows reports whether the file says something to the program alone.
func (r Reader) Shows(f *File) bool { return r.showsIn(f) }

// showsIn reports whether a settings file shows that a program is in play.
func (r Reader) showsIn(f *File) bool {
	if r.Ignores || r.Place.Shared || f.BaseOf != nil {
		return false
	}
	if len(r.Place.OnlyKeys) == 0 {
		return true
	}
	if f.Doc == nil {
		return false
	}
	known := func(n *document.Node) bool {
		return slices.ContainsFunc(r.Place.OnlyKeys, func(key string) bool {
			prefix, star := strings.CutSuffix(key, "*")
			return n.Key == key || star && strings.HasPrefix(n.Key, prefix)
		})
	}
	root := f.Doc.Root.Find(r.Place.Section)
	return root != nil && (slices.ContainsFunc(root.Items, known) || slices.ContainsFunc(root.Items, func(section *document.Node) bool {
		return slices.ContainsFunc(section.Items, known)
	}))
}
