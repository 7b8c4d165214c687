package cli

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/nearest"
	"jollytreaty/core/rule"
	"jollytreaty/present"
)

func (s *session) rulesCommand() *cobra.Command {
	var program string
	var every bool
	c := &cobra.Command{
		Use:   "rules [WORDS]",
		Short: "Search rules, and what each program calls them, their defaults and values here",
		Long: "rules searches the rules and every program's own keys for words: each rule with a\n" +
			"sentence, the values it takes and an example, and for each program in play its key,\n" +
			"its default, and the value here with the place where it is set. Without words it\n" +
			"lists the rules. --program lists every key of one program.",
		Example: "  treaty rules\n  treaty rules line length\n  treaty rules quotes --all\n  treaty rules --program ID width",
		RunE:    func(_ *cobra.Command, words []string) error { return s.rules(words, program, every) },
	}
	c.Flags().StringVar(&program, "program", "", "every key of this program, such as it is called in: treaty catalog --format json")
	c.Flags().BoolVar(&every, "all", false, "every program that is known, not only those in play")
	return c
}

func (s *session) rules(words []string, program string, every bool) error {
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	var refs []audit.Reference
	var keys []audit.Key
	if program != "" {
		e := result.Picture.Catalog.ByID(program)
		if e == nil {
			return fmt.Errorf("--program %s is not known; the nearest is %s", program, nearest.Closest(program, ids(result.Picture.Catalog)))
		}
		for _, k := range result.Keys(e) {
			if audit.Matches(words, k.Name, k.Takes, ruleText(k.Rule)) {
				keys = append(keys, k)
			}
		}
		if len(keys) == 0 && len(words) == 0 && s.format == "text" {
			s.say("%s has no settings that are known here: %s\n", e.Name, e.Source)
			return nil
		}
	} else {
		for _, ref := range result.References(every) {
			if audit.Matches(words, ruleText(ref.Rule)) {
				refs = append(refs, ref)
			}
		}
		if len(words) > 0 {
			for _, e := range result.Picture.Catalog.Entries {
				if !every && !inPlay(result, e) {
					continue
				}
				for _, k := range result.Keys(e) {
					if k.Rule == nil && audit.Matches(words, k.Name, k.Takes, e.ID, e.Name) {
						keys = append(keys, k)
					}
				}
			}
		}
	}
	if s.format == "json" {
		return wrote(present.RulesJSON(s.out, refs, keys))
	}
	switch {
	case len(refs)+len(keys) == 0:
		return fmt.Errorf("no rule and no key of a program matches %q; treaty rules lists the rules", strings.Join(words, " "))
	case len(words) == 0 && program == "":
		present.RuleList(s.page(), refs)
	default:
		present.Rules(s.page(), refs, keys)
	}
	return nil
}

// ruleText is the text of a rule in which words are looked for.
func ruleText(r *rule.Rule) string {
	if r == nil {
		return ""
	}
	return strings.Join([]string{r.ID, r.Title, r.Sentence, strings.Join(r.Domain.Words, " ")}, " ")
}

func inPlay(r *audit.Result, e *catalog.Entry) bool {
	for _, p := range r.Programs {
		if p.Entry == e {
			return true
		}
	}
	return false
}

func ids(c *catalog.Catalog) []string {
	var out []string
	for _, e := range c.Entries {
		out = append(out, e.ID)
	}
	return out
}
