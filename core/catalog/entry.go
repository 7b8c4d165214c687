// Package catalog is what is known about programs: data, one file each.
//
// The engine knows no program by name. An entry says which settings files a
// program reads and how it searches them, which file types it covers, how its
// keys answer the neutral rules, what it does where nothing is set, and how its
// presence shows. Adding a program is adding a file to programs/ and a fixture.
package catalog

import (
	"slices"
	"strings"

	"jollytreaty/core/document"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
)

// The things a program can be.
const (
	Formatter      = "formatter"
	Linter         = "linter"
	Editor         = "editor"
	VersionControl = "version-control"
	ImportSorter   = "import-sorter"
	Language       = "language" // its compiler or package manager, that says which version of it the code is in
)

// Entry describes one program.
type Entry struct {
	ID      string   `toml:"id"`
	Name    string   `toml:"name"`
	Roles   []string `toml:"roles"`
	Version string   `toml:"version"` // the version the facts were taken from
	Source  string   `toml:"source"`  // the public documentation they stand in
	Proved  []string `toml:"proved"`  // the versions that the facts were held against in the lab

	// Covers lists the file types the program reads; "*" is every type. Partial
	// says, for types covered in part, which part.
	Covers  []string          `toml:"covers"`
	Partial map[string]string `toml:"partial"`

	// Refines are the ids of formatters that leave what this one writes as it is,
	// so that both may run.
	Refines []string `toml:"refines"`

	// Plugged lists types that the program only reads with a plugin, each with a
	// word of which its settings speak where there is one.
	Plugged map[string]string `toml:"plugged"`

	// Toolchain lists types whose own toolchain brings the program along, so
	// that it is at hand wherever files of the type are built.
	Toolchain []string `toml:"toolchain"`

	Settings []*Place    `toml:"settings"` // weakest first
	Rules    []*Question `toml:"rule"`

	// Checks says how checks are switched that answer no rule; nil where that is not
	// known.
	Checks *Checks `toml:"checks"`

	// Formats says when the program formats files at all, where its settings can
	// switch that off; of several about a type the first counts.
	Formats []*Formats `toml:"formats"`

	// Known are the known keys of the program's own settings, Unknown what it does
	// with others.
	Known   Known   `toml:"known"`
	Unknown Unknown `toml:"unknown"`

	// Hyphens says that "-" and "_" are one sign in the names of its keys.
	Hyphens bool `toml:"hyphens"`

	// Variants are names under which plugins bear the same rules.
	Variants []Variants `toml:"variants"`

	// Levels are the words for how bad a departure is, each with what it stands
	// for: "error", "warning" or "note". They stand at the key of a rule, or at
	// one of the keys LevelAt below it.
	Levels  map[string]string `toml:"levels"`
	LevelAt []string          `toml:"level_at"` // the keys below, "" for the key itself

	// FoldCase says that words are compared without regard to case.
	FoldCase bool `toml:"fold_case"`

	// Bases are settings that a file can extend by name: presets that come with
	// the program, or packages that are known.
	Bases map[string]map[string]any `toml:"bases"`

	// BasesLike are bases that set what another one does, beneath what they set
	// themselves.
	BasesLike map[string]string `toml:"bases_like"`

	// BasesBefore are those of the bases that were others before a version of the
	// program, by name and version. FoldBases says that names of bases are compared
	// without regard to case.
	BasesBefore map[string]map[string]map[string]any `toml:"bases_before"`
	FoldBases   bool                                 `toml:"fold_bases"`

	// Bare names the base that holds where there is no settings file at all.
	Bare string `toml:"bare"`

	// Retired says that the program is no longer kept up.
	Retired *Retirement `toml:"retired"`

	// RetiredKeys are keys that are no longer to be used.
	RetiredKeys map[string]RetiredKey `toml:"retired_keys"`

	// Needs are keys without which the program does not know what it reads,
	// each with the reason.
	Needs map[string]string `toml:"needs"`

	// Packages are the names under which the program is declared, by ecosystem:
	// see the manifests in places.toml. Of CI "action" runs the program and
	// "setup" only brings it. Behind "~" stands a package with versions of its
	// own, before "@" an action that is released along with the program.
	Packages map[string][]string `toml:"packages"`

	Marks       []Mark   `toml:"mark"`
	Commands    []string `toml:"commands"`     // names of its executable, or executable and subcommand
	Runs        Runs     `toml:"runs"`         // how its command line reads
	EditorNames []string `toml:"editor_names"` // what editor settings call it

	// Serves are actions that editors call by one name whatever program does them, where
	// this one is at hand.
	Serves []string `toml:"serves"`

	// System says that people have the program from their system, where no manifest of a
	// project could bring it.
	System bool `toml:"system"`

	// Bundled says that the program comes with the editor whose settings these are.
	Bundled bool `toml:"bundled"`

	// Options are options of its command that set a key of its settings: the path
	// of the key, then a value behind "=" where the option takes none; "*" for the
	// key where the option names keys itself, as in a=1,b=2. A way with the place
	// "options" is a key that only options set. Flags are
	// others that set the style; a command line with one of them is not guessed
	// at: the program then claims nothing for the part of the tree.
	Options map[string]string `toml:"options"`
	Flags   []string          `toml:"flags"`

	// Picks says, of an editor, where its settings name a formatter and when it
	// runs it.
	Picks *Picks `toml:"picks"`

	Personal Personal `toml:"personal"` // settings outside of any repository

	// Copies are keys by which settings of an editor, named by its id, tell its own
	// runs of the program what to do where the program has no other settings: the
	// editor's key, and the program's.
	Copies map[string]map[string]string `toml:"copies"`

	// Configured are keys by which settings of an editor, named by its id, keep it
	// from running the program where the program has no settings of its own.
	Configured map[string]string `toml:"configured"`

	// Arguments are keys by which settings of an editor, named by its id, give its own runs
	// of the program arguments.
	Arguments map[string][]string `toml:"arguments"`

	// Passes are keys by which settings of an editor, named by its id, set one of the
	// program's own for the editor's runs of it, over what the program is told itself.
	Passes map[string]map[string]string `toml:"passes"`

	// Bridges are programs that this one runs itself, where its settings say so.
	Bridges []*Bridge `toml:"bridge"`

	// Inside says that the program also reads settings in the very files it is
	// about, and how they are written: "modeline" or "variables".
	Inside document.Syntax `toml:"inside"`

	// Maps is a key that maps patterns to names of languages, or, of attributes,
	// the one that names a language.
	Maps string `toml:"maps"`

	// Empty says what an empty settings file of the program does.
	Empty string `toml:"empty"`
}

// Unknown says what a program does with words in its settings that it does not know:
// it "stops", "warns" or "ignores" them. Where keys are "open", others than the known
// ones have a meaning, too.
type Unknown struct {
	Keys    string `toml:"keys"`
	Values  string `toml:"values"`
	Presets string `toml:"presets"`

	// Complete says that few known keys are missing, so that those are told that are two
	// letters from one; else only those are that are one from it. Listed says that the known
	// keys are all there are, so that any other one is told; else only those are that are
	// near a known one. Plugins are keys that bring in programs of others, which may know
	// more.
	Complete bool     `toml:"complete"`
	Listed   bool     `toml:"listed"`
	Plugins  []string `toml:"plugins"`
}

// Tells reports whether words of a sort that is treated so are told of.
func (u *Unknown) Tells(does string) bool { return does != "" && does != "open" }

// unknownWords are what Unknown may say of keys, values and presets.
var unknownWords = []string{"stops", "warns", "ignores", "open"}

// Variants says that the rules whose keys begin with Prefix are also found with one of
// Names between that and their own name: each of them is a rule of its own.
type Variants struct {
	Prefix string   `toml:"prefix"`
	Names  []string `toml:"names"`
}

// Retirement says since when a program is no longer kept up, and what follows.
type Retirement struct {
	Since string   `toml:"since"` // a version or a year
	By    []string `toml:"by"`    // ids of successors in the catalog
	Note  string   `toml:"note"`  // what to do, where no id says it
}

// RetiredKey says what to use instead of a key, "" where there is nothing, and
// since which version of the program. To is the path of the key that takes its
// place, from the map it is in, or the word that does so in a list, where the
// value means the same there or Values translates it.
type RetiredKey struct {
	Use    string         `toml:"use"`
	Since  string         `toml:"since"`
	To     string         `toml:"to"`
	Values map[string]any `toml:"values"`
}

// Personal says where the person who runs a program keeps settings of it: paths
// from the home folder ("~/") or its folder for settings ("config:"). Alone says
// that they count only where a project has no settings of the program; others
// are weaker than a project's. Editor says that its extensions for editors have
// options of their own, which count where a project has none.
type Personal struct {
	Files  []string `toml:"files"`
	Alone  bool     `toml:"alone"`
	Editor bool     `toml:"editor"`
}

// Runs says how a command line of the program reads.
type Runs struct {
	Does     sign.Deed `toml:"does"`     // without any option below
	Writes   []string  `toml:"writes"`   // options and subcommands that make it rewrite files
	Checks   []string  `toml:"checks"`   // options and subcommands that make it reject files
	Lints    []string  `toml:"lints"`    // those with which it only looks at other things than it would rewrite
	Settings []string  `toml:"settings"` // options that name a settings file
	Known    string    `toml:"known"`    // its other long options, in words, as far as they are known
	Plain    []string  `toml:"plain"`    // flags with values that change nothing
	Alone    bool      `toml:"alone"`    // where an option sets the style, settings files are not read
}

// Option reports whether the program has a long option, as far as is known; near is the
// known one that was probably meant, if it has not.
func (e *Entry) Option(name string) (near string, known bool) {
	if e.Runs.Known == "" {
		return "", true
	}
	all := slices.Concat(strings.Fields(e.Runs.Known), e.Flags, e.Runs.Writes, e.Runs.Checks, e.Runs.Lints, e.Runs.Settings)
	for option := range e.Options {
		all = append(all, option)
	}
	plain := strings.Replace(name, "--no-", "--", 1)
	if slices.Contains(all, name) || slices.Contains(all, plain) || slices.Contains(all, strings.Replace(name, "--", "--no-", 1)) {
		return "", true
	}
	if near = nearest.Closest(name, all); !nearest.Within(1, name, near) {
		return "", false
	}
	return near, false
}

// Place is a kind of settings file that a program reads. Places with the same
// id are read by the same keys.
type Place struct {
	ID     string          `toml:"id"`    // "" for the program's own
	Files  []string        `toml:"files"` // base names, or paths with a slash, best first; a star stands for any name
	Syntax document.Syntax `toml:"syntax"`

	// Syntaxes gives the syntax by file name where it differs from Syntax.
	Syntaxes map[string]document.Syntax `toml:"syntaxes"`

	// Functions are those whose call in settings written as code stands for their
	// argument.
	Functions []string `toml:"functions"`

	// Section is the path of keys, within a shared file, of the program's part.
	Section string `toml:"section"`

	// Search is "nearest" (the closest file alone), "merged" (every file up the
	// tree, closer ones win), "root" (at the repository's root alone) or "given"
	// (where a command line or a build names it; the customary names count as
	// named for the project around them).
	Search string `toml:"search"`

	// Since is the version of the program from which on it looks for the files.
	Since string `toml:"since"`

	// FoldKeys says that the program compares the names of keys right in the section without
	// regard to case.
	FoldKeys bool `toml:"fold_keys"`

	// Nested is a key that, when false in a file, makes it count although it lies below the
	// only folder that does.
	Nested string `toml:"nested"`

	// Pool names places that are searched as one: of all their files only the
	// closest counts, or in one folder the first place's.
	Pool string `toml:"pool"`

	// Root is a key that, when true in a file, ends the search upwards.
	Root string `toml:"root"`

	Extends   []Inherit    `toml:"extends"`   // how it names its bases; of several the last named is the strongest
	Languages string       `toml:"languages"` // key of a language section, "{type}" within
	Overrides []*Overrides `toml:"overrides"` // later ones are stronger

	// TypeNames says what names of languages in the file stand for: file type
	// ids, "*" for all. A name that is not listed is a type's id or name.
	TypeNames map[string][]string `toml:"type_names"`

	// Excludes and Includes are keys that list patterns of files the program
	// leaves out, or keeps to, in the dialect Globs (see package pattern).
	// IgnoreFiles are ignore lists beside the file, with patterns in the dialect
	// IgnoreGlobs.
	Excludes    []string        `toml:"excludes"`
	Includes    []string        `toml:"includes"`
	Globs       pattern.Dialect `toml:"globs"`
	IgnoreFiles []string        `toml:"ignore_files"`
	IgnoreGlobs pattern.Dialect `toml:"ignore_globs"`

	// Spares says where files are let off some rules.
	Spares []Spare `toml:"spares"`

	// Ordered are lists of names of which the later ones win.
	Ordered []Ordered `toml:"ordered"`

	// OnlyKeys are key patterns that must occur for the file to show that the
	// program is in play; none for a file that is the program's alone.
	OnlyKeys []string `toml:"only_keys"`

	// Create is the name under which a file is made where there is none; "" if
	// a new file would change more than the key it is made for.
	Create string `toml:"create"`

	// Shared marks a standard file of many programs, whose presence shows
	// nothing about this one.
	Shared bool `toml:"shared"`

	// When is a key of the program's own settings that has to be true for the file to
	// be read.
	When string `toml:"when"`

	// As is the kind of sign of the program that the file is; none for settings of its
	// own.
	As sign.Kind `toml:"as"`
}

// Inherit is a key that names bases: built-in ones by their names in Bases, and
// others as it says.
type Inherit struct {
	Key    string `toml:"key"`
	Paths  bool   `toml:"paths"`  // names are paths from the file's folder
	Folder string `toml:"folder"` // where installed packages lie, such as "node_modules"; other names than paths are theirs
	Depot  string `toml:"depot"`  // the same, where every name is a path and some lead there
	File   string `toml:"file"`   // the file of a package that holds its settings; by its manifest or any known name if ""
	Prefix string `toml:"prefix"` // what a package's name starts with, left out in settings
	Plugin string `toml:"plugin"` // the same of packages that a name behind PluginMark names, with a part of them

	PluginMark string `toml:"plugin_mark"`

	Names string `toml:"names"` // which of the words there are names of bases, if not all: a regular expression
}

// Overrides says where a settings file keeps settings for some files only.
type Overrides struct {
	Key     string          `toml:"key"`     // the list or map of overrides; "." for the whole file
	Item    string          `toml:"item"`    // only items of this name
	Files   string          `toml:"files"`   // in each, the patterns; "#key" for its own key
	Except  string          `toml:"except"`  // in each, the patterns left out
	Options string          `toml:"options"` // in each, the settings; the item itself if ""
	Extends string          `toml:"extends"` // in each, the key that names bases
	Globs   pattern.Dialect `toml:"globs"`   // how patterns are written; "type" for names of languages
	All     bool            `toml:"all"`     // an item without patterns is about every file
}

// Spare says where a settings file lets files off some rules.
type Spare struct {
	Key   string          `toml:"key"`   // a list or map, or a text of "patterns: names"
	Files string          `toml:"files"` // in each item, the patterns; "#key" for its own key
	Names string          `toml:"names"` // in each item, the names of the rules; the item itself if ""
	Globs pattern.Dialect `toml:"globs"`
}

// Ordered is a list of names, switched on and off one after the other.
type Ordered struct {
	Key   string `toml:"key"`
	Minus string `toml:"minus"` // what stands before a name that is switched off
	All   string `toml:"all"`   // the name of all of them
}

// Question is how a program's settings answer one rule.
type Question struct {
	Rule string    `toml:"rule"`
	Role rule.Role `toml:"role"`

	// Types limits the answer to some file types.
	Types []string `toml:"types"`

	// Default is the answer where nothing is set. A question without ways to
	// set it is fixed to its default.
	Default any    `toml:"default"`
	From    []*Way `toml:"from"`

	// Before are other defaults, of releases before a version.
	Before map[string]any `toml:"before"`

	// Preset is a way that only counts where nothing sets the rule itself.
	Preset *Way `toml:"preset"`

	// AtMost makes an accepted number an upper limit.
	AtMost bool    `toml:"at_most"`
	On     *Switch `toml:"on"`

	// Variant is the index of the variant of the program's rule that it is about.
	Variant int `toml:"-"`
}

// Way is a key that answers a question and how its values translate.
type Way struct {
	Place string `toml:"place"`
	Key   string `toml:"key"` // path of keys, separated by slashes

	// Values translates the file's words. "leaves" stands for keeping what is
	// there, "unknown" for an answer that depends on the machine, a list for
	// several accepted values. Words that are not listed are read as they are
	// where the rule's domain has them.
	Values map[string]any `toml:"values"`

	Match   string `toml:"match"`   // the part of the value that counts: a regular expression with one group
	Number  string `toml:"number"`  // the answer where the value is a whole number
	Present string `toml:"present"` // the answer where the key is there at all
	Blanks  bool   `toml:"blanks"`  // the value is the indentation text itself

	// Unless are keys that take the answer back where they are there.
	Unless []string `toml:"unless"`

	// Fills are two keys of the same place, each with its default behind "=": where the
	// number at the first is less than that at the second, an answer of tabs is none, as a
	// level of indentation does not fill one.
	Fills []string `toml:"fills"`

	// When are keys of the same place, of which each has to have one of the values for
	// the answer to count.
	When map[string][]string `toml:"when"`
}

// Switch says when a rule of a program is on.
type Switch struct {
	Name  string   `toml:"name"`  // what lists call it
	Also  []string `toml:"also"`  // what else they may call it, or all it belongs to
	Keys  []string `toml:"keys"`  // keys that switch it
	Gates []string `toml:"gates"` // keys that switch a whole family off
	Off   []any    `toml:"off"`   // their values that mean off
	Unset string   `toml:"unset"` // "on", "off" or "unknown" where nothing is said

	// Prefixes says that lists may name a rule by what its name starts with; the
	// longest counts.
	Prefixes bool     `toml:"prefixes"`
	Enabled  []string `toml:"enabled"`  // keys that list rules to switch on
	Disabled []string `toml:"disabled"` // keys that list rules to switch off
	Spared   []string `toml:"spared"`   // keys that list patterns of files which the rule leaves out
	Only     []string `toml:"only"`     // keys that list the only rules to run
	All      string   `toml:"all"`      // key that switches every rule
	None     string   `toml:"none"`     // key that, when true, switches off every rule not switched on
}

// Formats says when a program formats files of some types.
type Formats struct {
	Types []string `toml:"types"` // none for all
	On    *Switch  `toml:"on"`
}

// Formatting returns the switch of the program's formatting of files of the type,
// or nil.
func (e *Entry) Formatting(typeID string) *Switch {
	for _, f := range e.Formats {
		if len(f.Types) == 0 || slices.Contains(f.Types, typeID) {
			return f.On
		}
	}
	return nil
}

// Bridge is a program that another one runs on the files it reads.
type Bridge struct {
	Runs string  `toml:"runs"` // its id
	On   *Switch `toml:"on"`   // when

	// Settings is the key of settings of the other program that this one gives it, over
	// those it has of its own; what departs from them is complained of.
	Settings string `toml:"settings"`
}

// Mark is a text in a build's code that shows that the program's settings file
// is named there, or, with Styles, that settings are given there themselves.
type Mark struct {
	Files  []string `toml:"files"`
	Text   string   `toml:"text"`
	Styles bool     `toml:"styles"`
}

// Picks says by which keys an editor's settings choose a formatter, when it
// runs it, and what else it runs on save.
type Picks struct {
	Formatter string `toml:"formatter"`
	OnSave    string `toml:"on_save"`
	OnPaste   string `toml:"on_paste"`
	OnType    string `toml:"on_type"`
	Actions   string `toml:"actions"` // a map of actions, each named as in EditorNames
}

// Has reports whether the program has the role.
func (e *Entry) Has(role string) bool {
	for _, r := range e.Roles {
		if r == role {
			return true
		}
	}
	return false
}

// Covering reports whether the program reads files of the type, with a plugin it
// may be, and which part of them: "" for the whole.
func (e *Entry) Covering(typeID string) (part string, ok bool) {
	if e.Plugged[typeID] != "" {
		return e.Partial[typeID], true
	}
	if part, ok := e.Partial[typeID]; ok {
		return part, true
	}
	for _, t := range e.Covers {
		if t == typeID || t == "*" {
			return "", true
		}
	}
	return "", false
}

// OptionsPlace is the id of the place of keys that only options of a command set.
const OptionsPlace = "options"

var optionsPlace = &Place{ID: OptionsPlace, Search: "given"}

// Fixed reports whether no settings file answers the question.
func (q *Question) Fixed() bool {
	return !slices.ContainsFunc(q.From, func(w *Way) bool { return w.Place != OptionsPlace })
}

// Place returns the program's place with the given id, or nil: of several the
// first that is a file of its own.
func (e *Entry) Place(id string) *Place {
	var shared *Place
	if id == OptionsPlace {
		return optionsPlace
	}
	for _, p := range e.Settings {
		switch {
		case p.ID == id && p.Section == "":
			return p
		case p.ID == id && shared == nil:
			shared = p
		}
	}
	return shared
}

// Concerns reports whether the question is about files of the type.
func (q *Question) Concerns(typeID string) bool {
	if len(q.Types) == 0 {
		return true
	}
	for _, t := range q.Types {
		if t == typeID {
			return true
		}
	}
	return false
}

// SyntaxOf returns the syntax of a settings file with the given base name.
func (p *Place) SyntaxOf(name string) document.Syntax {
	if s, ok := p.Syntaxes[name]; ok {
		return s
	}
	return p.Syntax
}

// Executables returns the names of the program's own executables; a command that
// is a word of another program's is none.
func (e *Entry) Executables() []string {
	var out []string
	for _, c := range e.Commands {
		if !strings.Contains(c, " ") {
			out = append(out, c)
		}
	}
	return out
}
