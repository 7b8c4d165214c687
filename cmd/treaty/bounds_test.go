package main

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// hangs is when a run that should take a moment has not ended. It is no measure of
// speed, for which see bench/.
const hangs = time.Minute

// bounded runs the program and fails where it hangs, or takes more memory than there
// is.
func bounded(t *testing.T, dir string, args ...string) result {
	t.Helper()
	var stop *time.Timer
	r := runAs(t, func(c *exec.Cmd) { // the address space also holds what is only reserved
		name := c.Path
		c.Path, c.Args = "/bin/sh", append([]string{"sh", "-c", `ulimit -v 4000000; exec "$0" "$@"`, name}, c.Args[1:]...)
		stop = time.AfterFunc(hangs, func() { c.Process.Kill() })
	}, dir, args...)
	assert.True(t, stop.Stop(), "%v hangs", args)
	assert.NotContains(t, r.err, "fatal error", "%v", args)
	assert.Contains(t, []int{0, 1, 2, 3}, r.code, "%v", args)
	return r
}

// many is so many lines.
func many(n int, line func(i int) string) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(line(i))
	}
	return b.String()
}

// The worst settings take a moment: they are read, or told of in one finding with its
// place, and everything else is audited all the same.
func TestWorkWithoutBound(t *testing.T) {
	type files = map[string]string
	for name, c := range map[string]struct {
		files files
		says  string // in the finding about it
	}{
		"macros that double":         {files{".gitattributes": "[attr]m0 text\n" + many(40, func(i int) string { return fmt.Sprintf("[attr]m%d m%d m%[2]d\n", i+1, i) }) + "*.js m40\n"}, ""},
		"a chain of macros":          {files{".gitattributes": many(10_000, func(i int) string { return fmt.Sprintf("[attr]m%d m%d u%[1]d\n", i+1, i) }) + strings.Repeat("*.js m4000\n", 900)}, "lines with patterns"},
		"macros that stand for much": {files{".gitattributes": many(3000, func(i int) string { return fmt.Sprintf("[attr]m%d m%d u%[1]d\n", i+1, i) }) + strings.Repeat("*.js m3000\n", 900)}, "macros stand for more than 50000 attributes"},
		"keys in YAML":               {files{".prettierrc": many(300_000, func(i int) string { return fmt.Sprintf("k%d: 1\n", i) })}, "more than 100000 lines"},
		"keys in JSON":               {files{".prettierrc.json": `{"a": 1` + many(60_000, func(i int) string { return fmt.Sprintf(`, "k%d": 1`, i) }) + "}"}, "more than 50000 settings"},
		"unknown keys":               {files{".prettierrc.json": `{"a": 1` + many(40_000, func(i int) string { return fmt.Sprintf(`, "tabWidt%d": 1`, i) }) + "}"}, ""},
		"keys in TOML":               {files{"ruff.toml": many(60_000, func(i int) string { return fmt.Sprintf("k%d = 1\n", i) }), "a.py": "x = 1\n"}, "more than 10000 keys in one table"},
		"values over many lines":     {files{".flake8": "[flake8]\nignore =\n" + many(100_000, func(i int) string { return fmt.Sprintf("  E%d,\n", i) }), "a.py": "x = 1\n"}, "more than"},
		"the same section":           {files{".prettierrc.json": `{"a": 1` + many(20_000, func(i int) string { return fmt.Sprintf(`, "o": {"k%d": 1}`, i) }) + "}"}, ""},
		"sections":                   {files{".editorconfig": many(20_000, func(i int) string { return fmt.Sprintf("[*.a%d]\nindent_size = 2\n", i) })}, "more than 5000 sections"},
		"words of one pattern":       {files{".editorconfig": "[{w" + many(400, func(i int) string { return fmt.Sprintf(",w%d", i) }) + "}]\nindent_size = 2\n", ".prettierrc": "overrides:\n- files: '{w" + many(40_000, func(i int) string { return fmt.Sprintf(",w%d", i) }) + "}'\n  options: {tabWidth: 3}\n"}, ""},
		"patterns of an ignore list": {files{".prettierrc": "{}", ".prettierignore": many(100_000, func(i int) string { return fmt.Sprintf("*a%d*b\n", i) })}, "more than"},
		"templates within templates": {files{".prettierrc.js": "module.exports = " + strings.Repeat("`${", 100_000)}, ""},
		"brackets":                   {files{".prettierrc.js": "module.exports = " + strings.Repeat("[", 100_000), ".eslintrc.json": strings.Repeat("[", 100_000)}, "nested deeper"},
		"names that double":          {files{".prettierrc.js": "const a0 = {x: 1};\n" + many(60, func(i int) string { return fmt.Sprintf("const a%d = {...a%d, ...a%[2]d};\n", i+1, i) }) + "module.exports = a60;\n"}, ""},
		"aliases that double":        {files{".prettierrc": "a0: &a0 {x: 1}\n" + many(60, func(i int) string { return fmt.Sprintf("a%d: &a%[1]d {<<: [*a%d, *a%[2]d], y: *a%[2]d}\n", i+1, i) })}, "expands to more than"},
		"bases that double": {func() files {
			out := files{".eslintrc.json": `{"extends": ["./b0.json", "./b0.json"]}`, "b28.json": `{"rules": {"quotes": ["error", "single"]}}`}
			for i := range 28 {
				out[fmt.Sprintf("b%d.json", i)] = fmt.Sprintf(`{"extends": ["./b%d.json", "./b%[1]d.json"]}`, i+1)
			}
			return out
		}(), ""},
		"bases":                {files{".eslintrc.json": `{"extends": ["./b.json"` + strings.Repeat(`, "./b.json"`, 40_000) + "]}", "b.json": "{}"}, "extends more than 200 others"},
		"variables of a build": {files{"Makefile": "A0 = " + strings.Repeat("x", 1000) + "\n" + many(60, func(i int) string { return fmt.Sprintf("A%d = $(A%d) $(A%[2]d)\n", i+1, i) }) + strings.Repeat("x:\n\t"+strings.Repeat("$(A60)", 1000)+" prettier .\n", 100)}, ""},
		"commands":             {files{"format.sh": many(30_000, func(i int) string { return fmt.Sprintf("prettier --write a%d\n", i) }), "scripts/format.sh": many(30_000, func(i int) string { return fmt.Sprintf("prettier --write a%d\n", i) })}, ""},
		"a long line":          {files{".prettierrc": "a: [" + strings.Repeat("\"é\", ", 90_000) + "1]\n"}, "more than 50000 settings"},
		"entries":              {files{".treaty/programs/x.entry.toml": strings.Repeat("#", 2<<20)}, "larger than 1024 kB"},
		"unknown rules":        {files{"treaty.toml": "treaty = 1\n[[article]]\ntype = \"javascript\"\n[article.style]\n" + many(9000, func(i int) string { return fmt.Sprintf("max_line_lengt%d = 1\n", i) })}, "treaty.toml:5:1"},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			dir := write(t, t.TempDir(), c.files)
			write(t, dir, files{"a.js": "a();\n", "b.rs": "fn b() {}\n", "rustfmt.toml": "tab_spaces = \"x\"\n"})
			audit := bounded(t, dir, "conflicts")
			if audit.code == 0 {
				assert.Contains(t, audit.out, "tab_spaces = x is no value it takes", "everything else is audited")
			}
			if c.says != "" {
				assert.Contains(t, strings.Join(strings.Fields(audit.out+audit.err), " "), c.says)
			}
			bounded(t, dir, "settle")
		})
	}
}

// A pipe or a folder in place of a file is not waited for, whoever would read it.
func TestSpecialFiles(t *testing.T) {
	for _, inGit := range []bool{false, true} {
		for _, name := range []string{"treaty.toml", ".editorconfig", ".gitignore", "web/.gitignore", "new/.gitignore", ".gitattributes", ".gitmodules", "Makefile", "package.json", "pyproject.toml",
			".github/workflows/a.yml", ".treaty/programs/x.entry.toml", "a.py", "README.md", "base.json", "known.json", ".git/hooks/pre-commit", ".git/info/exclude", ".git/config", ".git/index", ".git/HEAD"} {
			if strings.HasPrefix(name, ".git/") && !inGit {
				continue
			}
			t.Run(fmt.Sprint(name, " git ", inGit), func(t *testing.T) {
				t.Parallel()
				dir := write(t, t.TempDir(), map[string]string{"a.js": "a();\n", "web/x.js": "", "new/y.js": "", ".eslintrc.json": `{"extends": ["./base.json"]}`})
				if inGit {
					require.NoError(t, os.RemoveAll(filepath.Join(dir, "new")))
					commitAll(t, dir)
					write(t, dir, map[string]string{"new/y.js": ""})
				}
				at := filepath.Join(dir, name)
				require.NoError(t, os.MkdirAll(filepath.Dir(at), 0o755))
				os.Remove(at)
				require.NoError(t, syscall.Mkfifo(at, 0o644))
				for _, command := range []string{"audit", "check --staged", "settle", "check --baseline known.json", "explain a.js", "hook lines"} {
					bounded(t, dir, strings.Fields(command)...)
				}
				require.NoError(t, os.Remove(at))
				if !strings.HasPrefix(name, ".git/") {
					require.NoError(t, os.Mkdir(at, 0o755))
					bounded(t, dir, "audit")
				}
			})
		}
	}
}

// Files of gigabytes and folders thousands deep are told of, or left out.
func TestHugeTrees(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{"a.js": "a();\n", "b.rs": "", "rustfmt.toml": "tab_spaces = \"x\"\n"})
	for _, name := range []string{".editorconfig", ".prettierrc", "package.json", "package-lock.json", ".gitignore", ".gitattributes", "Makefile", "huge.js", ".github/workflows/a.yml", ".treaty/programs/x.entry.toml"} {
		write(t, dir, map[string]string{name: ""})
		require.NoError(t, os.Truncate(filepath.Join(dir, name), 2<<30))
	}
	out := bounded(t, dir, "conflicts").out
	assert.Contains(t, out, "tab_spaces = x")
	assert.Contains(t, out, "too large for")
	bounded(t, dir, "evidence", "--all")

	deep := write(t, t.TempDir(), map[string]string{"a.js": "a();\n"})
	at, err := syscall.Open(deep, syscall.O_RDONLY|syscall.O_DIRECTORY, 0)
	require.NoError(t, err)
	for range 3000 {
		require.NoError(t, syscall.Mkdirat(at, "d", 0o755))
		next, err := syscall.Openat(at, "d", syscall.O_RDONLY|syscall.O_DIRECTORY, 0)
		require.NoError(t, err)
		syscall.Close(at)
		at = next
	}
	syscall.Close(at)
	assert.Contains(t, bounded(t, deep, "audit").err, "folders more than 200 deep, which are left out")
	commitAll(t, deep)
	bounded(t, deep, "audit")
	bounded(t, deep, "settle", "--write")
}
