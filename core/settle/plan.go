// Package settle turns findings into one agreed configuration: decisions with
// their reasons, the edits that carry them into every settings file, and the
// proof, by an audit of an edited copy in memory, that they do.
package settle

import (
	"cmp"
	"context"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"sort"
	"strconv"
	"strings"
	"sync"

	"jollytreaty/core/assign"
	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/evidence"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/sign"
	"jollytreaty/core/treaty"
	"jollytreaty/core/tree"
)

// Plan is a settlement.
type Plan struct {
	Assignments []Assignment
	Decisions   []Decision
	Edits       []Edit // in path order
	LeftOpen    []Open
	Settles     []*conflict.Finding // what the proof showed to be gone
	Unlisted    []string            // files that are edited although version control leaves them out

	before *audit.Result
}

// Assignment gives the files of a type, or a part of them, their formatter.
type Assignment struct {
	Type      *filetype.Type
	Formatter *catalog.Entry
	Because   string
	Paths     []string // none for every file of the type
	Leaving   []string // how its rivals leave the files to it, in words

	groups []*claim.Group
}

// Decision gives a rule its value for the files of a type, or a part of them.
type Decision struct {
	Type    *filetype.Type
	Rule    *rule.Rule
	Value   rule.Value
	Because string
	Paths   []string // none for every file of the type
	Files   int      // that the decision is about
	Settles []string // ids of findings

	// Touched is how many files do otherwise today, in proportion where a sample was
	// read; -1 where the code was not looked at or does not tell.
	Touched int

	// FromCode says that the value is the code's own and is written down for it.
	// Share is that of the files that tell which do so, the smallest over the parts.
	FromCode bool
	Share    float64

	groups []*claim.Group
}

// Edit is a change to one settings file.
type Edit struct {
	Path   string
	Action Action
	Before []byte // nil for a new file
	After  []byte // nil for one that goes
}

// Action is what happens to a file.
type Action string

// The actions.
const (
	Create Action = "create"
	Change Action = "change"
	Delete Action = "delete"
)

// Open is a finding that the plan leaves, and why.
type Open struct {
	Finding *conflict.Finding
	Message string // what is still so when the plan is carried out
	Why     string
}

// Input is what a settlement starts from.
type Input struct {
	FS      fs.FS
	Paths   []string
	Audit   *audit.Result
	Follow  Policy
	Choices Choices
	Prune   bool // settings that lose everywhere are taken out
	Gather  bool // what the standard settings file can say is said there, once
}

// Policy says whose word counts where the treaty says nothing.
type Policy string

// The policies.
const (
	FollowSettings Policy = "settings" // what is written, by whom it is
	FollowCode     Policy = "code"     // what most files do
)

// Propose makes the plan for a repository and proves it. A file that the plan would
// make and that is there although it is not listed, as version control leaves it out,
// is read like the others: programs read it, too.
func Propose(in Input) (*Plan, error) {
	var unlisted []string
	for {
		plan, err := proposeOf(in)
		if err != nil {
			return nil, err
		}
		plan.Unlisted = unlisted
		more := plan.unlisted(in)
		if more == nil {
			return plan, nil
		}
		unlisted = append(unlisted, more...)
		in.Paths = slices.Sorted(slices.Values(slices.Concat(in.Paths, more)))
		in.Audit, err = in.Audit.Again(context.Background(), in.FS, in.Paths, more)
		if err != nil {
			return nil, err
		}
	}
}

// unlisted returns the paths of edits at which there is a file that is not among the
// paths of the input.
func (p *Plan) unlisted(in Input) []string {
	var out []string
	for _, e := range p.Edits {
		if _, listed := slices.BinarySearch(in.Paths, e.Path); listed || e.Path == treaty.Name || in.Choices.Houses[e.Path] != nil {
			continue
		}
		if _, err := fs.Stat(in.FS, e.Path); err == nil {
			out = append(out, e.Path)
		}
	}
	return out
}

func proposeOf(in Input) (*Plan, error) {
	agreed, err := in.agree()
	if err != nil {
		return nil, err
	}
	plan, err := propose(agreed, 1)
	if err == nil && agreed.Audit != in.Audit {
		err = plan.sinceBefore(in, agreed.Audit.Treaty.Source())
	}
	return plan, err
}

func propose(in Input, round int) (*Plan, error) {
	skip := in.Choices.leftOut(in.Audit)
	copies := false
	for {
		d := newDraft(in, skip)
		d.copies = copies
		plan, err := d.propose()
		if err != nil {
			return nil, err
		}
		var wait sync.WaitGroup
		wait.Go(func() { plan.Decisions = d.decisions() })
		edited, err := d.edited(plan)
		wait.Wait()
		if err != nil {
			return nil, err
		}
		if !d.heard(edited.Audit) {
			copies = true
			continue
		}
		failed := d.prove(plan, edited.Audit)
		if len(failed) == 0 {
			if err := d.kept(); err != nil {
				return nil, err
			}
			d.conclude(plan, edited.Audit)
			return plan, plan.carryOn(edited, round)
		}
		if len(d.moved) > 0 { // perhaps they were more than copies
			copies = true
			continue
		}
		if in.Prune { // perhaps one of them did not lose after all
			in.Prune = false
			continue
		}
		if !d.giveUp(failed) {
			return oneByOne(in, round, d, firstReason(failed))
		}
	}
}

// maxSubjects bounds how many subjects are tried one after the other.
const maxSubjects = 60

// oneByOne makes a plan of those subjects that can be settled beside each other, where
// they cannot all be and which of them stand in the way is not known.
func oneByOne(in Input, round int, whole *draft, why string) (*Plan, error) {
	subjects := whole.neededSubjects()
	skip := map[subject]string{}
	for _, s := range subjects {
		skip[s] = cmp.Or(whole.skip[s], why)
	}
	left := in.Choices.leftOut(in.Audit)
	for _, s := range subjects[:min(len(subjects), maxSubjects)] {
		if _, out := left[s]; out {
			continue
		}
		kept := skip[s]
		delete(skip, s)
		if d, plan, edited, err := attempt(in, skip); err != nil || plan == nil || len(d.prove(plan, edited.Audit)) > 0 {
			skip[s] = kept
		}
	}
	d, plan, edited, err := attempt(in, skip)
	if err != nil {
		return nil, err
	}
	if err := d.kept(); err != nil {
		return nil, err
	}
	if len(d.prove(plan, edited.Audit)) > 0 {
		return d.nothing(why), nil
	}
	d.conclude(plan, edited.Audit)
	return plan, plan.carryOn(edited, round)
}

// attempt makes a plan that leaves some subjects as they are, and its result.
func attempt(in Input, skip map[subject]string) (*draft, *Plan, Input, error) {
	d := newDraft(in, skip)
	d.copies = true
	plan, err := d.propose()
	if err != nil {
		return d, nil, Input{}, err
	}
	plan.Decisions = d.decisions()
	edited, err := d.edited(plan)
	return d, plan, edited, err
}

// nothing is the plan that leaves all as it is, since no other could be proved.
func (d *draft) nothing(why string) *Plan {
	plan := &Plan{before: d.Audit}
	for _, f := range d.Audit.Findings {
		if f.Waived == nil {
			plan.LeftOpen = append(plan.LeftOpen, Open{f, f.Message, "no plan could be proved: " + why})
		}
	}
	return plan
}

// maxRounds bounds how often a plan is carried on from its own result.
const maxRounds = 4

// carryOn settles the plan's own result, so that settling twice changes nothing:
// a settings file that is made has a style of its own, and the treaty's new word
// may answer what was open.
func (p *Plan) carryOn(edited Input, round int) error {
	if len(p.Edits) == 0 || round == maxRounds {
		return nil
	}
	next, err := newDraft(edited, edited.Choices.leftOut(edited.Audit)).propose()
	if err != nil || len(next.Edits) == 0 {
		return err
	}
	more, err := propose(edited, round+1)
	if err != nil {
		return err
	}
	for _, e := range more.Edits {
		i := slices.IndexFunc(p.Edits, func(had Edit) bool { return had.Path == e.Path })
		if i >= 0 {
			p.Edits[i].After = e.After
		} else {
			p.Edits = append(p.Edits, e)
		}
	}
	slices.SortFunc(p.Edits, func(a, b Edit) int { return strings.Compare(a.Path, b.Path) })
	return nil
}

// giveUp leaves the subjects that failed as they are; one that failed although
// it was left takes the type's formatter and, for every type, its rule with it.
// It reports whether that changed anything.
func (d *draft) giveUp(failed map[subject]string) bool {
	before := len(d.skip)
	for s, why := range failed {
		if s.rule == rule.IndentSize { // style and size are one question
			failed[subject{s.typ, rule.IndentStyle}] = why
		}
	}
	for s, why := range failed {
		if _, again := d.skip[s]; again {
			d.skip[subject{s.typ, ""}] = why // a rival may have hidden it
			for _, g := range d.groups() {
				d.skip[subject{g.Type, s.rule}] = why
			}
		}
		d.skip[s] = why
	}
	return len(d.skip) > before
}

// subject is a question about a type that is decided or left open as a whole.
type subject struct {
	typ  *filetype.Type
	rule string // "" for the formatter
}

func firstReason(failed map[subject]string) string {
	var reasons []string
	for _, why := range failed {
		reasons = append(reasons, why)
	}
	slices.Sort(reasons)
	return reasons[0]
}

// want is the value a group shall have for a rule, and why.
type want struct {
	value   rule.Value
	because string
	code    bool // the code does so
	share   float64
	said    bool // the person does
}

// draft is a plan in the making.
type draft struct {
	Input
	skip     map[subject]string               // subjects left as they are, and why
	needs    map[*claim.Group]map[string]bool // rules for which something has to change
	wants    map[*claim.Group]map[string]want
	blocked  map[subject]string      // found impossible on the way
	asides   map[subject]string      // why some files of the type have no answer, though others do
	retired  map[string]bool         // settings files that go
	parted   map[parting]string      // how, in words
	torn     map[*claim.Group]string // between an editor and what runs later, in words
	notes    map[string]string       // why findings without a type stay, by id
	refused  []string                // choices that cannot be carried out, and why
	relieved map[*catalog.Entry]bool // linters of which checks are switched off
	mended   map[*catalog.Entry]bool // programs of which a mistyped key is mended

	standard *standard
	copies   bool // stay, as something would change without them
	moved    []copied
	mutex    sync.Mutex
	types    map[*filetype.Type]evidence.Set // what was measured
	areas    map[string][]string             // patterns for groups' files, by their type and numbers
	filesOf  map[*claim.Group][]int32        // positions in the tree
	extsOf   map[*claim.Group][]string       // extensions
	byExt    map[string][]*claim.Group       // that have files with an extension
}

func newDraft(in Input, skip map[subject]string) *draft {
	return &draft{
		Input: in, skip: skip, wants: map[*claim.Group]map[string]want{}, blocked: map[subject]string{},
		asides: map[subject]string{}, retired: map[string]bool{}, parted: map[parting]string{}, torn: map[*claim.Group]string{}, notes: map[string]string{}, mended: map[*catalog.Entry]bool{}, relieved: map[*catalog.Entry]bool{}, types: map[*filetype.Type]evidence.Set{}, areas: map[string][]string{},
	}
}

// catalog is the audit's: with the person's and the repository's own entries.
func (d *draft) catalog() *catalog.Catalog { return d.Audit.Picture.Catalog }

func (d *draft) groups() []*claim.Group { return d.Audit.Picture.Groups }

// concerns reports whether the group is settled at all.
func (d *draft) concerns(g *claim.Group) bool {
	return g.Type.Styled && d.Audit.Treaty.Exemption(g.Type.ID) == nil
}

// RefusedError says which choices cannot be carried out, and what stands in the way.
type RefusedError struct{ Choices []string }

func (e *RefusedError) Error() string {
	return "this cannot be carried out, and nothing was changed:\n  " + strings.Join(e.Choices, "\n  ")
}

// kept returns an error where a choice was not carried out.
func (d *draft) kept() error {
	for s, why := range d.blocked {
		if r := rule.ByID(s.rule); r != nil {
			if v, ok := d.Choices.chosen(s.typ, r); ok {
				d.refused = append(d.refused, fmt.Sprintf("%s of %s: %s was asked for, and %s", r.ID, s.typ.Name, r.Phrase(v), why))
			}
		}
	}
	if len(d.refused) == 0 {
		return nil
	}
	slices.Sort(d.refused)
	return &RefusedError{slices.Compact(d.refused)}
}

func (d *draft) propose() (*Plan, error) {
	e := newEditor(d)
	d.standard = e.standard
	e.retire()
	plan := &Plan{}
	d.findNeeds()
	d.decideAll()
	plan.Assignments = d.assignments()
	e.carryOut()
	e.renewKeys()
	e.endFrictions()
	e.mendKeys()
	if d.Gather && !d.copies {
		e.sayOnce()
	}
	if d.Prune {
		e.prune()
	}
	var err error
	if plan.Edits, err = e.finish(); err != nil {
		return nil, err
	}
	if err := e.writeTreaty(plan); err != nil {
		return nil, err
	}
	slices.SortFunc(plan.Edits, func(a, b Edit) int { return strings.Compare(a.Path, b.Path) })
	return plan, nil
}

// asked reports whether anything about the group's type is to be settled.
func (d *draft) asked(g *claim.Group) bool {
	return d.Choices.asksFor(subject{typ: g.Type}, d.Audit) || len(d.wants[g]) > 0
}

// owner returns the formatter the group will have, or nil.
func (d *draft) owner(g *claim.Group, v *assign.Assignment) *assign.Candidate {
	if v.Formatter == nil || d.torn[g] != "" || d.leaves(v.Formatter.Program, g) {
		return nil
	}
	return v.Formatter
}

// ofEditor reports whether a formatter is only what an editor brings, which is not a word
// on who formats the files.
func ofEditor(c *assign.Candidate) bool { return c.Reasons[0].As == sign.BuiltIn }

// assignments lists the formatter of each type, by region where they differ.
func (d *draft) assignments() []Assignment {
	type key struct {
		typ *filetype.Type
		e   *catalog.Entry
	}
	by := map[key]*Assignment{}
	var order []*Assignment
	for i, g := range d.groups() {
		owner := d.owner(g, &d.Audit.Verdicts[i])
		if !d.concerns(g) || owner == nil || ofEditor(owner) || !d.asked(g) {
			continue
		}
		k := key{g.Type, owner.Program}
		a := by[k]
		if a == nil {
			a = &Assignment{Type: g.Type, Formatter: owner.Program, Because: assign.Reason(owner.Reasons[0])}
			by[k] = a
			order = append(order, a)
		}
		a.groups = append(a.groups, g)
		for _, rival := range d.Audit.Verdicts[i].Rivals {
			if how := d.parted[parting{rival.Program, g}]; how != "" {
				a.Leaving = appendNew(a.Leaving, how)
			}
		}
	}
	var out []Assignment
	for _, a := range order {
		paths, ok := d.pathsOf(a.Type, a.groups)
		if ok {
			a.Paths = paths
			out = append(out, *a)
		}
	}
	slices.SortStableFunc(out, func(a, b Assignment) int {
		return cmp.Or(cmp.Compare(a.Type.Name, b.Type.Name), len(a.Paths)-len(b.Paths))
	})
	return out
}

// decisions gathers what the groups want, by type, rule and value.
func (d *draft) decisions() []Decision {
	type key struct {
		typ   *filetype.Type
		rule  string
		value rule.Value
	}
	by := map[key]*Decision{}
	var order []*Decision
	for _, g := range d.groups() {
		for _, r := range rule.All() {
			w, ok := d.wants[g][r.ID]
			if !ok || !d.needed(g, r.ID) || d.blocked[subject{g.Type, r.ID}] != "" {
				continue
			}
			k := key{g.Type, r.ID, w.value}
			dec := by[k]
			if dec == nil {
				dec = &Decision{Type: g.Type, Rule: r, Value: w.value, Because: w.because, Share: 1}
				by[k] = dec
				order = append(order, dec)
			}
			dec.Files += g.Files
			if w.code {
				dec.FromCode, dec.Share = true, min(dec.Share, w.share)
			}
			dec.groups = append(dec.groups, g)
		}
	}
	var out []Decision
	for _, dec := range order {
		if paths, ok := d.pathsOf(dec.Type, dec.groups); ok {
			dec.Paths = paths
			dec.Touched = d.touched(dec)
			out = append(out, *dec)
		}
	}
	slices.SortStableFunc(out, func(a, b Decision) int {
		return cmp.Or(cmp.Compare(a.Type.Name, b.Type.Name), ruleIndex(a.Rule)-ruleIndex(b.Rule), len(a.Paths)-len(b.Paths))
	})
	return out
}

func ruleIndex(r *rule.Rule) int { return r.Order }

// maxPaths bounds how many patterns describe a part of the tree; a part that
// needs more is too scattered to be told apart in a treaty.
const maxPaths = 16

// pathsOf returns patterns for exactly the files of the groups among all files
// of their type: none if they are all of them. It returns false where they are
// too scattered.
func (d *draft) pathsOf(t *filetype.Type, groups []*claim.Group) (paths []string, ok bool) {
	in := map[*claim.Group]bool{}
	for _, g := range groups {
		in[g] = true
	}
	all, which := true, []byte(t.ID)
	for i, g := range d.groups() {
		all = all && (g.Type != t || in[g])
		if in[g] {
			which = strconv.AppendInt(append(which, ' '), int64(i), 10)
		}
	}
	if all {
		return nil, true
	}
	key := string(which)
	paths, known := d.areas[key]
	if !known {
		paths = d.cover(in, "", func(f *tree.File) bool { return f.Type == t })
		d.areas[key] = paths
	}
	return paths, len(paths) <= maxPaths
}

// spread returns patterns for the groups' files with an extension below the folder
// with the prefix, among all that have it.
func (d *draft) spread(ext, prefix string, groups []*claim.Group) []string {
	in := map[*claim.Group]bool{}
	for _, g := range groups {
		in[g] = true
	}
	return d.cover(in, prefix, func(f *tree.File) bool { return f.Type.Styled && path.Ext(f.Path) == ext })
}

// cover returns patterns for the files in some groups among those that are asked for
// below the folder with the prefix, in path order: folders where they hold no other
// such file, else the files.
func (d *draft) cover(in map[*claim.Group]bool, prefix string, asked func(*tree.File) bool) []string {
	c := coverage{wanted: []int{0}}
	picture := d.Audit.Picture
	for i := range picture.Tree.Files {
		if f := &picture.Tree.Files[i]; asked(f) && strings.HasPrefix(f.Path, prefix) {
			n := c.wanted[len(c.paths)]
			if in[d.groups()[picture.GroupOf[i]]] {
				n++
			}
			c.paths, c.wanted = append(c.paths, f.Path), append(c.wanted, n)
		}
	}
	c.find(0, len(c.paths), len(prefix))
	return c.patterns
}

// coverage finds patterns for the wanted of sorted paths.
type coverage struct {
	paths    []string
	wanted   []int // how many of the paths before are
	patterns []string
}

// find covers the paths from i to end, which have as many bytes as skip in common,
// up to a slash.
func (c *coverage) find(i, end, skip int) {
	for i < end && len(c.patterns) <= maxPaths {
		p := c.paths[i]
		next, folder := i+1, ""
		if slash := strings.IndexByte(p[skip:], '/'); slash >= 0 {
			folder = p[:skip+slash+1]
			next += sort.Search(end-i-1, func(n int) bool { return !strings.HasPrefix(c.paths[i+1+n], folder) })
		}
		switch n := c.wanted[next] - c.wanted[i]; {
		case n == 0:
		case folder == "":
			c.patterns = append(c.patterns, p)
		case n == next-i:
			c.patterns = append(c.patterns, folder+"**")
		default:
			c.find(i, next, len(folder))
		}
		i = next
	}
}
