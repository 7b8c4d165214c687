package cli

import (
	"fmt"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"jollytreaty/core/evidence"
	"jollytreaty/demo"
)

func (s *session) demoCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "demo [DIR]",
		Short: "Puts the demo repository in a new folder and walks the whole job on it",
		Long: "demo unpacks Skerry Line, the repository of a made-up ferry company, into a new\n" +
			"folder (DIR, or one among the temporary files), and runs each step of the job\n" +
			"there. It touches nothing else.",
		Example: "  treaty demo\n  treaty demo /tmp/skerry-line",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			dir := ""
			if len(args) > 0 {
				dir = filepath.Join(s.dir, args[0])
				if filepath.IsAbs(args[0]) {
					dir = args[0]
				}
			}
			return s.demo(dir)
		},
	}
}

func (s *session) demo(dir string) error {
	if dir == "" {
		above, err := os.MkdirTemp("", "treaty-demo-")
		if err != nil {
			return ioFailure(err)
		}
		dir = filepath.Join(above, demo.Name)
	}
	if err := demo.Unpack(dir); err != nil {
		return ioFailure(err)
	}
	page := s.page()
	say := func(text string) { s.say("%s\n", text) }
	say("Skerry Line runs island ferries. Its repository has grown settings for years.")
	say("Here is one way to make them agree; each step shows the command you would type.")
	fmt.Fprintln(s.out)
	page.Command("cd " + dir)
	s.dir, s.measure = dir, &evidence.Options{}
	steps := []struct {
		why, command string
		run          func() error
	}{
		{"First, where does it stand?", "treaty audit", s.audit},
		{"One conflict from all sides: a written value against a silent default.",
			"treaty conflicts --type kotlin --rule max_line_length",
			func() error { return s.conflicts(&filter{typ: "kotlin", rule: "max_line_length"}) }},
		{"What would settle all of it? This changes nothing.", "treaty settle",
			func() error { return s.settle(&settling{}) }},
		{"Agreed. Every edit keeps the comments and the order of its file.", "treaty settle --write",
			func() error { return s.settle(&settling{write: true}) }},
		{"And what is left? Only what needs a person.", "treaty audit", s.audit},
	}
	for _, step := range steps {
		fmt.Fprintln(s.out)
		say(step.why)
		page.Command(step.command)
		fmt.Fprintln(s.out)
		if err := step.run(); err != nil {
			return err
		}
	}
	fmt.Fprintln(s.out)
	say("The folder is yours to look around in: " + dir)
	return nil
}
