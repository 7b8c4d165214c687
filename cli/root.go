// Package cli holds the commands: flags in, core called, presenter out.
package cli

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/term"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/evidence"
	"jollytreaty/core/tree"
	"jollytreaty/present"
	"jollytreaty/repo"
)

// Exit codes.
const (
	exitDone  = 0
	exitUsage = 2 // wrong usage, no such folder, invalid treaty file
	exitIO    = 3 // could not finish
)

// Version is the program's version.
const Version = "0.1.0"

// failure is an error with its exit code.
type failure struct {
	code int
	err  error
}

func (f *failure) Error() string { return f.err.Error() }
func (f *failure) Unwrap() error { return f.err }

func ioFailure(err error) error { return &failure{exitIO, err} }

// output keeps the first error of writing the result.
type output struct {
	w   io.Writer
	err error
}

func (o *output) Write(p []byte) (int, error) {
	if o.err != nil {
		return 0, o.err
	}
	n, err := o.w.Write(p)
	o.err = err
	return n, err
}

// formats is the annotation of a command that lists the formats it prints, where
// they are others than text and json.
const formats = "formats"

// session is what every command shares.
type session struct {
	out, err io.Writer
	terminal *os.File // standard output, if it is a file
	dir      string
	format   string
	color    string
	quiet    bool
	drawn    atomic.Bool // a line of progress stands on the terminal

	inside func(tree.File) bool // files in which settings about themselves are looked for

	force    bool              // overwrite what is not committed
	house    string            // a file with house rules that count besides the treaty
	base     *audit.Result     // of what a change starts from, by which it is judged
	unjudged bool              // the findings are of no use
	measure  *evidence.Options // how the code is looked at; nil for not at all
}

// Main runs the program and returns its exit code.
func Main(args []string, out, errOut io.Writer) int {
	watched := &output{w: out}
	s := &session{out: watched, err: errOut}
	s.terminal, _ = out.(*os.File)
	root := s.commands()
	root.SetArgs(args)
	root.SetOut(watched)
	root.SetErr(errOut)
	err := root.ExecuteContext(context.Background())
	if err == nil && watched.err != nil {
		err = ioFailure(fmt.Errorf("the result could not be printed in full: %w", watched.err))
	}
	if err == nil {
		return exitDone
	}
	if !errors.Is(err, errFound) {
		complain(errOut, err)
	}
	var f *failure
	if errors.As(err, &f) {
		return f.code
	}
	return exitUsage
}

func (s *session) commands() *cobra.Command {
	root := &cobra.Command{
		Use:   "treaty",
		Short: "Make a repository's style settings agree",
		Long: "treaty reads the formatter, linter and editor settings of a repository, gives every\n" +
			"file type exactly one formatter, shows the settings that cannot both hold, and\n" +
			"writes one reconciled configuration. Without a command it audits.",
		Example:       "  treaty                      where this repository stands\n  treaty -C ../other          the same, elsewhere\n  treaty explain src/main.go  the settings in effect for one file\n  treaty settle --patch       the proposal as a diff",
		Version:       Version,
		Args:          noArguments,
		SilenceErrors: true,
		SilenceUsage:  true,
		RunE: func(c *cobra.Command, _ []string) error {
			s.look(c)
			return s.audit()
		},
	}
	root.SetVersionTemplate("treaty {{.Version}}\n")
	root.PersistentFlags().StringVarP(&s.dir, "directory", "C", ".", "the repository to look at")
	root.PersistentFlags().StringVar(&s.format, "format", "text", "text or json; some commands print more")
	root.PersistentFlags().StringVar(&s.color, "color", "auto", "auto, always or never")
	root.PersistentFlags().StringVar(&s.house, "house", "", "a treaty file with house rules that count besides the repository's own")
	quick(root)
	root.SetFlagErrorFunc(func(c *cobra.Command, err error) error {
		return fmt.Errorf("%w; see: %s --help", err, c.CommandPath())
	})
	root.PersistentPreRunE = func(c *cobra.Command, _ []string) error {
		known := strings.Fields(cmp.Or(c.Annotations[formats], "text json"))
		if !slices.Contains(known, s.format) {
			return fmt.Errorf("--format %s is not known; it takes %s", s.format, strings.Join(known, ", "))
		}
		if s.color != "auto" && s.color != "always" && s.color != "never" {
			return fmt.Errorf("--color %s is not known; it takes auto, always or never", s.color)
		}
		return nil
	}
	cobra.EnableCommandSorting = false // they stand in the order in which people need them
	root.AddCommand(s.auditCommand(), s.surveyCommand(), s.assignCommand(), s.conflictsCommand(), s.explainCommand(), s.rulesCommand(),
		s.evidenceCommand(), s.compareCommand(), s.settleCommand(), s.draftCommand(), s.checkCommand(), s.hookCommand(), s.watchCommand(),
		s.catalogCommand(), s.demoCommand(), s.manualCommand(), s.codesTopic())
	return root
}

// page is standard output as the text presenters need it.
func (s *session) page() *present.Page {
	p := &present.Page{Width: 80, Color: s.color == "always"}
	if f := s.terminal; f != nil && term.IsTerminal(int(f.Fd())) {
		p.Terminal = true
		if w, _, err := term.GetSize(int(f.Fd())); err == nil && w > 0 {
			p.Width = w
		}
		p.Color = p.Color || s.color == "auto" && os.Getenv("NO_COLOR") == "" && os.Getenv("TERM") != "dumb"
	} else if w, err := strconv.Atoi(os.Getenv("COLUMNS")); err == nil && w > 0 {
		p.Width = w
	}
	p.Width = max(p.Width, 60)
	p.W = present.Safe(s.out, p.Color)
	return p
}

// open lists the repository and prints what was odd about that.
func (s *session) open(early func(*repo.Repo)) (*repo.Repo, error) {
	r, err := repo.Open(s.dir, listing(early))
	if errors.Is(err, fs.ErrPermission) {
		return nil, ioFailure(err)
	}
	if err != nil {
		return nil, err
	}
	if said := r.Interrupted(); said != "" {
		s.tell("%s", said)
	}
	for _, note := range r.Notes {
		s.tell("%s", note)
	}
	return r, nil
}

// knownNames is asked only in a plain folder, of what an ignore list leaves out.
var knownNames = sync.OnceValue(func() func(string) bool {
	c, err := personal()
	if err != nil {
		return func(string) bool { return false }
	}
	return claim.KnownNames(c)
})

// listing is how a repository is listed.
func listing(early func(*repo.Repo)) repo.Listing {
	return repo.Listing{Early: early, Matters: func(path string) bool { return knownNames()(path) }}
}

// run opens the repository and audits it. What git tracks is audited while git
// looks for more; where that finds nothing, which is most of the time, the
// result stands.
func (s *session) run() (*repo.Repo, *audit.Result, error) {
	type outcome struct {
		result *audit.Result
		err    error
	}
	go catalog.BuiltIn() // decoded while git is asked
	day := time.Now()
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	early := make(chan outcome, 1)
	var paths []string
	asked := false
	r, err := s.open(func(r *repo.Repo) {
		asked = true
		root, files := r.Root, r.FS()
		paths = r.Paths
		go func() {
			result, err := s.auditOf(ctx, root, files, paths, day)
			early <- outcome{result, err}
		}()
	})
	stands := asked && err == nil && slices.Equal(paths, r.Paths)
	if !stands {
		cancel()
	}
	var o outcome
	if asked {
		o = <-early
	}
	if err != nil {
		return nil, nil, err
	}
	if !stands {
		o.result, o.err = s.auditOf(context.Background(), r.Root, r.FS(), r.Paths, day)
	}
	s.progressDone()
	if o.err != nil {
		r.Close()
		return nil, nil, o.err
	}
	return r, o.result, nil
}

// auditOf audits the files at paths of a state of the repository at root.
func (s *session) auditOf(ctx context.Context, root string, files fs.FS, paths []string, day time.Time) (*audit.Result, error) {
	c, err := personal()
	if err != nil {
		return nil, err
	}
	if s.measure != nil {
		s.measure.Progress = s.progress()
	}
	house := houseRules{root, s.house}
	named, err := house.path()
	if err != nil {
		return nil, err
	}
	return audit.Run(ctx, files, paths, c, audit.Options{Day: day, Inside: s.inside, Measure: s.measure, Unjudged: s.unjudged,
		Outside: house.outside, House: named, Base: s.base})
}

// auditRevision audits a revision. Where the clone does not have all of it, nothing
// is known of it.
func (s *session) auditRevision(root string, v *repo.Revision, paths []string) (*audit.Result, error) {
	result, err := s.auditOf(context.Background(), root, v, paths, time.Now())
	if missing := v.Missing(); missing != nil {
		return nil, ioFailure(missing)
	}
	return result, err
}

// ofRevision is the error of asking for a revision: what is missing could not be had.
func ofRevision(err error) error {
	var missing *repo.MissingError
	if errors.As(err, &missing) {
		return ioFailure(err)
	}
	return err
}
