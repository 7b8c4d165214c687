package catalog

import (
	"slices"
	"strings"

	"jollytreaty/core/document"
)

// Recipe is what people add to a file that keeps hooks or CI steps, to have our
// check run there.
type Recipe struct {
	Files []string `toml:"files"` // where such files lie
	Keeps string   `toml:"keeps"` // "hooks" or "CI steps"
	Under []string `toml:"under"` // the keys beneath which it goes; none is the whole file
	Shell bool     `toml:"shell"` // the file is a shell script, and else YAML

	// Start is the key under which a file says what starts it, and Events are what
	// the check may be started by, best first. No Events are any.
	Start  string   `toml:"start"`
	Events []string `toml:"events"`

	Text string `toml:"text"` // from the margin
}

// Lines returns what a person adds, with the keys beneath which it goes.
func (r *Recipe) Lines() string {
	lines, indent := "", ""
	for _, key := range r.Under {
		lines += indent + key + ":\n"
		indent += "  "
	}
	for line := range strings.Lines(r.Text) {
		lines += indent + line
	}
	return lines
}

// Fit says how well a file suits the recipe: 0 is best, and negative not at all, as
// none of the events starts it.
func (r *Recipe) Fit(file string, text []byte) int {
	if len(r.Events) == 0 {
		return 0
	}
	d, err := document.Parse(document.YAML, file, text)
	if err != nil {
		return -1
	}
	start := d.Root.Get(r.Start)
	if start == nil {
		return -1
	}
	return slices.IndexFunc(r.Events, func(event string) bool {
		return start.Text() == event || start.Get(event) != nil ||
			slices.ContainsFunc(start.Items, func(n *document.Node) bool { return start.Kind == document.List && n.Text() == event })
	})
}

// Added returns the text of a file with the lines in it, or why there is no place
// for them.
func (r *Recipe) Added(file string, text []byte) ([]byte, error) {
	if r.Shell {
		return []byte(behind(string(text), r.Text)), nil
	}
	d, err := document.Parse(document.YAML, file, text)
	if err != nil {
		return nil, err
	}
	edit, err := d.AddPart(r.Under, r.Text)
	if err != nil {
		return nil, err
	}
	after, err := d.Apply([]document.Edit{edit})
	if err != nil {
		return nil, err
	}
	_, err = document.Parse(document.YAML, file, after)
	return after, err
}

// behind puts lines at the end of a shell script, but before a last command that
// leaves it.
func behind(script, lines string) string {
	if script != "" && !strings.HasSuffix(script, "\n") {
		script += "\n"
	}
	body := strings.TrimRight(script, " \t\r\n")
	last := strings.LastIndexByte(body, '\n') + 1
	if word, _, _ := strings.Cut(body[last:], " "); word == "exit" || word == "exec" {
		return script[:last] + lines + script[last:]
	}
	return script + lines
}
