package conflict

// Counted is how many causes there are, by severity; what is waived counts apart.
type Counted struct{ Errors, Warnings, Notes, Waived int }

// Count counts the causes of findings: one wrong line is one, however many types and files
// it touches. Every view counts so.
func Count(findings []*Finding) Counted {
	var n Counted
	type cause struct {
		id     string
		waived bool
	}
	had := map[cause]bool{}
	for _, f := range findings {
		c := cause{f.Cause, f.Waived != nil}
		if had[c] {
			continue
		}
		had[c] = true
		switch {
		case c.waived:
			n.Waived++
		case f.Severity == Error:
			n.Errors++
		case f.Severity == Warning:
			n.Warnings++
		default:
			n.Notes++
		}
	}
	return n
}

// All is how many causes are not waived.
func (c Counted) All() int { return c.Errors + c.Warnings + c.Notes }
