package cli

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/settle"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) settleCommand() *cobra.Command {
	var patch, write, undo bool
	var follow string
	c := &cobra.Command{
		Use:   "settle",
		Short: "The proposal: decisions with reasons, and the edits that carry them out",
		Long: "settle decides every open question it can give a reason for, and shows the edits\n" +
			"that make each settings file agree. It changes nothing unless told to --write.",
		Example: "  treaty settle\n  treaty settle --patch | git apply\n  treaty settle --write",
		Args:    noArguments,
		RunE: func(c *cobra.Command, _ []string) error {
			s.look(c)
			if follow != string(settle.FollowSettings) && follow != string(settle.FollowCode) {
				return fmt.Errorf("--follow %s is not known; it takes settings or code", follow)
			}
			if s.measure == nil && follow == string(settle.FollowCode) {
				return errors.New("--follow code looks at the code; leave out --quick")
			}
			s.follow = settle.Policy(follow)
			if undo {
				return s.undo()
			}
			return s.settle(patch, write)
		},
	}
	quick(c)
	c.Flags().StringVar(&follow, "follow", "settings", "whose word counts: settings, or what most of the code does")
	c.Flags().BoolVar(&patch, "patch", false, "print the edits as one diff for git apply")
	c.Flags().BoolVar(&write, "write", false, "write the edits")
	c.Flags().BoolVar(&undo, "undo", false, "restore what the last settlement changed")
	c.Flags().BoolVar(&s.force, "force", false, "with --write: overwrite files with uncommitted changes, too; copies are kept")
	c.MarkFlagsMutuallyExclusive("patch", "write", "undo")
	return c
}

func (s *session) input(r *repo.Repo, result *audit.Result) (settle.Input, error) {
	c, err := catalog.BuiltIn()
	return settle.Input{FS: r.FS(), Paths: r.Paths, Catalog: c, Day: time.Now(), Audit: result, Follow: s.follow, Outside: s.outside}, err
}

func (s *session) settle(patch, write bool) error {
	if patch && s.format == "json" {
		return errors.New("--patch is a format of its own; leave out --format json")
	}
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	in, err := s.input(r, result)
	if err != nil {
		return err
	}
	plan, err := settle.Propose(in)
	if err != nil {
		return ioFailure(fmt.Errorf("%w; nothing was changed", err))
	}
	if write {
		if err := s.write(r, plan); err != nil {
			return err
		}
	}
	switch {
	case patch:
		present.SettlementPatch(s.out, plan)
	case s.format == "json":
		return wrote(present.SettlementJSON(s.out, plan))
	default:
		present.Settlement(s.page(), plan, write)
	}
	return nil
}

// write carries the plan's edits out, and proves on what was written that it holds.
func (s *session) write(r *repo.Repo, plan *settle.Plan) error {
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
		fmt.Fprintf(s.err, "treaty: copies of files with uncommitted changes are kept in %s\n", at)
	}
	if err := r.Write(changes); err != nil {
		return ioFailure(err)
	}
	after, err := s.again(r)
	if err == nil {
		err = plan.Holds(after)
	}
	if err != nil {
		if _, back := r.Undo(); back != nil {
			return ioFailure(fmt.Errorf("what was written does not hold (%w), and it could not be taken back: %w", err, back))
		}
		return ioFailure(fmt.Errorf("what was written does not hold (%w); everything is as it was", err))
	}
	return nil
}

// again audits what lies on disk now, settings alone.
func (s *session) again(r *repo.Repo) (*audit.Result, error) {
	now, err := repo.Open(r.Root, nil)
	if err != nil {
		return nil, err
	}
	defer now.Close()
	c, err := personal()
	if err != nil {
		return nil, err
	}
	return audit.Run(context.Background(), now.FS(), now.Paths, c, audit.Options{Day: time.Now(), Outside: s.outside})
}

// undo restores the state before the last settlement.
func (s *session) undo() error {
	r, err := s.open(nil)
	if err != nil {
		return err
	}
	defer r.Close()
	paths, err := r.Undo()
	if err != nil {
		return ioFailure(err)
	}
	fmt.Fprintf(s.out, "Restored as before the last settlement: %s\n", strings.Join(paths, ", "))
	return nil
}
