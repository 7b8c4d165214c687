package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/pelletier/go-toml/v2"
)

// program is a program that the lab runs.
type program struct {
	ID        string              `toml:"id"` // of its entry
	NPM       map[string][]string `toml:"npm"`
	Go        map[string][]string `toml:"go"`
	Debian    []string            `toml:"debian"`
	Run       []string            `toml:"run"`
	Types     []string            `toml:"types"`
	Complaint string              `toml:"complaint"` // of a linter: the name of the check in a line
	Place     string              `toml:"place"`     // and the file
	Seed      map[string]string   `toml:"seed"`      // files without which it does not run
	Into      string              `toml:"into"`      // the one of them that is written into
	Alone     bool                `toml:"alone"`     // one file a run
	Nothing   string              `toml:"nothing"`   // what it says, as if it failed, where it is to leave all files out
}

func readPrograms(path string) ([]*program, error) {
	text, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	var all struct {
		Program []*program `toml:"program"`
	}
	return all.Program, toml.Unmarshal(text, &all)
}

// quick are those that install in a few minutes.
func quick(all []*program) []*program {
	return slices.DeleteFunc(slices.Clone(all), func(p *program) bool {
		return !slices.Contains([]string{"prettier", "shfmt", "yamlfmt", "stylelint", "markdownlint"}, p.ID)
	})
}

// versions are those that are run, "" for that of the distribution.
func (p *program) versions() []string {
	for _, list := range []map[string][]string{p.NPM, p.Go} {
		for _, name := range slices.Sorted(maps.Keys(list)) {
			if len(list[name]) > 1 || len(list) == 1 || strings.HasSuffix(name, p.ID) {
				return list[name]
			}
		}
	}
	return []string{""}
}

// installed is a program that was had.
type installed struct {
	*program
	version string
	path    string // the folders of executables
	root    string // of the system it runs in; "" for this one
}

// errNotHad says that a program could not be had here.
var errNotHad = errors.New("could not be had")

// install gets a program at a version into the lab's folder.
func install(dir string, p *program, version string) (*installed, error) {
	in := &installed{program: p, version: version}
	switch {
	case len(p.NPM) > 0:
		at := filepath.Join(dir, "npm", p.ID+"-"+version)
		in.path = filepath.Join(at, "node_modules", ".bin")
		if _, err := os.Stat(in.path); err == nil {
			return in, nil
		}
		if err := os.MkdirAll(at, 0o755); err != nil {
			return nil, err
		}
		args := []string{"install", "--prefix", at, "--no-audit", "--no-fund", "--ignore-scripts=false"}
		for name, versions := range p.NPM {
			want := versions[0]
			if slices.Contains(versions, version) {
				want = version
			}
			args = append(args, name+"@"+want)
		}
		return in, had("npm", args...)
	case len(p.Go) > 0:
		at := filepath.Join(dir, "go", p.ID+"-"+version)
		in.path = at
		if _, err := os.Stat(at); err == nil {
			return in, nil
		}
		for module := range p.Go {
			command := exec.Command("go", "install", module+"@"+version)
			command.Env = append(os.Environ(), "GOBIN="+at)
			if text, err := command.CombinedOutput(); err != nil {
				return nil, fmt.Errorf("%w: %s", errNotHad, lastLine(text))
			}
		}
		return in, nil
	}
	in.root = filepath.Join(dir, "system")
	if err := system(in.root, p.Debian); err != nil {
		return nil, err
	}
	text, err := exec.Command("chroot", in.root, "dpkg-query", "-W", "-f", "${Version}", p.Debian[0]).Output()
	if err != nil {
		return nil, fmt.Errorf("%w: %w", errNotHad, err)
	}
	in.version, _, _ = strings.Cut(string(text[strings.IndexByte(string(text), ':')+1:]), "-")
	in.version, _, _ = strings.Cut(in.version, "+")
	return in, nil
}

// system makes a small system of its own, and puts packages into it. That takes root.
func system(root string, packages []string) error {
	if _, err := os.Stat(root + "/usr/bin/python3"); err != nil {
		if err := had("debootstrap", "--variant=minbase", "--include=python3,ca-certificates", "forky", root, "http://deb.debian.org/debian", "/usr/share/debootstrap/scripts/sid"); err != nil {
			return err
		}
	}
	for _, p := range packages {
		if exec.Command("chroot", root, "dpkg", "-s", p).Run() == nil {
			continue
		}
		if err := had("chroot", root, "env", "DEBIAN_FRONTEND=noninteractive", "apt-get", "install", "-y", "--no-install-recommends", p); err != nil {
			return err
		}
	}
	return nil
}

func had(name string, args ...string) error {
	if text, err := exec.Command(name, args...).CombinedOutput(); err != nil {
		return fmt.Errorf("%w: %s", errNotHad, lastLine(append(text, err.Error()...)))
	}
	return nil
}

func lastLine(text []byte) string {
	lines := strings.Split(strings.TrimSpace(string(text)), "\n")
	return lines[len(lines)-1]
}

// limit is how long a program may run.
const limit = 60 * time.Second

// run starts the program in a folder, without a network and with an empty home. It
// returns what it printed, and whether it ended well.
func (in *installed) run(folder string, args ...string) (text string, ok bool) {
	ctx, cancel := context.WithTimeout(context.Background(), limit)
	defer cancel()
	words := args
	env := []string{"HOME=/nonexistent", "LC_ALL=C.UTF-8", "NO_COLOR=1", "PATH=" + in.path + ":/usr/local/bin:/usr/bin:/bin:/usr/sbin:/sbin"}
	if in.root != "" {
		script := `cd "$1" && shift && exec env -i HOME=/nonexistent LC_ALL=C.UTF-8 NO_COLOR=1 PATH=/usr/local/bin:/usr/bin:/bin "$@"`
		inside, err := filepath.Rel(in.root, folder)
		if err != nil || strings.HasPrefix(inside, "..") {
			return "the tree is not inside of the system", false
		}
		words = append([]string{"chroot", in.root, "sh", "-c", script, "sh", "/" + inside}, args...)
	}
	if os.Getuid() == 0 {
		words = append([]string{"unshare", "-n"}, words...)
	}
	command := exec.CommandContext(ctx, words[0], words[1:]...)
	command.Dir, command.Env, command.WaitDelay = folder, env, time.Second
	var said, told bytes.Buffer
	command.Stdout, command.Stderr = &said, &told
	err := command.Run()
	return said.String() + "\n" + told.String(), err == nil
}

// over runs the program over files.
func (in *installed) over(folder string, files []string) (text string, ok bool) {
	ok = true
	batches := [][]string{files}
	if in.Alone {
		batches = nil
		for _, f := range files {
			batches = append(batches, []string{f})
		}
	}
	for _, batch := range batches {
		var args []string
		for _, word := range in.Run {
			if word == "{files}" {
				args = append(args, batch...)
			} else {
				args = append(args, word)
			}
		}
		part, well := in.run(folder, args...)
		text, ok = text+part, ok && well
	}
	return text, ok
}

// scratch is a new folder in which trees can be made that the program can read.
func (in *installed) scratch() (string, error) {
	base := os.TempDir()
	if in.root != "" {
		base = filepath.Join(in.root, "tmp")
	}
	return os.MkdirTemp(base, "lab")
}
