package catalog

import "strings"

// Ecosystem is how packages are named where manifests of one kind declare them.
type Ecosystem struct {
	ID string `toml:"id"`

	// Hyphens are signs in names that count as hyphens.
	Hyphens string `toml:"hyphens"`

	// Modules says that names are paths, of which any beginning may be the package.
	Modules bool `toml:"modules"`

	// Between stands between the group of a package and its own name, of which
	// either may be known.
	Between string `toml:"between"`

	// Commands says that packages are named as the programs' commands are.
	Commands bool `toml:"commands"`

	// Aliases are what stands before a version, or before another package's name
	// with its version.
	Aliases []string `toml:"aliases"`
}

// Package returns a package's name as the ecosystem compares names. A nil ecosystem
// has no rules of its own but that case does not count.
func (e *Ecosystem) Package(name string) string {
	name = strings.ToLower(name)
	if e != nil && e.Hyphens != "" {
		name = strings.Map(func(r rune) rune {
			if strings.ContainsRune(e.Hyphens, r) {
				return '-'
			}
			return r
		}, name)
	}
	return name
}

// Names returns the names under which a package may be known, best first.
func (e *Ecosystem) Names(name string) []string {
	names := []string{e.Package(name)}
	if e == nil {
		return names
	}
	for p := names[0]; e.Modules && strings.Contains(p, "/"); {
		p = p[:strings.LastIndexByte(p, '/')]
		names = append(names, p)
	}
	if group, own, ok := strings.Cut(names[0], e.Between); ok && e.Between != "" {
		names = append(names, own, group)
	}
	return names
}

// Version returns a version without the alias before it.
func (e *Ecosystem) Version(version string) string {
	if e == nil {
		return version
	}
	for _, alias := range e.Aliases {
		if rest, ok := strings.CutPrefix(version, alias); ok {
			if i := strings.LastIndexByte(rest, '@'); i > 0 {
				rest = rest[i+1:]
			}
			return rest
		}
	}
	return version
}

// Depot is a folder of installed packages, and how settings in them are found.
type Depot struct {
	Folder   string `toml:"folder"`
	Manifest string `toml:"manifest"` // of a package
	Main     string `toml:"main"`     // its key of the package's main file
	Index    string `toml:"index"`    // the main file where it names none
}

// Ecosystem returns the ecosystem with the id, nil where it needs no rules.
func (p *Places) Ecosystem(id string) *Ecosystem {
	for _, e := range p.Ecosystems {
		if e.ID == id {
			return e
		}
	}
	return nil
}

// Depot returns what is known of a folder of installed packages, the zero Depot for
// nothing.
func (p *Places) Depot(folder string) Depot {
	for _, d := range p.Depots {
		if d.Folder == folder {
			return *d
		}
	}
	return Depot{Folder: folder}
}
