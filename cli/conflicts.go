package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/conflict"
	"jollytreaty/core/filetype"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
	"jollytreaty/core/settle"
	"jollytreaty/present"
)

// filter says which findings to show; empty fields show all.
type filter struct {
	rule, typ, code, severity, path string

	reaches pattern.List // of the path
}

func (s *session) conflictsCommand() *cobra.Command {
	var f filter
	c := &cobra.Command{
		Use:     "conflicts",
		Short:   "Every conflict with all its sides and what would settle it",
		Example: "  treaty conflicts\n  treaty conflicts --type kotlin --rule max_line_length\n  treaty conflicts --path android/app --severity error\n  treaty conflicts --code clash --format json",
		Args:    noArguments,
		RunE: func(c *cobra.Command, _ []string) error {
			s.look(c)
			return s.conflicts(&f)
		},
	}
	quick(c)
	c.Flags().StringVar(&f.rule, "rule", "", "only this rule, such as max_line_length")
	c.Flags().StringVar(&f.typ, "type", "", "only this file type, such as kotlin")
	c.Flags().StringVar(&f.code, "code", "", "only this code or kind, such as clash/rejected or slip; dead/default is listed only so")
	c.Flags().StringVar(&f.severity, "severity", "", "only this severity: error, warning, note")
	c.Flags().StringVar(&f.path, "path", "", "only about files and settings files at this path or pattern, from the root")
	return c
}

func (f *filter) check() error {
	if err := knownRule(f.rule); err != nil {
		return fmt.Errorf("--rule %w", err)
	}
	if f.typ != "" && filetype.ByID(f.typ) == nil {
		return fmt.Errorf("--type: %w", filetype.NotOne(f.typ))
	}
	if f.severity != "" && conflict.Severity(f.severity).Rank() == 0 {
		return fmt.Errorf("--severity %s is not known; it takes error, warning, note", f.severity)
	}
	f.reaches = pathPattern(f.path)
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

func (f *filter) shows(r *audit.Result, x *conflict.Finding) bool {
	return (f.rule == "" || x.Rule != nil && x.Rule.ID == f.rule) &&
		(f.typ == "" || x.Type != nil && x.Type.ID == f.typ) &&
		(f.code == "" || string(x.Code) == f.code || x.Code.Kind() == f.code) &&
		(f.severity == "" || string(x.Severity) == f.severity) &&
		(f.path == "" || r.About(x, f.reaches.Reaches))
}

func (s *session) conflicts(f *filter) error {
	if err := f.check(); err != nil {
		return err
	}
	r, in, err := s.start()
	if err != nil {
		return err
	}
	defer r.Close()
	result := in.Audit
	if plan, err := settle.Propose(in); err == nil {
		plan.Annotate()
	} else {
		s.tell("no proposal can be shown: %v", err)
	}
	var shown []*conflict.Finding
	list := result.Findings
	if f.code == string(conflict.DeadDefault) {
		list = result.Restated()
	}
	for _, x := range list {
		if f.shows(result, x) {
			shown = append(shown, x)
		}
	}
	if s.format == "json" {
		return wrote(present.AuditJSON(s.out, r.Root, result, shown))
	}
	present.Conflicts(s.page(), shown)
	return nil
}
