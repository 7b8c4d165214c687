package claim

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// claims works out the claims of a program on a group.
func (p *Picture) claims(e *catalog.Entry, g *Group) {
	if where, out := excluded(e, g); out {
		g.Excludes[e] = where
		return
	}
	told := p.tell(e, g)
	if g.opaque[e] != (Seen{}) {
		return
	}
	if len(told) > 1 {
		p.differ(e, g, told)
		return
	}
	p.claimed(e, g)
}

// differ works out the claims of a program whose runs set different things: those on
// which they agree once, the others for each run. It reports whether any do.
func (p *Picture) differ(e *catalog.Entry, g *Group, told []*File) {
	first, beaten := len(g.Claims), len(g.Beaten)
	var all []*Claim
	for _, f := range told {
		g.told[e] = f
		p.claimed(e, g)
		for _, c := range g.Claims[first:] {
			if !slices.ContainsFunc(all, func(had *Claim) bool {
				return had.Rule == c.Rule && had.Role == c.Role && had.Value == c.Value && had.Set.Equal(c.Set)
			}) {
				all = append(all, c)
			}
		}
		g.Claims, g.Beaten = g.Claims[:first:first], g.Beaten[:beaten:beaten]
	}
	g.told[e] = nil
	g.Claims = append(g.Claims, all...)
}

// claimed works out the claims of a program by its settings, and by what one command
// line sets.
func (p *Picture) claimed(e *catalog.Entry, g *Group) {
	s := stackOf(e, g)
	if p.isOpaque(e, g, s) {
		return
	}
	formats, where := s.state(e.Formatting(g.Type.ID))
	if formats == stateOff {
		g.Idle[e] = where
	}
	if g.OnlyLints(e) {
		formats = stateOff
	}
	first := len(g.Claims)
	for _, q := range e.Rules {
		if q.Concerns(g.Type.ID) && (formats == stateOn || q.Role != rule.Writes) {
			s.answer(e, q, g)
		}
	}
	g.join(first)
}

// join takes claims of one program on one rule, which come from several of its own
// rules, for one where the one implies the other: the same value, or the lower of two
// limits. Those from first on are the program's.
func (g *Group) join(first int) {
	for i := first; i < len(g.Claims); i++ {
		for j := i + 1; j < len(g.Claims); j++ {
			a, b := g.Claims[i], g.Claims[j]
			if a.Rule != b.Rule || a.Role != b.Role {
				continue
			}
			limits := a.Question.AtMost && b.Question.AtMost && !a.Value.IsZero() && !b.Value.IsZero()
			switch {
			case a.Value == b.Value && a.Set.Equal(b.Set):
			case limits && b.Value.Int() < a.Value.Int():
				a, b = b, a
			case !limits:
				continue
			}
			b.Beaten = a
			g.Beaten = append(g.Beaten, b)
			g.Claims[i] = a
			g.Claims = slices.Delete(g.Claims, j, j+1)
			j--
		}
	}
}

// isOpaque reports whether the program's settings for the group are given where
// they are not read: on a command line, or, without a settings file that is
// known, in a build's code. The group keeps the place.
func (p *Picture) isOpaque(e *catalog.Entry, g *Group, s stack) bool {
	places := p.styled[e]
	if s.files == 0 && p.Seen[e] != nil {
		places = slices.Concat(places, p.elsewhere[e])
	}
	for _, seen := range places {
		if Within(g.chain.folder, seen.Folder) {
			g.opaque[e] = seen
			return true
		}
	}
	return false
}

// answer finds the claims that answer one question, and which is in effect.
func (s *stack) answer(e *catalog.Entry, q *catalog.Question, g *Group) {
	r := rule.ByID(q.Rule)
	on, where := s.state(q.On)
	if on == stateUnknown && where.File != nil && len(q.From) > 0 {
		g.leaveOpen(e, where)
	}
	if on != stateOn {
		return
	}
	var claims []*Claim // strongest first
	ended, unknown := false, false
	for i := len(s.layers) - 1; i >= 0 && !ended; i-- {
		l := s.layers[i]
		if l.opaque != nil && len(q.From) > 0 && s.answers(l, q) {
			if len(claims) == 0 {
				g.leaveOpen(e, Where{File: l.file, Node: l.opaque})
			}
			unknown = true
			break
		}
		had, odd := len(claims), false
		for _, w := range q.From {
			if l.place.ID != w.Place || l.node == nil {
				continue
			}
			n, computed := l.node.Look(w.Key)
			if computed != nil {
				if len(claims) == 0 {
					g.leaveOpen(e, Where{File: l.file, Node: computed, Scope: l.scope})
				}
				unknown, ended = true, true
				break
			}
			if n != nil && e.Hyphens { // of two spellings the later counts
				if other := l.node.Find(catalog.OtherSpelling(w.Key)); other != nil && other.Start > n.Start {
					continue
				}
			}
			if n == nil || n.Kind == document.List || slices.ContainsFunc(w.Unless, func(key string) bool { return l.node.Find(key) != nil }) || !s.holds(w) {
				continue
			}
			c := &Claim{Program: e, Rule: r, Role: q.Role, Basis: Set, Question: q, Way: w,
				Where: Where{File: l.file, Node: n, Scope: l.scope}}
			switch {
			case l.file == nil:
				c.Basis, c.Where = Default, Where{}
			case l.base != nil:
				c.Basis, c.Where.Node, c.Preset = Inherited, l.base, true
			case l.inherited:
				c.Basis = Inherited
			}
			answer := read(e, w, r, q, n)
			if len(w.Fills) == 2 && len(answer.values) == 1 && answer.values[0] == rule.Word("tab") && s.number(w, w.Fills[0]) < s.number(w, w.Fills[1]) {
				unknown, ended = true, true
				break
			}
			if answer.kind == nothing {
				odd = odd || w.Match == "" && n.Kind == document.Scalar && n.Value != nil
				continue
			}
			if answer.kind == ends {
				ended = true
				break
			}
			c.set(answer)
			claims = append(claims, c)
			break
		}
		if odd && len(claims) == had && !ended { // set, to what is not known here
			unknown, ended = true, true
		}
	}
	level, levelAt := s.level(e, q)
	for _, c := range claims {
		c.Level, c.LevelAt = level, levelAt
	}
	if len(claims) == 0 {
		if unknown {
			return
		}
		if c := s.fallback(g, e, r, q, where); c != nil {
			c.Level, c.LevelAt = level, levelAt
			g.Claims = append(g.Claims, c)
		}
		return
	}
	g.Claims = append(g.Claims, claims[0])
	for _, c := range claims[1:] {
		c.Beaten = claims[0]
		g.Beaten = append(g.Beaten, c)
	}
}

// holds reports whether the keys on which a way depends have the values that it takes.
func (s *stack) holds(w *catalog.Way) bool {
	for key, values := range w.When {
		text := ""
		for i := len(s.layers) - 1; i >= 0 && text == ""; i-- {
			if l := s.layers[i]; l.place != nil && l.place.ID == w.Place && l.node != nil {
				if n := l.node.Find(key); n != nil {
					text = strings.ToLower(n.Text())
				}
			}
		}
		if !slices.Contains(values, text) {
			return false
		}
	}
	return true
}

// number is the number that the strongest layer of a way's place has at a key, or the
// key's default.
func (s *stack) number(w *catalog.Way, key string) int {
	key, text, _ := strings.Cut(key, "=")
	for i := len(s.layers) - 1; i >= 0; i-- {
		if l := s.layers[i]; l.place != nil && l.place.ID == w.Place && l.node != nil {
			if n := l.node.Find(key); n != nil {
				text = n.Text()
				break
			}
		}
	}
	n, _ := strconv.Atoi(text)
	return n
}

// fallback is the claim of a program to which nothing is said: its preset or
// its default. Only programs that write or reject have one.
func (s *stack) fallback(g *Group, e *catalog.Entry, r *rule.Rule, q *catalog.Question, where Where) *Claim {
	if s.broken || q.Role != rule.Writes && q.Role != rule.Accepts {
		return nil
	}
	c := &Claim{Program: e, Rule: r, Role: q.Role, Basis: Default, Question: q, Where: where}
	if q.Preset != nil {
		for i := len(s.layers) - 1; i >= 0; i-- {
			l := s.layers[i]
			if l.node == nil || l.place.ID != q.Preset.Place {
				continue
			}
			n := l.node.Find(q.Preset.Key)
			if n == nil {
				continue
			}
			if answer := read(e, q.Preset, r, q, n); answer.kind == some {
				c.Where = Where{File: l.file, Node: n, Scope: l.scope}
				c.set(answer)
				return c
			}
		}
	}
	value := g.defaultOf(e, q)
	if value == nil {
		return nil
	}
	c.set(translate(r, q, value))
	return c
}

// defaultOf is the program's default in the version that is used for the group.
func (g *Group) defaultOf(e *catalog.Entry, q *catalog.Question) any {
	if version := older(q.Before, g.signs[e]); version != "" {
		return q.Before[version]
	}
	return q.Default
}

// Restates reports whether the claim's value is its program's default.
func (c *Claim) Restates() bool {
	q := c.Question
	if q.Default == nil || q.Preset != nil || q.Before != nil || c.Value.IsZero() {
		return false
	}
	values := translate(c.Rule, q, q.Default).values
	return len(values) == 1 && values[0] == c.Value
}

// answer is what a key says about a rule.
type answer struct {
	kind    answerKind
	machine bool         // the machine decides
	values  []rule.Value // none: things are left as they are
}

type answerKind uint8

const (
	nothing answerKind = iota // the key does not answer
	some
	ends // weaker answers do not count, and this is none
)

// set gives the claim the answer's value, or the accepted set.
func (c *Claim) set(a answer) {
	c.Machine = a.machine && c.Basis != Default
	if len(a.values) == 0 {
		c.Role = rule.Leaves
		return
	}
	c.Value = a.values[0]
	if c.Role == rule.Accepts {
		c.Set = rule.OneOf(a.values...)
		if c.Question.AtMost {
			c.Set = rule.AtMost(c.Value)
		}
	}
}

// read translates the node a way leads to. In EditorConfig files words are
// compared without regard to case, and "unset" ends the search.
func read(e *catalog.Entry, w *catalog.Way, r *rule.Rule, q *catalog.Question, n *document.Node) answer {
	if w.Present != "" {
		return translate(r, q, w.Present)
	}
	if n.Kind != document.Scalar {
		return answer{}
	}
	raw, text := n.Value, n.Text()
	if w.Match != "" {
		m := regexp.MustCompile(w.Match).FindStringSubmatch(text) // checked with the entry
		if m == nil {
			return answer{}
		}
		raw, text = m[1], m[1]
	}
	if n.Resets() {
		return answer{kind: ends}
	}
	whole, isWhole := raw.(int64)
	if t, ok := raw.(string); ok && strings.Trim(t, "+-0123456789") == "" { // most are words
		if i, err := strconv.ParseInt(t, 10, 64); err == nil {
			whole, isWhole = i, true
		}
	}
	if w.Blanks {
		style, size := blanks(text)
		if r.ID == rule.IndentStyle && !style.IsZero() {
			return answer{kind: some, values: []rule.Value{style}}
		}
		if r.ID == rule.IndentSize && !size.IsZero() {
			return answer{kind: some, values: []rule.Value{size}}
		}
		return answer{kind: some}
	}
	for word, value := range w.Values {
		if word == text || strings.EqualFold(word, text) && (n.Folds() || e.FoldCase) {
			return translate(r, q, value)
		}
	}
	switch {
	case w.Number != "" && isWhole:
		return translate(r, q, w.Number)
	case n.Folds() && strings.EqualFold(text, "unset"):
		return answer{kind: ends}
	case isWhole && whole == 0 && r.Domain.Number && q.Role == rule.Accepts:
		return answer{kind: some}
	case n.Folds() && !r.Domain.Prose:
		raw = strings.ToLower(text)
	}
	return translate(r, q, raw)
}

// translate reads a value of the catalog or of a settings file in the terms of
// the rule.
func translate(r *rule.Rule, q *catalog.Question, raw any) answer {
	if list, ok := raw.([]any); ok {
		var values []rule.Value
		for _, item := range list {
			values = append(values, translate(r, q, item).values...)
		}
		return answer{kind: some, values: values}
	}
	if raw == catalog.LeavesWord || raw == catalog.UnknownWord || raw == catalog.MachineWord {
		return answer{kind: some, machine: raw == catalog.MachineWord}
	}
	v, err := r.Domain.Parse(raw)
	if err != nil {
		return answer{}
	}
	return answer{kind: some, values: []rule.Value{v}}
}

type state uint8

const (
	stateOff state = iota
	stateOn
	stateUnknown
)

// state tells whether a rule of a program is on, and where that is said.
func (s *stack) state(on *catalog.Switch) (state, Where) {
	if on == nil {
		return stateOn, Where{}
	}
	sw := switched{on}
	for i := len(s.layers) - 1; i >= 0; i-- {
		l := s.layers[i]
		if l.opaque != nil {
			return stateUnknown, Where{File: l.file, Node: l.opaque}
		}
		if l.lets != nil {
			if l.lets.covers(on) {
				return stateOff, Where{File: l.file, Node: l.lets.at, Scope: l.scope}
			}
			continue
		}
		at := func(n *document.Node) Where {
			if l.file == nil {
				return Where{}
			}
			if l.base != nil {
				n = l.base
			}
			return Where{File: l.file, Node: n, Scope: l.scope}
		}
		for _, key := range sw.Gates {
			if n := l.node.Find(key); n != nil && isOff(n, sw.Off) {
				return stateOff, at(n)
			}
		}
		for _, key := range sw.Only {
			if list := l.node.Find(key); list != nil {
				return onIf(sw.listed(list) != nil), at(list)
			}
		}
		off, on := sw.listedIn(l.node, sw.Disabled), sw.listedIn(l.node, sw.Enabled)
		switch {
		case off != nil && (on == nil || len(off.Text()) >= len(on.Text())):
			return stateOff, at(off)
		case on != nil:
			return stateOn, at(on)
		}
		for _, key := range sw.Keys {
			n, computed := l.node.Look(key)
			if computed != nil {
				return stateUnknown, Where{File: l.file, Node: computed, Scope: l.scope}
			}
			if n != nil {
				return onIf(!isOff(n, sw.Off)), at(n)
			}
		}
		if n := l.node.Find(sw.None); sw.None != "" && n != nil && isTrue(n) {
			return stateOff, at(n)
		}
		if n := l.node.Find(sw.All); sw.All != "" && n != nil {
			return onIf(n.Value != false), at(n)
		}
	}
	switch {
	case sw.Unset == "on", sw.Unset == "unknown" && s.files == 0 && !s.broken:
		return stateOn, Where{}
	case sw.Unset == "unknown":
		return stateUnknown, Where{}
	}
	return stateOff, Where{}
}

func onIf(on bool) state {
	if on {
		return stateOn
	}
	return stateOff
}

// isOff reports whether a value switches a rule off: the value itself or, of one with
// options behind it, the first.
func isOff(n *document.Node, off []any) bool {
	if n.Kind == document.List && len(n.Items) > 0 {
		n = n.Items[0]
	}
	value := any("null")
	if n.Value != nil {
		value = n.Value
	}
	return n.Kind == document.Scalar && slices.ContainsFunc(off, func(o any) bool { return fmt.Sprint(o) == fmt.Sprint(value) })
}

// blanks reads an indentation given as the text itself.
func blanks(text string) (style rule.Value, size rule.Value) {
	switch {
	case text == "":
		return rule.Value{}, rule.Value{}
	case strings.Trim(text, "\t") == "":
		return rule.Word("tab"), rule.Value{}
	case strings.Trim(text, " ") == "":
		return rule.Word("space"), rule.Number(len(text))
	}
	return rule.Value{}, rule.Value{}
}

// switched looks a rule's name up in lists that switch rules.
type switched struct{ *catalog.Switch }

func (s switched) listedIn(root *document.Node, keys []string) *document.Node {
	var best *document.Node
	for _, key := range keys {
		if n := s.listed(root.Find(key)); n != nil && (best == nil || len(n.Text()) > len(best.Text())) {
			best = n
		}
	}
	return best
}

// listed returns the item that names the rule: of several beginnings of its
// name the longest.
func (s switched) listed(list *document.Node) *document.Node {
	var best *document.Node
	if n := list.Find("[0=" + s.Name + "]/0"); n != nil {
		return n // it stands with its options
	}
	for _, w := range list.Words() {
		text := w.Text()
		switch {
		case text == s.Name:
			return w
		case slices.Contains(s.Also, text) && best == nil,
			s.Prefixes && text != "" && (strings.HasPrefix(s.Name, text) || text == "ALL") && (best == nil || len(text) > len(best.Text())):
			best = w
		}
	}
	return best
}

// answers reports whether a layer could answer the question at all.
func (s *stack) answers(l layer, q *catalog.Question) bool {
	return slices.ContainsFunc(q.From, func(w *catalog.Way) bool { return w.Place == l.place.ID })
}

// leaveOpen notes where code decides what a setting is.
func (g *Group) leaveOpen(e *catalog.Entry, w Where) {
	if !slices.ContainsFunc(g.unknown, func(had openAt) bool { return had.node == w.Node }) {
		g.unknown = append(g.unknown, openAt{e, w.File, w.Node})
	}
}
