package filetype

import (
	"bytes"
	"cmp"
	"path"
	"regexp"
	"slices"
	"strings"
)

// Doubt is which of several types a file with a shared extension has.
type Doubt struct {
	claims []claim
}

// claim is a type's on files with a shared extension.
type claim struct {
	typ   *Type
	first bool
	read  bool
	expr  *regexp.Regexp // on a line without its leading blanks; nil: always
}

func newClaim(typ *Type, s Shared) claim {
	c := claim{typ: typ, first: s.First, read: s.Read}
	if s.Line != "" {
		c.expr = regexp.MustCompile("^(?:" + s.Line + ")")
	}
	return c
}

// arrange puts the claims in the order in which they are tried.
func (d *Doubt) arrange() {
	rank := func(c claim) int {
		switch {
		case c.expr == nil:
			return 2
		case c.first:
			return 0
		}
		return 1
	}
	slices.SortStableFunc(d.claims, func(a, b claim) int { return cmp.Compare(rank(a), rank(b)) })
}

// Usual is the type of a file that is not read.
func (d *Doubt) Usual() *Type { return d.claims[len(d.claims)-1].typ }

// Matters reports whether the file has to be read, where these types have files of
// their own.
func (d *Doubt) Matters(present map[*Type]bool) bool {
	return len(d.claims) == 0 || slices.ContainsFunc(d.claims, func(c claim) bool { return c.read || c.typ != d.Usual() && present[c.typ] })
}

// Decide returns the type of a file that starts so.
func (d *Doubt) Decide(head []byte) *Type {
	if typ := byMode(head); typ != nil {
		return typ
	}
	lines := bytes.Split(head, []byte("\n"))
	for i, line := range lines {
		lines[i] = bytes.TrimLeft(line, " \t")
	}
	for _, c := range d.claims {
		if c.expr == nil || slices.ContainsFunc(lines, c.expr.Match) {
			return c.typ
		}
	}
	return Unknown
}

// ByPath tells the type from the path alone. It is nil where the file has to be read:
// by the doubt, or, where that is nil, by its first line.
func ByPath(p string) (*Type, *Doubt) {
	t, name := theTable(), path.Base(p)
	if typ := t.byName[name]; typ != nil {
		return typ, nil
	}
	ext := ""
	// The longest extension first: ".blade.php" before ".php".
	for i := strings.IndexByte(name, '.'); i >= 0; {
		ext = strings.ToLower(name[i:])
		if typ := t.byExt[ext]; typ != nil {
			return typ, nil
		}
		if d := t.doubts[ext]; d != nil {
			return nil, d
		}
		j := strings.IndexByte(name[i+1:], '.')
		if j < 0 {
			break
		}
		i += 1 + j
	}
	// "Dockerfile.dev", "LICENSE-MIT", ".env.local" go by what stands first.
	if len(name) > 1 {
		if i := strings.IndexAny(name[1:], ".-"); i >= 0 {
			if typ := t.byName[name[:i+1]]; typ != nil {
				return typ, nil
			}
		}
	}
	if ext != "" {
		return nil, untold
	}
	return nil, nil
}

// untold is the doubt about a file with an extension that says nothing.
var untold = &Doubt{}

// modeLine is a line that names the mode of an editor, or the type of a file: that of
// the one family of editors in a file's first two lines, that of the other in its first
// five.
var modeLine = regexp.MustCompile(`-\*-\s*(?:[^:;]*;\s*)*?(?:(?i:mode)\s*:\s*)?([A-Za-z][A-Za-z0-9+#-]*)\s*(?:;[^\n]*)?-\*-|\b(?:vi|[vV]im|ex)\d*:.*\b(?:ft|filetype|syntax|syn)=([A-Za-z0-9+#-]+)`)

// modeLines is how many lines of a file may be mode lines.
const modeLines = 5

// byMode tells the type of a file that starts so by the mode that a line of it names; it
// is nil where none does.
func byMode(head []byte) *Type {
	for range modeLines {
		line, rest, more := bytes.Cut(head, []byte("\n"))
		if m := modeLine.FindSubmatch(line); m != nil {
			t, mode := theTable(), strings.ToLower(string(m[1])+string(m[2]))
			return cmp.Or(t.byMode[mode], t.byInterpreter[mode])
		}
		if head = rest; !more {
			break
		}
	}
	return nil
}

// ByStart tells the type of a file without a telling name by what it starts with.
func ByStart(head []byte) *Type {
	t := theTable()
	text := strings.TrimPrefix(string(head), "\ufeff")
	line, _, _ := strings.Cut(text, "\n")
	line = strings.TrimRight(line, "\r")
	if strings.IndexByte(text, 0) >= 0 {
		return t.byID[binary]
	}
	if typ := byMode(head); typ != nil {
		return typ
	}
	if command, ok := strings.CutPrefix(line, "#!"); ok {
		return cmp.Or(t.byInterpreter[t.interpreter(command)], Unknown)
	}
	low := strings.ToLower(line)
	for _, b := range t.begins {
		if strings.HasPrefix(low, b.text) {
			return b.typ
		}
	}
	return Unknown
}

// interpreter returns the program a "#!" line starts, without its folder,
// version digits or the env in front of it.
func (t *table) interpreter(line string) string {
	words := strings.Fields(line)
	if len(words) == 0 {
		return ""
	}
	name := path.Base(words[0])
	if name == "env" {
		for _, w := range words[1:] {
			if !strings.HasPrefix(w, "-") && !strings.Contains(w, "=") {
				name = path.Base(w)
				break
			}
		}
	}
	if t.byInterpreter[name] != nil {
		return name
	}
	return strings.TrimRight(name, "0123456789.-")
}
