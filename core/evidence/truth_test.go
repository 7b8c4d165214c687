package evidence_test

import (
	"context"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
	"jollytreaty/core/tree"
)

// style is what a generated file is written in.
type style map[string]string

func (s style) indent() string {
	if s["indent_style"] == "tab" {
		return "\t"
	}
	return strings.Repeat(" ", map[string]int{"2": 2, "4": 4, "8": 8}[s["indent_size"]])
}

func (s style) quoted(text string) string {
	if s["quotes"] == "single" {
		return "'" + text + "'"
	}
	return `"` + text + `"`
}

func (s style) semicolon() string {
	if s["statement_terminator"] == "always" {
		return ";"
	}
	return ""
}

func (s style) comma(id string) string {
	if s[id] == "multiline" {
		return ","
	}
	return ""
}

// opens is the brace of a block behind its head.
func (s style) opens(indent string) string {
	if s["brace_placement"] == "next_line" {
		return "\n" + indent + "{"
	}
	return " {"
}

func (s style) spaced(text string) string {
	if s["bracket_spacing"] == "tight" {
		return "{" + text + "}"
	}
	return "{ " + text + " }"
}

// imports writes lines of imports by name, in the order asked for.
func (s style) imports(line func(name string) string) string {
	blocks := map[string][][]string{
		"sorted": {{"anchor", "berth", "crew", "tide"}}, "grouped": {{"anchor", "crew"}, {"berth", "tide"}}, "neither": {{"tide", "anchor", "crew", "berth"}},
	}[s["import_order"]]
	var out []string
	for _, block := range blocks {
		text := ""
		for _, name := range block {
			text += line(name) + "\n"
		}
		out = append(out, text)
	}
	return strings.Join(out, "\n")
}

// noise is what must not count, in comments and texts: the opposite of any style.
const noise = "\t  'single' \"double\", {tight} (a,\n   b); \t"

var languages = map[string]struct {
	name  string
	rules []string
	write func(s style, n int) string
}{
	".js": {"javascript", []string{"indent", "quotes", "statement_terminator", "trailing_comma", "argument_comma", "brace_placement", "bracket_spacing", "import_order"}, func(s style, n int) string {
		i := s.indent()
		return s.imports(func(name string) string { return "import " + name + " from " + s.quoted("./"+name) + s.semicolon() }) +
			"\n/* " + noise + " */\n" +
			fmt.Sprintf("const fares%d = [\n%s%s,\n%s%s%s\n]%s\n", n, i, s.quoted("adult"), i, s.quoted("child"), s.comma("trailing_comma"), s.semicolon()) +
			fmt.Sprintf("const text%d = `\n%s`%s\n", n, noise, s.semicolon()) +
			fmt.Sprintf("function sail(a)%s\n%sif (a)%s\n%s%sreturn %s%s\n%s}\n}\n", s.opens(""), i, s.opens(i), i, i, s.spaced("a: 1"), s.semicolon(), i) +
			fmt.Sprintf("const b = sail(\n%sfares%d,\n%stext%d%s\n)%s\n", i, n, i, n, s.comma("argument_comma"), s.semicolon())
	}},
	".ts": {"typescript", []string{"indent", "quotes", "statement_terminator", "bracket_spacing", "brace_placement"}, func(s style, n int) string {
		i := s.indent()
		return fmt.Sprintf("// it's %q\nimport %s from %s%s\nexport class Ferry%d%s\n%sname = %s\n%ssail()%s\n%s%sreturn %s%s\n%s}\n}\n",
			"quoted", s.spaced("Tide"), s.quoted("./tide"), s.semicolon(), n, s.opens(""), i, s.quoted("x")+s.semicolon(), i, s.opens(i), i, i, s.quoted("y"), s.semicolon(), i)
	}},
	".py": {"python", []string{"indent", "quotes", "trailing_comma", "argument_comma", "import_order"}, func(s style, n int) string {
		i := s.indent()
		return s.imports(func(name string) string { return "import " + name }) +
			fmt.Sprintf("\n# it's a \"comment\"\ndef sail_%d(a):\n%s\"\"\"%s\"\"\"\n%sif a:\n%s%sreturn %s\n%sreturn [\n%s%s%s,\n%s%s%s%s\n%s]\n", n, i, noise, i, i, i, s.quoted("x"), i, i, i, s.quoted("a"), i, i, s.quoted("b"), s.comma("trailing_comma"), i) +
			fmt.Sprintf("value = sail_%d(\n%s%s,\n%s%s%s\n)\n", n, i, s.quoted("a"), i, s.quoted("b"), s.comma("argument_comma"))
	}},
	".rs": {"rust", []string{"indent", "trailing_comma", "brace_placement"}, func(s style, n int) string {
		i := s.indent()
		return fmt.Sprintf("// 'a\nstruct Fare%d<'a>%s\n%sname: &'a str,\n%szone: u8%s\n}\n\nfn sail(c: char) -> char%s\n%sif c == 'x'%s\n%s%sreturn '\\'';\n%s}\n%sc\n}\n",
			n, s.opens(""), i, i, s.comma("trailing_comma"), s.opens(""), i, s.opens(i), i, i, i, i)
	}},
	".kt": {"kotlin", []string{"indent", "statement_terminator", "argument_comma", "brace_placement", "import_order"}, func(s style, n int) string {
		i := s.indent()
		return "package line.skerry" + s.semicolon() + "\n\n" + s.imports(func(name string) string { return "import line." + name + s.semicolon() }) +
			fmt.Sprintf("\nval raw%d = \"\"\"%s\"\"\"%s\nfun sail(a: Int): Int%s\n%sval b = maxOf(\n%s%sa,\n%s%s1%s\n%s)%s\n%sreturn b%s\n}\n", n, noise, s.semicolon(), s.opens(""), i, i, i, i, i, s.comma("argument_comma"), i, s.semicolon(), i, s.semicolon())
	}},
	".swift": {"swift", []string{"indent", "trailing_comma", "brace_placement", "import_order"}, func(s style, n int) string {
		i := s.indent()
		return s.imports(func(name string) string { return "import " + name }) +
			fmt.Sprintf("\nfunc sail%d(a: Int) -> [Int]%s\n%sif a > 1%s\n%s%sreturn []\n%s}\n%sreturn [\n%s%sa,\n%s%s2%s\n%s]\n}\n", n, s.opens(""), i, s.opens(i), i, i, i, i, i, i, i, i, s.comma("trailing_comma"), i)
	}},
	".java": {"java", []string{"indent", "brace_placement", "import_order"}, func(s style, n int) string {
		i := s.indent()
		return s.imports(func(name string) string { return "import line." + name + ";" }) +
			fmt.Sprintf("\n/** %s */\nclass Ferry%d%s\n%sint sail(int a)%s\n%s%sreturn a;\n%s}\n}\n", strings.ReplaceAll(noise, "\n", "\n * "), n, s.opens(""), i, s.opens(i), i, i, i)
	}},
	".rb": {"ruby", []string{"indent", "quotes", "trailing_comma"}, func(s style, n int) string {
		i := s.indent()
		return fmt.Sprintf("# it's\ndef sail_%d(a)\n%sreturn %s if a\n%s[\n%s%s%s,\n%s%s%s%s\n%s]\nend\n\ntext = <<~NOTE\n%s\nNOTE\n", n, i, s.quoted("x"), i, i, i, s.quoted("a"), i, i, s.quoted("b"), s.comma("trailing_comma"), i, noise)
	}},
	".yaml": {"yaml", []string{"quotes"}, func(s style, n int) string {
		return fmt.Sprintf("# it's \"quoted\"\nname: %s\nport: %s # don't\nscript: |\n    'one' \"two\" \t\n  three: 'x'\nberth%d:\n  tide: %s\n", s.quoted("x"), s.quoted("y"), n, s.quoted("z"))
	}},
	".sh": {"shellscript", []string{"indent"}, func(s style, n int) string {
		i := s.indent()
		return fmt.Sprintf("#!/bin/sh\nsail_%d() {\n%sif true; then\n%s%secho \"it's\" 'x'\n%sfi\n}\ncat <<NOTE\n%s\nNOTE\n", n, i, i, i, i, noise)
	}},
}

var domains = map[string][]string{
	"quotes": {"single", "double"}, "statement_terminator": {"always", "needed"}, "trailing_comma": {"multiline", "never"}, "argument_comma": {"multiline", "never"},
	"brace_placement": {"same_line", "next_line"}, "bracket_spacing": {"spaced", "tight"}, "import_order": {"sorted", "grouped", "neither"},
	"end_of_line": {"lf", "crlf"}, "insert_final_newline": {"true", "false"}, "trim_trailing_whitespace": {"true", "false"}, "charset": {"utf-8", "utf-8-bom"},
}

// generated writes files of every language, each rule's values at a rate that is
// kept beside them.
func generated(perLanguage int, random *rand.Rand) (fstest.MapFS, map[string]map[string]map[string]int) {
	files := fstest.MapFS{}
	truth := map[string]map[string]map[string]int{}
	for _, ext := range slices.Sorted(maps.Keys(languages)) { // or chance would differ from run to run
		lang := languages[ext]
		truth[lang.name] = map[string]map[string]int{}
		count := func(id, value string) {
			if truth[lang.name][id] == nil {
				truth[lang.name][id] = map[string]int{}
			}
			truth[lang.name][id][value]++
		}
		for n := range perLanguage {
			s := style{"indent_style": "space", "indent_size": "4", "quotes": "double", "brace_placement": "same_line", "import_order": "sorted", "bracket_spacing": "spaced"}
			pick := func(id string, first float64, values ...string) {
				s[id] = values[0]
				if random.Float64() >= first {
					s[id] = values[1+random.IntN(len(values)-1)]
				}
				count(id, s[id])
			}
			for _, id := range lang.rules {
				if id != "indent" {
					pick(id, 0.3+0.1*float64(len(id)%6), domains[id]...)
					continue
				}
				pick("indent_style", 0.35, "tab", "space")
				if s["indent_style"] == "space" {
					pick("indent_size", 0.6, "4", "2", "8")
				}
			}
			for _, id := range []string{"end_of_line", "insert_final_newline", "trim_trailing_whitespace", "charset"} {
				pick(id, 0.8, domains[id]...)
			}
			pick("max_line_length", 0.4, "70", "95", "115", "130")
			pick("blank_lines", 0.5, "1", "2", "3")
			pick("comment_line_length", 0.6, "60", "90")
			pick("file_header", 0.7, "Skerry Line, crew and harbour", "")
			hash := ext == ".py" || ext == ".rb" || ext == ".yaml" || ext == ".sh"
			comment := map[bool]string{true: "# ", false: "// "}[hash]
			text := ""
			if s["file_header"] != "" {
				text = comment + s["file_header"] + "\n\n"
			}
			text += lang.write(s, n)
			fill := func(head, tail, length string) string {
				columns, _ := strconv.Atoi(length)
				return head + strings.Repeat("a", columns-len(head)-len(tail)) + tail + "\n"
			}
			switch ext {
			case ".yaml":
				text += fill("long: ", "", s["max_line_length"])
			case ".sh":
				text += fill("echo ", "", s["max_line_length"])
			default:
				text += fill("sail(", ")"+s.semicolon(), s["max_line_length"])
			}
			runs, _ := strconv.Atoi(s["blank_lines"])
			text += strings.Repeat("\n", runs) + fill(comment, "", s["comment_line_length"])
			if s["charset"] == "utf-8-bom" {
				text = "\ufeff" + text
			} else {
				count("charset", "utf-8")
				truth[lang.name]["charset"]["utf-8"]-- // plain bytes say nothing unless there are others
				text += comment + "Gullströmmen\n"
			}
			if s["trim_trailing_whitespace"] == "false" {
				text += " \n" + comment + "x\n"
			}
			if s["insert_final_newline"] == "false" {
				text = strings.TrimRight(text, "\n")
			}
			if s["end_of_line"] == "crlf" {
				text = strings.ReplaceAll(text, "\n", "\r\n")
			}
			files[fmt.Sprintf("%s/part%02d/file%05d%s", lang.name, n%17, n, ext)] = &fstest.MapFile{Data: []byte(text)}
		}
	}
	return files, truth
}

func read(t *testing.T, files fstest.MapFS, o evidence.Options) (*tree.Tree, *evidence.Sample) {
	t.Helper()
	var paths []string
	for path := range files {
		paths = append(paths, path)
	}
	slices.Sort(paths)
	built := tree.Build(files, paths)
	o.Ignore = []string{"vendor"}
	s, err := evidence.Read(context.Background(), files, built, o)
	require.NoError(t, err)
	return built, s
}

// Every rule and value, in ten languages, at known rates: what is counted is what
// was written, whole or by a sample.
func TestSharesAreTrue(t *testing.T) {
	files, truth := generated(4000, rand.New(rand.NewPCG(7, 11)))
	for _, all := range []bool{true, false} {
		built, s := read(t, files, evidence.Options{All: all})
		if !all {
			assert.Less(t, s.Measured(), len(files))
		}
		for _, count := range built.Counts() {
			set := s.Where(func(i int) bool { return built.Files[i].Type == count.Type })
			for id, values := range truth[count.Type.ID] {
				total := 0
				for _, n := range values {
					total += n
				}
				if id == "file_header" {
					headed, texts := 0, map[uint64]string{0: ""}
					for i, f := range set.Of {
						if _, known := texts[f.Header()]; !known {
							texts[f.Header()] = s.Header(set.Index[i])
						}
						if strings.HasPrefix(texts[f.Header()], "Skerry Line, crew and harbour") {
							headed++
						}
					}
					assert.InDelta(t, 100*float64(values["Skerry Line, crew and harbour"])/float64(total), 100*float64(headed)/float64(len(set.Of)), 2, "%s %s", count.Type.ID, id)
					continue
				}
				var limits []rule.Value
				if limit := limited[id]; limit != nil {
					values, limits = within(values), limit
				}
				tally := set.Count(rule.ByID(id), limits...)
				got := map[string]int{"neither": tally.Neither}
				for _, share := range tally.Shares {
					got[share.Value.String()] = share.Files
				}
				assert.LessOrEqual(t, tally.Margin(), 2.0, "%s %s", count.Type.ID, id)
				for value, n := range values {
					want, have := 100*float64(n)/float64(total), 100*tally.Of(got[value])
					off := 2.0
					if all {
						off = 0.5
					}
					assert.InDelta(t, want, have, off, "%s %s=%s (all=%v, mixed %d of %d)", count.Type.ID, id, value, all, tally.Mixed, tally.Telling)
				}
			}
		}
	}
}

// limited are rules whose shares are of the files that stay within a limit.
var limited = map[string][]rule.Value{
	"max_line_length":     {rule.Number(70), rule.Number(95), rule.Number(115), rule.Number(130)},
	"comment_line_length": {rule.Number(60), rule.Number(90)},
	"blank_lines":         {rule.Number(1), rule.Number(2), rule.Number(3)},
}

// within adds up, for each number, the files that have no more.
func within(values map[string]int) map[string]int {
	out := map[string]int{}
	for limit := range values {
		most, _ := strconv.Atoi(limit)
		for value, n := range values {
			if has, _ := strconv.Atoi(value); has <= most {
				out[limit] += n
			}
		}
	}
	return out
}
