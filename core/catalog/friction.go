package catalog

import "fmt"

// Friction is what programs find wrong with the output of others, where no rule stands
// behind it. It was found by running both: see friction.toml.
type Friction struct {
	Writers  []string `toml:"writers"`  // ids of formatters
	Linter   string   `toml:"linter"`   // the id of a program that complains of their output
	Sorter   string   `toml:"sorter"`   // or of one that rewrites it
	What     string   `toml:"what"`     // what the two do differently
	Measured string   `toml:"measured"` // with which versions, on how many files

	// Fails are the checks that complain, with the words of their options with which
	// they do: "" for none, "*" for any. At is where the option of a check stands below
	// its key, where that is not where the linter usually has them.
	Fails map[string][]string `toml:"fails"`
	At    map[string]string   `toml:"at"`

	// Since are the versions from which on a writer's output fails a check, by the id of the
	// writer and the name of the check.
	Since map[string]map[string]string `toml:"since"`

	// Given are conditions on the writer, all of which have to hold; Unless others on
	// the linter or sorter, of which all of one list end it.
	Given  []Condition   `toml:"given"`
	Unless [][]Condition `toml:"unless"`
}

// Condition is that a key of a program's settings has one of some values, "" for unset,
// or that the program claims one of them for a rule.
type Condition struct {
	Key  string   `toml:"key"`
	Rule string   `toml:"rule"`
	Is   []string `toml:"is"`
}

// Checks says how the checks of a linter that answer no rule are switched.
type Checks struct {
	// On is their switch, with "{}" for the name of the check; Option the key of their
	// option.
	On     *Switch `toml:"on"`
	Option string  `toml:"option"`

	// Off are checks that are off unless something switches them on, or one of the keys
	// Lifted is set.
	Off    []string `toml:"off"`
	Lifted []string `toml:"lifted"`
}

func readFriction() ([]*Friction, error) {
	text, err := files.ReadFile("friction.toml")
	if err != nil {
		return nil, err
	}
	var all struct {
		Friction []*Friction `toml:"friction"`
	}
	if err := strict(text, &all); err != nil {
		return nil, fmt.Errorf("friction.toml: %w", err)
	}
	for _, f := range all.Friction {
		if len(f.Writers) == 0 || (f.Linter == "") == (f.Sorter == "") || f.Linter != "" && len(f.Fails) == 0 || f.Measured == "" {
			return nil, fmt.Errorf("friction.toml: friction of %v needs a linter with what fails, or a sorter, and how it was measured", f.Writers)
		}
	}
	return all.Friction, nil
}
