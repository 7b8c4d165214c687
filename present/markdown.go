package present

import (
	"fmt"
	"io"
	"strings"

	"jollytreaty/core/conflict"
)

// mostRows is how many findings a comment lists.
const mostRows = 20

// Markdown prints a check as a comment for a change under review: what fails,
// grouped, and the proposal as a diff.
func Markdown(w io.Writer, c *Check) error {
	var b strings.Builder
	list := c.Findings
	switch {
	case len(c.Failing) > 0:
		fmt.Fprintf(&b, "### Style settings: %s\n\n", counts(c.Findings))
	case len(list) > 0:
		fmt.Fprintf(&b, "### Style settings: nothing at or above %s\n\n%s.\n\n", c.Threshold, counts(list))
	default:
		b.WriteString("### Style settings agree\n\nNothing was found.\n")
	}
	if len(list) > 0 {
		b.WriteString("| | what | where |\n| --- | --- | --- |\n")
	}
	for i, t := range topics(list) {
		if i == mostRows {
			fmt.Fprintf(&b, "\nand %d more; see `treaty conflicts`\n", len(topics(list))-i)
			break
		}
		fmt.Fprintf(&b, "| %s | **%s**: %s | %s |\n", t.Severity, cell(t.heading(120)), cell(t.Message), places(t.Finding))
	}
	if len(c.Known) > 0 {
		fmt.Fprintf(&b, "\n%s known before.\n", count(conflict.Count(c.Known).All(), "finding", "findings"))
	}
	if c.Plan != nil && len(c.Plan.Edits) > 0 && len(list) > 0 {
		fmt.Fprintf(&b, "\n<details><summary>What <code>treaty settle</code> would change: %s</summary>\n\n", count(len(c.Plan.Edits), "file", "files"))
		var patch strings.Builder
		for _, e := range c.Plan.Edits {
			patch.WriteString(Patch(e))
		}
		fence := "```"
		for strings.Contains(patch.String(), fence) {
			fence += "`"
		}
		var shown strings.Builder
		fmt.Fprint(Safe(&shown, false), patch.String())
		text := strings.TrimRight(shown.String(), "\n")
		if lines := strings.Split(text, "\n"); len(lines) > 200 {
			text = strings.Join(lines[:200], "\n") + fmt.Sprintf("\n(%d more lines)", len(lines)-200)
		}
		fmt.Fprintf(&b, "%sdiff\n%s\n%s\n\n</details>\n", fence, text, fence)
	}
	_, err := io.WriteString(w, b.String())
	return err
}

// cell is a text within a table, in which nothing is markup, names nobody and links
// nowhere.
func cell(text string) string {
	return markup.Replace(Clean(text))
}

// markup is what Markdown, and those who show it, would make something of. Behind a
// sign that would name a person or an issue stands a blank of no width.
var markup = strings.NewReplacer("\\", "\\\\", "|", "\\|", "&", "&amp;", "<", "&lt;", ">", "&gt;", "*", "\\*", "_", "\\_", "`", "\\`", "[", "\\[", "]", "\\]",
	"~", "\\~", "$", "\\$", "!", "\\!", "://", "\\://", "www.", "www\\.", "@", "@\u200b", "#", "#\u200b")

// places lists where the sides of a finding stand, each as code.
func places(f *conflict.Finding) string {
	var out []string
	for _, s := range f.Sides {
		if s.Path != "" {
			out = append(out, code(fmt.Sprintf("%s:%d", s.Path, max(s.Line, 1))))
		}
	}
	return strings.Join(out, "<br>")
}

// code is a text within a table as code. Of what that cannot hold, something like it
// is shown.
func code(text string) string {
	return "`" + strings.NewReplacer("`", "'", "|", "\\|").Replace(Clean(text)) + "`"
}
