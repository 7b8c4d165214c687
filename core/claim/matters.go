package claim

import (
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/treaty"
)

// Matters returns a test of whether a file at a path may hold settings, or bring or
// run programs. A file that does not pass it says nothing about any other.
func Matters(c *catalog.Catalog) func(file string) bool {
	names := map[string]bool{treaty.Name: true}
	starred := map[string][]string{} // endings of names with a star, by extension
	add := func(list []string) {
		for _, p := range list {
			base := path.Base(p)
			names[base] = true
			if i := strings.LastIndexByte(base, '*'); i >= 0 {
				starred[extension(base)] = append(starred[extension(base)], base[i+1:])
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
	inert := map[string]bool{}
	for _, ending := range c.Places.Inert {
		inert[ending] = true
	}
	return func(file string) bool {
		base := file[strings.LastIndexByte(file, '/')+1:]
		ext := extension(base)
		return !inert[ext] || names[base] || slices.ContainsFunc(starred[ext], func(ending string) bool { return ending != "" && strings.HasSuffix(base, ending) })
	}
}
