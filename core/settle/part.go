package settle

import (
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/document"
	"jollytreaty/core/filetype"
	"jollytreaty/core/pattern"
	"jollytreaty/core/sign"
)

// parting is a formatter that leaves a group's files to another one.
type parting struct {
	program *catalog.Entry
	group   *claim.Group
}

// leaves reports whether the plan takes the program out of play for the group:
// it is told to leave the files, or every sign of it there is a settings file that
// goes.
func (d *draft) leaves(e *catalog.Entry, g *claim.Group) bool {
	if len(d.parted)+len(d.retired) == 0 {
		return false
	}
	if _, parts := d.parted[parting{e, g}]; parts {
		return true
	}
	signs := g.Signs(e)
	for _, s := range signs {
		if !s.As.Weak() && !d.retired[s.Path] {
			return false
		}
	}
	return len(signs) > 0 && !signs[0].As.Weak()
}

// retire makes the rivals of formatters that were decided on leave their files
// to them.
func (e *editor) retire() {
	left := map[*leaving][]*claim.Group{}
	var order []*leaving
	for i, g := range e.d.groups() {
		v := &e.d.Audit.Verdicts[i]
		if !e.d.concerns(g) || v.Formatter == nil || len(v.Rivals) == 0 {
			continue
		}
		why := e.d.skip[subject{g.Type, ""}]
		if rival := gated(v); rival != nil && why == "" {
			why = fmt.Sprintf("an editor runs %s, and %s is run later; choose one: treaty settle --formatter TYPE=ID", v.Formatter.Program.Name, rival.Program.Name)
			e.d.torn[g] = why
		}
		for _, rival := range v.Rivals {
			if why == "" {
				how, l, err := e.part(g, v, &rival)
				if err != nil {
					why = err.Error()
					continue
				}
				e.d.parted[parting{rival.Program, g}] = how
				if l == nil {
					continue
				}
				at := slices.IndexFunc(order, func(o *leaving) bool { return *o == *l })
				if at < 0 {
					at, order = len(order), append(order, l)
				}
				left[order[at]] = append(left[order[at]], g)
			}
		}
		if why != "" {
			e.d.block(g, "", why)
		} else {
			e.nameInEditors(g, v)
		}
	}
	for _, l := range order {
		e.leaveOut(l, left[l])
	}
}

// gated returns a rival that a hook or CI step runs, where the formatter is only an
// editor's choice: that is for a person to decide.
func gated(v *assign.Assignment) *assign.Candidate {
	for i, rival := range v.Rivals {
		if v.Formatter.Reasons[0].As == sign.Editor && slices.ContainsFunc(rival.Reasons, func(s claim.Seen) bool { return s.As == sign.Hook || s.As == sign.CI }) {
			return &v.Rivals[i]
		}
	}
	return nil
}

// part schedules what makes a rival leave the group's files to their formatter: its
// settings go if it formats nothing else, or else formatting is switched off for
// the type, or its ignore list gains patterns, which is what the leaving is for. It
// says in words how that goes.
func (e *editor) part(g *claim.Group, v *assign.Assignment, rival *assign.Candidate) (how string, l *leaving, err error) {
	var signs []claim.Seen // beside what editors say
	for _, s := range rival.Reasons {
		if !s.As.Weak() && s.As != sign.Editor {
			signs = append(signs, s)
		}
	}
	name := rival.Program.Name
	if len(signs) == 0 {
		return "no editor names " + name + " for them any more", nil, nil
	}
	if i := slices.IndexFunc(signs, func(s claim.Seen) bool { return s.As != sign.Settings }); i >= 0 {
		err = fmt.Errorf("%s is brought by %s:%d; take it out there", name, signs[i].Path, signs[i].Line)
	} else if err = e.takeOut(rival.Program, v.Formatter.Program, signs); err == nil {
		return "the settings of " + name + " are taken out, " + signs[0].Path, nil, nil
	}
	if at := e.switchFormatting(rival.Program, g); at != "" {
		return name + " no longer formats them, " + at, nil, nil
	}
	if l := e.leavingOf(rival.Program, g, signs[0].Folder); l != nil {
		return name + " leaves them out, " + l.path, l, nil
	}
	return "", nil, err
}

// takeOut schedules that a program's settings go, where nothing else is done by
// them; else it returns why they cannot.
func (e *editor) takeOut(program, winner *catalog.Entry, signs []claim.Seen) error {
	if program.Has(catalog.Linter) {
		return fmt.Errorf("%s also checks files by %s", program.Name, signs[0].Path)
	}
	for _, s := range signs {
		f := e.settingsFile(s.Path)
		if err := e.removable(program, winner, f, s.Path); err != nil {
			return err
		}
		if n := partOf(f, program); n != nil {
			if _, err := f.Doc.RemoveSection(n); err != nil {
				return fmt.Errorf("%w; take it out there by hand", err)
			}
		}
	}
	for _, s := range signs {
		f := e.settingsFile(s.Path)
		fe := e.file(s.Path, f.Doc.Syntax, f)
		n := partOf(f, program)
		switch {
		case n == nil:
			fe.gone = true
			e.d.retired[s.Path] = true
		case !slices.Contains(fe.parts, n):
			fe.parts = append(fe.parts, n)
		}
	}
	return nil
}

// partOf returns the section of a shared file that is the program's own, or nil
// for a file that is its own.
func partOf(f *claim.File, program *catalog.Entry) *document.Node {
	if section := sectionOf(f, program); section != "" {
		return f.Doc.Root.Find(section)
	}
	return nil
}

// sectionOf returns the path of the program's own section of a file, "" for a file
// that is its own.
func sectionOf(f *claim.File, program *catalog.Entry) string {
	for _, r := range f.Readers {
		if r.Program == program && r.Place.Section != "" {
			return r.Place.Section
		}
	}
	return ""
}

func (e *editor) settingsFile(p string) *claim.File {
	for _, f := range e.d.Audit.Picture.Files {
		if f.Path == p {
			return f
		}
	}
	return nil
}

// removable returns why the program's part of a settings file cannot go, or nil:
// others read it, or some file it speaks for is still the program's to format.
// Files that the winner is told to leave out do not count, unless the treaty gives
// them to the program.
func (e *editor) removable(program, winner *catalog.Entry, f *claim.File, p string) error {
	shared := func(r claim.Reader) bool { return r.Program != program }
	if f != nil && f.Doc != nil && partOf(f, program) != nil {
		section := sectionOf(f, program) + "/"
		shared = func(r claim.Reader) bool {
			return r.Program != program && (r.Place.Section+"/" == section || strings.HasPrefix(r.Place.Section+"/", section))
		}
	}
	if f == nil || f.Doc == nil || f.Doc.Syntax.IsStandard() || slices.ContainsFunc(f.Readers, shared) {
		return fmt.Errorf("%s also shows %s to other programs; take it out there by hand", p, program.Name)
	}
	for i, g := range e.d.groups() {
		v := &e.d.Audit.Verdicts[i]
		if v.Formatter == nil || v.Formatter.Program != program || !g.Reads(f) {
			continue
		}
		if assign.ByTreaty(v.Formatter.Reasons[0]) || !slices.Contains(v.Excluded, winner) {
			return fmt.Errorf("%s still formats %s files by %s", program.Name, g.Type.Name, p)
		}
	}
	return nil
}

// switchFormatting schedules that the program's settings switch its formatting of
// the group's type off, by the most general key that takes nothing from files it
// still formats. It returns the settings file, or "" where there is no way.
func (e *editor) switchFormatting(program *catalog.Entry, g *claim.Group) string {
	sw, place := program.Formatting(g.Type.ID), program.Place("")
	if sw == nil || place == nil || len(sw.Off) == 0 {
		return ""
	}
	files := g.FilesOf(program, place)
	if len(files) == 0 || files[len(files)-1].Doc == nil || !files[len(files)-1].Doc.Adds() {
		return ""
	}
	f := files[len(files)-1]
	for i := len(sw.Keys) - 1; i >= 0; i-- {
		if e.needed(program, f, sw.Keys[i]) {
			continue
		}
		fe := e.file(f.Path, f.Doc.Syntax, f)
		for _, key := range sw.Keys[:i+1] { // the more specific ones win
			n := f.Doc.Root.Find(strings.Join(escaped(keyPath(place, key)), "/"))
			switch {
			case n != nil && n.Kind == document.Scalar:
				fe.sets[n] = sw.Off[0]
			case n == nil && key == sw.Keys[i]:
				fe.add(keyPath(place, key), sw.Off[0])
			}
		}
		return f.Path
	}
	return ""
}

// needed reports whether the program formats files for which the key switches it.
func (e *editor) needed(program *catalog.Entry, f *claim.File, key string) bool {
	for i, g := range e.d.groups() {
		v := &e.d.Audit.Verdicts[i]
		if v.Formatter == nil || v.Formatter.Program != program || !g.Reads(f) {
			continue
		}
		if sw := program.Formatting(g.Type.ID); sw != nil && slices.Contains(sw.Keys, key) {
			return true
		}
	}
	return false
}

// leaving is an ignore list that gains patterns for a type's files.
type leaving struct {
	typ  *filetype.Type
	path string
	file *claim.File // nil where there is none yet
}

// leavingOf returns the ignore list by which a program is told to leave the
// group's files out, or nil: the nearest there is, or else a new one beside the
// topmost of its settings, which is where the program is started. A program that
// also checks the files is not told to leave them out.
func (e *editor) leavingOf(program *catalog.Entry, g *claim.Group, folder string) *leaving {
	if program.Has(catalog.Linter) {
		return nil
	}
	var name string
	for _, place := range program.Settings {
		if len(place.IgnoreFiles) > 0 && place.IgnoreGlobs == pattern.Lines && name == "" {
			name = place.IgnoreFiles[0]
		}
		if files := g.FilesOf(program, place); len(files) > 0 && files[0].Doc != nil && !files[0].CommandLine && len(files[0].Folder) < len(folder) {
			folder = files[0].Folder
		}
	}
	if name == "" {
		return nil
	}
	l := &leaving{typ: g.Type, path: path.Join(folder, name)}
	for _, f := range e.d.Audit.Picture.Files {
		if f.Doc != nil && f.Doc.Syntax.Form() == document.Patterns && g.Reads(f) &&
			slices.ContainsFunc(f.Readers, func(r claim.Reader) bool { return r.Program == program && r.Ignores }) {
			l.path, l.file = f.Path, f
		}
	}
	return l
}

// leaveOut schedules patterns for the groups' files.
func (e *editor) leaveOut(l *leaving, groups []*claim.Group) {
	patterns, err := e.d.patternsFrom(path.Dir(l.path), l.typ, groups)
	if err != nil {
		for _, g := range groups {
			e.d.block(g, "", err.Error())
		}
		return
	}
	fe := e.file(l.path, document.Ignores, l.file)
	for _, p := range patterns {
		if !slices.Contains(fe.lines, p) {
			fe.lines = append(fe.lines, p)
		}
	}
}

// patternsFrom returns lines of an ignore list, gitignore(5), in a folder, that
// reach the groups' files and no others of any type.
func (d *draft) patternsFrom(folder string, t *filetype.Type, groups []*claim.Group) ([]string, error) {
	prefix := ""
	if folder != "." {
		prefix = folder + "/"
	}
	areas, ok := d.pathsOf(t, groups)
	if !ok {
		return nil, errors.New("the files it is about are too scattered for an ignore list")
	}
	if areas == nil {
		areas = []string{prefix + "**"}
	}
	var out []string
	for _, p := range d.pathsIn(groups...) {
		ext := path.Ext(p)
		in := slices.IndexFunc(areas, func(a string) bool {
			dir, all := strings.CutSuffix(a, "**")
			return all && strings.HasPrefix(p, dir)
		})
		line := "/" + pattern.Literal(strings.TrimPrefix(p, prefix))
		if in >= 0 && d.owns(t, ext, strings.TrimSuffix(areas[in], "**")) {
			line = "*" + ext
			if dir, below := strings.CutPrefix(strings.TrimSuffix(areas[in], "**"), prefix); below && dir != "" {
				line = "/" + pattern.Literal(dir) + "**/*" + ext
			}
		}
		out = appendNew(out, line)
	}
	if len(out) > maxPaths {
		return nil, errors.New("the files it is about are too scattered for an ignore list")
	}
	slices.Sort(out)
	return out, nil
}
