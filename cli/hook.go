package cli

import (
	"bytes"
	"fmt"
	"io/fs"
	"slices"

	"github.com/spf13/cobra"

	"jollytreaty/core/catalog"
	"jollytreaty/repo"
)

func (s *session) hookCommand() *cobra.Command {
	c := &cobra.Command{
		Use:   "hook",
		Short: "Installs, shows or removes the commit hook",
		Long: "hook install has git check what is staged before each commit. A hook that is there\n" +
			"goes on as before, behind ours. Where hooks or CI steps are kept in files of their\n" +
			"own, hook lines prints what to add to them, and --write adds it.",
		Example: "  treaty hook install\n  treaty hook status\n  treaty hook lines --write\n  treaty hook remove",
		Args:    noArguments,
		RunE:    func(*cobra.Command, []string) error { return s.hookStatus() },
	}
	wanted := false
	add := func(name, short string, run func() error) *cobra.Command {
		one := &cobra.Command{Use: name, Short: short, Args: noArguments, RunE: func(*cobra.Command, []string) error { return run() }}
		c.AddCommand(one)
		return one
	}
	install := add("install", "Adds the check to git's commit hook", func() error { return s.hookInstall(wanted) })
	add("status", "Says how the commit hook stands", s.hookStatus)
	remove := add("remove", "Takes the check out of git's commit hook", func() error { return s.hookRemove(wanted) })
	for _, one := range []*cobra.Command{install, remove} {
		one.Flags().BoolVar(&wanted, "elsewhere", false, "also where git looks for hooks outside of this repository, and other repositories run them")
	}
	write := false
	lines := &cobra.Command{
		Use: "lines", Short: "Prints what to add to files that keep hooks or CI steps", Args: noArguments,
		RunE: func(*cobra.Command, []string) error {
			found, err := s.hookLines(write)
			if err == nil && !found {
				s.say("No file here keeps hooks or CI steps that is known; for git's own hook: treaty hook install\n")
			}
			return err
		},
	}
	lines.Flags().BoolVar(&write, "write", false, "add the lines to the files")
	c.AddCommand(lines)
	return c
}

// withHook calls use with the commit hooks of the repository.
func (s *session) withHook(use func(*repo.Hook) error) error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	h, err := r.Hook()
	if err != nil {
		return err
	}
	defer h.Close()
	return use(h)
}

// elsewhere refuses to change hooks that other repositories run, too, unless that is
// what is wanted.
func elsewhere(h *repo.Hook, command string, wanted bool) error {
	if !h.Elsewhere || wanted {
		return nil
	}
	return ioFailure(fmt.Errorf("git looks for hooks in %s, outside of this repository (core.hooksPath), so that others run them, too; nothing was changed. If that is what you want: treaty hook %s --elsewhere", h.Folder, command))
}

func (s *session) hookInstall(wanted bool) error {
	err := s.withHook(func(h *repo.Hook) error {
		if h.Installed {
			s.say("The commit hook checks already: %s\n", h.Path())
			return nil
		}
		if err := elsewhere(h, "install", wanted); err != nil {
			return err
		}
		if err := h.Install(); err != nil {
			return ioFailure(fmt.Errorf("the commit hook cannot be written: %w", err))
		}
		s.say("Before each commit, and each merge that makes one, git now runs: treaty check --staged\n  %s\n", h.Path())
		if h.Others {
			s.say("What the hook did before, it does behind that.\n")
		}
		s.say("Git runs no hook for what a rebase or a cherry-pick carries over, nor for a merge that only moves on; CI judges those.\n")
		return nil
	})
	if err != nil {
		return err
	}
	_, err = s.hookLines(false)
	return err
}

func (s *session) hookStatus() error {
	return s.withHook(func(h *repo.Hook) error {
		switch {
		case h.Installed:
			s.say("installed: %s\n", h.Path())
		case h.Others:
			s.say("not installed: %s does something else; treaty hook install keeps that\n", h.Path())
		default:
			s.say("not installed; see: treaty hook install\n")
		}
		return nil
	})
}

func (s *session) hookRemove(wanted bool) error {
	return s.withHook(func(h *repo.Hook) error {
		if err := elsewhere(h, "remove", wanted); err != nil {
			return err
		}
		had, err := h.Remove()
		switch {
		case err != nil:
			return ioFailure(err)
		case had:
			s.say("The commit hook no longer checks style settings.\n")
		default:
			s.say("The commit hook did not check style settings.\n")
		}
		return nil
	})
}

// hookLines prints, for each file here that keeps hooks or CI steps, what to add, or
// adds it. It reports whether there is such a file.
func (s *session) hookLines(write bool) (found bool, err error) {
	c, err := personal()
	if err != nil {
		return found, err
	}
	r, err := repo.Locate(s.dir)
	if err != nil {
		return found, err
	}
	defer r.Close()
	open := false
	for _, recipe := range c.Places.Recipes {
		file, text := keeper(r.FS(), recipe)
		if file == "" {
			continue
		}
		found = true
		if checks(text) {
			s.say("\n%s runs the check already.\n", file)
			continue
		}
		open = true
		if !write {
			s.say("\n%s keeps %s; to have them check, too, add:\n\n%s", file, recipe.Keeps, asItIs(recipe.Lines()))
			continue
		}
		after, err := recipe.Added(file, text)
		if err != nil {
			s.tell("%v; add by hand:", err)
			fmt.Fprintf(s.err, "\n%s", recipe.Lines())
			continue
		}
		if err := r.Replace(file, text, after); err != nil {
			return found, ioFailure(err)
		}
		s.say("\n%s keeps %s; added:\n\n%s", file, recipe.Keeps, asItIs(recipe.Lines()))
	}
	switch {
	case open && write:
		s.say("\nWhere these run, treaty must be on the path. To see the change: git diff\n")
	case open:
		s.say("\nWhere these run, treaty must be on the path. To add the lines: treaty hook lines --write\n")
	}
	return found, nil
}

// keeper returns the file a recipe is for, with its text: of several one that runs
// the check already, or else the first of those that suit it best.
func keeper(fsys fs.FS, recipe *catalog.Recipe) (file string, text []byte) {
	best := -1
	for _, p := range recipe.Files {
		matches, _ := fs.Glob(fsys, p)
		slices.Sort(matches)
		for _, m := range matches {
			here, err := fs.ReadFile(fsys, m)
			if err != nil {
				continue
			}
			if checks(here) {
				return m, here
			}
			if fit := recipe.Fit(m, here); fit >= 0 && (best < 0 || fit < best) {
				best, file, text = fit, m, here
			}
		}
	}
	return file, text
}

func checks(text []byte) bool { return bytes.Contains(text, []byte("treaty check")) }
