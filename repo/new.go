package repo

import (
	"fmt"
	"os"
	"os/exec"
)

// New makes a git repository of a folder, with all that is in it as one commit by
// somebody made up. It is bound to nothing: not to a repository that the environment
// is about, as in a hook or a rebase, nor to the person's own templates and hooks.
// Without git there is none.
func New(dir, author, address, message string) error {
	program, err := gitProgram(resolved(dir))
	if err != nil {
		return nil
	}
	for _, args := range [][]string{
		{"init", "-q", "-b", "main", "--template="},
		{"add", "-A"},
		{"commit", "-q", "-m", message},
	} {
		cmd := exec.Command(program, append([]string{"-c", "core.autocrlf=false", "-c", "core.safecrlf=false", "-c", "core.hooksPath=" + os.DevNull, "-c", "core.fsmonitor=",
			"-c", "user.name=" + author, "-c", "user.email=" + address, "-c", "commit.gpgsign=false"}, args...)...)
		cmd.Dir, cmd.Env = dir, append(Unbound(os.Environ()), "GIT_CEILING_DIRECTORIES="+dir)
		if out, err := cmd.CombinedOutput(); err != nil {
			return fmt.Errorf("git %s: %w\n%s", args[0], err, out)
		}
	}
	return nil
}
