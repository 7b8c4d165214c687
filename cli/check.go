package cli

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"strings"
	"sync"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/pattern"
	"jollytreaty/core/settle"
	"jollytreaty/core/treaty"
	"jollytreaty/present"
	"jollytreaty/repo"
)

// exitFound says that a check found something.
const exitFound = 1

// errFound ends a check that found something; what it found is printed already.
var errFound = errors.New("")

// gate is what check is asked for.
type gate struct {
	filter
	failOn, since, baseline string
	only, skip, output      []string
	staged, update          bool
	quiet, verbose          bool

	changed map[string]bool // paths that are staged
	plain   bool            // nothing of them can hold settings
	listed  []byte          // the baseline as it is where the change starts from
}

// checkFormats are the forms in which a check prints what it found.
var checkFormats = []string{"text", "json", "sarif", "junit", "markdown"}

func (s *session) checkCommand() *cobra.Command {
	var g gate
	c := &cobra.Command{
		Use:   "check",
		Short: "The gate for hooks and CI: fails where settings do not agree",
		Long: "check audits the settings and exits with 1 if it found anything at or above the\n" +
			"threshold, with 0 if not. --staged judges what would be committed, --since only\n" +
			"what is new since a revision, and --baseline only what a file does not list yet.",
		Example: "  treaty check\n  treaty check --fail-on warning --skip 'legacy/**'\n  treaty check --staged -q\n  treaty check --since origin/main --format markdown\n  treaty check --output sarif=treaty.sarif --output junit=treaty.xml\n  treaty check --baseline treaty-baseline.json --update",
		Args:    noArguments,
		RunE:    func(*cobra.Command, []string) error { return s.check(&g) },
	}
	f := c.Flags()
	f.StringVar(&g.failOn, "fail-on", "", "error (the default), warning, note or never")
	f.StringVar(&g.rule, "rule", "", "only this rule, such as max_line_length")
	f.StringVar(&g.typ, "type", "", "only this file type, such as kotlin")
	f.StringVar(&g.code, "code", "", "only this code or kind, such as clash/rejected or slip")
	f.StringArrayVar(&g.only, "only", nil, "only about files at this path or pattern, from the root; repeatable")
	f.StringArrayVar(&g.skip, "skip", nil, "nothing that is only about files at this path or pattern; repeatable")
	f.BoolVar(&g.staged, "staged", false, "judge what is staged, not what lies on disk")
	f.StringVar(&g.since, "since", "", "only what is new since this revision")
	f.StringVar(&g.baseline, "baseline", "", "a file that lists findings which do not fail")
	f.BoolVar(&g.update, "update", false, "with --baseline: list what is found now")
	f.StringArrayVar(&g.output, "output", nil, "write FORMAT=FILE besides; repeatable")
	f.BoolVarP(&g.quiet, "quiet", "q", false, "print nothing but what failed")
	f.BoolVarP(&g.verbose, "verbose", "v", false, "say what was looked at, and what passed")
	c.MarkFlagsMutuallyExclusive("quiet", "verbose")
	c.MarkFlagsMutuallyExclusive("staged", "since")
	c.Annotations = map[string]string{formats: strings.Join(checkFormats, " ")}
	return c
}

func (g *gate) valid() error {
	if err := g.filter.check(); err != nil {
		return err
	}
	if g.failOn != "" && g.failOn != "never" && conflict.Severity(g.failOn).Rank() == 0 {
		return fmt.Errorf("--fail-on %s is not known; it takes error, warning, note or never", g.failOn)
	}
	if g.update && g.baseline == "" {
		return errors.New("--update writes the file that --baseline names; name one")
	}
	for _, o := range g.output {
		format, file, ok := strings.Cut(o, "=")
		if !ok || file == "" || !slices.Contains(checkFormats, format) {
			return fmt.Errorf("--output %s: write FORMAT=FILE, with a format out of %s", o, strings.Join(checkFormats, ", "))
		}
	}
	return nil
}

func (s *session) check(g *gate) error {
	if err := g.valid(); err != nil {
		return err
	}
	r, result, err := s.judged(g)
	if err != nil {
		return err
	}
	defer r.Close()
	report, err := s.report(r, result, g)
	if err != nil {
		return err
	}
	if err := s.printCheck(s.out, s.format, report); err != nil {
		return ioFailure(err)
	}
	for _, o := range g.output {
		format, file, _ := strings.Cut(o, "=")
		var text bytes.Buffer
		if err := s.printCheck(&text, format, report); err != nil {
			return ioFailure(err)
		}
		if err := r.Save(file, text.Bytes()); err != nil {
			return ioFailure(fmt.Errorf("%s cannot be written: %w", file, err))
		}
	}
	if len(report.Failing) > 0 {
		return &failure{exitFound, errFound}
	}
	return nil
}

// judged opens the repository and audits what the check is about.
func (s *session) judged(g *gate) (*repo.Repo, *audit.Result, error) {
	if g.since != "" {
		if err := s.starting(g); err != nil {
			return nil, nil, err
		}
	}
	if !g.staged {
		return s.run()
	}
	go catalog.BuiltIn()
	r, err := repo.Locate(s.dir)
	if err != nil {
		return nil, nil, err
	}
	result, err := s.auditStaged(r, g)
	if err != nil {
		r.Close()
		return nil, nil, err
	}
	return r, result, nil
}

// auditStaged audits what is staged. Where none of it can hold settings, only the
// files that are staged are looked at, by the settings there are: the others are as
// they were.
func (s *session) auditStaged(r *repo.Repo, g *gate) (*audit.Result, error) {
	var changed []string
	var changedErr error
	var wait sync.WaitGroup
	defer wait.Wait()
	if r.Git {
		wait.Go(func() { changed, changedErr = r.Changed() })
	}
	v, err := r.Staged()
	if err != nil {
		return nil, err
	}
	defer v.Close()
	c, err := personal()
	if err != nil {
		return nil, err
	}
	c, _ = c.Extended(v, catalog.Folder) // what is not valid the audit tells
	paths, relevant := v.Paths, claim.Relevant(v, v.Paths, c)
	if missing := v.Missing(); missing != nil {
		return nil, ioFailure(missing)
	}
	if wait.Wait(); changedErr != nil {
		return nil, ioFailure(changedErr)
	}
	g.changed = map[string]bool{}
	for _, p := range changed {
		g.changed[p] = true
	}
	if g.plain = !slices.ContainsFunc(relevant, func(p string) bool { return g.changed[p] }); g.plain {
		paths = append(claim.Governing(relevant, changed, c), changed...)
		slices.Sort(paths)
	}
	return s.auditRevision(r.Root, v, paths)
}

// starting audits the revision that a change starts from. What its treaty waives and
// leaves out, and the programs it knows, count for the change: nobody says of a change
// in the change itself how it is to be judged.
func (s *session) starting(g *gate) error {
	r, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	defer r.Close()
	v, err := r.At(g.since)
	if err != nil {
		return ofRevision(fmt.Errorf("--since %s: %w", g.since, err))
	}
	defer v.Close()
	then, err := s.auditRevision(r.Root, v, v.Paths)
	if err != nil {
		return fmt.Errorf("--since %s: %w", g.since, err)
	}
	if g.baseline != "" && !g.update {
		g.listed, err = r.LoadAt(v, g.baseline)
		if errors.Is(err, fs.ErrNotExist) { // the change brings it
			g.listed, err = []byte(`{"format": "`+baselineFormat+`"}`), nil
		}
		if err != nil {
			return ofRevision(fmt.Errorf("--baseline %s: %w", g.baseline, err))
		}
	}
	s.base = then
	return nil
}

// report sorts what was found into what fails and what does not.
func (s *session) report(r *repo.Repo, result *audit.Result, g *gate) (*present.Check, error) {
	threshold := g.failOn
	skip := g.skip
	if s.base != nil && !result.Brought.JudgesAs(result.Treaty) {
		s.tell("what %s waives, exempts, skips and fails on counts as it is in %s; the change alters it, which counts from when it is in", treaty.Name, g.since)
	}
	if result.Treaty != nil {
		if threshold == "" {
			threshold = result.Treaty.Audit.FailOn
		}
		skip = append(slices.Clone(skip), result.Treaty.Audit.Skip...)
	}
	if threshold == "" {
		threshold = string(conflict.Error)
	}
	report := &present.Check{Root: r.Root, Result: result, Threshold: threshold, Quiet: g.quiet, Verbose: g.verbose}
	known, err := s.before(r, g)
	if err != nil {
		return nil, err
	}
	concerned, err := s.concerned(r, result, g)
	if err != nil {
		return nil, err
	}
	only, out := paths(g.only), paths(skip)
	for _, f := range result.Findings {
		switch {
		case !g.shows(result, f) || f.Waived != nil || !concerned(f),
			len(g.only) > 0 && !result.About(f, only.Reaches),
			len(skip) > 0 && !result.About(f, func(path string) bool { return !out.Reaches(path) }) && about(f):
			continue
		case known[f.ID]:
			report.Known = append(report.Known, f)
			continue
		}
		report.Findings = append(report.Findings, f)
		if threshold != "never" && f.Severity.Rank() >= conflict.Severity(threshold).Rank() {
			report.Failing = append(report.Failing, f)
		}
	}
	if g.update {
		if err := updateBaseline(r, g.baseline, append(report.Known, report.Findings...)); err != nil {
			return nil, err
		}
		report.Known, report.Findings, report.Failing = append(report.Known, report.Findings...), nil, nil
	}
	markdown := s.format == "markdown" || slices.ContainsFunc(g.output, func(o string) bool { return strings.HasPrefix(o, "markdown=") })
	if markdown && !g.staged { // a plan is about the work tree
		if plan, err := settle.Propose(settle.Input{FS: r.FS(), Paths: r.Paths, Audit: result}); err == nil {
			plan.Annotate()
			report.Plan = plan
		}
	}
	return report, nil
}

// about reports whether the finding names anything that a path could be compared
// with.
func about(f *conflict.Finding) bool { return len(f.Groups) > 0 || len(f.Sides) > 0 }

// paths is a list of patterns from the root.
func paths(patterns []string) pattern.List {
	var all []string
	for _, p := range patterns {
		p = strings.TrimSuffix(strings.TrimPrefix(p, "./"), "/")
		all = append(all, p, p+"/**")
	}
	return pattern.Compile(pattern.Paths, all)
}

// before returns the ids of findings that do not count: those of the revision before,
// or of the baseline.
func (s *session) before(r *repo.Repo, g *gate) (map[string]bool, error) {
	out := map[string]bool{}
	if s.base != nil {
		for _, f := range s.base.Findings {
			out[f.ID] = true
		}
	}
	if g.baseline == "" {
		return out, nil
	}
	text, err := g.listed, error(nil)
	if text == nil {
		text, err = r.Load(g.baseline)
	}
	if errors.Is(err, fs.ErrNotExist) && g.update {
		return out, nil
	}
	if err != nil {
		return nil, fmt.Errorf("--baseline %s cannot be read: %w; write one with --update", g.baseline, plainError(err))
	}
	var list baseline
	if err := json.Unmarshal(text, &list); err != nil || list.Format != baselineFormat {
		return nil, fmt.Errorf("--baseline %s is no list of findings that --update has written", g.baseline)
	}
	for _, f := range list.Findings {
		out[f.ID] = true
	}
	return out, nil
}

const baselineFormat = "jolly-treaty/baseline"

// baseline is a list of findings that do not fail.
type baseline struct {
	Format   string          `json:"format"`
	Version  int             `json:"version"`
	Findings []baselineEntry `json:"findings"`
}

type baselineEntry struct {
	ID      string `json:"id"`
	Code    string `json:"code"`
	Message string `json:"message"`
}

func updateBaseline(r *repo.Repo, name string, findings []*conflict.Finding) error {
	list := baseline{Format: baselineFormat, Version: 1, Findings: []baselineEntry{}}
	for _, f := range findings {
		list.Findings = append(list.Findings, baselineEntry{f.ID, string(f.Code), f.Message})
	}
	slices.SortFunc(list.Findings, func(a, b baselineEntry) int { return strings.Compare(a.ID, b.ID) })
	var text bytes.Buffer
	e := json.NewEncoder(&text)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	if err := e.Encode(list); err != nil {
		return err
	}
	if err := r.Save(name, text.Bytes()); err != nil {
		return ioFailure(fmt.Errorf("%s cannot be written: %w", name, err))
	}
	return nil
}

// concerned returns which findings a check is about: of what is staged, those
// about files or settings files that are. Of code alone it is only asked whether
// somebody speaks about it with two tongues.
func (s *session) concerned(r *repo.Repo, result *audit.Result, g *gate) (func(*conflict.Finding) bool, error) {
	if !g.staged {
		return func(*conflict.Finding) bool { return true }, nil
	}
	if !g.plain && !g.quiet {
		if err := s.besides(r, result, g); err != nil {
			return nil, err
		}
	}
	return func(f *conflict.Finding) bool {
		if g.plain && !f.Code.Is(conflict.Contest|conflict.Word) {
			return false
		}
		return result.About(f, func(path string) bool { return g.changed[path] })
	}, nil
}

// besides names the settings files with changes that are not staged, and what these
// bring about together with what is staged.
func (s *session) besides(r *repo.Repo, result *audit.Result, g *gate) error {
	v, err := r.Staged()
	if err != nil {
		return ioFailure(err)
	}
	defer v.Close()
	var settings []string
	for _, f := range result.Picture.Files {
		settings = append(settings, f.Path)
	}
	unstaged, err := r.Differ(v, settings)
	if err != nil {
		return ioFailure(err)
	}
	open := map[string]bool{}
	for _, p := range unstaged {
		open[p] = true
		s.tell("%s has changes that are not staged; what is staged of it is judged", p)
	}
	if len(open) == 0 {
		return nil
	}
	onDisk, all, err := s.run()
	if err != nil {
		return err
	}
	defer onDisk.Close()
	known := map[string]bool{}
	for _, f := range result.Findings {
		known[f.ID] = true
	}
	speaks := func(f *conflict.Finding, of map[string]bool) bool {
		return slices.ContainsFunc(f.Sides, func(side conflict.Side) bool { return of[side.Path] })
	}
	for _, f := range all.Findings {
		if !known[f.ID] && f.Severity != conflict.Note && speaks(f, open) && speaks(f, g.changed) {
			s.tell("once that is staged, too, %s, in %s (%s %s)", f.Message, present.Places(f), f.Code, f.ID)
		}
	}
	return nil
}

func (s *session) printCheck(w io.Writer, format string, c *present.Check) error {
	switch format {
	case "json":
		return present.AuditJSON(w, c.Root, c.Result, c.Findings)
	case "sarif":
		return present.SARIF(w, Version, c)
	case "junit":
		return present.JUnit(w, c)
	case "markdown":
		return present.Markdown(w, c)
	}
	p := s.page()
	p.W = present.Safe(w, p.Color)
	present.CheckText(p, c)
	return nil
}
