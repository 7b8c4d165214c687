package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"jollytreaty/core/conflict"
	"jollytreaty/core/nearest"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
	"jollytreaty/core/tree"
	"jollytreaty/present"
)

// filter says which findings to show; empty fields show all.
type filter struct {
	rule, typ, code string
}

func (s *session) conflictsCommand() *cobra.Command {
	var f filter
	c := &cobra.Command{
		Use:     "conflicts",
		Short:   "Every conflict with all its sides and what would settle it",
		Example: "  treaty conflicts\n  treaty conflicts --type kotlin --rule max_line_length\n  treaty conflicts --code clash --format json",
		Args:    cobra.NoArgs,
		RunE:    func(*cobra.Command, []string) error { return s.conflicts(f) },
	}
	c.Flags().StringVar(&f.rule, "rule", "", "only this rule, such as max_line_length")
	c.Flags().StringVar(&f.typ, "type", "", "only this file type, such as kotlin")
	c.Flags().StringVar(&f.code, "code", "", "only this code or kind, such as clash/rejected or slip")
	return c
}

func (f filter) check() error {
	if f.rule != "" && rule.ByID(f.rule) == nil {
		var ids []string
		for _, r := range rule.All() {
			ids = append(ids, r.ID)
		}
		return fmt.Errorf("--rule %s is not known; the nearest is %s", f.rule, nearest.Closest(f.rule, ids))
	}
	if f.typ != "" && tree.TypeByID(f.typ) == nil {
		return fmt.Errorf("--type %s is not known; see the ids in: treaty assign --format json", f.typ)
	}
	if f.code != "" {
		var known []string
		for _, c := range conflict.Codes() {
			if f.code == string(c) || f.code == c.Kind() {
				return nil
			}
			known = append(known, string(c))
		}
		return fmt.Errorf("--code %s is not known; the nearest is %s", f.code, nearest.Closest(f.code, known))
	}
	return nil
}

func (f filter) shows(x *conflict.Finding) bool {
	return (f.rule == "" || x.Rule != nil && x.Rule.ID == f.rule) &&
		(f.typ == "" || x.Type != nil && x.Type.ID == f.typ) &&
		(f.code == "" || string(x.Code) == f.code || x.Code.Kind() == f.code)
}

func (s *session) conflicts(f filter) error {
	if err := f.check(); err != nil {
		return err
	}
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	in, err := s.input(r, result)
	if err != nil {
		return err
	}
	if plan, err := settle.Propose(in); err == nil {
		plan.Annotate()
	} else {
		fmt.Fprintf(s.err, "treaty: no proposal can be shown: %v\n", err)
	}
	var shown []*conflict.Finding
	for _, x := range result.Findings {
		if f.shows(x) {
			shown = append(shown, x)
		}
	}
	if s.format == "json" {
		return wrote(present.AuditJSON(s.out, r.Root, result, shown))
	}
	present.Conflicts(s.page(), shown)
	return nil
}
