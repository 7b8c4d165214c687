package claim

import (
	"bytes"
	"cmp"
	"errors"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
)

// File is a settings file.
type File struct {
	Path    string
	Folder  string // the part of the tree it speaks for, "." for all
	Readers []Reader
	Doc     *document.Document    // nil if it could not be parsed, or is code
	Err     *document.SyntaxError // why it could not be parsed
	Governs int                   // files of the types its programs cover, below Folder

	reaches  []reach
	sections []section // in file order
	shows    []Reader  // the programs it shows to be in play
}

// seen is the file as a sign of a program.
func (f *File) seen() Seen { return Seen{As: "settings", Path: f.Path, Folder: f.Folder} }

// Reader is a program that reads a settings file.
type Reader struct {
	Program *catalog.Entry
	Place   *catalog.Place
	Ignores bool // the file is only an ignore list of the program
}

// reach decides which files below the folder a part of a settings file is
// about.
type reach struct {
	match       func(rel string) bool
	byExtension bool
}

// section is a part of a settings file that is about some files only.
type section struct {
	reach int
	place *catalog.Place // nil for sections that every reader sees
	node  *document.Node
	kind  sectionKind
}

type sectionKind uint8

const (
	settingsSection sectionKind = iota // holds settings for what it reaches
	excludeSection                     // takes out what it reaches
)

// nameIndex finds the readers of a file from its base name.
type nameIndex map[string][]named

type named struct {
	pattern string // a base name or a path with slashes
	reader  Reader
}

func indexNames(c *catalog.Catalog) nameIndex {
	index := nameIndex{}
	add := func(p string, r Reader) {
		base := path.Base(p)
		index[base] = append(index[base], named{p, r})
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
	return index
}

// readers returns who reads the file at p, and the folder it speaks for.
func (x nameIndex) readers(p string) (folder string, readers []Reader) {
	for _, n := range x[path.Base(p)] {
		if p != n.pattern && !strings.HasSuffix(p, "/"+n.pattern) {
			continue
		}
		f := path.Clean(strings.TrimSuffix(p, n.pattern))
		switch {
		case readers == nil || len(f) < len(folder):
			folder, readers = f, []Reader{n.reader}
		case f == folder:
			readers = append(readers, n.reader)
		}
	}
	return folder, readers
}

// discover finds and parses the settings files.
func discover(fsys fs.FS, paths []string, c *catalog.Catalog) (files []*File, broken []Broken) {
	index := indexNames(c)
	for _, p := range paths {
		if folder, readers := index.readers(p); readers != nil {
			files = append(files, &File{Path: p, Folder: folder, Readers: readers})
		}
	}
	errs := make([]error, len(files))
	each(len(files), func(i int) { errs[i] = files[i].read(fsys) })
	kept := files[:0]
	for i, f := range files {
		switch {
		case errors.Is(errs[i], fs.ErrNotExist), errors.Is(errs[i], errNoSection):
		case errs[i] != nil:
			broken = append(broken, Broken{f.Path, plain(errs[i])})
		default:
			kept = append(kept, f)
		}
	}
	shareMacros(kept)
	slices.SortFunc(kept, func(a, b *File) int { return cmp.Compare(a.Path, b.Path) })
	return kept, broken
}

// plain strips what an error repeats of the path.
func plain(err error) error {
	var at *fs.PathError
	if !errors.As(err, &at) {
		return err
	}
	if strings.Contains(at.Err.Error(), "escapes") {
		return errors.New("it is a link that leads out of the repository")
	}
	return at.Err
}

// shareMacros makes the macros of the root's attributes file known to those in
// the folders below, the only ones that git lets them use.
func shareMacros(files []*File) {
	isAttributes := func(f *File) bool { return f.Doc != nil && f.Doc.Syntax == document.Attributes }
	root := slices.IndexFunc(files, func(f *File) bool { return isAttributes(f) && f.Folder == "." })
	for i, f := range files {
		if root >= 0 && i != root && isAttributes(f) {
			f.Doc.UseMacros(files[root].Doc)
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
	f.Doc, err = document.Parse(syntax, f.Path, src)
	if err != nil {
		if !errors.As(err, &f.Err) {
			return err
		}
		if sections := f.sectionNames(); sections != nil && !mentions(src, sections) {
			return errNoSection // a broken shared file that is none of our business
		}
		return nil
	}
	f.Readers = slices.DeleteFunc(f.Readers, func(r Reader) bool {
		return r.Place.Section != "" && f.Doc.Root.Find(r.Place.Section) == nil
	})
	if len(f.Readers) == 0 {
		return errNoSection
	}
	if root := f.Doc.Root; root.Kind != document.Map && syntax != document.Ignores && !f.Doc.Empty() {
		line, column := f.Doc.Position(root.Start)
		f.Err = &document.SyntaxError{Path: f.Path, Line: line, Column: column, Message: "holds a single value where keys with values are expected"}
		f.Doc = nil
		return nil
	}
	f.findSections()
	return nil
}

// sectionNames returns the sections the readers look for, or nil if one of
// them reads the whole file.
func (f *File) sectionNames() []string {
	var names []string
	for _, r := range f.Readers {
		if r.Place.Section == "" {
			return nil
		}
		names = append(names, r.Place.Section)
	}
	return names
}

func mentions(src []byte, words []string) bool {
	for _, w := range words {
		if bytes.Contains(src, []byte(`"`+w+`"`)) {
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

// findSections lists the parts of the file that are about some files only.
func (f *File) findSections() {
	root := f.Doc.Root
	switch f.Doc.Syntax {
	case document.EditorConfig:
		for _, n := range root.Items {
			if n.Kind == document.Map && n.Key != "" {
				p := pattern.EditorConfig(n.Key)
				f.add(nil, n, settingsSection, reach{p.Match, p.ByExtension()})
			}
		}
	case document.Attributes:
		for _, n := range root.Items {
			ig, ok := pattern.ParseIgnore(n.Key)
			if ok && !ig.FolderOnly && !strings.HasPrefix(n.Key, "[attr]") {
				f.add(nil, n, settingsSection, reach{ig.Match, ig.ByExtension()})
			}
		}
	case document.Ignores:
		var list pattern.IgnoreList
		for _, n := range root.Items {
			if ig, ok := pattern.ParseIgnore(n.Text()); ok {
				list = append(list, ig)
			}
		}
		f.add(f.Readers[0].Place, root, excludeSection, reach{match: list.Ignores})
	default:
		for _, r := range f.Readers {
			f.findPlaceSections(r.Place, root.Find(r.Place.Section))
		}
	}
}

func (f *File) add(place *catalog.Place, n *document.Node, kind sectionKind, r reach) {
	f.sections = append(f.sections, section{len(f.reaches), place, n, kind})
	f.reaches = append(f.reaches, r)
}

func (f *File) findPlaceSections(place *catalog.Place, root *document.Node) {
	if o := place.Overrides; o != nil {
		if list := root.Get(o.Key); list != nil {
			for _, item := range list.Items {
				files, except := globs(item.Get(o.Files)), globs(item.Get(o.Except))
				if options := item.Get(o.Options); options != nil && len(files) > 0 {
					f.add(place, options, settingsSection, reach{match: func(rel string) bool {
						return files.Ignores(rel) && !except.Ignores(rel)
					}})
				}
			}
		}
	}
	for _, key := range place.Excludes {
		if n := root.Get(key); n != nil {
			list := f.patterns(place, n)
			f.add(place, n, excludeSection, reach{match: list.Ignores})
		}
	}
	for _, key := range place.Includes {
		if n := root.Get(key); n != nil && len(n.Words()) > 0 {
			list := f.patterns(place, n)
			f.add(place, n, excludeSection, reach{match: func(rel string) bool { return !list.Ignores(rel) }})
		}
	}
}

// globs compiles override patterns: one without a slash matches base names.
func globs(n *document.Node) pattern.IgnoreList {
	var list pattern.IgnoreList
	for _, w := range n.Words() {
		list = append(list, pattern.Ignore{Pattern: pattern.EditorConfig(w.Text())})
	}
	return list
}

// patterns compiles the exclusion list at n: a list, or lines of text.
func (f *File) patterns(place *catalog.Place, n *document.Node) pattern.IgnoreList {
	var lines []string
	if n.Kind == document.Scalar && strings.Contains(n.Text(), "\n") {
		lines = strings.Split(n.Text(), "\n")
	} else {
		for _, w := range n.Words() {
			lines = append(lines, w.Text())
		}
	}
	var list pattern.IgnoreList
	for _, line := range lines {
		if place.Relative == "folder" {
			line = "/" + strings.TrimPrefix(strings.TrimPrefix(line, "./"), "/")
			if line == "/." || line == "/" {
				line = "/**"
			}
		}
		if ig, ok := pattern.ParseIgnore(line); ok {
			list = append(list, ig)
		}
	}
	return list
}
