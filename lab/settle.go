package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/tools/txtar"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
)

// settlements settles repositories as a person would, and runs their programs over the
// result. A verdict is "holds", "honest" where it does not and the audit of the result
// says so, or "broken" where it does not and the audit claims peace.
func settlements(out io.Writer, dir string, programs []*program, only string, short bool, n *tally) {
	product := filepath.Join(dir, "treaty")
	exitOn(had("go", "build", "-o", product, "./cmd/treaty"))
	archives, err := filepath.Glob("lab/settle/*.txtar")
	exitOn(err)
	fmt.Fprintf(out, "\n%-26s %s\n", "SETTLEMENT", "VERDICT")
	for _, path := range archives {
		name := strings.TrimSuffix(filepath.Base(path), ".txtar")
		if only != "" && name != only {
			continue
		}
		text, err := os.ReadFile(path)
		exitOn(err)
		archive := txtar.Parse(text)
		s := &settlement{archive: archive, product: product}
		if short && !s.among(programs) {
			continue
		}
		verdict := s.run(dir, programs)
		fmt.Fprintf(out, "%-26s %s\n", name, verdict)
		for _, why := range s.why {
			fmt.Fprintf(out, "    %s\n", why)
		}
		switch verdict {
		case "holds", "honest":
			n.passed++
		case "not had":
		default:
			n.failed++
		}
	}
}

// settlement is one repository.
type settlement struct {
	archive *txtar.Archive
	product string
	why     []string
}

// runs are the ids of the programs that are run, in order.
func (s *settlement) runs() (ids, flags []string) {
	for line := range strings.Lines(string(s.archive.Comment)) {
		if id, ok := strings.CutPrefix(strings.TrimSpace(line), "run "); ok {
			ids = append(ids, id)
		}
		if text, ok := strings.CutPrefix(strings.TrimSpace(line), "flags "); ok {
			flags = strings.Fields(text)
		}
	}
	return ids, flags
}

// allowed are checks that complain of what no setting could avoid; the archive says why.
func (s *settlement) allowed() map[string]bool {
	out := map[string]bool{}
	for line := range strings.Lines(string(s.archive.Comment)) {
		if words := strings.Fields(line); len(words) > 2 && words[0] == "allow" {
			out[words[1]] = true
		}
	}
	return out
}

func (s *settlement) among(programs []*program) bool {
	ids, _ := s.runs()
	return !slices.ContainsFunc(ids, func(id string) bool {
		return !slices.ContainsFunc(programs, func(p *program) bool { return p.ID == strings.Split(id, "@")[0] })
	})
}

func (s *settlement) run(dir string, programs []*program) string {
	ids, flags := s.runs()
	var all []*installed
	for _, id := range ids {
		id, version, _ := strings.Cut(id, "@")
		i := slices.IndexFunc(programs, func(p *program) bool { return p.ID == id })
		if i < 0 {
			s.why = append(s.why, id+" is not among the programs")
			return "not had"
		}
		if version == "" {
			version = programs[i].versions()[0]
		}
		in, err := install(dir, programs[i], version)
		if err != nil {
			s.why = append(s.why, fmt.Sprintf("%s %v", id, err))
			return "not had"
		}
		all = append(all, in)
	}
	place := all[0]
	for _, in := range all {
		if in.root != "" {
			place = in
		}
	}
	folder, err := place.scratch()
	exitOn(err)
	defer os.RemoveAll(folder)
	var files []string
	for _, f := range s.archive.Files {
		p := filepath.Join(folder, f.Name)
		exitOn(os.MkdirAll(filepath.Dir(p), 0o755))
		exitOn(os.WriteFile(p, f.Data, 0o644))
		files = append(files, f.Name)
	}
	for _, in := range all { // shared settings are looked for beside a project's own packages
		if len(in.NPM) > 1 {
			_ = os.Symlink(filepath.Join(filepath.Dir(filepath.Dir(in.path)), "node_modules"), filepath.Join(folder, "node_modules"))
		}
	}
	command := exec.Command(s.product, append([]string{"-C", folder, "settle", "--write", "--force"}, flags...)...)
	if text, err := command.CombinedOutput(); err != nil {
		s.why = append(s.why, "settle: "+lastLine(text))
		return "stopped"
	}
	if !s.holds(folder, all, files) {
		if s.told(folder) {
			return "honest"
		}
		return "broken"
	}
	return "holds"
}

// told reports whether an audit of the result says that the programs do not agree.
func (s *settlement) told(folder string) bool {
	c, err := catalog.BuiltIn()
	exitOn(err)
	var paths []string
	_ = filepath.WalkDir(folder, func(p string, d os.DirEntry, err error) error {
		if err == nil && d.Type().IsRegular() {
			rel, _ := filepath.Rel(folder, p)
			paths = append(paths, filepath.ToSlash(rel))
		}
		return nil
	})
	slices.Sort(paths)
	result, err := audit.Run(context.Background(), os.DirFS(folder), paths, c, audit.Options{})
	exitOn(err)
	return slices.ContainsFunc(result.Findings, func(f *conflict.Finding) bool {
		return slices.Contains([]string{"clash", "rivalry"}, f.Code.Kind()) && f.Severity != conflict.Note
	})
}

// holds runs the programs over the settled repository.
func (s *settlement) holds(folder string, all []*installed, files []string) bool {
	fine := true
	fail := func(format string, args ...any) {
		s.why, fine = append(s.why, fmt.Sprintf(format, args...)), false
	}
	write := func(order []*installed) {
		for _, in := range order {
			if in.Complaint != "" {
				continue
			}
			if text, well := in.over(folder, ofTypes(in, files)); !well && (in.Nothing == "" || !strings.Contains(text, in.Nothing)) {
				fail("%s does not take its settings: %s", in.ID, firstLine(text))
			}
		}
	}
	state := func() []byte {
		var b bytes.Buffer
		for _, f := range files {
			text, _ := os.ReadFile(filepath.Join(folder, f))
			fmt.Fprintf(&b, "%s\x00%s\x00", f, text)
		}
		return b.Bytes()
	}
	write(all)
	first := state()
	write(all)
	if second := state(); !bytes.Equal(first, second) {
		fail("the programs undo each other: a second run changes %s", differing(first, second))
	}
	backwards := slices.Clone(all)
	slices.Reverse(backwards)
	write(backwards)
	if third := state(); fine && !bytes.Equal(first, third) {
		fail("in the other order the programs write other bytes: %s", differing(first, third))
	}
	write(all)
	c, err := catalog.BuiltIn()
	exitOn(err)
	for _, in := range all {
		if in.Complaint == "" {
			continue
		}
		text, _ := in.over(folder, ofTypes(in, files))
		about := layout(c, in.ID)
		check := regexp.MustCompile(in.Complaint)
		seen := false
		told, allowed := map[string]bool{}, s.allowed()
		for line := range strings.Lines(text) {
			m := check.FindStringSubmatch(strings.TrimRight(line, "\r\n"))
			if m == nil {
				continue
			}
			seen = true
			if about[m[1]] && !told[m[1]] && !allowed[m[1]] {
				told[m[1]] = true
				fail("%s: %s", in.ID, strings.TrimSpace(line))
			}
		}
		if !seen && strings.Contains(strings.ToLower(text), "error") {
			fail("%s does not take its settings: %s", in.ID, firstLine(text))
		}
	}
	return fine
}

func differing(a, b []byte) string {
	x, y := bytes.Split(a, []byte{0}), bytes.Split(b, []byte{0})
	for i := 1; i < len(x) && i < len(y); i += 2 {
		if !bytes.Equal(x[i], y[i]) {
			return string(x[i-1])
		}
	}
	return "a file"
}

// ofTypes are those of the files that the program is run over.
func ofTypes(in *installed, files []string) []string {
	var out []string
	for _, f := range files {
		if t, _ := filetype.ByPath(f); t != nil && slices.Contains(in.Types, t.ID) && !strings.HasPrefix(filepath.Base(f), ".") && f != "package.json" {
			out = append(out, f)
		}
	}
	return out
}

// layout are the checks of a linter that are about layout: those that answer rules, and
// those in the table of frictions.
func layout(c *catalog.Catalog, id string) map[string]bool {
	out := map[string]bool{}
	e := c.ByID(id)
	for _, q := range e.Rules {
		for _, name := range checkNames(e, rule.ByID(q.Rule)) {
			out[name] = true
		}
	}
	for _, f := range c.Friction {
		if f.Linter == id {
			for name := range f.Fails {
				out[name] = true
			}
		}
	}
	return out
}
