package cli

import (
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/evidence"
	"jollytreaty/core/filetype"
	"jollytreaty/core/nearest"
	"jollytreaty/core/pattern"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
	"jollytreaty/present"
)

// looked says which part of the code evidence is asked of.
type looked struct {
	typ, rule, path, choice string
	all                     bool
}

func (s *session) evidenceCommand() *cobra.Command {
	var l looked
	c := &cobra.Command{
		Use:   "evidence",
		Short: "What the code does, and what each choice would touch",
		Long: "evidence counts, for each file type and rule, how many files have which value. It\n" +
			"reads a sample, large enough that every share is within two percentage points,\n" +
			"unless told to read --all. Texts, comments, here-documents, generated files and\n" +
			"other people's code do not count.\n\n" +
			"--if RULE=VALUE tells what a choice would cost: the files and lines it would\n" +
			"change, with excerpts where the change is certain.",
		Example: "  treaty evidence\n  treaty evidence --type kotlin --rule max_line_length\n  treaty evidence --if indent_size=2 --type swift\n  treaty evidence --all --format csv",
		Args:    noArguments,
		RunE:    func(*cobra.Command, []string) error { return s.evidence(&l) },
	}
	c.Flags().StringVar(&l.typ, "type", "", "only this file type, such as kotlin")
	c.Flags().StringVar(&l.rule, "rule", "", "only this rule, such as quotes")
	c.Flags().StringVar(&l.path, "path", "", "only files at this path or pattern, from the root")
	c.Flags().StringVar(&l.choice, "if", "", "what it would cost to choose RULE=VALUE")
	c.Flags().BoolVar(&l.all, "all", false, "read every file, not a sample")
	c.Annotations = map[string]string{formats: "text json csv"}
	return c
}

func (s *session) evidence(l *looked) error {
	if err := knownRule(l.rule); err != nil {
		return fmt.Errorf("--rule %w", err)
	}
	if l.typ != "" && filetype.ByID(l.typ) == nil {
		return fmt.Errorf("--type: %w", filetype.NotOne(l.typ))
	}
	var chosen *rule.Rule
	var value rule.Value
	if l.choice != "" {
		var err error
		if chosen, value, err = choice("--if", l.choice); err != nil {
			return err
		}
		if !slices.Contains(audit.Costed(), chosen) {
			return fmt.Errorf("--if %s: what code does about %s is not measured", l.choice, chosen.ID)
		}
	}
	s.unjudged = true
	s.measure = &evidence.Options{All: l.all || chosen != nil}
	if chosen != nil && value.Int() > 0 {
		s.measure.Limits = []int{value.Int()}
	}
	reaches := pathPattern(l.path)
	wanted := func(f tree.File) bool {
		return (l.typ == "" || f.Type.ID == l.typ) && (l.path == "" || reaches.Reaches(f.Path))
	}
	if l.typ != "" || l.path != "" {
		s.measure.Want = wanted
	}
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	files := result.Picture.Tree.Files
	if l.path != "" && !slices.ContainsFunc(files, func(f tree.File) bool { return reaches.Reaches(f.Path) }) {
		return fmt.Errorf("--path %s: no file of this repository is there; paths start at %s", l.path, r.Root)
	}
	keep := func(i int) bool { return wanted(files[i]) }
	if chosen != nil {
		costs := result.Cost(r.FS(), chosen, value, keep)
		switch s.format {
		case "json":
			return wrote(present.CostJSON(s.out, chosen, value, costs))
		case "csv":
			return wrote(present.CostCSV(s.out, chosen, value, costs))
		}
		present.Cost(s.page(), chosen, value, costs)
		return nil
	}
	habits := result.Habits(keep, func(ru *rule.Rule) bool { return l.rule == "" || ru.ID == l.rule })
	switch s.format {
	case "json":
		return wrote(present.EvidenceJSON(s.out, result.Evidence, habits))
	case "csv":
		return wrote(present.EvidenceCSV(s.out, habits))
	}
	present.Evidence(s.page(), r.Root, result.Evidence, habits, l.typ != "" || l.rule != "")
	return nil
}

// choice reads RULE=VALUE, given to a flag.
func choice(flag, text string) (*rule.Rule, rule.Value, error) {
	id, raw, given := strings.Cut(text, "=")
	if !given || raw == "" {
		return nil, rule.Value{}, fmt.Errorf("%s %s: write a rule and a value, such as max_line_length=100", flag, text)
	}
	if err := knownRule(id); err != nil {
		return nil, rule.Value{}, fmt.Errorf("%s %w", flag, err)
	}
	r := rule.ByID(id)
	v, err := r.Domain.Parse(raw)
	if err != nil {
		return nil, rule.Value{}, fmt.Errorf("%s %s: %s is no value of %s; it takes %s", flag, text, raw, id, r.Domain)
	}
	return r, v, nil
}

// knownRule returns an error that names the nearest rule where the id is none.
func knownRule(id string) error {
	if id == "" || rule.ByID(id) != nil {
		return nil
	}
	var ids []string
	for _, r := range rule.All() {
		ids = append(ids, r.ID)
	}
	return fmt.Errorf("%s is not known; the nearest is %s", id, nearest.Closest(id, ids))
}

// pathPattern reads a path or pattern from the root; one without a slash that
// has a star is about files anywhere.
func pathPattern(path string) pattern.List {
	if path == "" {
		return pattern.List{}
	}
	p := strings.TrimSuffix(strings.TrimPrefix(path, "./"), "/")
	dialect := pattern.Paths
	if !strings.Contains(p, "/") && strings.Contains(p, "*") {
		dialect = pattern.Names
	}
	return pattern.Compile(dialect, []string{p, p + "/**"})
}
