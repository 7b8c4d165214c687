package cli

import (
	"github.com/spf13/cobra"

	"jollytreaty/present"
)

// codesTopic is not run: it is what treaty help codes prints.
func (s *session) codesTopic() *cobra.Command {
	c := &cobra.Command{Use: "codes", Short: "The codes of findings: when each is found, and what takes it away"}
	c.SetHelpFunc(func(*cobra.Command, []string) { present.CodesText(s.page()) })
	return c
}
