package main

import (
	"flag"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write what the guide's commands print into it")

// Every command in the guide prints what the guide shows.
func TestGuide(t *testing.T) {
	if _, err := exec.LookPath("sed"); err != nil {
		t.Skip("the guide's commands need sed")
	}
	dir := skerryLine(t)
	git(t, dir, "", "config", "user.name", "crew")
	git(t, dir, "", "config", "user.email", "crew@skerry.example")
	require.Zero(t, run(t, dir, "settle", "--write").code) // as the demo leaves it
	guide := filepath.Join("..", "..", "docs", "guide.md")
	text, err := os.ReadFile(guide)
	require.NoError(t, err)
	var out strings.Builder
	inside := false
	for line := range strings.Lines(string(text)) {
		switch {
		case strings.HasPrefix(line, "```console"):
			inside = true
		case inside && strings.HasPrefix(line, "```"):
			inside = false
		case inside && !strings.HasPrefix(line, "$ "):
			continue // what it printed when the guide was written
		}
		out.WriteString(line)
		if command, ok := strings.CutPrefix(line, "$ "); ok && inside {
			out.WriteString(shell(t, dir, command))
		}
	}
	if *update {
		require.NoError(t, os.WriteFile(guide, []byte(out.String()), 0o644))
		return
	}
	assert.Equal(t, out.String(), string(text), "run the test with -update and read what changed")
	assert.Contains(t, out.String(), "passed: nothing at or above error")
}

func shell(t *testing.T, dir, command string) string {
	cmd := exec.Command("sh", "-c", command)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "PATH="+filepath.Dir(treaty)+":"+os.Getenv("PATH"), "COLUMNS=80", "NO_COLOR=1")
	out, err := cmd.Output()
	if _, failed := err.(*exec.ExitError); err != nil && !failed {
		require.NoError(t, err, command)
	}
	return string(out)
}
