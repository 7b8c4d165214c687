package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// commit makes a git repository of a folder, or adds to it what is there now.
func commit(t *testing.T, dir string) {
	t.Helper()
	for _, args := range [][]string{{"init", "-q"}, {"add", "-A"}, {"commit", "-q", "-m", "now", "--allow-empty"}} {
		cmd := exec.Command("git", append([]string{"-c", "user.name=a", "-c", "user.email=a@b.example", "-c", "core.autocrlf=false"}, args...)...)
		cmd.Dir = dir
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
	}
}

func TestCompare(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{
		"rustfmt.toml": "max_width = 100\n", "a.rs": "", "old/rustfmt.toml": "max_width = 80\n", "old/b.rs": "", "old/c.go": "", "docs/x.png": "",
	})
	commit(t, dir)
	other := write(t, t.TempDir(), map[string]string{"a.rs": "", "rustfmt.toml": "max_width = 120\n"})

	r := run(t, dir, "compare", "a.rs", "old/b.rs")
	assert.Regexp(t, `line length +100 columns +80 columns`, r.out)
	assert.Contains(t, r.out, "rustfmt, rustfmt.toml:1; rustfmt, old/rustfmt.toml:1")
	assert.NotContains(t, r.out, "indentation", "the same")
	assert.Regexp(t, `indentation +spaces +spaces`, run(t, dir, "compare", "--all", "a.rs", "old/b.rs").out)

	assert.Regexp(t, `line length +100 columns \(1\), 80 columns \(1\) +80 columns`, run(t, dir, "compare", ".", "old").out)
	assert.Regexp(t, `line length +100 columns +120 columns`, run(t, dir, "compare", "a.rs", other).out)
	assert.Contains(t, run(t, dir, "compare", "old/c.go", "a.rs").out, "Go and Rust")

	write(t, dir, map[string]string{"old/rustfmt.toml": "max_width = 90\n"})
	assert.Regexp(t, `line length +80 columns +90 columns`, run(t, dir, "compare", "HEAD:old", "old").out)
	commit(t, dir)
	require.NoError(t, os.RemoveAll(filepath.Join(dir, "old")))
	assert.Regexp(t, `line length +80 columns +90 columns`, run(t, dir, "compare", "HEAD~1:old/", "HEAD:old").out, "nothing of it is in the work tree")
	assert.Contains(t, run(t, dir, "compare", "HEAD", "HEAD").out, "the same formatter and the same style")

	for _, args := range [][]string{{"compare", "a.rs", "nowhere"}, {"compare", "a.rs", "docs"}, {"compare", "a.rs"}, {"compare", "a.rs", "--upload-pack=x"}} {
		r := run(t, dir, args...)
		assert.Equal(t, 2, r.code, args)
		assert.NotEmpty(t, r.err)
		assert.Empty(t, r.out)
	}
}

func TestExplainSeveralAndOneRule(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{
		".prettierrc": "{\"printWidth\": 90}", ".vscode/settings.json": "{\"prettier.printWidth\": 70,\n\"editor.formatOnSave\": true, \"editor.defaultFormatter\": \"esbenp.prettier-vscode\"}",
		".eslintrc.json": "{\"rules\": {\"max-len\": [\"error\", 80]}}", "a.js": "", "old/.prettierrc": "{\"printWidth\": 80}", "old/b.js": "",
	})
	one := run(t, dir, "explain", "a.js").out
	assert.Contains(t, one, "writes on save (.vscode/settings.json:2)")
	assert.Contains(t, one, "WITHOUT EFFECT\n  .vscode/settings.json:1 prettier.printWidth: Prettier has settings of its\n      own, .prettierrc\n")

	chain := run(t, dir, "explain", "a.js", "--rule", "max_line_length").out
	assert.Contains(t, chain, "in effect   writes 90 columns  .prettierrc:1")
	assert.Contains(t, chain, "Prettier decides: its formatter has the last word")
	assert.Contains(t, chain, "error, clash/rejected")
	assert.Contains(t, run(t, dir, "explain", "a.js", "--rule", "charset").out, "No program in play here says anything about it.")

	two := run(t, dir, "explain", "a.js", "old/b.js").out
	assert.Regexp(t, `90 columns +a\.js +Prettier, \.prettierrc:1`, two)
	assert.Regexp(t, `80 columns +old/b\.js`, two)
	assert.Contains(t, two, "the same for all: indentation: spaces")
	assert.Equal(t, 2, run(t, dir, "explain", "a.js", "--rule", "max_lin").code)
}

func TestConflictsByPathAndSeverity(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{
		"rustfmt.toml": "newline_style = \"Windows\"\n", ".gitattributes": "*.rs eol=lf\n", "a.rs": "", "old/b.rs": "", "old/rustfmt.toml": "tab_space = 1\n",
	})
	codes := func(args ...string) string { return run(t, dir, append([]string{"conflicts"}, args...)...).out }
	assert.Contains(t, codes("--path", "a.rs"), "clash/writers")
	assert.NotContains(t, codes("--path", "a.rs"), "slip/unknown-key")
	assert.Contains(t, codes("--path", "old"), "slip/unknown-key")
	assert.NotContains(t, codes("--path", "./old/"), "clash/writers")
	assert.Contains(t, codes("--path", "*.rs"), "clash/writers")
	assert.NotContains(t, codes("--severity", "warning"), "clash/writers")
	assert.Contains(t, codes("--severity", "warning"), "slip/unknown-key")
	assert.Equal(t, 2, run(t, dir, "conflicts", "--severity", "grave").code)
}
