package cli

import (
	"github.com/spf13/cobra"

	"jollytreaty/core/tree"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) surveyCommand() *cobra.Command {
	var installed bool
	c := &cobra.Command{
		Use:   "survey",
		Short: "What is here: file types, settings files, programs, when each runs",
		Long: "survey lists every file type with its number of files, every settings file with how\n" +
			"it stands and how many files it governs, and every program in play with where that\n" +
			"shows, in which version, and when it runs.\n\n" +
			"A settings file is \"read\"; \"unread\" where another one in its folder is read instead,\n" +
			"or where it is written in a language that is not read; \"misplaced\" where its program\n" +
			"does not look; \"empty\"; or \"invalid\". Settings that stand in the very files they are\n" +
			"about, such as modelines, are listed, too.\n\n" +
			"With --installed it also looks outside of the repository: for the programs on the\n" +
			"path and in the project's tool folders, and for what differs from person to person,\n" +
			"settings in the home folder or above the repository that count here.",
		Example: "  treaty survey\n  treaty survey --installed\n  treaty survey --format json",
		Args:    noArguments,
		RunE: func(*cobra.Command, []string) error {
			s.inside = func(tree.File) bool { return true }
			r, result, err := s.run()
			if err != nil {
				return err
			}
			defer r.Close()
			if installed {
				for _, p := range result.Programs {
					result.Add(p.Entry, r.Installed(p.Entry.Executables(), result.Picture.Catalog.Places.Tools))
					result.Add(p.Entry, r.Above(result.SearchedAbove(p.Entry)))
					if !p.Entry.Personal.Alone || !result.HasSettings(p.Entry) {
						result.Add(p.Entry, repo.Personal(p.Entry.Personal.Files))
					}
				}
			}
			if s.format == "json" {
				return wrote(present.SurveyJSON(s.out, r.Root, result))
			}
			present.Survey(s.page(), r.Root, result)
			return nil
		},
	}
	c.Flags().BoolVar(&installed, "installed", false, "look for the programs, and for settings of your own that count here, on this machine; runs none")
	return c
}
