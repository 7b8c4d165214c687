// Package conflict finds what the developer should know: claims that cannot
// hold together, types without a single formatter, settings without effect and
// slips in settings files.
package conflict

import (
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/treaty"
)

// Side is one voice in a finding.
type Side struct {
	Program string
	Name    string // the program's name as people write it
	Role    rule.Role
	Value   any // as it is printed and put into JSON; nil for none
	AtMost  bool
	Basis   claim.Basis
	Path    string
	Line    int
	Column  int
	Phrase  string // the value in words
	Claim   *claim.Claim
	scope   string // section or pattern within the file
	key     string // names the side for the id, where the place could change
}

// RetiredAt is where a key stands that is no longer to be used.
type RetiredAt struct {
	File *claim.File
	Node *document.Node
	Key  catalog.RetiredKey
}

// MeantAt is a mistyped key with the one that was meant, which the file does not have.
type MeantAt struct {
	Program *catalog.Entry
	File    *claim.File
	Node    *document.Node
	Key     string
}

// Finding is something the developer should know.
type Finding struct {
	ID       string // stays the same when lines move or file counts change
	Cause    string // shared by findings of several types with one cause
	Code     Code
	Severity Severity
	Rule     *rule.Rule     // nil where none is concerned
	Retired  *RetiredAt     // nil for anything but a key
	Meant    *MeantAt       // nil for anything but a mistyped key that can be mended
	Type     *filetype.Type // nil where none is concerned
	Files    int
	Examples []string
	Groups   []*claim.Group // the files it is about, where it is about some of a type
	Message  string
	Sides    []Side
	Waived   *treaty.Waiver
	Friction *claim.Friction // what it is about, where that is no rule

	Proposal *Proposal
	Evidence []Weight
	Open     string // why settling leaves it, where a plan was made
}

// Weight is how much of the code already is as a value asks.
type Weight struct {
	Value rule.Value
	Share float64 // of the files that tell
	Files int     // that tell
}

// Proposal is what settling would do about a finding.
type Proposal struct {
	Value   rule.Value
	Because string
}

// source names a side for the finding's id: no line, no value, no count.
func (s Side) source() string {
	if s.key != "" {
		return s.key
	}
	return strings.Join([]string{s.Program, string(s.Role), s.Path, s.scope}, "\x1f")
}

// key tells findings apart: code, rule and sources, and the type.
func (f *Finding) key() (cause []string, typeID string) {
	parts := []string{string(f.Code)}
	if f.Rule != nil {
		parts = append(parts, f.Rule.ID)
	}
	var sources []string
	for _, s := range f.Sides {
		sources = append(sources, s.source())
	}
	slices.Sort(sources)
	parts = append(parts, slices.Compact(sources)...)
	if f.Type != nil {
		typeID = f.Type.ID
	}
	return parts, typeID
}

func shortHash(parts []string) string {
	sum := sha256.Sum256([]byte(strings.Join(parts, "\x1e")))
	return hex.EncodeToString(sum[:4])
}

// collector joins what is found in several groups into one finding each.
type collector struct {
	byKey map[string]*Finding
	list  []*Finding
	alike map[alike]*crowd
}

// alike is findings with one code that are about one settings file and no type.
type alike struct {
	code Code
	path string
}

// crowd counts them. What is too much to be told one by one is counted in one finding.
type crowd struct {
	told int
	rest *Finding
	more int
}

// maxAlike is how many findings with one code are told of one settings file.
const maxAlike = 100

// enough reports whether a finding with a code, about a settings file, would only be
// counted, and counts it then.
func (c *collector) enough(code Code, path string) bool {
	n := c.alike[alike{code, path}]
	if n == nil || n.rest == nil {
		return false
	}
	n.more++
	return true
}

// crowded counts a finding, and reports whether it is one too many.
func (c *collector) crowded(f *Finding) bool {
	if f.Type != nil || len(f.Sides) == 0 {
		return false
	}
	if c.alike == nil {
		c.alike = map[alike]*crowd{}
	}
	key := alike{f.Code, f.Sides[0].Path}
	n := c.alike[key]
	if n == nil {
		n = &crowd{}
		c.alike[key] = n
	}
	if n.rest != nil {
		n.more++
		return true
	}
	if n.told++; n.told > maxAlike {
		n.rest, n.more = f, 1
		f.Sides = f.Sides[:1]
		f.Sides[0].scope, f.Sides[0].key, f.Sides[0].Value, f.Retired = "and more", "", nil, nil
	}
	return false
}

// add counts a finding, or adds its files to the one that is there. It reports
// whether it is new; only then its message is of any use.
func (c *collector) add(f *Finding) bool {
	cause, typeID := f.key()
	key := strings.Join(cause, "\x1e") + "\x1e" + typeID
	had := c.byKey[key]
	if had == nil {
		if c.crowded(f) {
			return true
		}
		if c.byKey == nil {
			c.byKey = map[string]*Finding{}
		}
		cause, typeID = f.key()
		f.Cause, f.ID, f.Severity = shortHash(cause), shortHash(append(cause, "type", typeID)), f.Code.Severity()
		f.Examples, f.Groups = slices.Clone(f.Examples), slices.Clone(f.Groups)
		c.byKey[key] = f
		c.list = append(c.list, f)
		return true
	}
	had.Files += f.Files
	had.Groups = append(had.Groups, f.Groups...)
	had.Examples = append(had.Examples, f.Examples...)
	slices.Sort(had.Examples)
	had.Examples = had.Examples[:min(len(had.Examples), 5)]
	return false
}

// sorted returns the findings, those that cost people most first.
func (c *collector) sorted() []*Finding {
	slices.SortStableFunc(c.list, func(a, b *Finding) int {
		return cmp.Or(
			cmp.Compare(b.Severity.Rank(), a.Severity.Rank()),
			compareKinds(a.Code, b.Code),
			cmp.Compare(b.Files, a.Files),
			cmp.Compare(a.Code, b.Code),
			cmp.Compare(a.Message, b.Message),
			cmp.Compare(a.typeName(), b.typeName()),
			cmp.Compare(a.ID, b.ID),
		)
	})
	return c.list
}

func (f *Finding) typeName() string {
	if f.Type == nil {
		return ""
	}
	return f.Type.Name
}
