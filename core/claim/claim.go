// Package claim works out who says what about which files.
//
// It finds the settings files of every program in the catalog, gathers the
// repository's files into groups that every program treats alike, and applies
// each program's own precedence, so that per program, rule and group one claim
// is in effect and the claims it beat are kept beside it.
package claim

import (
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/presence"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
	"jollytreaty/core/tree"
)

// Basis says where a claim's value comes from.
type Basis string

// The bases.
const (
	Set       Basis = "set"       // written in the repository
	Inherited Basis = "inherited" // from a base that a settings file extends
	Default   Basis = "default"   // the program's own
)

// Claim is what one program says about one rule for some files.
type Claim struct {
	Program *catalog.Entry
	Rule    *rule.Rule
	Role    rule.Role
	Value   rule.Value // none for a claim that leaves things as they are
	Set     rule.Set   // of an accepting claim
	Basis   Basis
	Where   Where
	Beaten  *Claim // the claim that won over this one, or nil

	Question *catalog.Question
	Way      *catalog.Way // how the value was read; nil for a default

	// Preset says that a base which the program knows by name says it.
	Preset bool

	// Machine says that the value is left to the machine on purpose, as by
	// "native"; there is none then.
	Machine bool

	// Level is how bad the program takes it to be where text departs, "error",
	// "warning" or "note", and LevelAt the place that says so; "" where that is
	// not known.
	Level   string
	LevelAt Where
}

// Where is the place a claim stands. The zero Where is no place.
type Where struct {
	File  *File
	Node  *document.Node
	Scope string // the section or pattern within the file, if any
}

// Settings is a part of a settings file that applies to a group.
type Settings struct {
	File    *File
	Section *document.Node // nil for what applies to the whole file
	Keys    *document.Node // the map of keys
}

// Path returns the settings file's path, or "".
func (w Where) Path() string {
	if w.File == nil {
		return ""
	}
	return w.File.Path
}

// Position returns the line and column, from 1, or zeros where there is no
// place.
func (w Where) Position() (line, column int) {
	if w.File == nil || w.Node == nil {
		return 0, 0
	}
	return w.File.Doc.Position(w.Node.KeyStart)
}

// Stance is the claim as one side of a comparison.
func (c *Claim) Stance() rule.Stance {
	return rule.Stance{Role: c.Role, Value: c.Value, Set: c.Set}
}

// Group is files that every program treats alike.
type Group struct {
	Type     *filetype.Type
	Files    int
	Examples []string // the first few, in path order
	Claims   []*Claim // in effect, in program order then rule order
	Beaten   []*Claim
	Excludes map[*catalog.Entry]Where // programs that leave these files out

	Idle map[*catalog.Entry]Where // programs whose settings switch their formatting off

	// Picked is the formatter an editor's settings name for the files, and
	// OnSave that the editor runs it when a file is saved.
	Picked map[*catalog.Entry]Pick

	Frictions []Friction

	// Actions are the programs that the editor runs besides.
	Actions map[*catalog.Entry]Pick

	named   bool // an editor's settings name a formatter, known here or not
	chain   *chain
	matched []bool
	signs   map[*catalog.Entry][]Seen
	opaque  map[*catalog.Entry]Seen       // where settings are given that are not read
	told    map[*catalog.Entry]*File      // what command lines set
	unknown []openAt                      // where code decides what a setting is
	applies map[*catalog.Place][]Settings // what Applying found, by place
}

// openAt is a place where code decides what a program is set to.
type openAt struct {
	program *catalog.Entry
	file    *File
	node    *document.Node
}

// Pick is a formatter named by an editor.
type Pick struct {
	Editor  *catalog.Entry
	Where   Where
	OnSave  bool
	OnPaste bool
	OnType  bool
}

// When says when the editor runs it: the first of on save, while typing and on paste,
// or by hand.
func (p Pick) When() sign.Moment {
	switch {
	case p.OnSave:
		return sign.Save
	case p.OnType:
		return sign.Type
	case p.OnPaste:
		return sign.Paste
	}
	return sign.Hand
}

// Seen is the pick as a sign of the formatter.
func (p Pick) Seen() Seen { return p.seen(sign.Editor) }

func (p Pick) seen(as sign.Kind) Seen {
	line, _ := p.Where.Position()
	return Seen{As: as, Path: p.Where.Path(), Line: line, Folder: p.Where.File.Folder, When: p.When(), Does: sign.Writes}
}

// Claim returns the effective claim of a program on a rule, or nil.
func (g *Group) Claim(program *catalog.Entry, ruleID string) *Claim {
	for _, c := range g.Claims {
		if c.Program == program && c.Rule.ID == ruleID {
			return c
		}
	}
	return nil
}

// Several reports whether the claim's program has others on its rule: runs of it set
// different things, or several of its own rules ask the same.
func (g *Group) Several(c *Claim) bool {
	return slices.ContainsFunc(g.Claims, func(o *Claim) bool { return o != c && o.Program == c.Program && o.Rule == c.Rule })
}

// Signed returns the programs that show for the group in some way, in id order.
func (g *Group) Signed() []*catalog.Entry {
	var out []*catalog.Entry
	for e, signs := range g.signs {
		if len(signs) > 0 {
			out = append(out, e)
		}
	}
	slices.SortFunc(out, func(a, b *catalog.Entry) int { return strings.Compare(a.ID, b.ID) })
	return out
}

// Reads reports whether the settings file speaks about the group's files.
func (g *Group) Reads(f *File) bool {
	for _, in := range g.chain.files {
		if in == f {
			return true
		}
	}
	return false
}

// UsesTabs reports whether the program indents the files with tabs, so that the
// size of an indent is only a matter of display.
func (g *Group) UsesTabs(program *catalog.Entry) bool {
	style := g.Claim(program, rule.IndentStyle)
	return style != nil && style.Value == rule.Word("tab")
}

// SavedAway reports whether the typing editor runs the writer on the very save
// that follows, so that nobody sees what it typed.
func (g *Group) SavedAway(typist, writer *catalog.Entry) bool {
	pick, ok := g.Picked[writer]
	return ok && pick.OnSave && pick.Editor == typist
}

// Seen is a sign that a program is in play.
type Seen = presence.Seen

// Picture is everything claimed in a repository.
type Picture struct {
	Tree    *tree.Tree
	Catalog *catalog.Catalog
	Files   []*File  // settings files, in path order
	Groups  []*Group // largest first
	GroupOf []int32  // for each file of the tree, its group
	Seen    map[*catalog.Entry][]Seen
	Broken  []Broken // files that could not be opened, or not be read in full
	Opaque  []Opaque
	Missing []Missing // bases that are not there
	Unread  []string  // files that look like settings of style, and that no program known here reads
	Lost    []Lost    // settings files where their program does not look

	Ecosystems []string // of the manifests that are there

	Mistyped []presence.Mistyped // options on command lines that their programs do not know

	// RunsEverything says that a CI step runs whatever program finds settings.
	RunsEverything bool

	Looked, Styled int // files in which settings about themselves were looked for, of how many

	styled    map[*catalog.Entry][]Seen   // command lines that give settings which are not read
	told      map[*presence.Told]*File    // those that are
	arguments map[argument]*presence.Told // what editors give their runs of programs
	elsewhere map[*catalog.Entry][]Seen   // builds that name a settings file
	starts    map[string]bool             // folders in which programs are started
	covering  map[*filetype.Type][]*catalog.Entry
}

// Opaque is a place where a program's settings are given by code or on a
// command line. They are not guessed at: the program claims nothing for the
// files.
type Opaque struct {
	Program *catalog.Entry
	Path    string
	Line    int // 0 for a whole file
	Column  int
	Files   int
	Text    string // the code that decides, as it is written; "" for a command line
}

// Lost is a settings file where its program does not look.
type Lost struct {
	Program *catalog.Entry
	Path    string
	Why     string
}

// Broken is a file that could not be read, or of which only a part was.
type Broken struct {
	Path         string
	Line, Column int    // 0 for the whole file
	Why          string // what is the matter, behind its name
}
