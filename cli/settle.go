package cli

import (
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/settle"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) settleCommand() *cobra.Command {
	var patch, write bool
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
			return s.settle(patch, write)
		},
	}
	quick(c)
	c.Flags().StringVar(&follow, "follow", "settings", "whose word counts: settings, or what most of the code does")
	c.Flags().BoolVar(&patch, "patch", false, "print the edits as one diff for git apply")
	c.Flags().BoolVar(&write, "write", false, "write the edits")
	c.MarkFlagsMutuallyExclusive("patch", "write")
	return c
}

func (s *session) input(r *repo.Repo, result *audit.Result) (settle.Input, error) {
	c, err := catalog.BuiltIn()
	return settle.Input{FS: r.FS(), Paths: r.Paths, Catalog: c, Day: time.Now(), Audit: result, Follow: s.follow}, err
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
		changes := make([]repo.Change, len(plan.Edits))
		for i, e := range plan.Edits {
			changes[i] = repo.Change{Path: e.Path, Before: e.Before, After: e.After}
		}
		if err := r.Write(changes); err != nil {
			return ioFailure(err)
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
