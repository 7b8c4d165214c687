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
	known := KnownNames(c)
	inert := map[string]bool{}
	for _, ending := range c.Places.Inert {
		inert[ending] = true
	}
	return func(file string) bool { return !inert[extension(file)] || known(file) }
}

// Relevant returns those of the paths that speak about other files: settings files
// by their names, what brings and runs programs, and what that names.
func Relevant(fsys fs.FS, paths []string, c *catalog.Catalog) []string {
	known := KnownNames(c)
	var out []string
	for _, p := range paths {
		if known(p) {
			out = append(out, p)
		}
	}
	for p := range givenFiles(presence.NewFinder(c).Look(fsys, out).Signs) {
		out = append(out, p)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// Governing returns those of the relevant files that can speak about some others: all
// but what editors read of folders in which none of these lies.
func Governing(relevant, about []string, c *catalog.Catalog) []string {
	above := map[string]bool{".": true}
	for _, p := range about {
		for dir := path.Dir(p); !above[dir]; dir = path.Dir(dir) {
			above[dir] = true
		}
	}
	local := map[string]bool{}
	for _, e := range c.Entries {
		for _, place := range e.Settings {
			if slices.Equal(e.Roles, []string{"editor"}) && place.Search == "merged" {
				for _, name := range place.Files {
					local[name] = true
				}
			}
		}
	}
	return slices.DeleteFunc(relevant, func(p string) bool { return local[path.Base(p)] && !above[path.Dir(p)] })
}

// KnownNames returns a test of whether a file has a name that the catalog knows.
func KnownNames(c *catalog.Catalog) func(file string) bool {
	type shape struct{ folder, name, ending string } // of a name with a star; no folder is any
	type likes struct {
		names map[string]bool
		stars []shape
	}
	by := map[string]*likes{}       // by extension, as few files have one that counts
	within := map[string][]string{} // patterns of any extension, by the folder
	add := func(list []string) {
		for _, p := range list {
			folder, base := path.Base(path.Dir(p)), path.Base(p)
			if strings.HasSuffix(base, "*") && folder != "." {
				within[folder] = append(within[folder], base)
				continue
			}
			like := by[extension(base)]
			if like == nil {
				like = &likes{names: map[string]bool{}}
				by[extension(base)] = like
			}
			like.names[base] = true
			if i := strings.LastIndexByte(base, '*'); i >= 0 && i+1 < len(base) {
				if folder += "/"; folder == "./" || strings.ContainsAny(folder, "*?[{") {
					folder = ""
				}
				like.stars = append(like.stars, shape{folder, base, base[i+1:]})
			}
		}
	}
	add([]string{treaty.Name})
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
		folder, base := path.Split(file)
		if like := by[extension(base)]; like != nil && (like.names[base] || slices.ContainsFunc(like.stars, func(s shape) bool {
			return strings.HasSuffix(base, s.ending) && strings.HasSuffix(folder, s.folder) && fits(s.name, base)
		})) {
			return true
		}
		folder = strings.TrimSuffix(folder, "/")
		return slices.ContainsFunc(within[folder[strings.LastIndexByte(folder, '/')+1:]], func(name string) bool { return fits(name, base) })
	}
}

// fits reports whether a name has the form of a pattern; one that is written in a way
// of its own may.
func fits(pattern, name string) bool {
	ok, err := path.Match(pattern, name)
	return ok || err != nil
}
