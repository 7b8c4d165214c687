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
	add := func(name, short string, run func() error) {
		c.AddCommand(&cobra.Command{Use: name, Short: short, Args: noArguments, RunE: func(*cobra.Command, []string) error { return run() }})
	}
	add("install", "Adds the check to git's commit hook", s.hookInstall)
	add("status", "Says how the commit hook stands", s.hookStatus)
	add("remove", "Takes the check out of git's commit hook", s.hookRemove)
	write := false
	lines := &cobra.Command{
		Use: "lines", Short: "Prints what to add to files that keep hooks or CI steps", Args: noArguments,
		RunE: func(*cobra.Command, []string) error {
			found, err := s.hookLines(write)
			if err == nil && !found {
				fmt.Fprintln(s.out, "No file here keeps hooks or CI steps that is known; for git's own hook: treaty hook install")
			}
			return err
		},
	}
	lines.Flags().BoolVar(&write, "write", false, "add the lines to the files")
	c.AddCommand(lines)
	return c
}

func (s *session) hookInstall() error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	before, err := r.Hook()
	if err != nil {
		return err
	}
	if before.Installed {
		fmt.Fprintf(s.out, "The commit hook checks already: %s\n", before.Path)
		return nil
	}
	h, err := r.InstallHook()
	if err != nil {
		return ioFailure(fmt.Errorf("the commit hook cannot be written: %w", err))
	}
	fmt.Fprintf(s.out, "Before each commit git now runs: treaty check --staged\n  %s\n", h.Path)
	if before.Others {
		fmt.Fprintln(s.out, "What the hook did before, it does behind that.")
	}
	_, err = s.hookLines(false)
	return err
}

func (s *session) hookStatus() error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	h, err := r.Hook()
	switch {
	case err != nil:
		return err
	case h.Installed:
		fmt.Fprintf(s.out, "installed: %s\n", h.Path)
	case h.Others:
		fmt.Fprintf(s.out, "not installed: %s does something else; treaty hook install keeps that\n", h.Path)
	default:
		fmt.Fprintln(s.out, "not installed; see: treaty hook install")
	}
	return nil
}

func (s *session) hookRemove() error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	had, err := r.RemoveHook()
	switch {
	case err != nil:
		return ioFailure(err)
	case had:
		fmt.Fprintln(s.out, "The commit hook no longer checks style settings.")
	default:
		fmt.Fprintln(s.out, "The commit hook did not check style settings.")
	}
	return nil
}

// hookLines prints, for each file here that keeps hooks or CI steps, what to add, or
// adds it. It reports whether there is such a file.
func (s *session) hookLines(write bool) (found bool, err error) {
	c, err := catalog.BuiltIn()
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
			fmt.Fprintf(s.out, "\n%s runs the check already.\n", file)
			continue
		}
		open = true
		if !write {
			fmt.Fprintf(s.out, "\n%s keeps %s; to have them check, too, add:\n\n%s", file, recipe.Keeps, recipe.Lines())
			continue
		}
		after, err := recipe.Added(file, text)
		if err != nil {
			fmt.Fprintf(s.err, "treaty: %v; add by hand:\n\n%s", err, recipe.Lines())
			continue
		}
		if err := r.Replace(file, text, after); err != nil {
			return found, ioFailure(err)
		}
		fmt.Fprintf(s.out, "\n%s keeps %s; added:\n\n%s", file, recipe.Keeps, recipe.Lines())
	}
	switch {
	case open && write:
		fmt.Fprintln(s.out, "\nWhere these run, treaty must be on the path. To see the change: git diff")
	case open:
		fmt.Fprintln(s.out, "\nWhere these run, treaty must be on the path. To add the lines: treaty hook lines --write")
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
