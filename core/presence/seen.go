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

	"jollytreaty/core/catalog"
	"jollytreaty/core/sign"
)

// Seen is a sign that a program is in play.
type Seen struct {
	As     sign.Kind
	Path   string
	Line   int
	Folder string // the part of the tree it concerns

	Version string      // as it is written; "" where none is
	Foreign bool        // the version is that of something that wraps the program
	When    sign.Moment // sign.Never for a sign that runs nothing
	Started string      // the folder in which it is started, of one that runs something
	Does    sign.Deed
	Files   string // what a command line names, separated by blanks
	Only    *Only  // the files in its folder that it is about; nil for all
	Told    *Told  // what its command line sets; nil for nothing
	Build   bool   // declared where the build itself may run it
	Through string // the name of a program that runs it
	by      string // the command that runs it, where something has to call that

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

// ToldBy returns what arguments of a program set, nil for nothing.
func ToldBy(e *catalog.Entry, args []string) *Told {
	keys := map[string]string{}
	for i := 0; i < len(args); i++ {
		option, value, joined := strings.Cut(args[i], "=")
		name, on := optionOf(e, option)
		if name == "" {
			continue
		}
		key, fixed, isFixed := strings.Cut(e.Options[name], "=")
		switch {
		case isFixed && !joined:
			value = fixed
		case on != "":
			value = on
		case !joined && i+1 < len(args):
			i++
			value = args[i]
		}
		set(keys, key, value)
	}
	return told(keys)
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
