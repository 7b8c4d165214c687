package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/owenrumney/go-sarif/v3/pkg/report/v210/sarif"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// quay is a repository in git with settings that agree, and a commit unless told
// otherwise.
func quay(t *testing.T, committed bool) string {
	dir := write(t, t.TempDir(), map[string]string{"rustfmt.toml": "tab_spaces = 4\n", "a.rs": "fn a() {}\n", "Makefile": "fmt:\n\trustfmt a.rs\n"})
	git(t, dir, "", "init", "-q")
	git(t, dir, "", "config", "user.name", "crew")
	git(t, dir, "", "config", "user.email", "crew@skerry.example")
	git(t, dir, "", "add", "-A")
	if committed {
		git(t, dir, "", "commit", "-qm", "all")
	}
	return dir
}

func TestCheckExitCodes(t *testing.T) {
	dir := quay(t, true)
	ok := run(t, dir, "check")
	require.Zero(t, ok.code, ok.err)
	assert.Contains(t, ok.out, "passed: nothing at or above error")
	assert.Empty(t, run(t, dir, "check", "-q").out)
	assert.Contains(t, run(t, dir, "check", "-v").out, "clash/rejected        nothing found")

	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = x\n"})
	broken := run(t, dir, "check")
	assert.Equal(t, 1, broken.code)
	assert.Contains(t, broken.out, "rustfmt.toml:1:14: error: ")
	assert.Empty(t, broken.err)

	write(t, dir, map[string]string{"rustfmt.toml": "tab_space = 2\n"})
	assert.Zero(t, run(t, dir, "check").code, "a warning is below the threshold")
	warned := run(t, dir, "check", "--fail-on", "warning")
	assert.Equal(t, 1, warned.code)
	assert.Contains(t, warned.out, "slip/unknown-key")
	for _, passing := range [][]string{{"--fail-on", "never"}, {"--fail-on", "warning", "--skip", "*"}, {"--fail-on", "warning", "--only", "other/**"}, {"--fail-on", "warning", "--code", "clash"}, {"--fail-on", "warning", "--type", "go"}} {
		assert.Zero(t, run(t, dir, append([]string{"check"}, passing...)...).code, passing)
	}
	write(t, dir, map[string]string{"treaty.toml": "treaty = 1\n[audit]\nfail_on = \"warning\"\n"})
	assert.Equal(t, 1, run(t, dir, "check").code, "the treaty's threshold")
	assert.Zero(t, run(t, dir, "check", "--fail-on", "error").code)
	write(t, dir, map[string]string{"treaty.toml": "treaty = 1\n[audit]\nfail_on = \"warning\"\nskip = [\"**\"]\n"})
	assert.Zero(t, run(t, dir, "check").code)
	for _, usage := range [][]string{{"--fail-on", "fire"}, {"--format", "poem"}, {"--output", "sarif"}, {"--update"}, {"--staged", "--since", "HEAD"}, {"--since", "nowhere"}, {"--baseline", "none.json"}} {
		assert.Equal(t, 2, run(t, dir, append([]string{"check"}, usage...)...).code, usage)
	}
	assert.Equal(t, 3, run(t, dir, "check", "--output", "json=none/such/file").code)
}

func TestWhatIsStagedIsJudged(t *testing.T) {
	dir := quay(t, true)
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 4\nhard_tabs = 7\n"})
	assert.Zero(t, run(t, dir, "check", "--staged").code, "it is on disk only")
	git(t, dir, "", "add", "rustfmt.toml")
	staged := run(t, dir, "check", "--staged")
	assert.Equal(t, 1, staged.code, staged.out)
	assert.Contains(t, staged.out, "slip/bad-value")
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 4\n"})
	partly := run(t, dir, "check", "--staged")
	assert.Equal(t, 1, partly.code, "what is staged is still wrong")
	assert.Contains(t, partly.err, "rustfmt.toml has changes that are not staged")
	git(t, dir, "", "add", "rustfmt.toml")
	assert.Zero(t, run(t, dir, "check", "--staged").code)

	// Changes that are not staged do not count, but what they would bring is named.
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 4 # four\n", ".editorconfig": "[*.rs]\nindent_size = 4\n"})
	git(t, dir, "", "add", "-A")
	write(t, dir, map[string]string{".editorconfig": "[*.rs]\nindent_size = 2\n"})
	open := run(t, dir, "check", "--staged")
	assert.Zero(t, open.code, open.out)
	assert.Contains(t, open.err, ".editorconfig has changes that are not staged; what is staged of it is judged\n")
	assert.Contains(t, open.err, "once that is staged, too, EditorConfig types 2 spaces, but rustfmt writes 4 spaces, in rustfmt.toml:1, .editorconfig:2 (clash/typing ")
	assert.Empty(t, run(t, dir, "check", "--staged", "-q").err)
	write(t, dir, map[string]string{".editorconfig": "[*.rs]\nindent_size = 4\n"})

	// What was wrong before, and is not about what is staged, does not stop anybody.
	write(t, dir, map[string]string{"old/rustfmt.toml": "hard_tabs = 7\n", "old/b.rs": ""})
	git(t, dir, "", "add", "-A")
	git(t, dir, "", "commit", "-qm", "old", "--no-verify")
	write(t, dir, map[string]string{"c.rs": "fn c() {}\n"})
	git(t, dir, "", "add", "-A")
	assert.Zero(t, run(t, dir, "check", "--staged").code)
	assert.Equal(t, 1, run(t, dir, "check").code)
}

func TestStagedWithoutACommitAndInAMerge(t *testing.T) {
	dir := quay(t, false)
	assert.Zero(t, run(t, dir, "check", "--staged").code)
	write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\n", "with blank\tand tab é.rs": ""})
	git(t, dir, "", "add", "-A")
	assert.Equal(t, 1, run(t, dir, "check", "--staged").code)

	dir = quay(t, true)
	git(t, dir, "", "checkout", "-qb", "side")
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 2\n"})
	git(t, dir, "", "commit", "-qam", "side")
	git(t, dir, "", "checkout", "-q", "-")
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 8\n"})
	git(t, dir, "", "commit", "-qam", "here")
	cmd := gitCommand(dir, "merge", "side")
	require.Error(t, cmd.Run(), "they conflict")
	merging := run(t, dir, "check", "--staged")
	assert.Zero(t, merging.code, merging.out+merging.err)
	assert.Equal(t, 2, run(t, write(t, t.TempDir(), map[string]string{"a": ""}), "check", "--staged").code)
}

func TestStagedUnderOddNames(t *testing.T) {
	dir := quay(t, true)
	folders := []string{"a b", "q'\"s", "new\nline", "fährte", "-dash", "back\\slash", "[x]"}
	for _, f := range folders {
		write(t, dir, map[string]string{f + "/rustfmt.toml": "hard_tabs = 7\n", f + "/x y.rs": ""})
	}
	git(t, dir, "", "add", "-A")
	r := run(t, dir, "check", "--staged", "--format", "json")
	assert.Equal(t, 1, r.code, r.err)
	var object struct {
		Findings []struct{ Claims []struct{ Path string } }
	}
	require.NoError(t, json.Unmarshal([]byte(r.out), &object))
	var found []string
	for _, f := range object.Findings {
		for _, c := range f.Claims {
			found = append(found, filepath.Dir(c.Path))
		}
	}
	assert.Subset(t, found, folders)
	git(t, dir, "", "commit", "-qm", "odd")
	write(t, dir, map[string]string{"new\nline/x y.rs": "fn x() {}\n"})
	git(t, dir, "", "add", "-A")
	assert.Zero(t, run(t, dir, "check", "--staged").code)
	assert.Equal(t, 1, run(t, dir, "check").code)
}

func TestOnlyWhatIsNew(t *testing.T) {
	dir := quay(t, true)
	write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\n"})
	git(t, dir, "", "commit", "-qam", "wrong")
	assert.Equal(t, 1, run(t, dir, "check", "--since", "HEAD~1").code)
	assert.Zero(t, run(t, dir, "check", "--since", "HEAD").code)
	list := filepath.Join(t.TempDir(), "baseline.json")
	require.Zero(t, run(t, dir, "check", "--baseline", list, "--update").code)
	known := run(t, dir, "check", "--baseline", list)
	assert.Zero(t, known.code, known.out)
	assert.Contains(t, known.out, " known before")
	write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\nmax_width = \"wide\"\n"})
	more := run(t, dir, "check", "--baseline", list)
	assert.Equal(t, 1, more.code)
	assert.NotContains(t, more.out, "hard_tabs")
	write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 4\n"})
	require.Zero(t, run(t, dir, "check", "--baseline", list, "--update").code)
	text, err := os.ReadFile(list)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "bad-value", "what vanished is cleaned")
}

func TestSinceInAShallowClone(t *testing.T) {
	dir := quay(t, true)
	write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\n"})
	git(t, dir, "", "commit", "-qam", "wrong")
	clone := filepath.Join(t.TempDir(), "clone")
	git(t, dir, "", "clone", "-q", "--depth", "1", "file://"+dir, clone)
	r := run(t, clone, "check", "--since", "HEAD~1")
	assert.Equal(t, 3, r.code)
	assert.Contains(t, r.err, "the clone is shallow and has a part of its history only; to bring it: git fetch --unshallow")
	assert.Zero(t, run(t, clone, "check", "--since", "HEAD").code)
}

func TestReportsForMachines(t *testing.T) {
	dir := skerryLine(t)
	out := t.TempDir()
	r := run(t, dir, "check", "--output", "sarif="+filepath.Join(out, "a.sarif"), "--output", "junit="+filepath.Join(out, "a.xml"), "--output", "markdown="+filepath.Join(out, "a.md"), "--format", "json")
	assert.Equal(t, 1, r.code)
	var object map[string]any
	require.NoError(t, json.Unmarshal([]byte(r.out), &object))

	report, err := sarif.Open(filepath.Join(out, "a.sarif"))
	require.NoError(t, err)
	require.NoError(t, report.Validate(), "against the standard's schema")
	require.Len(t, report.Runs, 1)
	results := report.Runs[0].Results
	assert.Len(t, results, len(object["findings"].([]any)))
	for _, result := range results {
		assert.Len(t, result.PartialFingerprints["treatyFinding/v1"], 8)
		assert.NotEmpty(t, report.Runs[0].Tool.Driver.Rules[result.RuleIndex].Help.Text)
	}

	text, err := os.ReadFile(filepath.Join(out, "a.xml"))
	require.NoError(t, err)
	assert.Equal(t, 12, validJUnit(t, text))

	text, err = os.ReadFile(filepath.Join(out, "a.md"))
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(string(text), "### Style settings: 12 errors"))
	assert.Contains(t, string(text), "```diff\ndiff --git a/.editorconfig b/.editorconfig")
}
