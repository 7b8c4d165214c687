// Package presence finds which programs are in play in a repository, and how
// that shows: in dependency manifests and lockfiles, in commit hooks, CI steps
// and scripts.
//
// What these files look like is data of the catalog. Command lines are split as
// a shell splits words, and wrappers and package runners are seen through.
// Nothing is run.
package presence

import (
	"slices"
	"strings"
)

// Seen is a sign that a program is in play.
type Seen struct {
	As string // "settings", "inside" (settings in the files themselves), "dependency", "lock", "hook", "ci", "script", "editor", "recommended", "toolchain", "installed", "personal" (settings outside of the repository),
	// "mentioned" (where a project is built), "told" (in its documents)
	Path   string
	Line   int
	Folder string // the part of the tree it concerns

	Version string // as it is written; "" where none is
	Foreign bool   // the version is that of something that wraps the program
	When    string // "save", "paste", "type", "commit", "push", "ci", "hand"; "" for a sign that runs nothing
	Does    string // "writes", "checks", or "" where that is not known
	Files   string // what a command line names, separated by blanks
	Only    *Only  // the files in its folder that it is about; nil for all
	Told    *Told  // what its command line sets; nil for nothing
	Build   bool   // declared where the build itself may run it
	Through string // the name of a program that runs it

	// Turn names commands that run one after another, on the same files; Order
	// is the place of this one among them.
	Turn  string
	Order int
}

// Told is what a command line sets, by the program's own keys.
type Told struct {
	Text string // keys and values in name order; the same for the same settings
	Keys map[string]string
}

// told gathers settings; it is nil where there are none.
func told(keys map[string]string) *Told {
	if len(keys) == 0 {
		return nil
	}
	var words []string
	for key, value := range keys {
		words = append(words, key+"="+value)
	}
	slices.Sort(words)
	return &Told{strings.Join(words, " "), keys}
}

// Weak reports whether the sign shows only that the program is at hand, not
// that anybody here chose it.
func (s Seen) Weak() bool {
	return s.As == "toolchain" || s.As == "recommended" || s.As == "installed" || s.As == "personal" || s.As == "mentioned" || s.As == "told"
}

// Kind is As in the words of the JSON result, where what is recommended to the
// editor counts as the editor's.
func (s Seen) Kind() string {
	switch s.As {
	case "recommended":
		return "editor"
	case "inside":
		return "settings"
	case "mentioned", "told":
		return "script"
	}
	return s.As
}

// Brings reports whether the sign brings the program to whoever works here: it
// is declared or run, and not merely configured.
func (s Seen) Brings() bool {
	return !slices.Contains([]string{"settings", "inside", "editor", "recommended", "told", "personal"}, s.As)
}

// Strength ranks the kinds of sign; a stronger one has the higher rank.
func (s Seen) Strength() int {
	switch s.As {
	case "editor":
		return 5
	case "hook", "ci":
		return 4
	case "settings", "inside":
		return 3
	case "dependency", "lock", "script":
		return 2
	}
	return 1
}
