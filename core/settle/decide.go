package settle

import (
	"cmp"
	"fmt"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/rule"
)

// undecided is why nothing is decided for files that formatters have equal claims to.
const undecided = "which formatter the files have is not decided; choose one: treaty settle --formatter TYPE=ID"

// answers are what is decided for a group.
type answers struct {
	wants   map[string]want // nil where nothing is
	blocked []open
	asides  []open
	refused []open // what the person said and cannot be carried out
}

// open is a question that has no answer, and why.
type open struct{ rule, why string }

// decideAll finds, for each group and rule, the value the files shall have. The
// groups are apart from each other.
func (d *draft) decideAll() {
	groups := d.groups()
	all := make([]answers, len(groups))
	var next atomic.Int64
	var wait sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wait.Go(func() {
			for i := int(next.Add(1)) - 1; i < len(groups); i = int(next.Add(1)) - 1 {
				if d.concerns(groups[i]) {
					all[i] = d.decide(groups[i], &d.Audit.Verdicts[i])
				}
			}
		})
	}
	wait.Wait()
	for i, g := range groups {
		for _, o := range all[i].blocked {
			d.block(g, o.rule, o.why)
		}
		for _, o := range all[i].refused {
			d.refused = append(d.refused, fmt.Sprintf("%s of %s: %s", o.rule, g.Type.Name, o.why))
		}
		for _, o := range all[i].asides {
			d.asides[subject{g.Type, o.rule}] = o.why
		}
		if all[i].wants != nil {
			d.wants[g] = all[i].wants
		}
	}
}

// decide finds, for each rule, the value the group shall have.
func (d *draft) decide(g *claim.Group, v *assign.Assignment) answers {
	var a answers
	why := d.torn[g]
	if v.Formatter == nil && len(v.Rivals) > 0 {
		why = undecided
	}
	if why != "" {
		a.blocked = append(a.blocked, open{"", why})
		for _, r := range rule.All() {
			a.blocked = append(a.blocked, open{r.ID, why})
		}
		return a
	}
	article := d.Audit.Treaty.For(g.Type.ID, g.Examples[0])
	said := func(r *rule.Rule, why string) {
		if v, ok := d.Choices.chosen(g.Type, r); ok {
			a.refused = append(a.refused, open{r.ID, fmt.Sprintf("%s was asked for, and %s", r.Phrase(v), why)})
		}
	}
	wants := map[string]want{}
	a.wants = wants
	var options []option // of one rule after the other
	for _, r := range rule.All() {
		if r.ID == rule.TabWidth || r.Mirrored {
			continue
		}
		if r.ID == rule.IndentSize && wants[rule.IndentStyle].value == rule.Word("tab") {
			a.asides = append(a.asides, open{r.ID, "the files are indented with tabs (" + wants[rule.IndentStyle].because + "), where a number of spaces settles nothing"})
			continue
		}
		why, skipped := d.skip[subject{g.Type, r.ID}]
		if r.ID == rule.IndentSize && !skipped { // style and size are one question
			why, skipped = d.skip[subject{g.Type, rule.IndentStyle}]
		}
		if skipped {
			a.blocked = append(a.blocked, open{r.ID, why})
			said(r, why)
			continue
		}
		options = options[:0]
		claims := d.inPlay(g, v, r)
		for _, c := range claims {
			options = append(options, d.optionOf(c, g, v))
		}
		if o, ok := d.codeOption(g, r, claims); ok {
			options = append(options, o)
		}
		if value, ok := d.Choices.chosen(g.Type, r); ok && (len(claims) > 0 || d.standard.has(r)) {
			options = append(options, option{value: value, rank: -1, because: "you said so", said: true})
		}
		if article != nil {
			if value, ok := article.Style[r.ID]; ok {
				options = append(options, option{value: value, rank: 0, because: fmt.Sprintf("the treaty says so (%s:%d)", article.Path, article.Line)})
			}
		}
		if len(options) == 0 {
			continue
		}
		best, why := d.best(options, claims, g, r)
		if why != "" {
			a.blocked = append(a.blocked, open{r.ID, why})
			said(r, why)
			continue
		}
		if v, ok := d.Choices.chosen(g.Type, r); ok && best.value != v {
			why := "no program in play has a setting for it"
			for _, c := range claims {
				if err := adjustable(c, v, g); err != nil && rule.Compare(c.Stance(), rule.Stance{Role: rule.Writes, Value: v}) != rule.Together {
					why = err.Error()
				}
			}
			said(r, why)
		}
		wants[r.ID] = want{best.value, best.reason(), best.code, best.share, best.said}
	}
	return a
}

// block notes that a question about the group's type stays open.
func (d *draft) block(g *claim.Group, ruleID, why string) {
	s := subject{g.Type, ruleID}
	if d.blocked[s] == "" {
		d.blocked[s] = why
	}
}

// inPlay returns the claims that have to live together.
func (d *draft) inPlay(g *claim.Group, v *assign.Assignment, r *rule.Rule) []*claim.Claim {
	var out []*claim.Claim
	for _, c := range g.Claims {
		if c.Rule != r || c.Role == rule.Leaves || c.Role == rule.Shows || !v.InPlay(c.Program, g) || d.leaves(c.Program, g) {
			continue
		}
		if r.ID == rule.IndentSize && g.UsesTabs(c.Program) {
			continue
		}
		out = append(out, c)
	}
	return out
}

// option is a value to consider; the lowest rank is asked first.
type option struct {
	value   rule.Value
	rank    int
	claim   *claim.Claim // that puts it forward, or nil
	who     string       // whose word that is
	because string       // "" where the claim tells
	files   int          // that would be rewritten
	edits   int
	code    bool // the code does so
	share   float64
	said    bool // by the person
}

// optionOf returns the value a claim puts forward, ranked by whose word it
// is: the formatter's written value, then version control, then the standard
// settings file, be it read by editors or by the formatter, then the linter,
// then the editor, then defaults in the same order.
func (d *draft) optionOf(c *claim.Claim, g *claim.Group, v *assign.Assignment) option {
	rank, who := 0, ""
	switch {
	case c.Way != nil && !isStandard(c.Program) && c.Program.Place(c.Way.Place).Syntax.IsStandard():
		rank, who = 4, "the standard settings file"
	case v.Formatter != nil && c.Program == v.Formatter.Program:
		rank, who = 2, "its formatter's setting"
	case c.Program.Has(catalog.VersionControl): // decides what a checkout brings, before any editor
		rank, who = 3, "the version control's setting"
	case isStandard(c.Program):
		rank, who = 4, "the standard settings file"
	case c.Program.Has(catalog.Linter):
		rank, who = 5, "the linter's setting"
	default:
		rank, who = 6, "the editor's setting"
	}
	if size := g.Claim(c.Program, rule.IndentSize); c.Rule.ID == rule.IndentStyle && c.Basis == claim.Default && size != nil && size.Basis == claim.Set && size.Value.Int() > 0 {
		spoken := *size // a written size is a word on the indentation as a whole
		spoken.Rule, spoken.Value = c.Rule, c.Value
		c = &spoken
	}
	if c.Basis == claim.Default || c.Preset && c.Role == rule.Accepts { // a linter's preset is nobody's word on layout
		rank += 10
	}
	return option{value: c.Value, rank: rank, claim: c, who: who}
}

// reason says in a few words why the option is one.
func (o *option) reason() string {
	c := o.claim
	switch {
	case c == nil || o.because != "":
		return o.because
	case c.Basis != claim.Default:
		line, _ := c.Where.Position()
		return fmt.Sprintf("%s says so (%s, %s:%d)", o.who, c.Program.Name, c.Where.Path(), line)
	case c.Question.Fixed() && c.Role == rule.Writes:
		return c.Program.Name + " has one fixed style here"
	}
	return "the default of " + c.Program.Name
}

// isStandard reports whether the program is the open standard for editors: the
// one whose own settings file is EditorConfig's.
func isStandard(e *catalog.Entry) bool {
	own := e.Place("")
	return own != nil && own.Syntax.IsStandard()
}

// tied reports whether another value has the option's rank.
func tied(options []option, o option) bool {
	return slices.ContainsFunc(options, func(p option) bool { return p.rank == o.rank && p.value != o.value })
}

// best picks the option that every program can live with and that comes first
// by rank, then by fewest files rewritten, then by fewest settings to edit, then by
// name; or it says why there is none.
func (d *draft) best(options []option, claims []*claim.Claim, g *claim.Group, r *rule.Rule) (option, string) {
	var first option
	found, why := false, ""
	for _, o := range options {
		ok := true
		for _, c := range claims {
			if rule.Compare(c.Stance(), rule.Stance{Role: rule.Writes, Value: o.value}) == rule.Together {
				continue
			}
			o.edits++
			if err := adjustable(c, o.value, g); err != nil {
				ok = false
				why = err.Error()
			}
		}
		if !ok {
			continue
		}
		if tied(options, o) {
			o.files = d.rewritten(g, r, o.value)
		}
		if !found || o.before(&first) {
			found, first = true, o
		}
	}
	if !found {
		return option{}, "no value suits every program: " + why
	}
	for _, o := range options {
		if o.rank < first.rank && why != "" && !o.code {
			first.because = why
		}
	}
	return first, ""
}

// before reports whether the option is asked before another.
func (o *option) before(other *option) bool {
	c := cmp.Or(cmp.Compare(o.rank, other.rank), cmp.Compare(o.files, other.files), cmp.Compare(o.edits, other.edits))
	return c < 0 || c == 0 && o.value.Less(other.value)
}
