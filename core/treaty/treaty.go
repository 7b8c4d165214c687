// Package treaty reads and writes the treaty file: the reconciled word on each
// file type, the types exempt from it, and the findings waived.
package treaty

import (
	"cmp"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"

	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
)

// Name is the treaty file's name at the root of a repository.
const Name = "treaty.toml"

// Version is the version of the file's form that this program writes. It reads
// this one and every earlier one.
const Version = 1

// Treaty is a parsed treaty file. The zero Treaty says nothing.
type Treaty struct {
	Path     string // of the file, from the root of the repository
	Articles []Article
	Exempt   []Exemption
	Waivers  []Waiver
	Adopts   []Adoption
	Audit    Options

	// House are the articles of the house rules it adopts, weakest first. What its
	// own articles say comes before them.
	House []Article

	doc *document.Document // nil where there is no file
}

// Adoption names house rules: another treaty file, by its path from this one.
type Adoption struct {
	Path string
	Line int
}

// Options are the audit's own.
type Options struct {
	FailOn string   // severity from which on a check fails, "" for its default
	Follow string   // whose word counts when settling, "" for the default
	Skip   []string // patterns of files about which nothing is said
}

// Article is the treaty's word on files of one type. One that the file gives for
// several types stands here once for each.
type Article struct {
	Type      string
	Types     []string // those of the one in the file, where it names several
	Formatter string   // id of a program, or ""
	Reason    string
	Paths     []string // patterns from the root; none for the whole tree
	Style     map[string]rule.Value
	Path      string // of the treaty file it stands in
	Line      int

	globs pattern.IgnoreList
	node  *document.Node
	index int                   // of the one in the file
	own   map[string]rule.Value // its style without that of all
}

// Exemption takes a file type out of the treaty.
type Exemption struct {
	Type, Reason string
	Line         int
}

// Waiver accepts a finding until a date.
type Waiver struct {
	Finding, Reason string
	Until           time.Time // the last day, or zero for no end
	Line            int
}

// Parse reads a treaty file, but not what it adopts. Errors carry path, line and
// column.
func Parse(path string, src []byte) (*Treaty, error) {
	doc, err := document.ParseSettings(document.TOML, path, src)
	if err != nil {
		return nil, err
	}
	t := &Treaty{Path: path, doc: doc}
	r := reader{doc: doc, path: path}
	r.known(doc.Root, "treaty", "adopts", "audit", "style", "article", "exempt", "waiver")
	version := doc.Root.Get("treaty")
	switch {
	case version == nil:
		r.fail(doc.Root, "the first line has to be: treaty = %d", Version)
	case version.Value != int64(Version):
		r.fail(version, "this program reads treaty = %d; a newer one is needed for %v", Version, version.Value)
	}
	all := r.style(doc.Root)
	for i, n := range items(doc.Root, "article") {
		for _, a := range r.article(n) {
			a.index, a.own = i, a.Style
			a.Style = maps.Clone(all)
			maps.Copy(a.Style, a.own)
			t.Articles = append(t.Articles, a)
		}
	}
	for _, n := range items(doc.Root, "exempt") {
		r.known(n, "type", "reason")
		e := Exemption{Type: r.typeOf(n), Reason: r.text(n, "reason"), Line: r.line(n)}
		if e.Reason == "" {
			r.fail(n, "an exemption needs a reason")
		}
		t.Exempt = append(t.Exempt, e)
	}
	for _, n := range items(doc.Root, "waiver") {
		t.Waivers = append(t.Waivers, r.waiver(n))
	}
	for _, n := range r.texts(doc.Root, "adopts") {
		t.Adopts = append(t.Adopts, Adoption{n.Text(), r.line(n)})
	}
	if n := doc.Root.Get("audit"); n != nil {
		t.Audit = r.options(n)
	}
	return t, r.err
}

// reader keeps the first error.
type reader struct {
	doc  *document.Document
	path string
	err  error
}

// texts returns the items of a list of texts.
func (r *reader) texts(n *document.Node, key string) []*document.Node {
	list := n.Get(key)
	if list == nil {
		return nil
	}
	for _, item := range list.Items {
		if _, ok := item.Value.(string); !ok {
			r.fail(list, "%s has to be a list of texts", key)
			return nil
		}
	}
	if list.Kind != document.List {
		r.fail(list, "%s has to be a list of texts", key)
	}
	return list.Items
}

func (r *reader) options(n *document.Node) Options {
	r.known(n, "fail_on", "follow", "skip")
	o := Options{FailOn: r.oneOf(n, "fail_on", "error", "warning", "note", "never"), Follow: r.oneOf(n, "follow", "settings", "code")}
	for _, item := range r.texts(n, "skip") {
		o.Skip = append(o.Skip, item.Text())
	}
	return o
}

func (r *reader) oneOf(n *document.Node, key string, words ...string) string {
	text := r.text(n, key)
	if text != "" && !slices.Contains(words, text) {
		r.fail(n.Get(key), "%s = %q is none of %s", key, text, strings.Join(words, ", "))
	}
	return text
}

func (r *reader) fail(n *document.Node, format string, args ...any) {
	if r.err == nil {
		line, column := r.doc.Position(n.KeyStart)
		r.err = &document.SyntaxError{Path: r.path, Line: line, Column: column, Message: fmt.Sprintf(format, args...)}
	}
}

func (r *reader) line(n *document.Node) int {
	line, _ := r.doc.Position(n.KeyStart)
	return line
}

// known fails on the first key that is none of those given.
func (r *reader) known(n *document.Node, keys ...string) {
	i := slices.IndexFunc(n.Items, func(item *document.Node) bool { return !slices.Contains(keys, item.Key) })
	if i < 0 || r.err != nil {
		return
	}
	if near := nearest.Of(n.Items[i].Key, keys); near != "" {
		r.fail(n.Items[i], "unknown key %q; the nearest known one is %q", n.Items[i].Key, near)
	}
	r.fail(n.Items[i], "unknown key %q", n.Items[i].Key)
}

func items(root *document.Node, key string) []*document.Node {
	if n := root.Get(key); n != nil && n.Kind == document.List {
		return n.Items
	}
	return nil
}

func (r *reader) text(n *document.Node, key string) string {
	v := n.Get(key)
	if v == nil {
		return ""
	}
	text, ok := v.Value.(string)
	if !ok {
		r.fail(v, "%s has to be a text", key)
	}
	return text
}

func (r *reader) typeOf(n *document.Node) string {
	id := r.text(n, "type")
	if v := n.Get("type"); v == nil {
		r.fail(n, "type is missing: the id of a file type, as in: treaty assign --format json")
	} else if filetype.ByID(id) == nil {
		r.fail(v, "type = %v", filetype.NotOne(id))
	}
	return id
}

// article reads an article, once for each of its types.
func (r *reader) article(n *document.Node) []Article {
	r.known(n, "type", "types", "formatter", "reason", "paths", "style")
	var types []string
	if list := n.Get("types"); list != nil && n.Get("type") == nil {
		for _, item := range r.texts(n, "types") {
			if filetype.ByID(item.Text()) == nil {
				r.fail(item, "types = %v", filetype.NotOne(item.Text()))
			}
			types = append(types, item.Text())
		}
		if len(types) == 0 {
			r.fail(list, "types names no file type")
		}
	} else {
		types = []string{r.typeOf(n)}
	}
	a := Article{Formatter: r.text(n, "formatter"), Reason: r.text(n, "reason"), Style: r.style(n), Path: r.path, Line: r.line(n), node: n}
	for _, p := range n.Get("paths").Words() {
		a.Paths = append(a.Paths, p.Text())
		if ig, ok := pattern.ParseIgnore("/" + p.Text()); ok {
			a.globs.Add(ig)
		}
	}
	var out []Article
	for _, id := range types {
		one := a
		one.Type = id
		if len(types) > 1 {
			one.Types = types
		}
		out = append(out, one)
	}
	return out
}

// style reads the style that a part of the file gives.
func (r *reader) style(n *document.Node) map[string]rule.Value {
	out := map[string]rule.Value{}
	style := n.Get("style")
	if style == nil || r.err != nil {
		return out
	}
	for _, item := range style.Items {
		ru := rule.ByID(item.Key)
		if ru == nil {
			var ids []string
			for _, each := range rule.All() {
				ids = append(ids, each.ID)
			}
			r.fail(item, "unknown rule %q; the nearest known one is %q", item.Key, nearest.Closest(item.Key, ids))
			break
		}
		v, err := ru.Domain.Parse(item.Value)
		if err != nil {
			r.fail(item, "%s = %s is not one of its values", item.Key, item.Text())
		}
		out[item.Key] = v
	}
	return out
}

var findingID = regexp.MustCompile(`^[0-9a-f]{8}$`)

func (r *reader) waiver(n *document.Node) Waiver {
	r.known(n, "finding", "reason", "until")
	w := Waiver{Finding: r.text(n, "finding"), Reason: r.text(n, "reason"), Line: r.line(n)}
	if !findingID.MatchString(w.Finding) {
		r.fail(n, "finding has to be the eight characters a finding is listed with")
	}
	if w.Reason == "" {
		r.fail(n, "a waiver needs a reason")
	}
	if until := n.Get("until"); until != nil {
		day, err := time.Parse(time.DateOnly, until.Text())
		if err != nil {
			r.fail(until, "until has to be a date such as 2027-03-31")
		}
		w.Until = day
	}
	return w
}

// Reaches reports whether the article is about the file at path.
func (a *Article) Reaches(path string) bool {
	return len(a.Paths) == 0 || a.globs.Ignores(path)
}

// For returns the last article about the type that reaches the path, or nil:
// later articles are about parts of the tree that differ.
func (t *Treaty) For(typeID, path string) *Article {
	if t == nil {
		return nil
	}
	own := last(t.Articles, typeID, path)
	house := last(t.House, typeID, path)
	if own == nil || house == nil {
		if own == nil {
			return house
		}
		return own
	}
	both := *own // the nearest word wins, rule by rule
	both.Formatter = cmp.Or(own.Formatter, house.Formatter)
	both.Style = maps.Clone(house.Style)
	maps.Copy(both.Style, own.Style)
	return &both
}

func last(articles []Article, typeID, path string) *Article {
	for i := len(articles) - 1; i >= 0; i-- {
		if a := &articles[i]; a.Type == typeID && a.Reaches(path) {
			return a
		}
	}
	return nil
}

// Exemption returns the exemption of a type, or nil.
func (t *Treaty) Exemption(typeID string) *Exemption {
	if t == nil {
		return nil
	}
	for i := range t.Exempt {
		if t.Exempt[i].Type == typeID {
			return &t.Exempt[i]
		}
	}
	return nil
}

// Waiver returns the waiver of a finding that holds on the given day, or nil.
func (t *Treaty) Waiver(finding string, day time.Time) *Waiver {
	if t == nil {
		return nil
	}
	for i := range t.Waivers {
		w := &t.Waivers[i]
		if w.Finding == finding && (w.Until.IsZero() || day.Before(w.Until.AddDate(0, 0, 1))) {
			return w
		}
	}
	return nil
}

// Expired returns the waivers that no longer hold on the given day.
func (t *Treaty) Expired(day time.Time) []Waiver {
	if t == nil {
		return nil
	}
	var out []Waiver
	for _, w := range t.Waivers {
		if !w.Until.IsZero() && !day.Before(w.Until.AddDate(0, 0, 1)) {
			out = append(out, w)
		}
	}
	return out
}

// Parts returns, for each article about a part of the tree, a function that
// says which paths it reaches.
func (t *Treaty) Parts() []func(path string) bool {
	if t == nil {
		return nil
	}
	var parts []func(string) bool
	for _, list := range [][]Article{t.House, t.Articles} {
		for i := range list {
			if a := &list[i]; len(a.Paths) > 0 {
				parts = append(parts, a.Reaches)
			}
		}
	}
	return parts
}
