package cli

import (
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/evidence"
	"jollytreaty/core/nearest"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) explainCommand() *cobra.Command {
	var ruleID string
	c := &cobra.Command{
		Use:   "explain FILE...",
		Short: "Every effective setting of one file, who decided it, what it beat",
		Long: "explain says what a file is, who formats it and when, every setting in effect with\n" +
			"its source, what each of them beat, and which settings near it have no effect. With\n" +
			"--rule it tells the whole chain of one rule; of several files it shows where they\n" +
			"differ.",
		Example: "  treaty explain src/main.go\n  treaty explain src/main.go --rule max_line_length\n  treaty explain ios/App.swift kit/Clock.swift\n  treaty explain -C ../other docs/guide.md --format json",
		Args: func(_ *cobra.Command, files []string) error {
			if len(files) == 0 {
				return errors.New("explain needs a file; see: treaty explain --help")
			}
			return nil
		},
		RunE: func(_ *cobra.Command, files []string) error { return s.explain(files, ruleID) },
	}
	c.Flags().StringVar(&ruleID, "rule", "", "only this rule, step by step, such as max_line_length")
	return c
}

func (s *session) explain(files []string, ruleID string) error {
	if err := (&filter{rule: ruleID}).check(); err != nil {
		return err
	}
	var bases []string
	for _, file := range files {
		bases = append(bases, filepath.Base(file))
	}
	s.inside = func(f tree.File) bool { return slices.Contains(bases, filepath.Base(filepath.FromSlash(f.Path))) }
	s.measure = &evidence.Options{All: true, Want: s.inside}
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	var list []*audit.Explanation
	for _, file := range files {
		path := s.pathIn(r, file)
		x, ok := result.Explain(path)
		if !ok {
			if near := nearest.Of(path, r.Paths); near != "" {
				return fmt.Errorf("%s is no file of this repository; did you mean %s?", path, near)
			}
			return fmt.Errorf("%s is no file of this repository, or it is ignored", path)
		}
		if ruleID != "" {
			x.Rules = slices.DeleteFunc(x.Rules, func(e audit.Effective) bool { return e.Rule.ID != ruleID })
		}
		list = append(list, x)
	}
	switch {
	case s.format == "json" && len(list) == 1:
		return wrote(present.ExplainJSON(s.out, list[0]))
	case s.format == "json":
		return wrote(present.ExplainSeveralJSON(s.out, list))
	case len(list) > 1:
		present.ExplainSeveral(s.page(), list)
	case ruleID != "":
		present.ExplainRule(s.page(), list[0], rule.ByID(ruleID))
	default:
		present.Explain(s.page(), list[0])
	}
	return nil
}

// pathIn returns a file's path from the repository's root. A path is first
// taken from the folder the command runs in, then from the root.
func (s *session) pathIn(r *repo.Repo, file string) string {
	full := file
	if !filepath.IsAbs(file) {
		full = filepath.Join(s.dir, file)
	}
	if abs, err := filepath.Abs(full); err == nil {
		for _, root := range []string{r.Root, resolved(r.Root)} {
			for _, p := range []string{abs, filepath.Join(resolved(filepath.Dir(abs)), filepath.Base(abs))} {
				rel, err := filepath.Rel(root, p)
				if err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator)) && contains(r, filepath.ToSlash(rel)) {
					return filepath.ToSlash(rel)
				}
			}
		}
	}
	return filepath.ToSlash(filepath.Clean(file))
}

func resolved(p string) string {
	if real, err := filepath.EvalSymlinks(p); err == nil {
		return real
	}
	return p
}

func contains(r *repo.Repo, path string) bool {
	for _, p := range r.Paths {
		if p == path {
			return true
		}
	}
	return false
}
