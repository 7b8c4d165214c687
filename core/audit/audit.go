// Package audit runs the whole computation over one state of a repository:
// one function, one result.
package audit

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"runtime"
	"slices"
	"sync"
	"time"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/document"
	"jollytreaty/core/evidence"
	"jollytreaty/core/filetype"
	"jollytreaty/core/sign"
	"jollytreaty/core/treaty"
	"jollytreaty/core/tree"
)

// Status says how a file type stands.
type Status string

// The statuses.
const (
	Settled   Status = "settled"   // exactly one formatter for every file
	Contested Status = "contested" // several with equal reason
	Unowned   Status = "unowned"   // none for some or all files
	Partial   Status = "partial"   // one that covers the files only in part
	Exempt    Status = "exempt"    // by the treaty, or nothing a program could format
)

// TypeSummary is a file type with its formatter.
type TypeSummary struct {
	Type       *filetype.Type
	Files      int
	Status     Status
	Formatter  *catalog.Entry // the one of every file, or nil
	Candidates []assign.Candidate
	Regions    []Region // where the files differ
	Reason     string   // of an exemption
}

// Region is the files of a type that one formatter has.
type Region struct {
	Formatter *catalog.Entry // nil for none
	Reason    claim.Seen     // why the formatter has them
	LeftOut   bool           // its formatter is told to leave the files out
	Part      string         // what of the files it formats, "" for the whole
	Runs      []claim.Seen   // that run the formatter
	Files     int
}

// Result is everything an audit knows.
type Result struct {
	Picture  *claim.Picture
	Treaty   *treaty.Treaty // nil without a treaty file
	Brought  *treaty.Treaty // of a change that is judged by what it starts from, its own treaty
	Verdicts []assign.Assignment
	Types    []TypeSummary // most files first
	Programs []Program
	Findings []*conflict.Finding
	Evidence *evidence.Sample // nil where the code was not looked at

	catalog *catalog.Catalog // without the repository's own entries
	options Options
	sets    []evidence.Set // by group

	numberOf map[*claim.Group]int
}

// Day returns the time the audit was asked about, which decides which waivers hold.
func (r *Result) Day() time.Time { return r.options.Day }

// Restated returns the findings that are listed only when asked for: settings
// that say what holds without them.
func (r *Result) Restated() []*conflict.Finding {
	return conflict.Restated(r.Picture, r.Verdicts, r.Treaty, r.options.Day)
}

// Program is a program in play, with the signs of it.
type Program struct {
	Entry *catalog.Entry
	Seen  []claim.Seen
}

// Options say how an audit is made. The zero Options look at settings alone.
type Options struct {
	Day    time.Time            // decides which waivers hold
	Inside func(tree.File) bool // files in which settings about themselves are looked for

	// Outside reads files outside of the repository that its treaty adopts, or that a
	// person has named, as treaty.Sources has it; House is the path of house rules that
	// count besides.
	Outside func(path, by string) ([]byte, error)
	House   string

	// Base, if it is not nil, is an audit of the state that a change starts from. Its
	// treaty says what is waived, exempt and left out, and its catalog which programs
	// there are, but for those that the change adds: a change is not to say how it is
	// judged.
	Base *Result

	// Measure says how the code itself is looked at; nil for not at all.
	Measure *evidence.Options

	// Unjudged leaves the findings out.
	Unjudged bool
}

// Run audits the files at paths below fsys, with the repository's own entries
// added to the catalog. An error means that the treaty file is not valid, or that ctx
// was done; anything else that is wrong in the repository is a finding.
func Run(ctx context.Context, fsys fs.FS, paths []string, c *catalog.Catalog, o Options) (*Result, error) {
	return run(ctx, fsys, paths, c, o, nil, nil)
}

// Again audits another state of the same repository: by the same catalog, the same
// house rules and on the same day. Where changed is not nil, only files at these paths
// differ, which are settings; what is known of the others is not looked at again, and
// the code is taken to be what it was. Where it is nil, settings alone are looked at,
// all of them.
func (r *Result) Again(ctx context.Context, fsys fs.FS, paths, changed []string) (*Result, error) {
	o := Options{Day: r.options.Day, Outside: r.options.Outside, House: r.options.House}
	if changed == nil {
		return run(ctx, fsys, paths, r.catalog, o, nil, nil)
	}
	return run(ctx, fsys, paths, r.catalog, o, r, changed)
}

// run is Run, and Again where before is not nil.
func run(ctx context.Context, fsys fs.FS, paths []string, c *catalog.Catalog, o Options, before *Result, changed []string) (*Result, error) {
	r := &Result{catalog: c, options: o}
	extend := c.Extended
	if o.Base != nil {
		extend = o.Base.Picture.Catalog.Completed
	}
	c, invalid := extend(fsys, catalog.Folder)
	var err error
	if r.Treaty, err = readTreaty(fsys, c, o); err != nil {
		return nil, err
	}
	if o.Base != nil {
		r.Brought = r.Treaty
		r.Treaty = r.Treaty.JudgedBy(o.Base.Treaty)
	}
	now := claim.Options{Parts: r.Treaty.Parts(), Inside: o.Inside, Changed: changed}
	if o.Inside == nil && o.Measure != nil {
		now.Inside, now.Sampled = func(tree.File) bool { return true }, !o.Measure.All
	}
	var measured *evidence.Sample
	if before != nil {
		now.Before, now.Known, measured = before.Picture.Tree, before.Picture, before.Evidence
	}
	r.Picture = claim.Read(fsys, paths, c, now)
	for _, at := range invalid {
		r.Picture.Broken = append(r.Picture.Broken, claim.Broken{Path: at.Path, Line: at.Line, Column: at.Column, Why: "is no valid entry of a program: " + at.Message})
	}
	groups := r.Picture.Groups
	r.Verdicts = make([]assign.Assignment, len(groups))
	var wait sync.WaitGroup
	workers := runtime.GOMAXPROCS(0)
	for w := range workers {
		wait.Go(func() {
			for i := w; i < len(groups); i += workers {
				r.Verdicts[i] = assign.For(r.Picture, r.Treaty, groups[i])
			}
		})
	}
	wait.Wait()
	wait.Go(func() {
		r.summarise()
		r.programs()
	})
	defer wait.Wait()
	if measured != nil {
		if r.Evidence, err = measured.On(ctx, fsys, r.Picture.Tree); err != nil {
			return nil, err
		}
		r.partition()
	} else if o.Measure != nil {
		if err := r.measure(ctx, fsys, *o.Measure); err != nil {
			return nil, err
		}
	}
	if o.Unjudged {
		return r, ctx.Err()
	}
	wait.Wait()
	r.Findings = conflict.Find(r.Picture, r.Verdicts, r.Treaty, r.sets, o.Day)
	r.weigh()
	return r, ctx.Err()
}

// readTreaty reads the treaty file with the house rules it adopts.
func readTreaty(fsys fs.FS, c *catalog.Catalog, o Options) (*treaty.Treaty, error) {
	t, err := treaty.Load(treaty.Sources{Outside: o.Outside, House: o.House, Read: func(path string) ([]byte, error) {
		f, err := fsys.Open(path)
		if err != nil {
			if errors.Is(err, fs.ErrNotExist) {
				return nil, nil
			}
			if at := (*fs.PathError)(nil); errors.As(err, &at) {
				err = at.Err
			}
			return nil, fmt.Errorf("%s cannot be opened: %w", path, err)
		}
		defer f.Close()
		src, err := io.ReadAll(io.LimitReader(f, document.MaxSize+1))
		if err != nil {
			return nil, fmt.Errorf("%s cannot be read: %w", path, err)
		}
		return append([]byte{}, src...), nil
	}})
	if err != nil || t == nil {
		return nil, err
	}
	for _, a := range slices.Concat(t.House, t.Articles) {
		e := c.ByID(a.Formatter)
		switch {
		case a.Formatter == "":
		case e == nil:
			return nil, fmt.Errorf("%s:%d: formatter = %q is no program in the catalog", a.Path, a.Line, a.Formatter)
		default:
			if _, covers := e.Covering(a.Type); !covers || !e.Has(catalog.Formatter) && len(e.Runs.Writes) == 0 {
				return nil, fmt.Errorf("%s:%d: %s does not format %s", a.Path, a.Line, e.Name, filetype.ByID(a.Type).Name)
			}
		}
	}
	return t, nil
}

// summarise tells how each file type stands.
func (r *Result) summarise() {
	for _, count := range r.Picture.Tree.Counts() {
		s := TypeSummary{Type: count.Type, Files: count.Files}
		if e := r.Treaty.Exemption(count.Type.ID); e != nil {
			s.Status, s.Reason = Exempt, e.Reason
		} else if !count.Type.Styled {
			s.Status, s.Reason = Exempt, "nothing a program could format"
		} else {
			r.judge(&s)
		}
		r.Types = append(r.Types, s)
	}
}

func (r *Result) judge(s *TypeSummary) {
	contested, partial := false, false
	for i, g := range r.Picture.Groups {
		if g.Type != s.Type {
			continue
		}
		v := &r.Verdicts[i]
		var e *catalog.Entry
		if v.Formatter != nil {
			e = v.Formatter.Program
			partial = partial || v.Formatter.Part != ""
		} else if len(v.Rivals) > 0 {
			contested = true
		}
		region := Region{Formatter: e, LeftOut: e == nil && len(v.Excluded) > 0, Files: g.Files}
		if e != nil {
			region.Reason, region.Part = v.Formatter.Reasons[0], v.Formatter.Part
			region.addRuns(v.Formatter.Reasons)
		}
		s.addRegion(region)
		for _, c := range v.Candidates {
			if !slices.ContainsFunc(s.Candidates, func(d assign.Candidate) bool { return d.Program == c.Program }) {
				s.Candidates = append(s.Candidates, c)
			}
		}
	}
	slices.SortStableFunc(s.Regions, func(a, b Region) int { return cmp.Compare(b.Files, a.Files) })
	unowned := slices.ContainsFunc(s.Regions, func(r Region) bool { return r.Formatter == nil && !r.LeftOut })
	if len(s.Regions) == 1 {
		s.Formatter = s.Regions[0].Formatter
		unowned = s.Formatter == nil
	}
	switch {
	case contested:
		s.Status = Contested
	case unowned:
		s.Status = Unowned
	case partial:
		s.Status = Partial
	default:
		s.Status = Settled
	}
}

// addRuns keeps one sign for each way in which the formatter is run.
func (r *Region) addRuns(signs []claim.Seen) {
	for _, s := range signs {
		if (s.When != sign.Never || s.Build) && !slices.ContainsFunc(r.Runs, func(had claim.Seen) bool { return had.When == s.When && had.Does == s.Does && had.Build == s.Build }) {
			r.Runs = append(r.Runs, s)
		}
	}
}

func (s *TypeSummary) addRegion(r Region) {
	for i := range s.Regions {
		if had := &s.Regions[i]; had.Formatter == r.Formatter && had.LeftOut == r.LeftOut {
			had.Files += r.Files
			had.addRuns(r.Runs)
			return
		}
	}
	s.Regions = append(s.Regions, r)
}

// programs lists the programs in play. A formatter that only a toolchain brings
// is in play where it was given files.
func (r *Result) programs() {
	seen := map[*catalog.Entry][]claim.Seen{}
	for e, list := range r.Picture.Seen {
		for _, s := range list {
			if s.As != sign.Toolchain || r.formats(e) {
				seen[e] = append(seen[e], s)
			}
		}
	}
	for _, g := range r.Picture.Groups {
		for e, pick := range g.Picked {
			s := pick.Seen()
			if !slices.Contains(seen[e], s) {
				seen[e] = append(seen[e], s)
			}
		}
	}
	for _, g := range r.Picture.Groups {
		for _, e := range g.Signed() {
			for _, s := range g.Signs(e) {
				if s.Through != "" && !slices.Contains(seen[e], s) {
					seen[e] = append(seen[e], s)
				}
			}
		}
	}
	for _, e := range r.Picture.Catalog.Entries {
		if seen[e] != nil {
			r.Programs = append(r.Programs, Program{e, seen[e]})
		}
	}
}

// ReadersOf returns the programs that read a settings file: those it is for, and
// those in play that honour a standard file.
func (r *Result) ReadersOf(f *claim.File) []*catalog.Entry {
	var out []*catalog.Entry
	for _, reader := range f.Readers {
		e := reader.Program
		own := reader.Ignores || !reader.Place.Shared && (len(reader.Place.OnlyKeys) == 0 || reader.Shows(f))
		if (own || r.plays(e)) && !slices.Contains(out, e) {
			out = append(out, e)
		}
	}
	if len(out) == 0 {
		out = append(out, f.Readers[0].Program)
	}
	return out
}

// Add adds signs of a program in play that were found outside the repository.
func (r *Result) Add(e *catalog.Entry, seen []claim.Seen) {
	for i := range r.Programs {
		if r.Programs[i].Entry == e {
			r.Programs[i].Seen = append(r.Programs[i].Seen, seen...)
		}
	}
}

// HasSettings reports whether the repository has a settings file of the program.
func (r *Result) HasSettings(e *catalog.Entry) bool {
	return slices.ContainsFunc(r.Picture.Seen[e], func(s claim.Seen) bool { return s.As == sign.Settings })
}

// SearchedAbove returns the names of settings files that the program also looks
// for above the repository, since nothing at the root ends the search.
func (r *Result) SearchedAbove(e *catalog.Entry) []string {
	var out []string
	for _, place := range e.Settings {
		ends := slices.ContainsFunc(r.Picture.Files, func(f *claim.File) bool {
			return f.Folder == "." && slices.ContainsFunc(e.Settings, func(other *catalog.Place) bool {
				return (other == place || other.Pool != "" && other.Pool == place.Pool) && f.Ends(e, other)
			})
		})
		if (place.Search == "nearest" || place.Search == "merged") && !place.Shared && place.Section == "" && !ends {
			out = append(out, place.Files...)
		}
	}
	return out
}

func (r *Result) formats(e *catalog.Entry) bool {
	return slices.ContainsFunc(r.Verdicts, func(v assign.Assignment) bool {
		return v.Formatter != nil && v.Formatter.Program == e
	})
}

// About reports whether the finding is about a file, or names a settings file, at
// a path that passes the test.
func (r *Result) About(f *conflict.Finding, passes func(path string) bool) bool {
	if slices.ContainsFunc(f.Sides, func(s conflict.Side) bool { return s.Path != "" && passes(s.Path) }) {
		return true
	}
	for i, file := range r.Picture.Tree.Files {
		if slices.Contains(f.Groups, r.Picture.Groups[r.Picture.GroupOf[i]]) && passes(file.Path) {
			return true
		}
	}
	return false
}

// Finding returns the finding with the given id, or nil.
func (r *Result) Finding(id string) *conflict.Finding {
	for _, f := range r.Findings {
		if f.ID == id {
			return f
		}
	}
	return nil
}
