// Package presence finds which programs are in play in a repository, and how
// that shows: in dependency manifests and lockfiles, in commit hooks, CI steps
// and scripts.
//
// What these files look like is data of the catalog. Command lines are split as
// a shell splits words, and wrappers and package runners are seen through.
// Nothing is run.
package presence

import "slices"

// Seen is a sign that a program is in play.
type Seen struct {
	As string // "settings", "inside" (settings in the files themselves), "dependency", "lock", "hook", "ci", "script", "editor", "recommended", "toolchain", "installed",
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
}

// Weak reports whether the sign shows only that the program is at hand, not
// that anybody here chose it.
func (s Seen) Weak() bool {
	return s.As == "toolchain" || s.As == "recommended" || s.As == "installed" || s.As == "mentioned" || s.As == "told"
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
	return !slices.Contains([]string{"settings", "inside", "editor", "recommended", "told"}, s.As)
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
