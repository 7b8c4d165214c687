package cli

import (
	"github.com/spf13/cobra"

	"jollytreaty/core/evidence"
	"jollytreaty/present"
)

func (s *session) auditCommand() *cobra.Command {
	c := &cobra.Command{
		Use:     "audit",
		Short:   "Where the repository stands: types, formatters, conflicts, the next step",
		Example: "  treaty audit\n  treaty audit -C services/gateway --format json",
		Args:    noArguments,
		RunE: func(c *cobra.Command, _ []string) error {
			s.look(c)
			return s.audit()
		},
	}
	quick(c)
	return c
}

// quick adds the flag for a look at settings alone.
func quick(c *cobra.Command) {
	c.Flags().Bool("quick", false, "settings only; the code itself is not looked at")
}

// look has the code measured, by a sample, unless the command is told to be quick.
func (s *session) look(c *cobra.Command) {
	if quick, _ := c.Flags().GetBool("quick"); !quick {
		s.measure = &evidence.Options{}
	}
}

func (s *session) audit() error {
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	if s.format == "json" {
		return wrote(present.AuditJSON(s.out, r.Root, result, result.Findings))
	}
	present.Audit(s.page(), r.Root, result)
	return nil
}

// wrote turns a failure to print into an error with its exit code.
func wrote(err error) error {
	if err != nil {
		return ioFailure(err)
	}
	return nil
}
