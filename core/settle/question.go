package settle

import (
	"slices"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// Question is something that a person may decide: which value a rule has for the
// files of a type, or, without a rule, which formatter they have.
type Question struct {
	Type       *filetype.Type
	Rule       *rule.Rule // nil for the formatter
	Findings   []*conflict.Finding
	Values     []rule.Value     // that somebody puts forward
	Formatters []*catalog.Entry // that claim the files
	Value      rule.Value       // what the plan proposes; zero for nothing
	Formatter  *catalog.Entry
	Because    string // why, or why it is left open
}

// Questions returns what the plan decides or leaves open where programs do not
// agree, most important first. The findings have to be annotated (see Annotate).
func (p *Plan) Questions(findings []*conflict.Finding, verdicts []assign.Assignment) []Question {
	var out []Question
	for _, f := range findings {
		if f.Type == nil || f.Waived != nil || f.Code != conflict.Rivalry && (f.Rule == nil || !f.Code.Is(conflict.Values) || f.Code == conflict.ClashSeverity) {
			continue
		}
		i := slices.IndexFunc(out, func(q Question) bool { return q.Type == f.Type && q.Rule == f.Rule })
		if i < 0 {
			out = append(out, Question{Type: f.Type, Rule: f.Rule})
			i = len(out) - 1
		}
		out[i].add(f, p)
	}
	for i := range out {
		if out[i].Rule != nil {
			continue
		}
		for _, v := range verdicts {
			for _, c := range append(slices.Clone(v.Rivals), v.Candidates...) {
				if _, covers := c.Program.Covering(out[i].Type.ID); covers && !slices.Contains(out[i].Formatters, c.Program) && rivals(out[i].Findings, c.Program) {
					out[i].Formatters = append(out[i].Formatters, c.Program)
				}
			}
		}
	}
	return out
}

func rivals(findings []*conflict.Finding, e *catalog.Entry) bool {
	return slices.ContainsFunc(findings, func(f *conflict.Finding) bool {
		return slices.ContainsFunc(f.Sides, func(s conflict.Side) bool { return s.Program == e.ID })
	})
}

func (q *Question) add(f *conflict.Finding, p *Plan) {
	q.Findings = append(q.Findings, f)
	for _, s := range f.Sides {
		if v, ok := s.Value.(rule.Value); ok && q.Rule != nil && !slices.Contains(q.Values, v) {
			q.Values = append(q.Values, v)
		}
	}
	if q.Because == "" {
		q.Because = f.Open
	}
	for _, d := range p.Decisions {
		if slices.Contains(d.Settles, f.ID) && d.Rule == q.Rule {
			q.Value, q.Because = d.Value, d.Because
		}
	}
	for _, a := range p.Assignments {
		if q.Rule == nil && a.Type == q.Type && f.Proposal != nil && shares(a.groups, f) {
			q.Formatter, q.Because = a.Formatter, a.Because
		}
	}
}
