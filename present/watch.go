package present

import (
	"fmt"
	"strings"
)

// Change prints a line of watching: what is new, gone or open, with the time. On a
// terminal a long one goes on below, further in.
func Change(p *Page, at, event, severity, path, message, code, id string, open *int) error {
	text := Clean(message)
	switch event {
	case "start":
		event, text = "", "watching; "+count(*open, "finding", "findings")+" open"
	case "open":
		event, text = "", count(*open, "finding", "findings")+" open"
	case "trouble":
		event = ""
	default:
		if text = fmt.Sprintf("%s: %s (%s %s)", severity, text, code, id); path != "" {
			text = Clean(path) + ": " + text
		}
	}
	head := fmt.Sprintf("%s  %-4s  ", at, event)
	if p.Terminal {
		text = strings.Join(wrap(text, p.Width-len(head)), "\n"+strings.Repeat(" ", len(head)))
	}
	_, err := fmt.Fprintln(p.W, head+text)
	return err
}
