package settle_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/aymanbagabas/go-udiff"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/conflict"
	"jollytreaty/core/settle"
)

// TestSettleRandomRepositories settles repositories whose settings were thrown
// together, and holds what must be true of every plan: it is found, it brings up
// nothing new, every clash that stays has a reason, and settling the result
// changes nothing.
func TestSettleRandomRepositories(t *testing.T) {
	rounds := 200
	if testing.Short() {
		rounds = 30
	}
	for seed := range rounds {
		files := randomRepository(rand.New(rand.NewPCG(uint64(seed), 7)))
		defer func() {
			if t.Failed() {
				t.Logf("seed %d", seed)
			}
		}()
		before, plan := propose(t, files)
		settled := apply(files, plan)
		after, second := propose(t, settled)
		if !assert.Empty(t, second.Edits, "seed %d: settling twice", seed) {
			for _, e := range second.Edits {
				t.Log(lineChanges(e))
			}
		}
		whys := map[string]string{}
		for _, o := range plan.LeftOpen {
			whys[o.Finding.ID] = o.Why
		}
		for _, f := range after.Findings {
			code := string(f.Code)
			if !strings.HasPrefix(code, "clash/") && !strings.HasPrefix(code, "rivalry/") && !strings.HasPrefix(code, "slip/") {
				continue
			}
			if f.Code == conflict.RivalryLayout {
				continue // what agrees after settling is repeated
			}
			if len(f.Examples) > 0 && !slices.ContainsFunc(f.Examples, func(p string) bool { return files[p] != nil }) {
				continue // only about settings files that the plan made
			}
			assert.NotNil(t, before.Finding(f.ID), "seed %d: new: %s %s", seed, f.Code, f.Message)
			assert.NotEmpty(t, whys[f.ID], "seed %d: stays without a reason: %s %s", seed, f.Code, f.Message)
			assert.NotEqual(t, "mend it by hand", whys[f.ID], "seed %d: %s %s", seed, f.Code, f.Message)
		}
		if t.Failed() {
			for p, f := range files {
				t.Logf("-- %s --\n%s", p, f.Data)
			}
			require.FailNow(t, fmt.Sprintf("seed %d", seed))
		}
	}
}

func randomRepository(r *rand.Rand) fstest.MapFS {
	files := fstest.MapFS{}
	one := func(list ...string) string { return list[r.IntN(len(list))] }
	sometimes := func(n int) bool { return r.IntN(n) == 0 }
	for _, dir := range []string{"", "app/", "lib/", "lib/old/"} {
		for _, ext := range []string{"kt", "swift", "rs", "go", "md", "yaml", "tf", "sh", "ts", "toml", "bat", "json", "c", "cpp"} {
			if sometimes(2) {
				files[dir+one("a", "b")+"."+ext] = &fstest.MapFile{}
			}
		}
		if sometimes(2) { // of a type that its first lines tell
			files[dir+"n.h"] = text(one("class A {\n};\n", "int f(void);\n", "@interface A\n"))
		}
		if sometimes(3) {
			files[dir+"tsconfig.json"] = text("{}\n")
		}
		if sometimes(3) {
			files[dir+".clang-format"] = text("BasedOnStyle: LLVM\n" + one("", "IndentWidth: 4\n", "UseTab: Always\nIndentWidth: 8\n") + one("", "ColumnLimit: 100\n", "---\nLanguage: ObjC\nColumnLimit: 120\n"))
		}
		if sometimes(2) {
			files[dir+".editorconfig"] = text(randomStandard(one, sometimes))
		}
		if sometimes(4) {
			files[dir+".gitattributes"] = text(one("* text=auto eol=lf\n", "*.rs eol=crlf\n", "*.bat text eol=crlf\n*.ts eol=lf\n", "*.md -text\n", "* eol=crlf\n"))
		}
		if sometimes(3) {
			files[dir+"rustfmt.toml"] = text("max_width = " + one("80", "100", "120") + "\n" + one("", "hard_tabs = true\n", "tab_spaces = 2\n") + one("", "newline_style = \"Unix\"\n", "newline_style = \"Windows\"\n", "newline_style = \"Auto\"\n"))
		}
		if sometimes(3) {
			files[dir+".swiftformat"] = text("--indent " + one("2", "4", "tab") + "\n" + one("", "--maxwidth 90\n", "--commas inline\n", "--disable trailingCommas\n", "--exclude old\n"))
		}
		if sometimes(5) {
			files[dir+".swift-format"] = text("{\"lineLength\": " + one("80", "100") + ", \"indentation\": {\"spaces\": " + one("2", "4") + "}}\n")
		}
		if sometimes(3) {
			files[dir+".swiftlint.yml"] = text(one("line_length: 100\n", "line_length:\n  warning: 80\n", "disabled_rules:\n  - trailing_comma\n", "trailing_comma:\n  mandatory_comma: true\n"))
		}
		if sometimes(3) {
			files[dir+".yamllint"] = text(one("extends: default\n", "rules:\n  line-length:\n    max: 90\n  new-lines:\n    type: dos\n", "rules:\n  indentation:\n    spaces: 4\n", "extends: default\nrules:\n  line-length: disable\n"))
			files[dir+"Makefile"] = text("lint:\n\tyamllint .\n")
		}
		if sometimes(3) {
			files[dir+".markdownlint.yaml"] = text(one("MD013: false\n", "MD013:\n  line_length: 90\n", "default: false\n", "line-length: true\n"))
		}
		if sometimes(3) {
			files[dir+".prettierrc"] = text("{\n  \"tabWidth\": " + one("2", "4") + one("", ",\n  \"useTabs\": true", ",\n  \"printWidth\": 100", ",\n  \"endOfLine\": \"crlf\"", ",\n  \"overrides\": [{\"files\": \"tsconfig.json\", \"options\": {\"tabWidth\": 3, \"endOfLine\": \"crlf\"}}]", ",\n  \"overrides\": [{\"files\": \"*.md\", \"options\": {\"tabWidth\": 3, \"proseWrap\": \"always\"}}]") + "\n}\n")
		}
		if sometimes(5) {
			files[dir+"detekt.yml"] = text("style:\n  MaxLineLength:\n    active: " + one("true", "false") + "\n" + one("", "    maxLineLength: 90\n"))
		}
		if sometimes(4) {
			files[dir+".vscode/settings.json"] = text("{\n  \"editor.tabSize\": " + one("2", "4", "8") + one("", ",\n  \"files.eol\": \"\\r\\n\"", ",\n  \"editor.insertSpaces\": false", ",\n  \"[rust]\": {\"editor.tabSize\": 3}", ",\n  \"files.trimTrailingWhitespace\": true") + "\n}\n")
		}
		if sometimes(6) {
			files[dir+".taplo.toml"] = text("[formatting]\nindent_string = \"" + one("  ", "    ", "\\t") + "\"\n" + one("", "crlf = true\n"))
		}
	}
	if sometimes(2) {
		files[".github/workflows/ci.yml"] = text("jobs:\n  x:\n    steps:\n      - run: " + one("ktlint", "detekt", "shfmt -d .", "shfmt -i 2 -d .", "swiftformat .", "swift-format lint .", "yamllint .", "prettier --check .", "markdownlint .", "rustfmt --check src", "clang-format --dry-run -Werror a.c") + "\n")
	}
	return files
}

func randomStandard(one func(...string) string, sometimes func(int) bool) string {
	var b strings.Builder
	if sometimes(3) {
		b.WriteString("root = true\n\n")
	}
	for !sometimes(3) {
		fmt.Fprintf(&b, "[%s]\n", one("*", "*.kt", "*.{kt,swift}", "*.rs", "*.{yaml,md}", "old/**", "lib/**.rs", "a.*", "*.sh", "*.go", "*.{ts,tf}", "*.bat", "*.{c,h}", "*.json"))
		for !sometimes(3) {
			b.WriteString(one("indent_style = tab", "indent_style = space", "indent_size = 2", "indent_size = 4", "indent_size = tab", "tab_width = 8", "end_of_line = lf", "end_of_line = crlf",
				"max_line_length = 100", "max_line_length = 120", "max_line_length = off", "trim_trailing_whitespace = true", "trim_trailing_whitespace = false", "insert_final_newline = true",
				"insert_final_newline = false", "charset = utf-8", "indent_size = unset", "ktlint_code_style = android_studio", "switch_case_indent = true") + "\n")
		}
		b.WriteString("\n")
	}
	return b.String()
}

func text(s string) *fstest.MapFile { return &fstest.MapFile{Data: []byte(s)} }

// lineChanges shows the lines an edit adds and takes away.
func lineChanges(e settle.Edit) string {
	diff := e.Path + "\n"
	for line := range strings.Lines(udiff.Unified("before", "after", string(e.Before), string(e.After))) {
		if line[0] == '+' || line[0] == '-' || line[0] == '@' {
			diff += line
		}
	}
	return diff
}
