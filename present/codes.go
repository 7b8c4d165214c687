package present

import (
	"fmt"
	"io"
	"strings"

	"jollytreaty/core/conflict"
)

// remedy says what a plan can do about findings with a code, and what a person has to.
func remedy(m *conflict.Meaning) string {
	switch {
	case m.ByHand != "":
		return "By hand: " + m.ByHand + "."
	case m.Open != "":
		return "Where a plan leaves it: " + m.Open + "."
	case m.Proved:
		return "A plan settles it where it decides, and no plan brings one up."
	}
	return ""
}

// CodesText prints what is known of every code, in the order in which people should
// see to findings.
func CodesText(p *Page) {
	fmt.Fprintf(p.W, "Every finding has a code; the part before the slash is its kind. Kinds and codes\nstand in the order in which people should see to them.\n")
	for _, m := range conflict.Table() {
		fmt.Fprintf(p.W, "\n%s  %s\n", p.bold(pad(string(m.Code), 20)), p.severity(m.Severity))
		for _, sentence := range []string{m.Help, "Gone with: " + m.Settled, remedy(&m)} {
			for _, line := range wrap(sentence, p.Width-4) {
				if line != "" {
					fmt.Fprintf(p.W, "    %s\n", line)
				}
			}
		}
	}
	fmt.Fprintf(p.W, "\n%s  the findings of a code or a kind here\n", p.bold("treaty conflicts --code CODE"))
}

// Reference writes the reference as Markdown.
func Reference(w io.Writer) {
	fmt.Fprint(w, "# Reference\n\nMade from the program's own tables: `go test ./present -run Reference -update` writes it again.\n\n"+
		"## Codes of findings\n\nThe part before the slash is the kind. They stand in the order in which people should see to\n"+
		"them. `treaty help codes` prints the same.\n\n| code | severity | found when | gone with | what a plan does |\n| --- | --- | --- | --- | --- |\n")
	for _, m := range conflict.Table() {
		fmt.Fprintf(w, "| `%s` | %s | %s | %s | %s |\n", m.Code, m.Severity, m.Help, m.Settled, strings.TrimSpace(remedy(&m)))
	}
}
