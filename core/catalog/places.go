package catalog

import (
	"errors"
	"fmt"
	"regexp"

	"jollytreaty/core/document"
	"jollytreaty/core/sign"
)

// Places is what is known about the files that run or bring programs.
type Places struct {
	Runs      []*Run      `toml:"run"`
	Manifests []*Manifest `toml:"manifest"`
	Wrappers  []*Wrapper  `toml:"wrapper"`
	Recipes   []*Recipe   `toml:"recipe"`

	Ecosystems []*Ecosystem `toml:"ecosystem"`
	Depots     []*Depot     `toml:"depot"`

	// Declaring are names of manifests that may declare a package with settings to be
	// extended.
	Declaring []string `toml:"declaring"`

	// Endings of files that settings name without them.
	Unended []string `toml:"unended"`

	// Tools are folders in which package managers put the programs of a project.
	Tools []string `toml:"tools"`

	// Inert are endings of files that hold no settings, unless their whole names are
	// known.
	Inert []string `toml:"inert"`

	// Foreign are names of folders with other people's code, which says nothing about
	// the repository's own.
	Foreign []string `toml:"foreign"`

	// Samples are names of folders in which settings lie for tests to read: what is
	// wrong with them is meant to be.
	Samples []string `toml:"samples"`

	// Builds are names of folders that hold the code of the build of all that lies
	// beside them.
	Builds []string `toml:"builds"`

	// Everything are actions and images that run whatever program finds settings.
	Everything []string `toml:"everything"`

	// Unfamiliar are globs of base names that settings of
	// style bear. A file with such a name that no program of the catalog reads
	// is told of.
	Unfamiliar []string `toml:"unfamiliar"`

	// Others are base names of settings of programs that are not in the catalog, which
	// resemble names that are.
	Others []string `toml:"others"`

	// Prose are endings of files that run nothing, whatever their names.
	Prose []string `toml:"prose"`

	// Hidden are globs of base names that any settings may bear; so may a name
	// with one of the Words and an ending of Data. Keys are expressions of keys:
	// such a file that has keys of two of them is about style.
	Hidden []string `toml:"hidden"`
	Words  []string `toml:"words"`
	Data   []string `toml:"data"`
	Keys   []string `toml:"keys"`

	// Endings are what such names end in that do not start with a dot.
	Endings []string `toml:"endings"`

	// Homes are names of folders in which people keep settings, though few
	// programs look there.
	Homes []string `toml:"homes"`
}

// Run is a kind of file that runs programs: a hook, a CI step, a script.
type Run struct {
	As    sign.Kind   `toml:"as"`
	When  sign.Moment `toml:"when"`
	Files []string    `toml:"files"`

	// Syntax is that of a file with structure. Else Lines says how command
	// lines stand in it: "shell", "recipes" (indented lines, with variables) or
	// "calls" (texts in quotes).
	Syntax document.Syntax `toml:"syntax"`
	Lines  string          `toml:"lines"`

	Commands []string `toml:"commands"` // keys, at any depth, of command lines
	Parts    []Part   `toml:"parts"`    // parts whose every text is a command line
	Uses     []string `toml:"uses"`     // keys, at any depth, that name an action with a version
	Versions []string `toml:"versions"` // beside it, the paths of keys that may hold the program's version
	Args     []string `toml:"args"`     // and of keys that may hold its arguments
	Images   []string `toml:"images"`   // keys, at any depth, that name a container image
	Folders  []string `toml:"folders"`  // beside it, keys of the folder it is run in
	Globs    string   `toml:"globs"`    // beside it, the key of shell patterns of the files it is about
	Hooks    *Hooks   `toml:"hooks"`

	// Elsewhere are keys, at any depth, that bring in steps which are kept in
	// another repository, where nobody looks.
	Elsewhere []string `toml:"elsewhere"`
}

// Part is a part of a file with structure, at a path of keys ("*" for any).
type Part struct {
	At   string      `toml:"at"`
	As   sign.Kind   `toml:"as"` // none for that of the file
	When sign.Moment `toml:"when"`
	Keys bool        `toml:"keys"` // each stands behind a glob of the files it is about

	// By is the command that runs what stands there; where nothing calls that, people do
	// by hand.
	By string `toml:"by"`
}

// Hooks says where a file lists repositories with hooks.
type Hooks struct {
	List    string `toml:"list"`
	Name    string `toml:"name"`
	Version string `toml:"version"`
	Items   string `toml:"items"`
	ID      string `toml:"id"`
	Args    string `toml:"args"`
	Entry   string `toml:"entry"`

	// Tags are kinds of file that are not named as file types are here: the
	// type's id, or "" for a kind that is none of a language.
	Tags map[string]string `toml:"tags"`
}

// Manifest is a kind of file that declares programs as packages of an ecosystem.
type Manifest struct {
	As        sign.Kind `toml:"as"`
	Ecosystem string    `toml:"ecosystem"`
	Files     []string  `toml:"files"`

	// Keys are paths, in a file with structure, of maps from names to versions
	// or of lists of requirements. "*" stands for any key.
	Syntax document.Syntax `toml:"syntax"`
	Keys   []string        `toml:"keys"`

	// Names and Versions are keys of a package's name and version, where what
	// declares it is a map.
	Names    []string `toml:"names"`
	Versions []string `toml:"versions"`

	// Item is, in a file of lines, what a line that declares a package looks
	// like, with the groups "name" and, it may be, "version"; Version a later
	// line with its version.
	Item    string `toml:"item"`
	Version string `toml:"version"`

	// Least says that a plain version is the lowest that will do, not the one.
	Least bool `toml:"least"`

	// Build says that the build itself may run what is declared.
	Build bool `toml:"build"`
}

// Wrapper is a command that runs the command behind it.
type Wrapper struct {
	Words   string   `toml:"words"`
	Values  []string `toml:"values"`  // its options that take a value
	Package string   `toml:"package"` // the ecosystem, where the next word is a package
	Text    bool     `toml:"text"`    // the next word is a shell text
	After   string   `toml:"after"`   // the command starts behind this word
	Each    bool     `toml:"each"`    // every word behind it may be a command of its own
}

func (p *Places) check() error {
	for _, m := range p.Manifests {
		if m.As == 0 || m.Ecosystem == "" || len(m.Files) == 0 || (m.Item == "") == (len(m.Keys) == 0) {
			return fmt.Errorf("manifest %v: as, ecosystem, files, and either item or keys are needed", m.Files)
		}
	}
	for _, r := range p.Runs {
		if r.As == 0 || r.When == sign.Never || len(r.Files) == 0 || r.Syntax == "" && r.Lines == "" {
			return errors.New("run: as, when, files, and syntax or lines are needed")
		}
	}
	for _, k := range p.Keys {
		if _, err := regexp.Compile(k); err != nil {
			return fmt.Errorf("keys: %w", err)
		}
	}
	return nil
}
