package repo

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
)

// safely is what every call of git begins with. What git is asked for starts nothing
// by itself; these keep a repository's settings from having it start something all
// the same: monitors, hooks, pagers, programs that compare, ask for passwords or
// carry data. A repository without a work tree, which may lie among any files, is
// never taken for one by finding it.
var safely = []string{
	"--no-pager",
	"-c", "core.fsmonitor=",
	"-c", "core.quotePath=false",
	"-c", "core.hooksPath=" + os.DevNull,
	"-c", "core.askPass=",
	"-c", "core.sshCommand=false",
	"-c", "credential.helper=",
	"-c", "diff.external=",
	"-c", "safe.bareRepository=explicit",
}

// Environment for every call of git: no locks that are not needed, and nothing is
// fetched, whatever the transport, nor anybody asked.
var quietly = []string{
	"GIT_OPTIONAL_LOCKS=0",
	"GIT_NO_LAZY_FETCH=1",
	"GIT_ALLOW_PROTOCOL=",
	"GIT_TERMINAL_PROMPT=0",
	"LC_ALL=C",
}

// local are the variables that tell git which repository is meant, as git rev-parse
// --local-env-vars lists them, with those of their kind that it leaves out.
var local = []string{
	"GIT_ALTERNATE_OBJECT_DIRECTORIES", "GIT_CEILING_DIRECTORIES", "GIT_COMMON_DIR", "GIT_CONFIG", "GIT_CONFIG_COUNT",
	"GIT_CONFIG_PARAMETERS", "GIT_DIR", "GIT_GRAFT_FILE", "GIT_IMPLICIT_WORK_TREE", "GIT_INDEX_FILE", "GIT_INDEX_VERSION",
	"GIT_INTERNAL_SUPER_PREFIX", "GIT_NAMESPACE", "GIT_NO_REPLACE_OBJECTS", "GIT_OBJECT_DIRECTORY", "GIT_PREFIX",
	"GIT_QUARANTINE_PATH", "GIT_REPLACE_REF_BASE", "GIT_SHALLOW_FILE", "GIT_WORK_TREE",
}

// Unbound returns an environment without what binds git to a repository: for one
// that is none of the environment's business, such as a new one.
func Unbound(env []string) []string {
	return slices.DeleteFunc(slices.Clone(env), func(pair string) bool {
		name, _, _ := strings.Cut(pair, "=")
		return slices.Contains(local, name) || strings.HasPrefix(name, "GIT_CONFIG_KEY_") || strings.HasPrefix(name, "GIT_CONFIG_VALUE_")
	})
}

// gitAt is git, to be asked about one repository.
type gitAt struct {
	program string   // its path
	top     string   // the work tree's folder
	dir     string   // git's own folder for this work tree
	env     []string // with which it is asked
}

// command prepares a call of git.
func (g *gitAt) command(args ...string) *exec.Cmd {
	return g.commandIn(context.Background(), g.top, args...)
}

func (g *gitAt) commandIn(ctx context.Context, dir string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, g.program, slices.Concat(safely, args)...)
	cmd.Dir = dir
	cmd.Env = slices.Concat(g.env, quietly)
	return cmd
}

// ask returns what git prints. The error is what git says of it.
func (g *gitAt) ask(args ...string) ([]byte, error) {
	out, err := g.command(args...).Output()
	if err != nil {
		return nil, gitError(err)
	}
	return out, nil
}

// line returns the single line that git prints.
func (g *gitAt) line(args ...string) (string, error) {
	out, err := g.ask(args...)
	return withoutLineEnd(string(out)), err
}

// withoutLineEnd takes one line end off: what stands before may end in blanks of any
// kind, as names do.
func withoutLineEnd(text string) string {
	return strings.TrimSuffix(strings.TrimSuffix(text, "\n"), "\r")
}

// index returns the file that git's index is in now: hooks are told of another one
// while a commit is made of some files only.
func (g *gitAt) index() string {
	name := g.variable("GIT_INDEX_FILE")
	switch {
	case name == "":
		return filepath.Join(g.dir, "index")
	case !filepath.IsAbs(name):
		return filepath.Join(g.top, name)
	}
	return name
}

func (g *gitAt) variable(name string) string {
	for _, pair := range slices.Backward(g.env) {
		if value, ok := strings.CutPrefix(pair, name+"="); ok {
			return value
		}
	}
	return ""
}

// common returns the folder that the repository's work trees share.
func (g *gitAt) common() string {
	text, err := readRegular(filepath.Join(g.dir, "commondir"))
	if err != nil {
		return g.dir
	}
	dir := strings.TrimSpace(string(text))
	if filepath.IsAbs(dir) {
		return dir
	}
	return filepath.Join(g.dir, dir)
}

// readRegular reads a regular file of git's.
func readRegular(name string) ([]byte, error) {
	at, err := openPlace(filepath.Dir(name))
	if err != nil {
		return nil, err
	}
	defer at.close()
	text, _, err := at.read(filepath.Base(name))
	return text, err
}

// gitError is what git said, or why it could not be started.
func gitError(err error) error {
	var failed *exec.ExitError
	if errors.As(err, &failed) {
		line, _, _ := strings.Cut(strings.TrimSpace(string(failed.Stderr)), "\n")
		if line == "" {
			line = failed.Error()
		}
		return errors.New(line)
	}
	if errors.Is(err, exec.ErrNotFound) {
		return errNoGit
	}
	return err
}

var errNoGit = errors.New("it is not installed")

// gitProgram finds git on the path, but nowhere below the folders given: a
// repository brings no git of its own.
func gitProgram(not ...string) (string, error) {
	for _, dir := range filepath.SplitList(os.Getenv("PATH")) {
		if !filepath.IsAbs(dir) || slices.ContainsFunc(not, func(folder string) bool { return holds(folder, resolved(dir)) }) {
			continue
		}
		if found, err := exec.LookPath(filepath.Join(dir, "git")); err == nil {
			return found, nil
		}
	}
	return "", errNoGit
}

// holds reports whether a path is a folder or lies below it; both without links.
func holds(folder, name string) bool {
	rel, err := filepath.Rel(folder, name)
	return err == nil && filepath.IsLocal(rel)
}

// resolved is a path without links, as far as it is there.
func resolved(name string) string {
	for rest := ""; ; {
		if real, err := filepath.EvalSymlinks(name); err == nil {
			return filepath.Join(real, rest)
		}
		up := filepath.Dir(name)
		if up == name {
			return filepath.Join(name, rest)
		}
		name, rest = up, filepath.Join(filepath.Base(name), rest)
	}
}

// samePath reports whether two paths without links are one.
func samePath(a, b string) bool {
	return a == b || runtime.GOOS == "windows" && strings.EqualFold(filepath.Clean(a), filepath.Clean(b))
}
