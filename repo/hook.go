package repo

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
)

// hookNames are the hooks that git runs before it makes a commit, and before it makes
// the commit of a merge, githooks(5). Neither is run for what a rebase or a
// cherry-pick carries over.
var hookNames = []string{"pre-commit", "pre-merge-commit"}

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

const shebang = "#!/bin/sh\n"

// keptAs is the ending of the name under which a hook that was there is kept.
const keptAs = ".before-treaty"

// chainPart runs the hook that was there, if it is not switched off.
func chainPart(kept string) string {
	return fmt.Sprintf("before=\"$(dirname \"$0\")/%s\"\nif [ -x \"$before\" ]; then exec \"$before\" \"$@\"; fi\n", kept)
}

// Hook tells how the commit hooks of a repository stand.
type Hook struct {
	Folder    string // in which git looks for them
	Elsewhere bool   // which is not the repository's own, so that others run them, too
	Installed bool   // each of them with our part
	Others    bool   // with somebody else's

	place *place // of the folder, nil where there is none yet
}

// Path is the file of the hook before commits.
func (h Hook) Path() string { return filepath.Join(h.Folder, hookNames[0]) }

// Hook tells how the commit hooks stand. It has to be closed.
func (r *Repo) Hook() (*Hook, error) {
	if !r.Git {
		return nil, fmt.Errorf("%s is no git work tree, so it has no commit hook", r.Root)
	}
	// Of all that is asked for, this alone has to know where hooks lie.
	asked := r.git.command()
	asked.Args = append([]string{"git"}, "-c", "core.fsmonitor=", "-c", "safe.bareRepository=explicit", "rev-parse", "--git-path", "hooks")
	out, err := asked.Output()
	if err != nil {
		return nil, gitError(err)
	}
	dir := filepath.FromSlash(withoutLineEnd(string(out)))
	if !filepath.IsAbs(dir) {
		dir = filepath.Join(r.Root, dir)
	}
	h := &Hook{Folder: dir}
	real := resolved(dir)
	h.Elsewhere = !holds(resolved(r.git.common()), real) && !holds(resolved(r.Root), real)
	if h.place, err = openPlace(real); err != nil {
		if errors.Is(err, fs.ErrNotExist) {
			return h, nil
		}
		return nil, err
	}
	h.Installed = true
	for _, name := range hookNames {
		text, info, err := h.read(name)
		if err != nil {
			h.Close()
			return nil, err
		}
		rest, had := withoutPart(text)
		h.Installed = h.Installed && had
		h.Others = h.Others || info != nil && string(bytes.TrimSpace(rest)) != strings.TrimSpace(shebang)
	}
	return h, nil
}

// Close releases the folder of the hooks.
func (h *Hook) Close() error {
	if h.place == nil {
		return nil
	}
	return h.place.close()
}

// read reads a hook. The text of a link is not read: it leads to what somebody keeps
// elsewhere. Where there is none, nothing is known of it.
func (h *Hook) read(name string) ([]byte, fs.FileInfo, error) {
	info, err := h.place.root.Lstat(name)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil, nil, nil
	case err != nil:
		return nil, nil, err
	case info.Mode()&fs.ModeSymlink != 0:
		return nil, info, nil
	}
	text, _, err := h.place.read(name)
	return text, info, err
}

// Install adds our hooks. A hook that is there is kept beside ours as it is, be it a
// link or switched off, and ours runs it.
func (h *Hook) Install() error {
	if h.place == nil {
		if err := os.MkdirAll(h.Folder, 0o755); err != nil {
			return err
		}
		var err error
		if h.place, err = openPlace(resolved(h.Folder)); err != nil {
			return err
		}
	}
	for _, name := range hookNames {
		if err := h.install(name); err != nil {
			return err
		}
	}
	return nil
}

func (h *Hook) install(name string) error {
	old, info, err := h.read(name)
	if err != nil {
		return err
	}
	if _, had := withoutPart(old); had {
		return nil
	}
	text := shebang + hookPart
	kept := ""
	if info != nil {
		for kept = name + keptAs; h.place.there(kept); kept = nextKept(name, kept) {
			continue // what was kept before is not written over
		}
		text += chainPart(kept)
	}
	temp := tempBeside(name)
	if err := h.place.create(temp, []byte(text), 0o755); err != nil {
		return err
	}
	if kept != "" {
		if err := h.place.rename(name, kept); err != nil {
			return errors.Join(err, h.place.remove(temp))
		}
	}
	if err := h.place.rename(temp, name); err != nil {
		err = errors.Join(err, h.place.remove(temp))
		if kept != "" {
			err = errors.Join(err, h.place.rename(kept, name))
		}
		return err
	}
	return nil
}

// Remove takes our hooks away, and puts those that were there in their places. It
// reports whether there were any.
func (h *Hook) Remove() (had bool, err error) {
	if h.place == nil {
		return false, nil
	}
	for _, name := range hookNames {
		one, err := h.removeOne(name)
		had = had || one
		if err != nil {
			return had, err
		}
	}
	return had, nil
}

func (h *Hook) removeOne(name string) (bool, error) {
	text, info, err := h.read(name)
	if err != nil {
		return false, err
	}
	rest, had := withoutPart(text)
	if !had {
		return false, nil
	}
	for kept := name + keptAs; h.place.there(kept); kept = nextKept(name, kept) {
		if string(rest) == shebang+chainPart(kept) {
			return true, h.place.rename(kept, name)
		}
	}
	if string(bytes.TrimSpace(rest)) == strings.TrimSpace(shebang) {
		return true, h.place.remove(name)
	}
	temp := tempBeside(name) // somebody else's, with our part in it
	if err := h.place.create(temp, rest, info.Mode()); err != nil {
		return false, err
	}
	return true, h.place.rename(temp, name)
}

// nextKept is the name to keep a hook under where one is kept as the last.
func nextKept(name, last string) string {
	n, _ := strconv.Atoi(strings.TrimPrefix(last, name+keptAs+"-"))
	return name + keptAs + "-" + strconv.Itoa(max(n, 1)+1)
}

func withoutPart(text []byte) (rest []byte, had bool) {
	begin := bytes.Index(text, []byte(hookBegin))
	end := bytes.Index(text, []byte(hookEnd))
	if begin < 0 || end < begin {
		return text, false
	}
	end += len(hookEnd)
	if end < len(text) && text[end] == '\r' {
		end++
	}
	if end < len(text) && text[end] == '\n' {
		end++
	}
	return append(bytes.Clone(text[:begin]), text[end:]...), true
}
