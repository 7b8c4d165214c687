package present

import (
	"fmt"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/conflict"
	"jollytreaty/core/settle"
)

// Check is what a check found.
type Check struct {
	Root      string
	Result    *audit.Result
	Threshold string              // "error", "warning", "note" or "never"
	Findings  []*conflict.Finding // all that count
	Failing   []*conflict.Finding // those at or above the threshold
	Known     []*conflict.Finding // those that do not count, as they were there before
	Plan      *settle.Plan        // the proposal, where it was made

	Quiet, Verbose bool
}

// CheckText prints what fails, a line each with its place where it is not read on a
// terminal, and then how the check ended and what to do next.
func CheckText(p *Page, c *Check) {
	if c.Verbose {
		fmt.Fprintf(p.W, "looked at %s, %s, %s\n", fileCount(len(c.Result.Picture.Tree.Files)), count(settingsFiles(c.Result), "settings file", "settings files"), count(len(c.Result.Programs), "program", "programs"))
		for _, code := range conflict.Codes() {
			n := 0
			for _, f := range c.Findings {
				if f.Code == code {
					n++
				}
			}
			if !c.looksFor(code) {
				fmt.Fprintf(p.W, "%s  not looked for in a check\n", pad(string(code), 20))
			} else if n == 0 {
				fmt.Fprintf(p.W, "%s  nothing found\n", pad(string(code), 20))
			} else {
				fmt.Fprintf(p.W, "%s  %d found, %s\n", pad(string(code), 20), n, code.Severity())
			}
		}
	}
	for _, f := range c.Failing {
		if p.Terminal { // to be read, and not to be parsed
			fmt.Fprintf(p.W, "%s  %s  %s\n", p.severity(f.Severity), p.bold(placeOf(f)), p.faint(string(f.Code)+" "+f.ID))
			indented(p, "  ", Clean(f.Message))
			continue
		}
		fmt.Fprintf(p.W, "%s: %s: %s (%s %s)\n", placeOf(f), f.Severity, Clean(f.Message), f.Code, f.ID)
	}
	if c.Quiet {
		return
	}
	rest := conflict.Count(c.Findings).All() - conflict.Count(c.Failing).All()
	switch {
	case len(c.Failing) > 0:
		fmt.Fprintf(p.W, "\n%s\n", p.bold(fmt.Sprintf("failed: %s at or above %s", count(conflict.Count(c.Failing).All(), "finding", "findings"), c.Threshold)))
	case c.Threshold == "never":
		fmt.Fprintln(p.W, p.bold("passed: nothing fails the check"))
	default:
		fmt.Fprintln(p.W, p.bold("passed: nothing at or above "+c.Threshold))
	}
	if rest > 0 {
		fmt.Fprintf(p.W, "%s below it\n", count(rest, "finding", "findings"))
	}
	if len(c.Known) > 0 {
		fmt.Fprintf(p.W, "%s known before\n", count(conflict.Count(c.Known).All(), "finding", "findings"))
	}
	if len(c.Failing) > 0 {
		fmt.Fprintf(p.W, "%s  the proposal for all of them; --write carries it out\n", p.bold("treaty settle"))
	}
}

// looksFor reports whether a check looks for findings of the code at all: not for
// what the code does, and for what merely restates a default.
func (c *Check) looksFor(code conflict.Code) bool {
	return code != conflict.DeadDefault && (!code.Is(conflict.Text) || c.Result.Evidence != nil)
}

// placeOf is where a finding's first side with a place stands.
func placeOf(f *conflict.Finding) string {
	if s := firstPlace(f); s != nil {
		return fmt.Sprintf("%s:%d:%d", Clean(s.Path), max(s.Line, 1), max(s.Column, 1))
	}
	if f.Type != nil {
		return f.Type.Name
	}
	return "repository"
}

func firstPlace(f *conflict.Finding) *conflict.Side {
	for i := range f.Sides {
		if f.Sides[i].Path != "" {
			return &f.Sides[i]
		}
	}
	return nil
}

// Places lists the places a finding is about, as path and line.
func Places(f *conflict.Finding) string {
	var out []string
	for _, s := range f.Sides {
		if s.Path != "" {
			out = append(out, fmt.Sprintf("%s:%d", s.Path, max(s.Line, 1)))
		}
	}
	return strings.Join(out, ", ")
}
