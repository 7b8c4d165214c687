package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/demo"
	"jollytreaty/repo"
)

// treaty is the built program, in a folder anybody can reach.
var treaty string

func TestMain(m *testing.M) {
	// The tests' repositories are their own, whatever git started them for.
	bound := os.Environ()
	for _, pair := range bound {
		if !slices.Contains(repo.Unbound(bound), pair) {
			name, _, _ := strings.Cut(pair, "=")
			os.Unsetenv(name)
		}
	}
	dir, err := os.MkdirTemp("", "treaty-test-")
	if err == nil {
		err = os.Chmod(dir, 0o755)
	}
	for _, name := range []string{"state", "nobody"} {
		if err == nil {
			err = errors.Join(os.Mkdir(filepath.Join(dir, name), 0o755), os.Chmod(filepath.Join(dir, name), 0o777))
		}
	}
	os.Setenv("XDG_STATE_HOME", filepath.Join(dir, "state"))
	if err == nil {
		treaty = filepath.Join(dir, "treaty")
		build := exec.Command("go", "build", "-o", treaty, ".")
		build.Stderr = os.Stderr
		err = build.Run()
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// result is what a run of the program left behind.
type result struct {
	out, err string
	code     int
}

func run(t *testing.T, dir string, args ...string) result {
	t.Helper()
	return runAs(t, nil, dir, args...)
}

func runAs(t *testing.T, change func(*exec.Cmd), dir string, args ...string) result {
	t.Helper()
	cmd := exec.Command(treaty, args...)
	cmd.Dir = dir
	var out, errOut bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &errOut
	if change != nil {
		change(cmd)
	}
	if err := cmd.Run(); err != nil {
		var exit *exec.ExitError
		require.ErrorAs(t, err, &exit)
	}
	r := result{out.String(), errOut.String(), cmd.ProcessState.ExitCode()}
	assert.NotContains(t, r.err, "goroutine", "a stack trace")
	return r
}

func write(t *testing.T, dir string, files map[string]string) string {
	t.Helper()
	for p, text := range files {
		full := filepath.Join(dir, p)
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
	}
	return dir
}

func skerryLine(t *testing.T) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), demo.Name)
	require.NoError(t, demo.Unpack(dir))
	return dir
}

// contents reads every file of a folder but git's own.
func contents(t *testing.T, dir string) map[string]string {
	t.Helper()
	all := map[string]string{}
	require.NoError(t, filepath.WalkDir(dir, func(p string, d os.DirEntry, err error) error {
		switch {
		case err != nil:
			return err
		case d.IsDir() && d.Name() == ".git":
			return filepath.SkipDir
		case d.Type().IsRegular():
			text, err := os.ReadFile(p)
			rel, _ := filepath.Rel(dir, p)
			all[rel] = string(text)
			return err
		}
		return nil
	}))
	return all
}

func gitCommand(dir string, args ...string) *exec.Cmd {
	cmd := exec.Command("git", args...)
	cmd.Dir = dir
	return cmd
}

func git(t *testing.T, dir, input string, args ...string) {
	t.Helper()
	cmd := gitCommand(dir, args...)
	cmd.Stdin = strings.NewReader(input)
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
}

func TestErrorsAndExitCodes(t *testing.T) {
	dir := write(t, t.TempDir(), map[string]string{"a.go": "package a\n"})
	bad := write(t, t.TempDir(), map[string]string{"a.go": "", "treaty.toml": "treaty = 1\n[[articel]]\n"})
	for _, c := range []struct {
		dir  string
		args []string
		code int
		says string
	}{
		{dir, []string{"audit", "-C", "nowhere"}, 2, "there is no folder nowhere"},
		{dir, []string{"audit", "-C", "a.go"}, 2, "a.go is a file"},
		{dir, []string{"audit", "--wings"}, 2, "unknown flag: --wings"},
		{dir, []string{"fly"}, 2, "\"fly\" is no command; see: treaty --help"},
		{dir, []string{"asign"}, 2, "the nearest is: treaty assign"},
		{dir, []string{"survey", "."}, 2, "treaty -C . survey"},
		{dir, []string{"assign", "go"}, 2, "treaty assign takes no argument"},
		{dir, []string{"compare", "a.go"}, 2, "compare needs two"},
		{dir, []string{"--format", "xml"}, 2, "--format xml is not known"},
		{dir, []string{"--color", "pink"}, 2, "--color pink is not known"},
		{dir, []string{"explain"}, 2, "explain needs a file"},
		{dir, []string{"explain", "b.go"}, 2, "did you mean a.go?"},
		{dir, []string{"explain", "zzzzzzzz"}, 2, "no file of this repository"},
		{dir, []string{"conflicts", "--rule", "quote"}, 2, "the nearest is quotes"},
		{dir, []string{"conflicts", "--type", "klingon"}, 2, "--type: klingon is no file type"},
		{dir, []string{"conflicts", "--code", "clash/writer"}, 2, "the nearest is clash/writers"},
		{dir, []string{"settle", "--patch", "--write"}, 2, "patch write"},
		{dir, []string{"catalog", "--schema", "song"}, 2, "it takes audit"},
		{dir, []string{"demo", dir}, 3, "is there already"},
		{bad, []string{"audit"}, 2, "treaty.toml:2:3: unknown key \"articel\"; the nearest known one is \"article\""},
		{bad, []string{"settle", "--write"}, 2, "treaty.toml:2:3"},
	} {
		r := run(t, c.dir, c.args...)
		assert.Equal(t, c.code, r.code, "%v", c.args)
		assert.Contains(t, r.err, c.says, "%v", c.args)
		assert.Empty(t, r.out, "%v", c.args)
		assert.LessOrEqual(t, strings.Count(r.err, "\n"), 3, "%v", c.args)
	}
	assert.Contains(t, run(t, dir, "--version").out, "treaty ")
	for _, command := range []string{"audit", "assign", "conflicts", "explain", "settle", "catalog", "demo", "survey", "rules"} {
		r := run(t, dir, command, "--help")
		assert.Zero(t, r.code)
		assert.Contains(t, r.out, "Examples:", command)
	}
}

func TestWithoutSettings(t *testing.T) {
	empty := run(t, t.TempDir())
	assert.Zero(t, empty.code)
	assert.Contains(t, empty.out, "There is nothing here yet")

	dir := write(t, t.TempDir(), map[string]string{"a.go": "package a\n", "b.md": "# b\n"})
	audit := run(t, dir)
	assert.Contains(t, audit.out, "2 files, 2 file types, 0 settings files")
	assert.Contains(t, audit.out, "No settings file that is known here was found")
	settle := run(t, dir, "settle")
	assert.NotContains(t, settle.out, "create  .editorconfig", "what one program always does needs no setting")
	assert.Contains(t, settle.out, "create  treaty.toml")
	assert.Len(t, contents(t, dir), 2, "a proposal changes nothing")
}

// The same tree gives the same audit from git, and from a walk where git is not
// installed or does not know the folder.
func TestListing(t *testing.T) {
	dir := skerryLine(t)
	write(t, dir, map[string]string{"android/build/Out.kt": "", "x.log": "", "new.kt": ""})
	require.NoError(t, os.Remove(filepath.Join(dir, "tools/rota.sh")))
	withGit := run(t, dir, "audit")
	noGit := runAs(t, func(c *exec.Cmd) { c.Env = []string{"PATH="} }, dir, "audit")
	assert.Equal(t, withGit.out, noGit.out)
	assert.Contains(t, noGit.err, "git could not be asked (it is not installed)")
	require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git")))
	plain := run(t, dir, "audit")
	assert.Equal(t, withGit.out, plain.out)
	assert.Empty(t, plain.err)
	assert.Contains(t, plain.out, "203 files")

	below := run(t, filepath.Join(dir, "ios"), "explain", "Sources/App/SkerryApp.swift")
	assert.Zero(t, below.code, below.err)
}

// asNobody runs the program without the rights of the super-user, who may write
// anywhere.
func asNobody(c *exec.Cmd) {
	if os.Geteuid() == 0 {
		c.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
		c.Env = append(os.Environ(), "HOME=/nonexistent", "XDG_STATE_HOME="+filepath.Join(filepath.Dir(treaty), "nobody"))
	}
}

func openFolder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "treaty-open-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755))
	t.Cleanup(func() {
		os.Chmod(dir, 0o755)
		os.RemoveAll(dir)
	})
	return dir
}

func TestReadOnlyTree(t *testing.T) {
	dir := write(t, openFolder(t), map[string]string{"a.rs": "", "rustfmt.toml": "max_width = 90\n", ".gitattributes": "*.rs eol=crlf\n", ".editorconfig": "[*]\nend_of_line = lf\n"})
	before := contents(t, dir)
	require.NoError(t, os.Chmod(dir, 0o555))
	r := runAs(t, asNobody, dir, "settle", "--write")
	assert.Equal(t, 3, r.code)
	assert.Contains(t, r.err, "cannot be written")
	assert.Contains(t, r.err, "nothing was changed")
	require.NoError(t, os.Chmod(dir, 0o755))
	assert.Equal(t, before, contents(t, dir), "nothing half-written, nothing left behind")
}

func TestUnreadableFolderAndFile(t *testing.T) {
	dir := write(t, openFolder(t), map[string]string{"a.rs": "", "shut/b.rs": "", "rustfmt.toml": "max_width = 90\n"})
	require.NoError(t, os.Chmod(filepath.Join(dir, "shut"), 0))
	require.NoError(t, os.Chmod(filepath.Join(dir, "rustfmt.toml"), 0))
	r := runAs(t, asNobody, dir, "audit")
	require.NoError(t, os.Chmod(filepath.Join(dir, "shut"), 0o755))
	assert.Zero(t, r.code)
	assert.Contains(t, r.err, "shut cannot be read (permission denied) and is left out")
	assert.Contains(t, r.out, "rustfmt.toml cannot be opened")
}

func TestFolderThatCannotBeRead(t *testing.T) {
	dir := openFolder(t)
	require.NoError(t, os.Mkdir(filepath.Join(dir, "shut"), 0))
	r := runAs(t, asNobody, dir, "audit", "-C", "shut")
	assert.Equal(t, 3, r.code)
	assert.Contains(t, r.err, "permission denied")
	assert.Empty(t, r.out)
}

func TestResultThatCannotBePrinted(t *testing.T) {
	full, err := os.OpenFile("/dev/full", os.O_WRONLY, 0)
	if err != nil {
		t.Skip("needs /dev/full, which this system does not have")
	}
	defer full.Close()
	dir := write(t, t.TempDir(), map[string]string{"a.go": ""})
	for _, args := range [][]string{{"audit"}, {"audit", "--format", "json"}, {"settle", "--patch"}, {"catalog"}} {
		r := runAs(t, func(c *exec.Cmd) { c.Stdout = full }, dir, args...)
		assert.Equal(t, 3, r.code, "%v", args)
		assert.Contains(t, r.err, "no space left on device", "%v", args)
	}
}

func TestLinksOutOfTheRepository(t *testing.T) {
	outside := write(t, t.TempDir(), map[string]string{"settings": "max_width = 10\n"})
	dir := write(t, t.TempDir(), map[string]string{"a.rs": "", "b/c.rs": ""})
	require.NoError(t, os.Symlink(filepath.Join(outside, "settings"), filepath.Join(dir, "rustfmt.toml")))
	require.NoError(t, os.Symlink(".", filepath.Join(dir, "b", "loop")))
	r := run(t, dir, "audit")
	assert.Contains(t, r.out, "rustfmt.toml cannot be opened")
	run(t, dir, "settle", "--write")
	assert.Equal(t, map[string]string{"settings": "max_width = 10\n"}, contents(t, outside))
}

func TestPatchAppliesAndEqualsWrite(t *testing.T) {
	patched, written := skerryLine(t), skerryLine(t)
	patch := run(t, patched, "settle", "--patch")
	git(t, patched, patch.out, "apply", "--whitespace=nowarn", "-")
	w := run(t, written, "settle", "--write")
	assert.Zero(t, w.code, w.err)
	assert.Equal(t, contents(t, written), contents(t, patched))
	assert.NotContains(t, contents(t, written), "ios/.swift-format")

	broken := ".taplo.toml"
	assert.Equal(t, contents(t, skerryLine(t))[broken], contents(t, written)[broken], "what cannot be read is left exactly as it is")
	again := run(t, written, "settle", "--patch")
	assert.Empty(t, again.out, "settling twice changes nothing the second time")
	assert.Contains(t, run(t, written, "settle").out, "Nothing to write: what is left open needs you.")
}

func TestPatchOfOddFiles(t *testing.T) {
	for name, files := range map[string]map[string]string{
		"crlf and mark":      {"a.rs": "", ".editorconfig": "\ufeff[*.rs]\r\nindent_size = 2\r\nindent_style = space\r\nmax_line_length = 100\r\ninsert_final_newline = true\r\n", "rustfmt.toml": "tab_spaces = 4\r\n"},
		"no final newline":   {"a.rs": "", ".editorconfig": "[*.rs]\nindent_size = 2", "rustfmt.toml": "tab_spaces = 4"},
		"blanks in the path": {"a b/c.rs": "", "a b/rustfmt.toml": "newline_style = \"Unix\"\n", "a b/.gitattributes": "*.rs eol=crlf\n"},
	} {
		t.Run(name, func(t *testing.T) {
			patched, written := write(t, t.TempDir(), files), write(t, t.TempDir(), files)
			git(t, patched, "", "init", "-q")
			git(t, patched, run(t, patched, "settle", "--patch").out, "apply", "--whitespace=nowarn", "-")
			run(t, written, "settle", "--write")
			assert.Equal(t, contents(t, written), contents(t, patched))
			assert.NotEqual(t, files, contents(t, written))
		})
	}
}

func TestDemoTouchesOnlyItsFolder(t *testing.T) {
	above := t.TempDir()
	r := run(t, above, "demo", "ferry")
	assert.Zero(t, r.code, r.err)
	entries, err := os.ReadDir(above)
	require.NoError(t, err)
	assert.Len(t, entries, 1)
	for _, command := range []string{"$ treaty audit", "$ treaty conflicts", "$ treaty settle", "$ treaty settle --write"} {
		assert.Contains(t, r.out, command)
	}
	assert.NotContains(t, r.out, "\x1b[", "no colour when piped")
}

// Every JSON output validates against the schema that is printed for it.
func TestJSONValidates(t *testing.T) {
	check := func(dir, schema string, args ...string) map[string]any {
		compiler := jsonschema.NewCompiler()
		compiler.AssertFormat()
		parsed, err := jsonschema.UnmarshalJSON(strings.NewReader(run(t, dir, "catalog", "--schema", schema).out))
		require.NoError(t, err)
		require.NoError(t, compiler.AddResource("schema.json", parsed))
		compiled, err := compiler.Compile("schema.json")
		require.NoError(t, err)
		r := run(t, dir, append(args, "--format", "json")...)
		require.Zero(t, r.code, r.err)
		data, err := jsonschema.UnmarshalJSON(strings.NewReader(r.out))
		require.NoError(t, err, "%v", args)
		assert.NoError(t, compiled.Validate(data), "%v", args)
		var object map[string]any
		require.NoError(t, json.Unmarshal([]byte(r.out), &object))
		return object
	}
	bare := write(t, t.TempDir(), map[string]string{"a.go": "package a\n"})
	for _, dir := range []string{skerryLine(t), bare, t.TempDir()} {
		audit := check(dir, "audit")
		assert.Equal(t, "jolly-treaty/audit", audit["format"])
		check(dir, "audit", "audit")
		check(dir, "audit", "assign")
		check(dir, "audit", "conflicts")
		check(dir, "settlement", "settle")
		check(dir, "evidence", "evidence")
		check(dir, "cost", "evidence", "--if", "indent_size=2")
		check(dir, "catalog", "catalog")
		check(dir, "audit", "survey")
		check(dir, "rules", "rules", "--all")
		check(dir, "rules", "rules", "line", "length")
	}
	dir := skerryLine(t)
	check(dir, "compare", "compare", "ios", "kit")
	check(dir, "compare", "compare", "--all", "ios", ".")
	check(dir, "explanations", "explain", "kit/Package.swift", "README.md")
	for path := range contents(t, dir) {
		if strings.HasSuffix(path, "1.md") || strings.HasSuffix(path, ".tf") || strings.Contains(path, "Fare") || strings.HasSuffix(path, ".rs") {
			check(dir, "explain", "explain", path)
		}
	}
	run(t, dir, "settle", "--write")
	settled := check(dir, "audit", "audit")
	assert.EqualValues(t, 4, settled["summary"].(map[string]any)["errors"], "what needs a person is left")
	check(dir, "settlement", "settle")
}

func TestConflictsShowSidesAndProposal(t *testing.T) {
	r := run(t, skerryLine(t), "conflicts", "--type", "kotlin", "--rule", "max_line_length")
	for _, part := range []string{
		"clash/rejected", "140 columns", "writes", ".editorconfig:18:1", "at most 120 columns", "accepts", "default",
		"android/config/detekt/detekt.yml:4:5", "to settle: 140 columns, because",
	} {
		assert.Contains(t, r.out, part)
	}
	narrow := runAs(t, func(c *exec.Cmd) { c.Env = append(os.Environ(), "COLUMNS=80") }, skerryLine(t), "audit")
	for line := range strings.Lines(narrow.out) {
		assert.LessOrEqual(t, len([]rune(strings.TrimRight(line, "\n"))), 80, line)
	}
	color := run(t, skerryLine(t), "audit", "--color", "always")
	assert.Contains(t, color.out, "\x1b[")
}
