package evidence

import (
	"strconv"

	"jollytreaty/core/rule"
)

// Facts is what one file does: how many places in it speak for each value.
type Facts struct {
	Lines                int // that have code
	skipped              reason
	empty                bool
	tabs, spaces         uint32 // lines indented with either
	size, tabWidth       uint8  // columns of a level and of a tab, 0 where it does not show
	lf, crlf, cr         uint32
	ends                 uint8 // with a line break: 1 no, 2 yes
	trailing             uint32
	charset              charset
	blankRun             uint16
	longest, comment     uint32 // columns of the longest line of code and of comment
	over                 [maxLimits]uint16
	single, double       uint32
	closed, open         uint32 // statements with and without a terminator
	comma, noComma       uint32
	argComma, noArgComma uint32
	sameLine, nextLine   uint32
	spaced, tight        uint32
	imports              importOrder
	header               uint64 // a hash of the header's words, 0 without one
}

type reason uint8

const (
	measured reason = iota
	tooLarge
	binaryFile
	generated
	unreadable
)

type charset uint8

const (
	plain charset = iota // ASCII, which is UTF-8 as well
	utf8Text
	utf8BOM
	utf16BE
	utf16LE
	otherText
)

type importOrder uint8

const (
	noImports importOrder = iota
	sortedImports
	groupedImports
	unsortedImports
)

// Answer is what a file says about a rule.
type Answer uint8

// The answers.
const (
	Silent  Answer = iota // it has nothing that tells
	Told                  // it has one value
	Mixed                 // it has several
	Neither               // it has none of the rule's values
)

// majority is the share of places, in percent, from which on a file counts as
// having a value.
const majority = 80

// ofTwo is the answer where places speak for one of two values.
func ofTwo(a, b uint32, va, vb string) (rule.Value, Answer) {
	switch total := a + b; {
	case total == 0:
		return rule.Value{}, Silent
	case a*100 >= total*majority:
		return rule.Word(va), Told
	case b*100 >= total*majority:
		return rule.Word(vb), Told
	}
	return rule.Value{}, Mixed
}

// Value returns what the file says about a rule. For a line length that is the
// longest line; for blank lines the longest run of them.
func (f *Facts) Value(ruleID string) (rule.Value, Answer) {
	switch ruleID {
	case rule.IndentStyle:
		return ofTwo(f.tabs, f.spaces, "tab", "space")
	case rule.IndentSize:
		if _, a := f.Value(rule.IndentStyle); f.size > 0 && a == Told {
			return rule.Number(int(f.size)), Told
		}
	case rule.TabWidth:
		if f.tabWidth > 0 {
			return rule.Number(int(f.tabWidth)), Told
		}
	case rule.EndOfLine:
		switch {
		case f.lf+f.crlf+f.cr == 0:
		case f.crlf+f.cr == 0:
			return rule.Word("lf"), Told
		case f.lf+f.cr == 0:
			return rule.Word("crlf"), Told
		case f.lf+f.crlf == 0:
			return rule.Word("cr"), Told
		default:
			return rule.Value{}, Mixed
		}
	case "insert_final_newline":
		if f.ends > 0 {
			return rule.Word(strconv.FormatBool(f.ends == 2)), Told
		}
	case "trim_trailing_whitespace":
		if !f.empty {
			return rule.Word(strconv.FormatBool(f.trailing == 0)), Told
		}
	case "charset":
		switch f.charset {
		case utf8Text:
			return rule.Word("utf-8"), Told
		case utf8BOM:
			return rule.Word("utf-8-bom"), Told
		case utf16BE:
			return rule.Word("utf-16be"), Told
		case utf16LE:
			return rule.Word("utf-16le"), Told
		case otherText:
			return rule.Value{}, Neither
		case plain:
			if !f.empty {
				return rule.Word("utf-8"), Told // and whatever else contains ASCII
			}
		}
	case "max_line_length":
		if f.longest > 0 {
			return rule.Number(int(f.longest)), Told
		}
	case "comment_line_length":
		if f.comment > 0 {
			return rule.Number(int(f.comment)), Told
		}
	case "blank_lines":
		if f.blankRun > 0 {
			return rule.Number(int(f.blankRun)), Told
		}
	case "quotes":
		return ofTwo(f.single, f.double, "single", "double")
	case "statement_terminator":
		return ofTwo(f.closed, f.open, "always", "needed")
	case "trailing_comma":
		return ofTwo(f.comma, f.noComma, "multiline", "never")
	case "argument_comma":
		return ofTwo(f.argComma, f.noArgComma, "multiline", "never")
	case "brace_placement":
		return ofTwo(f.sameLine, f.nextLine, "same_line", "next_line")
	case "bracket_spacing":
		return ofTwo(f.spaced, f.tight, "spaced", "tight")
	case rule.ImportOrder:
		switch f.imports {
		case sortedImports:
			return rule.Word("sorted"), Told
		case groupedImports:
			return rule.Word("grouped"), Told
		case unsortedImports:
			return rule.Value{}, Neither
		}
	}
	return rule.Value{}, Silent
}

// Fits reports whether the file already is as the value asks, where it tells:
// a limit is kept by whatever stays below it.
func (f *Facts) Fits(ruleID string, v rule.Value) (fits, told bool) {
	has, answer := f.Value(ruleID)
	switch {
	case answer == Silent:
		return false, false
	case isLimit(ruleID):
		return v == rule.Unlimited || has.Int() <= v.Int(), true
	case ruleID == "charset" && f.charset == plain:
		return v == rule.Word("utf-8") || v == rule.Word("latin1"), true
	case ruleID == rule.ImportOrder:
		// blocks of which each is sorted are sorted; one block is one group
		return answer == Told, true
	case v == rule.Word("always") && ruleID == "trailing_comma":
		v = rule.Word("multiline")
	case ruleID == "insert_final_newline" && v == rule.Word("false"), ruleID == "trim_trailing_whitespace" && v == rule.Word("false"):
		return true, true // nobody takes a line break or adds blanks
	case ruleID == rule.IndentSize && has == rule.Word("tab"):
		return false, false
	}
	return answer == Told && has == v, true
}

// Measures reports whether a file can say anything about the rule.
func Measures(ruleID string) bool {
	switch ruleID {
	case "quote_escapes", "file_header", "type_names", "function_names", "variable_names", "language_version", "dialect":
		return false
	}
	return true
}

// isLimit reports whether a rule's values are upper limits.
func isLimit(ruleID string) bool {
	return ruleID == "max_line_length" || ruleID == "comment_line_length" || ruleID == "blank_lines"
}

// Header is a hash of the words of the comment that the file begins with, 0
// without one.
func (f *Facts) Header() uint64 { return f.header }
