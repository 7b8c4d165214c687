package rule

// Role says what a program does with a value.
type Role string

// The roles.
const (
	Writes  Role = "writes"  // rewrites text to have the value
	Accepts Role = "accepts" // rejects text outside a set of values
	Types   Role = "types"   // inserts it as the person types
	Shows   Role = "shows"   // only displays it
	Leaves  Role = "leaves"  // keeps whatever is there
)

// Stance is one side of a comparison: a role with its value, or, for Accepts,
// its set.
type Stance struct {
	Role  Role
	Value Value
	Set   Set
}

// Verdict is what comes of two stances on one rule.
type Verdict uint8

// The verdicts. All but Together say what is the matter.
const (
	Together   Verdict = iota // one text satisfies both
	Writers                   // each rewrites what the other wrote
	Rejected                  // one rejects what the other writes
	Impossible                // no text satisfies both
	Typing                    // what is typed is rewritten or rejected later
)

// Compare tells whether two stances can live together. The order of the two
// does not matter.
func Compare(a, b Stance) Verdict {
	if rank(a.Role) > rank(b.Role) {
		a, b = b, a
	}
	switch {
	case b.Role == Shows || b.Role == Leaves:
		return Together
	case a.Role == Writes && b.Role == Writes:
		return unless(a.Value == b.Value, Writers)
	case a.Role == Writes && b.Role == Accepts:
		return unless(b.Set.Has(a.Value), Rejected)
	case a.Role == Accepts && b.Role == Accepts:
		return unless(a.Set.Overlaps(b.Set), Impossible)
	case a.Role == Accepts: // b types
		return unless(a.Set.Has(b.Value), Typing)
	}
	return unless(a.Value == b.Value, Typing) // a writes or types, b types
}

func unless(ok bool, v Verdict) Verdict {
	if ok {
		return Together
	}
	return v
}

func rank(r Role) int {
	switch r {
	case Writes:
		return 0
	case Accepts:
		return 1
	case Types:
		return 2
	}
	return 3
}
