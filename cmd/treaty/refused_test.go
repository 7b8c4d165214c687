package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A choice is carried out, or the run ends with 1, says what stands in the way, and
// nothing is changed.
func TestChoicesThatStandInTheWay(t *testing.T) {
	for name, c := range map[string]struct {
		files map[string]string
		args  []string
		says  string
	}{
		"a fixed style": {
			map[string]string{"a.go": "package a\n", "Makefile": "fmt:\n\tgofmt -w .\n"},
			[]string{"--set", "go:indent_style=space"}, "gofmt",
		},
	} {
		t.Run(name, func(t *testing.T) {
			dir := write(t, t.TempDir(), c.files)
			git(t, dir, "", "init", "-q")
			git(t, dir, "", "add", "-A")
			before := contents(t, dir)
			r := run(t, dir, append([]string{"settle", "--write", "--force"}, c.args...)...)
			assert.Equal(t, 1, r.code, r.out)
			assert.Contains(t, r.err+r.out, "cannot be carried out, and nothing was changed")
			assert.Contains(t, r.err+r.out, c.says)
			assert.Equal(t, before, contents(t, dir))
		})
	}
	dir := write(t, t.TempDir(), map[string]string{"a.rs": "fn a() {}\n", "rustfmt.toml": "max_width = 100\n", "Makefile": "fmt:\n\trustfmt a.rs\n"})
	git(t, dir, "", "init", "-q")
	git(t, dir, "", "add", "-A")
	r := run(t, dir, "settle", "--write", "--force", "--set", "rust:max_line_length=90")
	assert.Zero(t, r.code, r.err)
	assert.Contains(t, contents(t, dir)["rustfmt.toml"], "max_width = 90")
}
