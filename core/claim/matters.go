package claim

import (
	"io/fs"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/presence"
	"jollytreaty/core/treaty"
)

// Matters returns a test of whether a file at a path may hold settings, or bring or
// run programs. A file that does not pass it says nothing about any other.
func Matters(c *catalog.Catalog) func(file string) bool {
	known := knownNames(c)
	inert := map[string]bool{}
	for _, ending := range c.Places.Inert {
		inert[ending] = true
	}
	return func(file string) bool { return !inert[extension(file)] || known(file) }
}

// Relevant returns those of the paths that speak about other files: settings files
// by their names, what brings and runs programs, and what that names.
func Relevant(fsys fs.FS, paths []string, c *catalog.Catalog) []string {
	known := knownNames(c)
	var out []string
	for _, p := range paths {
		if known(p) {
			out = append(out, p)
		}
	}
	for p := range givenFiles(presence.NewFinder(c).Look(fsys, out)) {
		out = append(out, p)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// knownNames returns a test of whether a file has a name that the catalog knows.
func knownNames(c *catalog.Catalog) func(file string) bool {
	names := map[string]bool{treaty.Name: true}
	type shape struct{ folder, name string } // of a name with a star; no folder is any
	starred := map[string][]shape{}          // by extension
	add := func(list []string) {
		for _, p := range list {
			folder, base := path.Base(path.Dir(p)), path.Base(p)
			names[base] = true
			if i := strings.LastIndexByte(base, '*'); i >= 0 && i+1 < len(base) {
				if folder == "." || strings.ContainsAny(folder, "*?[{") {
					folder = ""
				}
				starred[extension(base)] = append(starred[extension(base)], shape{folder, base})
			}
		}
	}
	for _, e := range c.Entries {
		for _, place := range e.Settings {
			add(place.Files)
			add(place.IgnoreFiles)
		}
		for _, m := range e.Marks {
			add(m.Files)
		}
	}
	for _, m := range c.Places.Manifests {
		add(m.Files)
	}
	for _, r := range c.Places.Runs {
		add(r.Files)
	}
	return func(file string) bool {
		base := file[strings.LastIndexByte(file, '/')+1:]
		return names[base] || slices.ContainsFunc(starred[extension(base)], func(s shape) bool {
			fits, err := path.Match(s.name, base)
			return (fits || err != nil) && (s.folder == "" || path.Base(path.Dir(file)) == s.folder)
		})
	}
}
