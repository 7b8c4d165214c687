package cli

import (
	"github.com/spf13/cobra"

	"jollytreaty/present"
)

func (s *session) assignCommand() *cobra.Command {
	return &cobra.Command{
		Use:     "assign",
		Short:   "Which formatter for each file type, and why",
		Example: "  treaty assign\n  treaty assign --format json",
		Args:    noArguments,
		RunE: func(*cobra.Command, []string) error {
			r, result, err := s.run()
			if err != nil {
				return err
			}
			defer r.Close()
			if s.format == "json" {
				return wrote(present.AuditJSON(s.out, r.Root, result, nil))
			}
			present.Assign(s.page(), result)
			return nil
		},
	}
}
