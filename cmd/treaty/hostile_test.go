package main

import (
	"crypto/sha256"
	"encoding/hex"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The tests of this file are attacks: a clone that was made to have the program write,
// run or read what it should not, see docs/security.md.

func link(t *testing.T, to, at string) {
	t.Helper()
	os.Remove(at)
	require.NoError(t, os.MkdirAll(filepath.Dir(at), 0o755))
	require.NoError(t, os.Symlink(to, at))
}

// committed is a git repository with the files.
func committed(t *testing.T, files map[string]string) string {
	t.Helper()
	dir := write(t, filepath.Join(t.TempDir(), "repo"), files)
	commitAll(t, dir)
	return dir
}

func commitAll(t *testing.T, dir string) {
	t.Helper()
	if _, err := os.Lstat(filepath.Join(dir, ".git")); err != nil {
		git(t, dir, "", "init", "-q", "-b", "main")
		git(t, dir, "", "config", "user.name", "crew")
		git(t, dir, "", "config", "user.email", "crew@skerry.example")
	}
	git(t, dir, "", "add", "-A")
	git(t, dir, "", "commit", "-q", "--no-verify", "-m", "next")
}

func text(t *testing.T, name string) string {
	t.Helper()
	b, err := os.ReadFile(name)
	if os.IsNotExist(err) {
		return "(not there)"
	}
	require.NoError(t, err)
	return string(b)
}

// Whatever a clone links, nothing outside of it is written, nor what is git's own, and
// what stands in the way is named.
func TestWritingThroughLinks(t *testing.T) {
	for name, c := range map[string]struct {
		at, to string // within the repository; %s is a folder outside
		args   []string
		named  string
	}{
		"a target that leads nowhere":  {"treaty.toml", "%s/victim", []string{"settle", "--write"}, "treaty.toml"},
		"a relative one":               {"treaty.toml", "../outside/victim", []string{"settle", "--write"}, "treaty.toml"},
		"into git's hooks":             {"treaty.toml", ".git/hooks/pre-commit", []string{"settle", "--write"}, "treaty.toml"},
		"into git's settings":          {"rustfmt.toml", ".git/config", []string{"settle", "--write", "--force"}, ""},
		"a folder on the way":          {".treaty", "%s", []string{"settle", "--write", "--house", "%s/house.toml"}, ".treaty"},
		"the state":                    {".git/treaty", "%s", []string{"settle", "--write"}, ".git/treaty"},
		"the lock":                     {".git/treaty/lock", "%s/precious", []string{"settle", "--write"}, "lock"},
		"a report":                     {"report.sarif", "%s/precious", []string{"check", "--output", "sarif=report.sarif"}, "report.sarif"},
		"a report's folder":            {"reports", "%s", []string{"check", "--output", "junit=reports/victim"}, "reports"},
		"a report into git's own":      {"report.xml", ".git/hooks/pre-commit", []string{"check", "--output", "junit=report.xml"}, "report.xml"},
		"a baseline":                   {"known.json", "%s/precious", []string{"check", "--baseline", "known.json", "--update"}, "known.json"},
		"a file of hooks":              {".pre-commit-config.yaml", "%s/hooks.yaml", []string{"hook", "lines", "--write"}, ""},
		"a name that was foreseeable":  {".treaty-new-.editorconfig", "%s/precious", []string{"settle", "--write"}, ""},
		"a state that came with it":    {".treaty/state", "%s", []string{"settle", "--write"}, ""},
		"settings from outside":        {".editorconfig", "%s/.editorconfig", []string{"settle", "--write", "--force"}, ""},
		"settings of a folder outside": {"web", "%s", []string{"settle", "--write", "--force"}, ""},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			dir := pier(t)
			outside := write(t, filepath.Join(filepath.Dir(dir), "outside"), map[string]string{
				"precious": "keep\n", "house.toml": "treaty = 1\n[[article]]\ntype = \"rust\"\n  [article.style]\n  indent_size = 4\n",
				"hooks.yaml": "repos:\n- repo: x\n  rev: v1\n  hooks:\n  - id: y\n", ".editorconfig": "root = true\n[*.rs]\nindent_size = 2\n",
			})
			require.NoError(t, os.RemoveAll(filepath.Join(dir, c.at)))
			link(t, strings.ReplaceAll(c.to, "%s", outside), filepath.Join(dir, c.at))
			if !strings.HasPrefix(c.at, ".git/") {
				git(t, dir, "", "add", "-A", "-f")
			}
			before, config := contents(t, outside), text(t, filepath.Join(dir, ".git/config"))
			var args []string
			for _, a := range c.args {
				args = append(args, strings.ReplaceAll(a, "%s", outside))
			}
			r := run(t, dir, args...)
			assert.Equal(t, before, contents(t, outside))
			assert.Equal(t, config, text(t, filepath.Join(dir, ".git/config")))
			assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/pre-commit"))
			if c.named != "" {
				assert.Contains(t, []int{2, 3}, r.code, r.err)
				assert.Contains(t, r.err, c.named)
			}
		})
	}
}

// Contents of files outside reach no output.
func TestReadingThroughLinks(t *testing.T) {
	dir := committed(t, map[string]string{"a.rs": "", "x/a.js": "a()\n", "x/.eslintrc.json": `{"extends": ["./base.json", "../../secret.json"]}`, "x/package.json": "{}"})
	above := filepath.Dir(dir)
	write(t, above, map[string]string{"secret.toml": "tab_spaces = SECRET\n", "secret.json": `{"rules": {"quotes": ["error", "SECRET"]}}`})
	link(t, "../secret.toml", filepath.Join(dir, "rustfmt.toml"))
	link(t, filepath.Join(above, "secret.json"), filepath.Join(dir, "x/base.json"))
	git(t, dir, "", "add", "-A")
	for _, command := range []string{"audit", "conflicts", "survey", "rules quotes", "settle --patch", "check --staged", "audit --format json"} {
		r := run(t, dir, strings.Fields(command)...)
		assert.NotContains(t, r.out+r.err, "SECRET", command)
	}
	assert.Contains(t, strings.Join(strings.Fields(run(t, dir, "conflicts").out), " "), "rustfmt.toml cannot be opened: it is a link that leads out of the repository")
}

// A journal that came with the tree does nothing, wherever it lies.
func TestStateThatCameAlong(t *testing.T) {
	record := func(root string) string {
		return `{"version":2,"root":` + strconv.Quote(strconv.Quote(root)) + `,"files":[{"path":"\".envrc\"","target":"\".envrc\"","temp":"\".treaty-new-a\"","created":true,"mode":420}]}`
	}
	old := `{"files":[{"path":".envrc","created":true,"mode":493},{"path":".git/hooks/post-checkout","created":true,"mode":493}]}`
	for _, git := range []bool{true, false} {
		dir := pier(t)
		if !git {
			require.NoError(t, os.RemoveAll(filepath.Join(dir, ".git")))
		}
		key := sha256.Sum256([]byte(dir))
		for _, state := range []string{".treaty/state", ".local/state/treaty/" + hex.EncodeToString(key[:16]), "treaty"} {
			for _, name := range []string{"journal", "last"} {
				text := record(dir)
				if state == ".treaty/state" {
					text = old
				}
				write(t, dir, map[string]string{filepath.Join(state, name, "record.json"): text, filepath.Join(state, name, "0.after"): "x", filepath.Join(state, name, "1.after"): "x"})
			}
		}
		atHome := func(c *exec.Cmd) {
			c.Env = append(os.Environ(), "HOME="+dir, "XDG_STATE_HOME=")
			if git {
				c.Env = append(c.Env, "PATH=/nonexistent")
			}
		}
		for _, command := range []string{"audit", "check", "survey", "settle --write --force", "settle --undo"} {
			r := runAs(t, atHome, dir, strings.Fields(command)...)
			assert.NotContains(t, r.err, "is finished now", command)
		}
		assert.NoFileExists(t, filepath.Join(dir, ".envrc"))
		assert.NoFileExists(t, filepath.Join(dir, ".git/hooks/post-checkout"))
	}
}

// everyCommand is what a person may run on a repository.
var everyCommand = []string{"audit", "check", "check --staged", "check --since HEAD", "settle --write", "settle --undo", "compare HEAD .", "survey --installed",
	"hook status", "explain a.rs", "evidence", "conflicts", "rules", "assign", "draft", "catalog"}

// Nothing that git finds in the repository or its settings is started.
func TestNothingRuns(t *testing.T) {
	ran := filepath.Join(t.TempDir(), "ran")
	evil := filepath.Join(t.TempDir(), "evil")
	require.NoError(t, os.WriteFile(evil, []byte("#!/bin/sh\ntouch \""+ran+"\"\ncat\n"), 0o755))
	settings := map[string]string{}
	for _, key := range []string{"core.fsmonitor", "core.pager", "core.sshCommand", "core.askPass", "core.editor", "core.alternateRefsCommand", "diff.external", "diff.e.command",
		"diff.e.textconv", "filter.e.clean", "filter.e.smudge", "filter.e.process", "gpg.program", "credential.helper", "pager.ls-files", "remote.origin.uploadpack"} {
		settings[key] = evil
	}
	settings["alias.ls-files"], settings["alias.rev-parse"] = "!"+evil, "!"+evil
	settings["core.hooksPath"] = filepath.Join(filepath.Dir(evil), "hooks")
	write(t, settings["core.hooksPath"], map[string]string{})
	require.NoError(t, os.MkdirAll(settings["core.hooksPath"], 0o755))
	for _, hook := range []string{"post-index-change", "reference-transaction", "post-checkout", "fsmonitor-watchman"} {
		link(t, evil, filepath.Join(settings["core.hooksPath"], hook))
	}

	t.Run("settings of the repository", func(t *testing.T) {
		dir := pier(t)
		write(t, dir, map[string]string{".git/info/attributes": "* filter=e diff=e\n"})
		for key, value := range settings {
			git(t, dir, "", "config", key, value)
		}
		write(t, dir, map[string]string{"a.rs": "fn a() {\n    c();\n}\n"}) // git would have to look
		os.Remove(ran)                                                      // what the tests' own calls of git started
		for _, command := range everyCommand {
			run(t, dir, strings.Fields(command)...)
			require.NoFileExists(t, ran, command)
		}
	})
	t.Run("a repository among the files", func(t *testing.T) {
		dir := pier(t)
		within := filepath.Join(dir, "crew", "deck")
		require.NoError(t, os.MkdirAll(within, 0o755))
		git(t, within, "", "init", "-q", "--bare", ".")
		git(t, within, "", "config", "core.bare", "false")
		git(t, within, "", "config", "core.worktree", within)
		git(t, within, "", "config", "core.fsmonitor", evil)
		write(t, within, map[string]string{"a.rs": "", "rustfmt.toml": "tab_spaces = 8\n", "objects/.keep": "", "refs/.keep": ""})
		for _, where := range []string{within, filepath.Join(within, "refs"), dir} {
			for _, command := range everyCommand {
				run(t, where, strings.Fields(command)...)
				require.NoFileExists(t, ran, command)
			}
		}
	})
	t.Run("a git of its own", func(t *testing.T) {
		dir := pier(t)
		for _, at := range []string{"git", "node_modules/.bin/git"} {
			write(t, dir, map[string]string{at: "#!/bin/sh\ntouch \"" + ran + "\"\n"})
			require.NoError(t, os.Chmod(filepath.Join(dir, at), 0o755))
		}
		for _, command := range everyCommand {
			r := runAs(t, func(c *exec.Cmd) {
				c.Env = append(os.Environ(), "PATH=.::"+filepath.Join(dir, "node_modules/.bin")+":"+os.Getenv("PATH"))
			}, dir, strings.Fields(command)...)
			assert.NotContains(t, r.err, "git could not be asked", command)
			require.NoFileExists(t, ran, command)
		}
	})
	t.Run("a fetch of what is left out", func(t *testing.T) {
		dir := pier(t)
		for key, value := range map[string]string{"extensions.partialClone": "origin", "remote.origin.promisor": "true", "protocol.ext.allow": "always", "remote.origin.url": "ext::" + evil} {
			git(t, dir, "", "config", key, value)
		}
		out, err := gitCommand(dir, "rev-parse", "HEAD:rustfmt.toml").Output()
		require.NoError(t, err)
		id := strings.TrimSpace(string(out))
		write(t, dir, map[string]string{"rustfmt.toml": "tab_spaces = 8\n"})
		commitAll(t, dir)
		require.NoError(t, os.Remove(filepath.Join(dir, ".git/objects", id[:2], id[2:])))
		for _, command := range []string{"check --since HEAD~1", "compare HEAD~1 HEAD"} {
			r := run(t, dir, strings.Fields(command)...)
			assert.Equal(t, 3, r.code, command)
			assert.Contains(t, r.err, "the clone leaves out contents of files", command)
			require.NoFileExists(t, ran, command)
		}
	})
}

// A work tree that lies elsewhere is refused, whoever says so.
func TestWorkTreesElsewhere(t *testing.T) {
	away := pier(t)
	before := contents(t, away)
	for _, setting := range [][2]string{{"core.worktree", away}, {"include.path", "../more"}} {
		dir := pier(t)
		write(t, dir, map[string]string{"more": "[core]\n\tworktree = " + away + "\n"})
		git(t, dir, "", "config", setting[0], setting[1])
		for _, command := range []string{"settle --write", "audit"} {
			r := run(t, dir, strings.Fields(command)...)
			assert.Equal(t, before, contents(t, away), "%v %s", setting, command)
			if setting[0] == "core.worktree" {
				assert.Equal(t, 2, r.code)
				assert.Contains(t, r.err, "keeps its work tree elsewhere, in "+away)
			}
		}
	}
	dir := pier(t)
	r := runAs(t, func(c *exec.Cmd) { c.Env = append(os.Environ(), "GIT_WORK_TREE="+away) }, dir, "settle", "--write")
	assert.Equal(t, 2, r.code)
	assert.Contains(t, r.err, "elsewhere")
	assert.Equal(t, before, contents(t, away))
}

// What is on disk where something is written is read, kept and edited, also where git
// or an ignore list leaves it out.
func TestTextThatIsThereThoughNotListed(t *testing.T) {
	for _, how := range []string{"ignored", "excluded", "skip-worktree", "assume-unchanged", "sparse", "a submodule", "ignored without git"} {
		t.Run(how, func(t *testing.T) {
			t.Parallel()
			files := map[string]string{".editorconfig": "root = true\n# keep\n[*.rs]\nindent_size = 2\n", "rustfmt.toml": "tab_spaces = 4\n", "a.rs": "fn a() {\n    b();\n}\n"}
			switch how {
			case "ignored", "ignored without git":
				files[".gitignore"] = ".editorconfig\n"
			case "a submodule":
				files[".gitmodules"] = "[submodule \"x\"]\n\tpath = .editorconfig\n\turl = x\n"
			}
			dir := write(t, t.TempDir(), files)
			if how != "ignored without git" {
				commitAll(t, dir)
			}
			local := files[".editorconfig"] + "# local\n"
			switch how {
			case "excluded":
				git(t, dir, "", "rm", "-q", "--cached", ".editorconfig")
				commitAllBut(t, dir, ".editorconfig")
			case "skip-worktree", "assume-unchanged":
				git(t, dir, "", "update-index", "--"+how, ".editorconfig")
			case "sparse":
				git(t, dir, "", "sparse-checkout", "set", "--no-cone", "/*", "!/.editorconfig")
			case "a submodule":
				local = files[".editorconfig"] // which is committed
			}
			write(t, dir, map[string]string{".editorconfig": local})
			unasked := run(t, dir, "settle", "--write", "--gather")
			if how != "a submodule" && how != "ignored without git" {
				assert.Equal(t, 3, unasked.code)
				assert.Contains(t, unasked.err, ".editorconfig has changes that are not committed")
				assert.Equal(t, local, text(t, filepath.Join(dir, ".editorconfig")))
				forced := run(t, dir, "settle", "--write", "--gather", "--force")
				require.Zero(t, forced.code, forced.err)
				_, at, kept := strings.Cut(strings.TrimSpace(forced.err), "are kept in ")
				require.True(t, kept, forced.err)
				assert.Equal(t, local, text(t, filepath.Join(strings.Fields(at)[0], ".editorconfig")))
			}
			now := text(t, filepath.Join(dir, ".editorconfig"))
			assert.Contains(t, now, "# keep\n")
			assert.Contains(t, now, "[*.rs]\nindent_size = 4\n", "edited where it stands")
			assert.Empty(t, run(t, dir, "settle", "--patch", "--gather").out)
			require.Zero(t, run(t, dir, "settle", "--undo").code)
			assert.Equal(t, local, text(t, filepath.Join(dir, ".editorconfig")))
		})
	}
}

func commitAllBut(t *testing.T, dir, name string) {
	t.Helper()
	write(t, dir, map[string]string{".git/info/exclude": name + "\n"})
	commitAll(t, dir)
}

// Rights come back with what is undone.
func TestUndoGivesBackRights(t *testing.T) {
	dir := pier(t)
	for name, mode := range map[string]os.FileMode{".editorconfig": 0o600, "rustfmt.toml": 0o755} {
		require.NoError(t, os.Chmod(filepath.Join(dir, name), mode))
	}
	commitAll(t, dir)
	require.Zero(t, run(t, dir, "settle", "--write").code)
	require.Zero(t, run(t, dir, "settle", "--undo").code)
	for name, mode := range map[string]os.FileMode{".editorconfig": 0o600, "rustfmt.toml": 0o755} {
		info, err := os.Stat(filepath.Join(dir, name))
		require.NoError(t, err)
		assert.Equal(t, mode, info.Mode().Perm(), name)
	}
}

// What git sets for hooks and rebases binds the program to the repository they are in,
// and to no other: not to the demo, not to one that is named.
func TestEnvironmentOfGit(t *testing.T) {
	for _, env := range []string{"GIT_DIR=%s/.git", "GIT_DIR=%s/.git GIT_WORK_TREE=%s", "GIT_INDEX_FILE=%s/.git/index", "GIT_OBJECT_DIRECTORY=%s/.git/objects", "GIT_WORK_TREE=%s", "GIT_COMMON_DIR=%s/.git",
		"GIT_CONFIG_COUNT=1 GIT_CONFIG_KEY_0=core.worktree GIT_CONFIG_VALUE_0=%s"} {
		dir := pier(t)
		state := func() string {
			out, err := gitCommand(dir, "status", "--short", "--branch", "--porcelain=v2").CombinedOutput()
			require.NoError(t, err, string(out))
			return string(out)
		}
		before := state()
		bound := func(c *exec.Cmd) {
			c.Env = append(os.Environ(), strings.Fields(strings.ReplaceAll(env, "%s", dir))...)
		}
		into := filepath.Join(t.TempDir(), "line")
		r := runAs(t, bound, dir, "demo", into)
		assert.Zero(t, r.code, "%s %s", env, r.err)
		assert.Equal(t, before, state(), env)
		out, err := gitCommand(into, "rev-list", "--count", "HEAD").Output()
		require.NoError(t, err, env)
		assert.Equal(t, "1\n", string(out), env)

		other := quay(t, true)
		named := runAs(t, bound, dir, "-C", other, "survey")
		assert.Contains(t, named.out, "Makefile", env)
		assert.NotContains(t, named.out, ".prettierrc", env)
	}
}
