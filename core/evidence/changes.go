package evidence

import "jollytreaty/core/rule"

// Changes returns how many lines of a file of the set would change for the rule to
// have the value, as far as that was counted, and whether it was.
func (s Set) Changes(f *Facts, ruleID string, v rule.Value) (lines int, counted bool) {
	if fits, told := f.Fits(ruleID, v); !told || fits {
		return 0, told
	}
	switch ruleID {
	case "max_line_length":
		for i, n := range s.limits {
			if n == v.Int() {
				return int(f.over[i]), true
			}
		}
		return 0, false
	case rule.IndentStyle, rule.IndentSize:
		return int(f.tabs + f.spaces), true
	case rule.EndOfLine:
		counts := map[string]uint32{"lf": f.lf, "crlf": f.crlf, "cr": f.cr}
		return int(f.lf + f.crlf + f.cr - counts[v.String()]), true
	case "insert_final_newline":
		return 1, true
	case "trim_trailing_whitespace":
		return int(f.trailing), true
	case "quotes":
		if v == rule.Word("single") {
			return int(f.double), true
		}
		return int(f.single), true
	case "statement_terminator":
		if v == rule.Word("always") {
			return int(f.open), true
		}
		return int(f.closed), true
	case "trailing_comma":
		if v == rule.Word("never") {
			return int(f.comma), true
		}
		return int(f.noComma), true
	case "argument_comma":
		if v == rule.Word("never") {
			return int(f.argComma), true
		}
		return int(f.noArgComma), true
	case "brace_placement":
		if v == rule.Word("same_line") {
			return int(f.nextLine), true
		}
		return int(f.sameLine), true
	case "bracket_spacing":
		if v == rule.Word("spaced") {
			return int(f.tight), true
		}
		return int(f.spaced), true
	}
	return 0, false
}
