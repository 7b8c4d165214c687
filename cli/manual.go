package cli

import (
	"fmt"
	"os"

	"github.com/spf13/cobra"
	"github.com/spf13/cobra/doc"
)

// manualCommand writes manual pages made from the commands themselves.
func (s *session) manualCommand() *cobra.Command {
	return &cobra.Command{
		Use:     "manual DIR",
		Short:   "Writes manual pages of all commands into a folder",
		Example: "  treaty manual ~/.local/share/man/man1",
		Args:    cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if err := os.MkdirAll(args[0], 0o755); err != nil {
				return ioFailure(err)
			}
			root := c.Root()
			root.DisableAutoGenTag = true // pages are the same each time
			if err := doc.GenManTree(root, &doc.GenManHeader{Section: "1", Source: "Jolly Treaty " + Version}, args[0]); err != nil {
				return ioFailure(fmt.Errorf("manual pages cannot be written: %w", err))
			}
			return nil
		},
	}
}
