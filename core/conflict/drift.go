package conflict

import (
	"fmt"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/presence"
	"jollytreaty/core/sign"
)

// provided finds programs that are configured and that nothing here brings.
func provided(p *claim.Picture, into *collector) {
	if p.RunsEverything {
		return // something here runs whatever finds settings
	}
	types := map[string]bool{}
	for _, g := range p.Groups {
		types[g.Type.ID] = true
	}
	for _, e := range p.Catalog.Entries {
		seen := p.Seen[e]
		settings := slices.IndexFunc(seen, func(s claim.Seen) bool { return s.As == sign.Settings })
		tool := e.Has(catalog.Formatter) || e.Has(catalog.Linter) || e.Has(catalog.ImportSorter)
		if settings < 0 || !tool || e.Bundled || slices.ContainsFunc(seen, func(s claim.Seen) bool { return s.As.Brings() }) || slices.ContainsFunc(e.Toolchain, func(t string) bool { return types[t] }) {
			continue
		}
		told := slices.ContainsFunc(seen, func(s claim.Seen) bool { return s.As == sign.Told })
		if told && !e.Has(catalog.Formatter) {
			continue
		}
		if e.System && !declarable(p, e) {
			continue // there is no manifest that could bring it
		}
		f := &Finding{Code: DeadNoProvider, Files: p.FilesOf(e)}
		what := "nothing else here knows it: no manifest, hook, script or CI step brings or runs it"
		if e.Has(catalog.Formatter) {
			f.Code = GapUndeclared
			what = "no manifest, hook, script or CI step brings or runs it"
		}
		for _, s := range seen {
			if s.As == sign.Settings && len(f.Sides) < 5 {
				f.Sides = append(f.Sides, Side{Program: e.ID, Name: e.Name, Path: s.Path, Line: max(s.Line, 1), Column: 1, Basis: claim.Set, key: e.ID})
			}
		}
		f.Message = fmt.Sprintf("%s is configured by %s, and %s", e.Name, p.Seen[e][settings].Path, what)
		into.add(f)
	}
}

// declarable reports whether the repository has a manifest in which the program could be
// declared, or runs programs in steps and hooks in which it could be.
func declarable(p *claim.Picture, e *catalog.Entry) bool {
	for ecosystem := range e.Packages {
		if slices.Contains(p.Ecosystems, ecosystem) {
			return true
		}
	}
	for _, seen := range p.Seen {
		if slices.ContainsFunc(seen, func(s claim.Seen) bool { return s.As == sign.Hook || s.As == sign.CI }) {
			return true
		}
	}
	return false
}

// versions finds programs with several versions, and with none that is fixed.
func versions(p *claim.Picture, into *collector) {
	arePart, parts := partsOf(p.Catalog)
	for _, e := range p.Catalog.Entries {
		if arePart[e] {
			continue
		}
		seen := p.Seen[e]
		for _, part := range parts[e] {
			seen = slices.Concat(seen, p.Seen[part])
		}
		var said []claim.Seen
		fixed := false
		for _, s := range seen {
			if s.Foreign || presence.PinOf(s.Version) == presence.Unsaid {
				continue
			}
			said = append(said, s)
			fixed = fixed || presence.PinOf(s.Version) == presence.Exact
		}
		drifted := differing(said)
		if len(drifted) > 0 {
			f := &Finding{Code: DriftVersion, Files: p.FilesOf(e)}
			var parts []string
			for _, s := range drifted {
				f.Sides = append(f.Sides, versionSide(e, s))
				parts = append(parts, fmt.Sprintf("%s in %s", s.Version, s.Path))
			}
			f.Message = fmt.Sprintf("%s has several versions: %s", e.Name, strings.Join(parts, ", "))
			into.add(f)
		}
		for _, s := range said {
			pin := presence.PinOf(s.Version)
			if pin == presence.Floating && s.As != sign.Lock || pin == presence.Range && s.As == sign.Dependency && !fixed {
				into.add(&Finding{Code: DriftUnpinned, Files: p.FilesOf(e), Sides: []Side{versionSide(e, s)},
					Message: fmt.Sprintf("%s is not pinned: %s says %s, and no lockfile fixes it", e.Name, s.Path, s.Version)})
			}
		}
	}
}

// partsOf finds programs that are a subcommand of another one, and so have its
// version: which ones they are, and those of each.
func partsOf(c *catalog.Catalog) (are map[*catalog.Entry]bool, of map[*catalog.Entry][]*catalog.Entry) {
	are, of = map[*catalog.Entry]bool{}, map[*catalog.Entry][]*catalog.Entry{}
	byCommand := map[string]*catalog.Entry{}
	for _, e := range c.Entries {
		for _, command := range e.Commands {
			byCommand[command] = e
		}
	}
	for _, e := range c.Entries {
		if len(e.Commands) == 0 {
			continue
		}
		if word, _, sub := strings.Cut(e.Commands[0], " "); sub && byCommand[word] != nil && byCommand[word] != e {
			are[e] = true
			of[byCommand[word]] = append(of[byCommand[word]], e)
		}
	}
	return are, of
}

func versionSide(e *catalog.Entry, s claim.Seen) Side {
	return Side{Program: e.ID, Name: e.Name, Path: s.Path, Line: s.Line, Column: 1, Value: s.Version, Phrase: s.Version, key: e.ID + s.Path}
}

// differing returns signs whose versions cannot be the same, where two concern
// one part of the tree; the first of each version.
func differing(said []claim.Seen) []claim.Seen {
	var out []claim.Seen
	add := func(s claim.Seen) {
		if !slices.ContainsFunc(out, func(had claim.Seen) bool { return had.Path == s.Path && had.Version == s.Version }) {
			out = append(out, s)
		}
	}
	for i, a := range said {
		for _, b := range said[i+1:] {
			if together(a, b) && !presence.Agrees(a.Version, b.Version) && !agreesElsewhere(said, a, b) && !agreesElsewhere(said, b, a) {
				add(a)
				add(b)
			}
		}
	}
	return out
}

// together reports whether two signs are about the same use of a program. A
// lockfile and a manifest are where they stand in one folder; two lockfiles, or
// two manifests, may well have copies of their own.
func together(a, b claim.Seen) bool {
	if kept := func(s claim.Seen) bool { return s.As == sign.Lock || s.As == sign.Dependency }; kept(a) && kept(b) {
		return a.Folder == b.Folder && a.Path != b.Path
	}
	return claim.Within(a.Folder, b.Folder) || claim.Within(b.Folder, a.Folder)
}

// agreesElsewhere reports whether a lockfile has several versions, of which
// another one is what the sign says.
func agreesElsewhere(said []claim.Seen, lock, other claim.Seen) bool {
	return lock.As == sign.Lock && slices.ContainsFunc(said, func(s claim.Seen) bool {
		return s.Path == lock.Path && presence.Agrees(s.Version, other.Version)
	})
}

// retired finds programs that are in play though they are no longer kept up.
func retired(p *claim.Picture, into *collector) {
	for _, e := range p.Catalog.Entries {
		if e.Retired == nil {
			continue
		}
		i := slices.IndexFunc(p.Seen[e], func(s claim.Seen) bool { return !s.As.Weak() && s.As != sign.Lock })
		if i < 0 {
			continue
		}
		s := p.Seen[e][i]
		message := fmt.Sprintf("%s is retired since %s", e.Name, e.Retired.Since)
		var names []string
		for _, id := range e.Retired.By {
			if by := p.Catalog.ByID(id); by != nil {
				names = append(names, by.Name)
			}
		}
		if len(names) > 0 {
			message += "; followed by " + strings.Join(names, " or ")
		}
		if e.Retired.Note != "" {
			message += "; " + e.Retired.Note
		}
		into.add(&Finding{Code: DriftRetired, Files: p.FilesOf(e), Message: message,
			Sides: []Side{{Program: e.ID, Name: e.Name, Path: s.Path, Line: max(s.Line, 1), Column: 1, key: e.ID}}})
	}
}
