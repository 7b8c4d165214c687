package presence

import "strings"

// command is one simple command of a shell text.
type command struct {
	words []string
	line  int // from 0, within the text
}

// split takes a shell text apart into simple commands, in the order in which
// they stand; those within substitutions are commands of their own. Texts in
// quotes are one word, without the quotes. It never fails: a quote that does
// not end ends with the text.
func split(text string) []command {
	s := &shellSplitter{text: text}
	s.run("")
	return s.found
}

type shellSplitter struct {
	text  string
	pos   int
	line  int
	depth int
	found []command
}

// maxNesting bounds substitutions within substitutions.
const maxNesting = 20

// run reads commands up to the closing sign or the end.
func (s *shellSplitter) run(closing string) {
	var words []string
	var word strings.Builder
	inWord := false
	start := s.line
	endWord := func() {
		if inWord {
			if len(words) == 0 {
				start = s.line
			}
			words = append(words, word.String())
		}
		word.Reset()
		inWord = false
	}
	endCommand := func() {
		endWord()
		if len(words) > 0 {
			s.found = append(s.found, command{words, start})
		}
		words = nil
	}
	for s.pos < len(s.text) {
		c := s.text[s.pos]
		rest := s.text[s.pos:]
		switch {
		case closing != "" && strings.HasPrefix(rest, closing):
			endCommand()
			s.pos += len(closing)
			return
		case c == '\\' && len(rest) > 1:
			if rest[1] == '\n' {
				s.line++
			} else if strings.HasPrefix(rest[1:], "\r\n") {
				s.line++
				s.pos++
			} else {
				word.WriteByte(rest[1])
				inWord = true
			}
			s.pos += 2
		case c == '\n':
			endCommand()
			s.line++
			s.pos++
		case c == ' ' || c == '\t' || c == '\r':
			endWord()
			s.pos++
		case c == ';' || c == '|' || c == '&' || c == '(' || c == ')':
			if c == '&' && (inWord && strings.HasSuffix(word.String(), ">") || strings.HasPrefix(rest, "&>")) { // 2>&1
				word.WriteByte(c)
				s.pos++
				break
			}
			endCommand()
			s.pos++
		case c == '#' && !inWord:
			if i := strings.IndexByte(rest, '\n'); i >= 0 {
				s.pos += i
			} else {
				s.pos = len(s.text)
			}
		case c == '\'':
			inWord = true
			s.pos++
			s.quoted(&word, '\'')
		case c == '"':
			inWord = true
			s.pos++
			s.quoted(&word, '"')
		case strings.HasPrefix(rest, "$(") && !strings.HasPrefix(rest, "$(("):
			inWord = true
			s.nested("$(", ")", &word)
		case c == '`' && closing != "`":
			inWord = true
			s.nested("`", "`", &word)
		default:
			word.WriteByte(c)
			inWord = true
			s.pos++
		}
	}
	endCommand()
}

// quoted reads up to the closing quote; in double quotes substitutions are
// commands.
func (s *shellSplitter) quoted(word *strings.Builder, quote byte) {
	for s.pos < len(s.text) {
		c := s.text[s.pos]
		switch {
		case c == quote:
			s.pos++
			return
		case c == '\\' && quote == '"' && s.pos+1 < len(s.text) && strings.IndexByte("\"\\$`\n", s.text[s.pos+1]) >= 0:
			word.WriteByte(s.text[s.pos+1])
			s.pos += 2
			continue
		case quote == '"' && strings.HasPrefix(s.text[s.pos:], "$("):
			s.nested("$(", ")", word)
			continue
		case c == '\n':
			s.line++
		}
		word.WriteByte(c)
		s.pos++
	}
}

// nested reads the commands of a substitution, which stands for an unknown word.
func (s *shellSplitter) nested(open, closing string, word *strings.Builder) {
	s.pos += len(open)
	word.WriteString("$()")
	if s.depth == maxNesting {
		s.pos = len(s.text)
		return
	}
	s.depth++
	s.run(closing)
	s.depth--
}
