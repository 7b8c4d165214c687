package cli

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
	"golang.org/x/term"

	"jollytreaty/core/audit"
	"jollytreaty/core/evidence"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
	"jollytreaty/core/treaty"
	"jollytreaty/present"
	"jollytreaty/repo"
)

// settling is what settle is asked for.
type settling struct {
	patch, write, undo bool
	ask, prune, gather bool
	follow, emit       string
	set, formatters    []string
	leave, only        []string

	asked string // the flags that say what is settled, to be typed again
}

func (s *session) settleCommand() *cobra.Command {
	var o settling
	c := &cobra.Command{
		Use:   "settle",
		Short: "The proposal: decisions with reasons, and the edits that carry them out",
		Long: "settle decides every open question it can give a reason for, and shows the edits\n" +
			"that make each settings file agree. It changes nothing unless told to --write, and\n" +
			"then all files or none; --undo restores what was there.",
		Example: "  treaty settle\n  treaty settle --patch | git apply\n  treaty settle --write\n  treaty settle --only kotlin --set kotlin:max_line_length=120\n  treaty settle --formatter swift=PROGRAM --leave a1b2c3d4\n  treaty settle --house ../house/treaty.toml",
		Args:    noArguments,
		RunE: func(c *cobra.Command, _ []string) error {
			s.look(c)
			o.asked = askedWith(c)
			return s.settle(&o)
		},
	}
	quick(c)
	f := c.Flags()
	f.StringVar(&o.follow, "follow", "", "whose word counts: settings (the default), or code, what most of the code does")
	f.StringArrayVar(&o.set, "set", nil, "a value that is decided: RULE=VALUE or TYPE:RULE=VALUE; repeatable")
	f.StringArrayVar(&o.formatters, "formatter", nil, "a formatter that is decided: TYPE=PROGRAM, by their ids; repeatable")
	f.StringArrayVar(&o.leave, "leave", nil, "the id of a finding that stays open; repeatable")
	f.StringArrayVar(&o.only, "only", nil, "settle only this rule, file type or finding; repeatable")
	f.StringVar(&o.emit, "emit", "", "print just that document as it would be: treaty, editorconfig or json")
	f.BoolVar(&o.gather, "gather", false, "say in the standard settings file, once, what it can say, and take copies elsewhere out")
	f.BoolVar(&o.prune, "prune", false, "take settings out that lose everywhere they could apply")
	f.BoolVar(&o.ask, "ask", false, "go through the decisions on the terminal, one at a time, and write at the end if you say so")
	f.BoolVar(&o.patch, "patch", false, "print the edits as one diff for git apply")
	f.BoolVar(&o.write, "write", false, "write the edits")
	f.BoolVar(&o.undo, "undo", false, "restore what the last settlement changed")
	f.BoolVar(&s.force, "force", false, "with --write: overwrite files with uncommitted changes, too; copies are kept")
	c.MarkFlagsMutuallyExclusive("patch", "write", "undo", "emit", "ask")
	return c
}

// askedWith returns the flags of a command that say what is asked for, each with a blank
// before it, as they are typed in a shell.
func askedWith(c *cobra.Command) string {
	var b strings.Builder
	c.Flags().Visit(func(f *pflag.Flag) {
		if slices.Contains([]string{"patch", "write", "undo", "ask", "emit", "force", "format", "color"}, f.Name) {
			return
		}
		values := []string{f.Value.String()}
		if list, ok := f.Value.(pflag.SliceValue); ok {
			values = list.GetSlice()
		}
		for _, v := range values {
			b.WriteString(" --" + f.Name)
			switch {
			case f.Value.Type() == "bool" && v == "true":
			case strings.Trim(v, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_./:=+-") == "":
				b.WriteString(" " + v)
			default:
				b.WriteString(" '" + strings.ReplaceAll(v, "'", `'\''`) + "'")
			}
		}
	})
	return b.String()
}

// choices reads what is decided beforehand.
func (o *settling) choices(house houseRules) (settle.Choices, error) {
	out := settle.Choices{Leave: o.leave, Only: o.only, Words: treaty.Words{Formatters: map[string]string{}}}
	for _, text := range o.set {
		rest, typ := text, ""
		if before, after, ok := strings.Cut(text, ":"); ok && !strings.Contains(before, "=") {
			typ, rest = before, after
			if filetype.ByID(typ) == nil {
				return out, fmt.Errorf("--set %s: %w", text, filetype.NotOne(typ))
			}
		}
		r, v, err := choice("--set", rest)
		if err != nil {
			return out, err
		}
		out.Set = append(out.Set, settle.Value{Type: typ, Rule: r, Value: v})
	}
	for _, text := range o.formatters {
		typ, id, ok := strings.Cut(text, "=")
		if !ok {
			return out, fmt.Errorf("--formatter %s: write TYPE=PROGRAM, with ids as in: treaty assign --format json", text)
		}
		if filetype.ByID(typ) == nil {
			return out, fmt.Errorf("--formatter %s: %w", text, filetype.NotOne(typ))
		}
		out.Words.Formatters[typ] = id
	}
	var err error
	out.Words.House, out.Houses, err = house.kept()
	return out, err
}

// start opens and audits the repository as what a settlement starts from.
func (s *session) start() (*repo.Repo, settle.Input, error) {
	r, result, err := s.run()
	if err != nil {
		return nil, settle.Input{}, err
	}
	return r, settle.Input{FS: r.FS(), Paths: r.Paths, Audit: result}, nil
}

func (s *session) settle(o *settling) error {
	switch {
	case o.undo:
		return s.undo()
	case o.patch && s.format == "json":
		return errors.New("--patch is a format of its own; leave out --format json")
	case !slices.Contains([]string{"", "settings", "code"}, o.follow):
		return fmt.Errorf("--follow %s is not known; it takes settings or code", o.follow)
	case s.measure == nil && o.follow == "code":
		return errors.New("--follow code looks at the code; leave out --quick")
	case !slices.Contains([]string{"", "treaty", "editorconfig", "json"}, o.emit):
		return fmt.Errorf("--emit %s is not known; it takes treaty, editorconfig or json", o.emit)
	}
	if o.ask && (s.terminal == nil || !term.IsTerminal(int(s.terminal.Fd())) || !term.IsTerminal(int(os.Stdin.Fd()))) {
		return errors.New("--ask needs a terminal; decide with --set, --formatter, --leave and --only instead")
	}
	if _, err := o.choices(houseRules{s.dir, s.house}); err != nil { // before anything is read
		return err
	}
	if o.write {
		if err := s.recover(); err != nil {
			return err
		}
	}
	r, in, err := s.start()
	if err != nil {
		return err
	}
	defer r.Close()
	if in.Choices, err = o.choices(houseRules{r.Root, s.house}); err != nil {
		return err
	}
	result := in.Audit
	if err := in.Choices.Check(result); err != nil {
		return err
	}
	in.Follow, in.Prune, in.Gather = settle.Policy(o.follow), o.prune, o.gather
	if o.follow == "" && result.Treaty != nil && s.measure != nil {
		in.Follow = settle.Policy(result.Treaty.Audit.Follow)
	}
	plan, err := settle.Propose(in)
	if refused := (*settle.RefusedError)(nil); errors.As(err, &refused) {
		return &failure{exitFound, err}
	}
	if err != nil {
		return err
	}
	for _, p := range plan.Unlisted {
		s.tell("%s is there, though the repository leaves it out of its list of files; it was read like the others", p)
	}
	if o.ask {
		return s.askAbout(r, in, plan)
	}
	if o.write {
		if err := s.write(r, in.Audit, plan); err != nil {
			return err
		}
	}
	switch {
	case o.patch:
		present.SettlementPatch(s.document(), plan)
	case o.emit == "json" || s.format == "json":
		return wrote(present.SettlementJSON(s.out, plan))
	case o.emit != "":
		return s.emit(r, plan, map[string]string{"treaty": treaty.Name, "editorconfig": ".editorconfig"}[o.emit])
	default:
		present.Settlement(s.page(), plan, o.write, o.asked)
	}
	return nil
}

// askAbout goes through the plan's decisions, makes the plan again, and writes it if
// it is told to.
func (s *session) askAbout(r *repo.Repo, in settle.Input, plan *settle.Plan) error {
	plan.Annotate()
	a := &asking{page: *s.page(), questions: plan.Questions(in.Audit.Findings, in.Audit.Verdicts), excerpt: s.excerpts(r, in.Audit)}
	a.answers = make([]answer, len(a.questions))
	if len(a.questions) == 0 {
		s.say("There is nothing to decide: no two programs contradict each other.\n")
		return nil
	}
	if err := ask(a, os.Stdin, s.terminal); err != nil {
		return ioFailure(err)
	}
	if !a.done {
		s.say("Nothing was written.\n")
		return nil
	}
	in.Choices = a.choices(in.Choices)
	plan, err := settle.Propose(in)
	if err != nil {
		return err
	}
	present.Settlement(s.page(), plan, false, "")
	c := &confirming{question: fmt.Sprintf("Write these edits to %d files?", len(plan.Edits))}
	if len(plan.Edits) == 0 {
		return nil
	}
	if err := ask(c, os.Stdin, s.terminal); err != nil {
		return ioFailure(err)
	}
	if !c.yes {
		s.say("Nothing was written.\n")
		return nil
	}
	if err := s.write(r, in.Audit, plan); err != nil {
		return err
	}
	s.say("Written. treaty settle --undo takes it back.\n")
	return nil
}

// excerpts returns what shows, for a value, a line of the code as it is and as it
// would be, where that is certain.
func (s *session) excerpts(r *repo.Repo, result *audit.Result) func(settle.Question, rule.Value) []string {
	known := map[string][]string{}
	return func(q settle.Question, v rule.Value) []string {
		if result.Evidence == nil || v.IsZero() || !evidence.Certain(q.Rule.ID) {
			return nil
		}
		key := q.Type.ID + " " + q.Rule.ID + " " + v.String()
		if lines, ok := known[key]; ok {
			return lines
		}
		var lines []string
		files := result.Picture.Tree.Files
		for _, c := range result.Cost(r.FS(), q.Rule, v, func(i int) bool { return files[i].Type == q.Type }) {
			for _, e := range c.Excerpts[:min(1, len(c.Excerpts))] {
				lines = append(lines, present.Excerpt(e, q.Rule)...)
			}
		}
		known[key] = lines
		return lines
	}
}

// emit prints a file at the root as the plan leaves it.
func (s *session) emit(r *repo.Repo, plan *settle.Plan, name string) error {
	text, err := planned(r, plan, name)
	if err != nil {
		return ioFailure(err)
	}
	_, err = s.document().Write(text)
	return wrote(err)
}

// planned returns a file's text as the plan leaves it.
func planned(r *repo.Repo, plan *settle.Plan, name string) ([]byte, error) {
	for _, e := range plan.Edits {
		if e.Path == name {
			return e.After, nil
		}
	}
	text, err := fs.ReadFile(r.FS(), name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	return text, err
}

func (s *session) draftCommand() *cobra.Command {
	c := &cobra.Command{
		Use:   "draft",
		Short: "House rules, taken from this repository, for others to adopt",
		Long: "draft prints a treaty file with what this repository's treaty says, or would say once\n" +
			"settled, of all files of each type. Other repositories adopt it.",
		Example: "  treaty draft > ../house/treaty.toml\n  treaty settle -C ../other --house ../house/treaty.toml",
		Args:    noArguments,
		RunE: func(c *cobra.Command, _ []string) error {
			s.look(c)
			r, in, err := s.start()
			if err != nil {
				return err
			}
			defer r.Close()
			plan, err := settle.Propose(in)
			if err != nil {
				return err
			}
			text, err := planned(r, plan, treaty.Name)
			if err != nil {
				return ioFailure(err)
			}
			if text == nil {
				return errors.New("there is nothing to draft house rules from: the repository has no treaty, and settling it would write none")
			}
			t, err := treaty.Parse(treaty.Name, text)
			if err != nil {
				return err
			}
			_, err = s.document().Write(treaty.Draft(t))
			return wrote(err)
		},
	}
	quick(c)
	return c
}

// write carries the plan's edits out, and proves on what was written that it holds.
func (s *session) write(r *repo.Repo, before *audit.Result, plan *settle.Plan) error {
	changes := make([]repo.Change, len(plan.Edits))
	var old []string // paths of files that are there
	for i, e := range plan.Edits {
		changes[i] = repo.Change{Path: e.Path, Before: e.Before, After: e.After}
		if e.Before != nil {
			old = append(old, e.Path)
		}
	}
	dirty, err := r.Uncommitted(old)
	switch {
	case err != nil:
		return ioFailure(err)
	case len(dirty) > 0 && !s.force:
		return ioFailure(fmt.Errorf("%s has changes that are not committed; nothing was written. Commit or stash them, or use --force, which keeps a copy", strings.Join(dirty, ", ")))
	case len(dirty) > 0:
		at, err := r.Keep(dirty, time.Now().Format("20060102-150405"))
		if err != nil {
			return ioFailure(fmt.Errorf("no copy of %s can be kept (%w); nothing was written", strings.Join(dirty, ", "), err))
		}
		s.tell("copies of files with uncommitted changes are kept in %s", at)
	}
	if err := r.Write(changes); err != nil {
		return ioFailure(err)
	}
	after, err := again(before, r, plan)
	if err == nil {
		err = plan.Holds(after)
	}
	if err != nil {
		if _, _, back := r.Undo(); back != nil {
			return ioFailure(fmt.Errorf("what was written does not hold (%w), and it could not be taken back: %w", err, back))
		}
		return ioFailure(fmt.Errorf("what was written does not hold (%w); everything is as it was", err))
	}
	return nil
}

// again audits what lies on disk now, settings alone.
func again(before *audit.Result, r *repo.Repo, plan *settle.Plan) (*audit.Result, error) {
	now, err := repo.Open(r.Root, listing(nil))
	if err != nil {
		return nil, err
	}
	defer now.Close()
	paths := slices.Clone(now.Paths)
	for _, p := range plan.Unlisted {
		if _, err := fs.Stat(now.FS(), p); err == nil {
			paths = append(paths, p)
		}
	}
	slices.Sort(paths)
	return before.Again(context.Background(), now.FS(), slices.Compact(paths), nil)
}

// recover finishes what was interrupted.
func (s *session) recover() error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	done, err := r.Recover()
	if err != nil {
		return ioFailure(err)
	}
	if done != "" {
		s.tell("%s", done)
	}
	return nil
}

// undo restores the state before the last settlement.
func (s *session) undo() error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	paths, said, err := r.Undo()
	switch {
	case err != nil:
		return ioFailure(err)
	case said != "":
		s.say("%s\n", strings.ToUpper(said[:1])+said[1:])
	default:
		s.say("Restored as before the last settlement: %s\n", strings.Join(paths, ", "))
	}
	return nil
}
