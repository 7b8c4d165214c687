package main

import (
	"bytes"
	"context"
	"fmt"
	"hash/fnv"
	"io"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
)

// score is how what one program does compares with what is claimed.
type score struct {
	stopped, trees, compared, wrong, none, slips, told int
	examples                                           []string
}

// facts compares what programs do with what is claimed of them, on trees that are made up.
func facts(out io.Writer, dir string, programs []*program, only string, trees int, n *tally) {
	c, err := catalog.BuiltIn()
	exitOn(err)
	fmt.Fprintf(out, "%-14s %-9s %6s %9s %6s %9s %12s\n", "PROGRAM", "VERSION", "TREES", "COMPARED", "WRONG", "NO CLAIM", "SLIPS TOLD")
	for _, p := range programs {
		if only != "" && p.ID != only {
			continue
		}
		e := c.ByID(p.ID)
		for _, version := range p.versions() {
			in, err := install(dir, p, version)
			if err != nil {
				fmt.Fprintf(out, "%-14s %-9s %v\n", p.ID, version, err)
				continue
			}
			h := fnv.New64a()
			fmt.Fprint(h, p.ID, version)
			seed := h.Sum64()
			r := rand.New(rand.NewPCG(seed, 1))
			s := &score{}
			for i := range trees {
				if err := s.tree(c, e, in, grow(r, e, in), i); err != nil {
					s.wrong++
					s.example(fmt.Sprintf("tree %d: %v", i, err))
				}
			}
			if s.wrong == 0 && s.compared > 0 {
				prove(p.ID, in.version)
			}
			fmt.Fprintf(out, "%-14s %-9s %6d %9d %6d %9d %8d/%d\n", p.ID, in.version, s.trees, s.compared, s.wrong, s.none, s.told, s.slips)
			for _, text := range s.examples {
				fmt.Fprintf(out, "    %s (seed %d)\n", text, seed)
			}
			n.passed += s.compared - s.wrong + s.told
			n.failed += s.wrong + s.slips - s.told
		}
	}
}

// entries is where the catalog's entries lie.
const entries = "core/catalog/programs"

var proof = regexp.MustCompile(`(?m)^proved = \[(.*)\]\n`)

// prove writes into a program's entry that its facts were held against a version.
func prove(id, version string) {
	path := filepath.Join(entries, id+".entry.toml")
	text, err := os.ReadFile(path)
	if err != nil || strings.Contains(string(text), "proved = [") && strings.Contains(proof.FindString(string(text)), strconv.Quote(version)) {
		return
	}
	line := strconv.Quote(version)
	if m := proof.FindStringSubmatch(string(text)); m != nil {
		line = m[1] + ", " + line
		text = proof.ReplaceAll(text, nil)
	}
	at := bytes.Index(text, []byte("\nsource = "))
	if at < 0 {
		return
	}
	end := at + 1 + bytes.IndexByte(text[at+1:], '\n') + 1
	exitOn(os.WriteFile(path, slices.Concat(text[:end], []byte("proved = ["+line+"]\n"), text[end:]), 0o644))
}

const mostExamples = 8

func (s *score) example(text string) {
	if len(s.examples) < mostExamples {
		s.examples = append(s.examples, text)
	}
}

// tree runs the program over one tree and compares.
func (s *score) tree(c *catalog.Catalog, e *catalog.Entry, in *installed, t *grown, number int) error {
	folder, err := in.scratch()
	if err != nil {
		return err
	}
	defer os.RemoveAll(folder)
	probes := map[string]string{} // by path
	linted := map[string]offered{}
	for _, typeID := range in.Types {
		if in.Complaint == "" {
			if p, ok := probeOf(typeID); ok {
				probes[filepath.Join(t.folder, p.name)] = p.text
			}
			continue
		}
		for _, r := range rule.All() {
			i := 0
			for v, text := range offers(typeID, r) {
				name := filepath.Join(t.folder, fmt.Sprintf("%s_%d%s", r.ID, i, map[string]string{"javascript": ".js", "css": ".css", "python": ".py", "yaml": ".yaml", "markdown": ".md", "ruby": ".rb", "lua": ".lua", "sql": ".sql"}[typeID]))
				probes[name], linted[name] = text, offered{r, v}
				i++
			}
		}
	}
	for p, text := range probes {
		t.files[p] = text
	}
	var paths []string
	for p, text := range t.files {
		paths = append(paths, p)
		if err := os.MkdirAll(filepath.Dir(filepath.Join(folder, p)), 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(filepath.Join(folder, p), []byte(text), 0o644); err != nil {
			return err
		}
	}
	slices.Sort(paths)
	result, err := audit.Run(context.Background(), os.DirFS(folder), paths, c, audit.Options{Measure: &evidence.Options{}})
	if err != nil {
		return err
	}
	s.trees++
	var files []string
	for p := range probes {
		files = append(files, p)
	}
	slices.Sort(files)
	text, well := in.over(folder, files)
	if t.mistyped != "" {
		if !reads(result, e, t.slipIn) {
			return nil // nothing reads the file it stands in
		}
		s.slips++
		if slices.ContainsFunc(result.Findings, func(f *conflict.Finding) bool {
			return f.Code == conflict.SlipUnknownKey || f.Code == conflict.SlipBadValue
		}) {
			s.told++
		} else {
			s.example(fmt.Sprintf("tree %d: %s is mistyped, and nothing is told: %s", number, t.mistyped, shown(t)))
		}
		return nil
	}
	for _, f := range result.Findings { // a false alarm about settings that the program takes
		if (f.Code == conflict.SlipUnknownKey || f.Code == conflict.SlipBadValue) && in.Complaint == "" && well {
			s.wrong++
			s.example(fmt.Sprintf("tree %d: told, and it takes it: %s %s", number, f.Message, shown(t)))
		}
	}
	if in.Complaint != "" {
		s.complaints(e, in, result, linted, text, t, number)
		return nil
	}
	if !well {
		s.stopped++
		if s.stopped == 1 {
			s.example(fmt.Sprintf("tree %d: it stops: %s %s", number, firstLine(text), shown(t)))
		}
		return nil
	}
	for p := range probes {
		after, err := os.ReadFile(filepath.Join(folder, p))
		if err != nil {
			return err
		}
		s.deeds(e, result, p, after, t, number)
	}
	return nil
}

// reads reports whether the program reads a settings file at all.
func reads(result *audit.Result, e *catalog.Entry, name string) bool {
	return slices.ContainsFunc(result.Picture.Files, func(f *claim.File) bool {
		return f.Path == name && slices.ContainsFunc(f.Readers, func(r claim.Reader) bool { return r.Program == e }) &&
			slices.ContainsFunc(result.Picture.Groups, func(g *claim.Group) bool { return g.Reads(f) })
	})
}

// aside is where a tree lies, which says nothing.
var aside = regexp.MustCompile(`\S*/lab\d+/`)

func firstLine(text string) string {
	line, _, _ := strings.Cut(strings.TrimSpace(text), "\n")
	line, _, _ = strings.Cut(aside.ReplaceAllString(line, ""), "━")
	return strings.TrimSpace(line[:min(len(line), 200)])
}

// offered is what a probe file has.
type offered struct {
	rule  *rule.Rule
	value rule.Value
}

// shown is a tree in a few words.
func shown(t *grown) string {
	var parts []string
	for p, text := range t.files {
		if !strings.Contains(p, "probe") && !strings.Contains(p, "_") && p != "package.json" && p != "Makefile" {
			parts = append(parts, p+": "+strings.Join(strings.Fields(text), " "))
		}
	}
	slices.Sort(parts)
	return strings.Join(parts, "; ")
}

// deeds compares what a formatter wrote with what is claimed.
func (s *score) deeds(e *catalog.Entry, result *audit.Result, p string, after []byte, t *grown, number int) {
	x, ok := result.Explain(p)
	if !ok {
		return
	}
	one := &single{name: filepath.Base(p), text: after}
	paths := []string{one.name}
	files := tree.Build(one, paths)
	sample, err := evidence.Read(context.Background(), one, files, evidence.Options{All: true})
	if err != nil || sample.Of(0) == nil {
		return
	}
	had := sample.Of(0)
	for _, r := range rule.All() {
		c := x.Group.Claim(e, r.ID)
		if !evidence.Measures(r.ID) || r.ID == rule.ImportOrder || r.ID == rule.TabWidth || r.ID == "comment_line_length" || r.ID == "blank_lines" || r.ID == "charset" {
			continue
		}
		value, answer := had.Value(r.ID)
		told := answer == evidence.Told
		if r.ID == "max_line_length" {
			value, told = widthOf(x.Group.Type.ID, after)
		}
		if r.ID == "trim_trailing_whitespace" && value == rule.Word("true") {
			continue // it had none before
		}
		switch {
		case !told:
		case c == nil:
			if r.ID != rule.EndOfLine && r.ID != "insert_final_newline" {
				s.none++
			}
		case c.Role != rule.Writes || c.Value.IsZero() || c.Value == rule.Unlimited || r.ID == rule.IndentSize && x.Group.UsesTabs(e):
		default:
			s.compared++
			if c.Value != value && !(r.ID == "max_line_length" && (c.Value.Int() < shortest || c.Value.Int() > longest)) {
				s.wrong++
				s.example(fmt.Sprintf("tree %d, %s: %s is claimed to be %s, and is %s: %s", number, p, r.ID, c.Value, value, shown(t)))
			}
		}
	}
}

// widthOf is the length of the longest statement that was left in one line.
func widthOf(typeID string, text []byte) (rule.Value, bool) {
	p, ok := probeOf(typeID)
	if !ok || p.width == nil {
		return rule.Value{}, false
	}
	most := 0
	for line := range strings.Lines(string(text)) {
		if line = strings.TrimRight(line, "\r\n"); p.width.MatchString(line) {
			most = max(most, len(line))
		}
	}
	return rule.Number(most), most > shortest && most < longest-1
}

// complaints compares what a linter complains of with what is claimed.
func (s *score) complaints(e *catalog.Entry, in *installed, result *audit.Result, linted map[string]offered, text string, t *grown, number int) {
	check, place := regexp.MustCompile(in.Complaint), regexp.MustCompile(in.Place)
	by := map[string]map[string]bool{}
	for line := range strings.Lines(text) {
		line = strings.TrimRight(line, "\r\n")
		at, name := place.FindStringSubmatch(line), check.FindStringSubmatch(line)
		if at == nil || name == nil {
			continue
		}
		file := filepath.Base(at[1])
		if by[file] == nil {
			by[file] = map[string]bool{}
		}
		by[file][name[1]] = true
	}
	if len(by) == 0 && len(linted) > 0 && strings.TrimSpace(text) != "" {
		if s.stopped++; s.stopped == 1 {
			s.example(fmt.Sprintf("tree %d: it stops: %s %s", number, firstLine(text), shown(t)))
		}
		return
	}
	for p, o := range linted {
		names := checkNames(e, o.rule)
		x, ok := result.Explain(p)
		if !ok || len(names) == 0 {
			continue
		}
		if c := x.Group.Claim(e, o.rule.ID); c != nil && c.Machine {
			continue // which it is, the machine says
		}
		rejects := func(r string, v rule.Value) bool {
			return slices.ContainsFunc(x.Group.Claims, func(c *claim.Claim) bool {
				return c.Program == e && c.Rule.ID == r && c.Role == rule.Accepts && !c.Set.Has(v)
			})
		}
		want := rejects(o.rule.ID, o.value)
		if o.rule.ID == rule.IndentStyle && o.value == rule.Word("space") { // of two columns
			want = want || !x.Group.UsesTabs(e) && rejects(rule.IndentSize, rule.Number(2))
		}
		if o.rule.ID == rule.IndentSize {
			if x.Group.UsesTabs(e) {
				continue // a size in spaces has no say
			}
			want = want || rejects(rule.IndentStyle, rule.Word("space"))
		}
		got := slices.ContainsFunc(names, func(n string) bool { return by[filepath.Base(p)][n] })
		s.compared++
		switch {
		case got == want:
		case got && x.Group.Claim(e, o.rule.ID) == nil:
			s.compared--
			s.none++
			s.example(fmt.Sprintf("tree %d: no claim, and %s of %s is rejected: %s", number, o.rule.ID, o.value, shown(t)))
		default:
			s.wrong++
			s.example(fmt.Sprintf("tree %d: %s of %s is claimed to be rejected: %v, and is: %v: %s", number, o.rule.ID, o.value, want, got, shown(t)))
		}
	}
}

// checkNames are the names of a linter's checks that answer a rule.
func checkNames(e *catalog.Entry, r *rule.Rule) []string {
	var out []string
	for _, q := range e.Rules {
		if q.Rule != r.ID || q.Variant > 0 {
			continue
		}
		if q.On == nil {
			if names := bare[r.ID]; e.ID == "standard" && names != "" {
				out = append(out, names)
			}
			continue
		}
		if q.On.Name != "" {
			out = append(out, q.On.Name)
		}
		for _, key := range q.On.Keys {
			parts := strings.Split(key, "/")
			name := parts[len(parts)-1]
			if name == "Enabled" && len(parts) > 1 {
				name = strings.Join(parts[:len(parts)-1], "/")
			}
			out = append(out, strings.ReplaceAll(strings.ReplaceAll(name, "~1", "/"), "rules/", ""))
		}
	}
	return out
}

// bare are the checks of a linter without settings of its own, by rule.
var bare = map[string]string{"indent_style": "indent", "indent_size": "indent", "quotes": "quotes", "statement_terminator": "semi", "trailing_comma": "comma-dangle", "bracket_spacing": "object-curly-spacing", "blank_lines": "no-multiple-empty-lines", "insert_final_newline": "eol-last", "trim_trailing_whitespace": "no-trailing-spaces", "brace_placement": "brace-style"}

// single is a file system with one file.
type single struct {
	name string
	text []byte
}

func (s *single) Open(name string) (fs.File, error) { return memoryFile(s, name) }
