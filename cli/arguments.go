package cli

import (
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"jollytreaty/core/nearest"
)

// noArguments refuses arguments, and says what was probably meant.
func noArguments(c *cobra.Command, args []string) error {
	if len(args) == 0 {
		return nil
	}
	if info, err := os.Stat(args[0]); err == nil && info.IsDir() {
		return fmt.Errorf("%s takes no folder; for the repository at %s: treaty -C %s%s", c.CommandPath(), args[0], args[0], c.CommandPath()[len("treaty"):])
	}
	if c.HasParent() {
		return fmt.Errorf("%s takes no argument, and was given %q; see: %s --help", c.CommandPath(), args[0], c.CommandPath())
	}
	var names []string
	for _, known := range c.Commands() {
		names = append(names, known.Name())
	}
	if near := nearest.Of(args[0], names); near != "" {
		return fmt.Errorf("%q is no command; the nearest is: treaty %s", args[0], near)
	}
	return fmt.Errorf("%q is no command; see: treaty --help", args[0])
}
