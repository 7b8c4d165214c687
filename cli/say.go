package cli

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"jollytreaty/present"
)

// asItIs is text of several lines that is printed as it is: it does not come from the
// repository.
type asItIs string

// cleaned returns arguments in which nothing disturbs a terminal or ends a line.
func cleaned(args []any) []any {
	out := make([]any, len(args))
	for i, a := range args {
		switch v := a.(type) {
		case string:
			out[i] = present.Clean(v)
		case error:
			out[i] = present.Clean(v.Error())
		default:
			out[i] = a
		}
	}
	return out
}

// say prints a part of the result as text.
func (s *session) say(format string, args ...any) {
	fmt.Fprintf(present.Safe(s.out, false), format, cleaned(args)...)
}

// document is where a file or a patch is printed: byte for byte, unless it is a
// terminal, where it is read and not taken from.
func (s *session) document() io.Writer {
	if page := s.page(); page.Terminal {
		return page.W
	}
	return s.out
}

// tell prints a line beside the result.
func (s *session) tell(format string, args ...any) { tell(s.err, format, args...) }

func tell(w io.Writer, format string, args ...any) {
	fmt.Fprintf(w, "treaty: %s\n", present.Clean(fmt.Sprintf(format, args...)))
}

// complain prints an error, or each of several that were joined, on a line of its own.
func complain(w io.Writer, err error) {
	var f *failure
	if errors.As(err, &f) && f == err {
		err = f.err
	}
	if all, ok := err.(interface{ Unwrap() []error }); ok {
		var lines []string
		for _, one := range all.Unwrap() {
			lines = append(lines, one.Error())
		}
		if strings.Join(lines, "\n") == err.Error() {
			for _, one := range all.Unwrap() {
				complain(w, one)
			}
			return
		}
	}
	tell(w, "%v", err)
}
