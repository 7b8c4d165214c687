package present

import "fmt"

// Change is a line of watching: what is new, gone or open, with the time.
func Change(at, event, severity, path, message, code, id string, open *int) string {
	switch event {
	case "start":
		return fmt.Sprintf("%s  watching; %s open", at, count(*open, "finding", "findings"))
	case "open":
		return fmt.Sprintf("%s  %s open", at, count(*open, "finding", "findings"))
	case "trouble":
		return fmt.Sprintf("%s  %s", at, clean(message))
	}
	place := ""
	if path != "" {
		place = clean(path) + ": "
	}
	return fmt.Sprintf("%s  %-4s  %s%s: %s (%s %s)", at, event, place, severity, clean(message), code, id)
}
