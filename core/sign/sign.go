// Package sign is the words for how it shows that a program is in play: by what kind of
// sign, at which moment it runs, and what it does then. What is known of each word
// stands in one table; whatever decides or tells by signs reads it there.
package sign

import (
	"fmt"
	"slices"
)

// Kind is a kind of sign that a program is in play.
type Kind uint8

// The kinds. The zero Kind is none.
const (
	_           Kind = iota
	Treaty           // an article of the treaty names it
	Editor           // the editor's settings name it
	Hook             // a commit hook runs it
	CI               // a step of continuous integration runs it
	Settings         // a settings file of its own
	Inside           // settings in the files themselves
	Dependency       // a manifest declares it
	Script           // a script or task runs it
	Recommended      // the editor is told that it is of use
	Toolchain        // it comes with the language
	BuiltIn          // an editor that formats on save brings it
	Installed        // it is on this machine
	Personal         // the person's settings, outside of the repository
	Mentioned        // the files that build the project name it
	Told             // the project's documents name it
	Lock             // a lockfile has it, come along with something that was declared
)

// fact is what is known of a kind.
type fact struct {
	kind Kind
	name string // in the catalog's data
	as   string // in results that programs read, where several kinds are one

	// strength ranks kinds: of two signs the stronger says who the files belong to.
	strength int

	// weak says that it shows only that the program is at hand, not that anybody here
	// chose it.
	weak bool

	// brings says that it brings the program to whoever works here: it is declared or
	// run, and not merely configured.
	brings bool

	label  string // in a list of signs
	reason string // why the program counts, in a few words
}

const common = "comes with the language's toolchain"

var kinds = []fact{
	{kind: Treaty, name: "treaty", strength: 6, brings: true, label: "treaty", reason: "named by the treaty"},
	{kind: Editor, name: "editor", strength: 5, label: "editor", reason: "named by the editor's settings"},
	{kind: Hook, name: "hook", strength: 4, brings: true, label: "hook", reason: "run by the commit hook"},
	{kind: CI, name: "ci", strength: 4, brings: true, label: "CI", reason: "run in CI"},
	{kind: Settings, name: "settings", strength: 3, label: "settings", reason: "has settings of its own"},
	{kind: Inside, name: "inside", as: "settings", strength: 3, label: "in files", reason: "has settings of its own"},
	{kind: Dependency, name: "dependency", strength: 2, brings: true, label: "declared", reason: "declared as a dependency"},
	{kind: Script, name: "script", strength: 2, brings: true, label: "script", reason: "run by a script"},
	{kind: Recommended, name: "recommended", as: "editor", strength: 1, weak: true, label: "recommended", reason: "recommended to the editor"},
	{kind: Toolchain, name: "toolchain", strength: 1, weak: true, brings: true, label: "toolchain", reason: common},
	{kind: BuiltIn, name: "built-in", as: "editor", strength: 1, weak: true, brings: true, label: "built in", reason: "built into the editor, which formats on save"},
	{kind: Installed, name: "installed", strength: 1, weak: true, brings: true, label: "installed", reason: "installed here"},
	{kind: Personal, name: "personal", strength: 1, weak: true, label: "personal", reason: common},
	{kind: Mentioned, name: "mentioned", as: "script", strength: 1, weak: true, brings: true, label: "mentioned", reason: common},
	{kind: Told, name: "told", as: "script", strength: 1, weak: true, label: "told of", reason: common},
	{kind: Lock, name: "lock", weak: true, brings: true, label: "locked", reason: "come along with something else"},
}

// Kinds returns every kind, strongest first.
func Kinds() []Kind {
	var out []Kind
	for _, f := range kinds {
		out = append(out, f.kind)
	}
	return out
}

func (k Kind) fact() *fact { return &kinds[k-1] }

// String is the name of the kind in the catalog's data.
func (k Kind) String() string { return k.fact().name }

// As is the name of the kind in results that programs read, where what is recommended
// to the editor, say, counts as the editor's.
func (k Kind) As() string {
	if as := k.fact().as; as != "" {
		return as
	}
	return k.fact().name
}

// Strength ranks kinds; a stronger one has the higher rank.
func (k Kind) Strength() int { return k.fact().strength }

// Weak reports whether it shows only that the program is at hand, not that anybody
// here chose it.
func (k Kind) Weak() bool { return k.fact().weak }

// Brings reports whether it brings the program to whoever works here.
func (k Kind) Brings() bool { return k.fact().brings }

// Label names the kind in a list of signs.
func (k Kind) Label() string { return k.fact().label }

// Reason says in a few words why a program with such a sign counts.
func (k Kind) Reason() string { return k.fact().reason }

// UnmarshalText reads the name of a kind.
func (k *Kind) UnmarshalText(text []byte) error {
	i := slices.IndexFunc(kinds, func(f fact) bool { return f.name == string(text) })
	if i < 0 {
		return fmt.Errorf("%q is no kind of sign", text)
	}
	*k = kinds[i].kind
	return nil
}

// Moment is when something runs.
type Moment uint8

// The moments. The zero Moment is Never: nothing is run.
const (
	Never Moment = iota
	Type
	Paste
	Save
	Commit
	Push
	InCI
	Hand
)

var moments = []struct{ name, words string }{
	Never: {"", ""}, Type: {"type", "while typing"}, Paste: {"paste", "on paste"}, Save: {"save", "on save"},
	Commit: {"commit", "on commit"}, Push: {"push", "on push"}, InCI: {"ci", "in CI"}, Hand: {"hand", "by hand"},
}

// String is the name of the moment in the catalog's data and in results; "" for never.
func (m Moment) String() string { return moments[m].name }

// Words says when that is; "" for never.
func (m Moment) Words() string { return moments[m].words }

// Gate reports whether what runs then stands between a change and the others.
func (m Moment) Gate() bool { return m == Commit || m == Push || m == InCI }

// UnmarshalText reads the name of a moment.
func (m *Moment) UnmarshalText(text []byte) error {
	for i, known := range moments {
		if known.name == string(text) && i > 0 {
			*m = Moment(i)
			return nil
		}
	}
	return fmt.Errorf("%q is no moment", text)
}

// Deed is what a program does when it runs.
type Deed uint8

// The deeds. The zero Deed is Unsaid: what it does is not known.
const (
	Unsaid Deed = iota
	Writes      // it rewrites files
	Checks      // it rejects files that it would rewrite, or of which it has complaints
	Lints       // it complains of other things than it would rewrite
	Prints      // it prints what it would write, and changes nothing
)

var deeds = []string{Unsaid: "", Writes: "writes", Checks: "checks", Lints: "lints", Prints: "prints"}

// String is the name of the deed in the catalog's data, in results and in sentences.
func (d Deed) String() string { return deeds[d] }

// UnmarshalText reads the name of a deed.
func (d *Deed) UnmarshalText(text []byte) error {
	i := slices.Index(deeds, string(text))
	if i <= 0 {
		return fmt.Errorf("%q is no deed; it is writes, checks, lints or prints", text)
	}
	*d = Deed(i)
	return nil
}
