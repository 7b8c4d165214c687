package repo

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"github.com/google/renameio/v2/maybe"
)

// hookName is the hook that git runs before a commit, githooks(5).
const hookName = "pre-commit"

// The lines between which our part of a hook stands.
const (
	hookBegin = "# treaty: begin"
	hookEnd   = "# treaty: end"
)

// hookPart is what a hook does for us. Where the program is missing it says how to
// get it, and lets the commit pass.
const hookPart = hookBegin + `
if command -v treaty >/dev/null 2>&1; then
	treaty check --staged || exit 1
else
	echo "treaty is not installed, so style settings are not checked; build it with: CGO_ENABLED=0 go build ./cmd/treaty" >&2
fi
` + hookEnd + "\n"

// chained is the name under which a hook is kept that is no shell script.
const chained = hookName + ".before-treaty"

// chainPart runs it.
const chainPart = "exec \"$(dirname \"$0\")/" + chained + "\" \"$@\"\n"

// Hook is the commit hook of a repository.
type Hook struct {
	Path      string // of its file
	Installed bool   // with our part
	Others    bool   // with somebody else's
}

// hooksFolder returns where git looks for hooks, which settings may move.
func (r *Repo) hooksFolder() (string, error) {
	if !r.Git {
		return "", fmt.Errorf("%s is no git work tree, so it has no commit hook", r.Root)
	}
	cmd := exec.Command("git", "-c", "core.fsmonitor=false", "rev-parse", "--git-path", "hooks")
	cmd.Dir = r.Root
	out, err := cmd.Output()
	if err != nil {
		return "", gitError(err)
	}
	dir := strings.TrimRight(string(out), "\r\n")
	if !filepath.IsAbs(dir) {
		dir = filepath.Join(r.Root, dir)
	}
	return dir, nil
}

// Hook tells how the commit hook stands.
func (r *Repo) Hook() (Hook, error) {
	dir, err := r.hooksFolder()
	if err != nil {
		return Hook{}, err
	}
	h := Hook{Path: filepath.Join(dir, hookName)}
	text, err := os.ReadFile(h.Path)
	if errors.Is(err, fs.ErrNotExist) {
		return h, nil
	}
	if err != nil {
		return h, err
	}
	rest, had := withoutPart(text)
	h.Installed = had
	h.Others = len(bytes.TrimSpace(rest)) > len("#!/bin/sh") || !had
	return h, nil
}

// InstallHook adds our part to the commit hook, before whatever else it does. A
// hook that is no shell script is kept beside it and run behind ours.
func (r *Repo) InstallHook() (Hook, error) {
	h, err := r.Hook()
	if err != nil || h.Installed {
		return h, err
	}
	if err := os.MkdirAll(filepath.Dir(h.Path), 0o755); err != nil {
		return h, err
	}
	text := "#!/bin/sh\n" + hookPart
	old, err := os.ReadFile(h.Path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
	case err != nil:
		return h, err
	case isShell(old):
		first, rest, _ := strings.Cut(string(old), "\n")
		text = first + "\n" + hookPart + rest
	default:
		if err := os.Rename(h.Path, filepath.Join(filepath.Dir(h.Path), chained)); err != nil {
			return h, err
		}
		text += chainPart
	}
	if err := maybe.WriteFile(h.Path, []byte(text), 0o755); err != nil {
		return h, err
	}
	return h, os.Chmod(h.Path, 0o755)
}

// RemoveHook takes our part out of the commit hook, and the file with it where it
// holds nothing else. It reports whether there was one.
func (r *Repo) RemoveHook() (bool, error) {
	h, err := r.Hook()
	if err != nil || !h.Installed {
		return false, err
	}
	text, err := os.ReadFile(h.Path)
	if err != nil {
		return false, err
	}
	rest, _ := withoutPart(text)
	before := filepath.Join(filepath.Dir(h.Path), chained)
	if bytes.Contains(rest, []byte(chainPart)) {
		return true, os.Rename(before, h.Path)
	}
	if string(bytes.TrimSpace(rest)) == "#!/bin/sh" {
		return true, os.Remove(h.Path)
	}
	info, err := os.Stat(h.Path)
	if err != nil {
		return false, err
	}
	if err := maybe.WriteFile(h.Path, rest, info.Mode().Perm()); err != nil {
		return false, err
	}
	return true, os.Chmod(h.Path, info.Mode().Perm())
}

func withoutPart(text []byte) (rest []byte, had bool) {
	begin := bytes.Index(text, []byte(hookBegin))
	end := bytes.Index(text, []byte(hookEnd))
	if begin < 0 || end < begin {
		return text, false
	}
	end += len(hookEnd)
	for end < len(text) && (text[end] == '\n' || text[end] == '\r') {
		end++
		break
	}
	return append(bytes.Clone(text[:begin]), text[end:]...), true
}

// isShell reports whether a script is read by a shell.
func isShell(text []byte) bool {
	first, _, _ := strings.Cut(string(text), "\n")
	first = strings.TrimSpace(first)
	return strings.HasPrefix(first, "#!") && (strings.HasSuffix(first, "sh") || strings.Contains(first, "sh "))
}
