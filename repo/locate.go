package repo

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// Locate finds the repository that holds dir, as Open does, and lists nothing.
func Locate(dir string) (*Repo, error) {
	abs, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	info, err := os.Stat(abs)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil, fmt.Errorf("there is no folder %s", dir)
	case err != nil:
		return nil, fmt.Errorf("%s cannot be opened: %w", dir, errors.Unwrap(err))
	case !info.IsDir():
		return nil, fmt.Errorf("%s is a file; name the folder it is in", dir)
	}
	r := &Repo{Root: abs}
	g, err := findGit(abs)
	var refused *refusal
	switch {
	case errors.As(err, &refused):
		return nil, refused
	case err != nil:
		r.note(err)
	case g != nil:
		r.Root, r.Git, r.git = g.top, true, g
	}
	if r.place, err = openPlace(r.Root); err != nil {
		return nil, fmt.Errorf("%s cannot be opened: %w", r.Root, errors.Unwrap(err))
	}
	if r.top, err = r.place.root.Open("."); err != nil {
		r.place.close()
		return nil, fmt.Errorf("%s cannot be read: %w", r.Root, errors.Unwrap(err))
	}
	return r, nil
}

// refusal says why a repository is not looked at.
type refusal struct{ error }

// findGit finds the git work tree that holds dir, nil where there is none or it
// ignores dir. It is the one around dir, unless the environment names another. The
// error says why git could not be asked, or is a refusal.
func findGit(dir string) (*gitAt, error) {
	real := resolved(dir)
	around := folderWithGit(real)
	g, err := fromEnvironment(real, around)
	if g == nil && err == nil && around != "" {
		g, err = discovered(around)
	}
	if g == nil || err != nil {
		return nil, err
	}
	g.top = resolved(g.top)
	if !holds(g.top, real) {
		return nil, &refusal{fmt.Errorf("the git repository of %s keeps its work tree elsewhere, in %s; nothing was read. To look at that one: treaty -C %[2]s", dir, g.top)}
	}
	if !samePath(g.top, real) && g.ignores(real) {
		return nil, nil
	}
	return g, nil
}

// folderWithGit returns the closest folder, from real upwards, that has git's own in
// it; "" if none has.
func folderWithGit(real string) string {
	for {
		if _, err := os.Lstat(filepath.Join(real, ".git")); err == nil {
			return real
		}
		up := filepath.Dir(real)
		if up == real {
			return ""
		}
		real = up
	}
}

// discovered is git in the work tree whose folder has git's own in it. Where that is
// as it usually is, git is not asked about it.
func discovered(top string) (*gitAt, error) {
	program, err := gitProgram(top)
	if err != nil {
		return nil, err
	}
	g := &gitAt{program: program, top: top, dir: filepath.Join(top, ".git"), env: bound(top)}
	if special := g.special(); special != "" {
		return nil, fmt.Errorf("%s is not a regular file", special)
	}
	if g.usual() {
		return g, nil
	}
	return g, g.askWhere(top)
}

// bound is the environment for asking about the repository around a folder: with
// what the environment tells of it, as git does when it starts hooks, and without
// what it tells of another.
func bound(top string) []string {
	env := os.Environ()
	if here, err := os.Getwd(); err != nil || !samePath(folderWithGit(resolved(here)), top) {
		env = Unbound(env)
	}
	env = slices.DeleteFunc(env, func(pair string) bool {
		return strings.HasPrefix(pair, "GIT_DIR=") || strings.HasPrefix(pair, "GIT_WORK_TREE=")
	})
	return append(env, "GIT_CEILING_DIRECTORIES="+filepath.Dir(top)) // it is here or nowhere
}

// fromEnvironment is git in the repository that the environment names, where that is
// about the folder real; nil where it names none or is about another. Around is the
// closest folder with git's own in it.
func fromEnvironment(real, around string) (*gitAt, error) {
	dir, tree := os.Getenv("GIT_DIR"), os.Getenv("GIT_WORK_TREE")
	if dir == "" && tree == "" {
		return nil, nil
	}
	here, err := os.Getwd()
	if err != nil {
		return nil, nil
	}
	here = resolved(here)
	if around != "" && !samePath(around, folderWithGit(here)) {
		return nil, nil // the folder has a repository of its own, and git started us in another one
	}
	program, err := gitProgram(real)
	if err != nil {
		return nil, err
	}
	g := &gitAt{program: program, env: os.Environ()}
	from := here
	if dir != "" && tree == "" && around != "" {
		if own, err := discovered(around); err == nil && samePath(resolved(own.dir), resolved(dir)) {
			return own, nil // git would take the current folder for the whole work tree
		}
	}
	if around == "" && !holds(here, real) && tree == "" {
		return nil, nil // a folder that is none of git's
	}
	return g, g.askWhere(from)
}

// askWhere has git say where the work tree and its own folder are.
func (g *gitAt) askWhere(from string) error {
	var found [2]string
	for i, what := range []string{"--show-toplevel", "--absolute-git-dir"} {
		out, err := g.commandIn(context.Background(), from, "rev-parse", what).Output()
		if err != nil {
			return gitError(err)
		}
		found[i] = filepath.FromSlash(withoutLineEnd(string(out)))
	}
	if found[0] == "" {
		return errors.New("it names no work tree")
	}
	g.top, g.dir = found[0], found[1]
	if g.variable("GIT_DIR") != "" || g.variable("GIT_WORK_TREE") != "" { // which may be from another folder
		g.env = append(g.env, "GIT_DIR="+g.dir, "GIT_WORK_TREE="+g.top)
	}
	return nil
}

// usual reports whether git's folder is an ordinary one that belongs to the work tree
// it lies in.
func (g *gitAt) usual() bool {
	if info, err := os.Lstat(g.dir); err != nil || !info.IsDir() || foreign(info) {
		return false
	}
	if info, err := os.Lstat(filepath.Join(g.dir, "HEAD")); err != nil || !info.Mode().IsRegular() {
		return false
	}
	config, err := readRegular(filepath.Join(g.dir, "config"))
	if err != nil || g.variable("GIT_COMMON_DIR") != "" {
		return false
	}
	config = bytes.ToLower(config)
	return !bytes.Contains(config, []byte("worktree")) && !bytes.Contains(config, []byte("bare = true")) && !bytes.Contains(config, []byte("include"))
}

// special returns the first of the files git reads at every start that is a pipe, a
// device or the like, for which git would wait for ever; "" if none is.
func (g *gitAt) special() string {
	for _, name := range []string{"", "HEAD", "config", "config.worktree", "commondir", "index", "packed-refs", "shallow", "info/exclude", "info/grafts", "info/sparse-checkout", "objects/info/alternates"} {
		full := filepath.Join(g.dir, filepath.FromSlash(name))
		if info, err := os.Stat(full); err == nil && !info.Mode().IsRegular() && !info.IsDir() {
			return full
		}
	}
	return ""
}

// ignores reports whether the work tree ignores a folder in it. Ignore lists that
// git would wait for are not asked.
func (g *gitAt) ignores(folder string) bool {
	for dir := filepath.Dir(folder); holds(g.top, dir); dir = filepath.Dir(dir) {
		if info, err := os.Stat(filepath.Join(dir, ".gitignore")); err == nil && !info.Mode().IsRegular() && !info.IsDir() {
			return false
		}
	}
	rel, err := filepath.Rel(g.top, folder)
	if err != nil {
		return false
	}
	_, err = g.ask("check-ignore", "-q", "--", "."+string(filepath.Separator)+rel)
	return err == nil
}
