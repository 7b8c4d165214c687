// Package repo is the outside of the computation: a folder or a git work tree
// as a file system with a list of paths, and safe writes into it.
package repo

import (
	"bufio"
	"cmp"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/pattern"
)

// Repo is a repository on disk.
type Repo struct {
	Root  string   // absolute path
	Git   bool     // listed by git
	Paths []string // every file that is not ignored, sorted
	Notes []string // what could not be read, and how the list was made instead

	root    *os.Root
	top     *os.File        // the root, to open folders from
	sparse  bool            // git leaves out some of what it tracks
	modules map[string]bool // paths of other repositories within
}

// Open lists the repository that holds dir: the git work tree around it, or
// else the folder itself. A folder that the work tree ignores counts by itself.
// Early, if it is not nil, is called with what git tracks while git still looks
// for files that are new or deleted; it must not keep the repository's list. The
// error says what to do.
func Open(dir string, early func(*Repo)) (*Repo, error) {
	r, err := Locate(dir)
	if err != nil {
		return nil, err
	}
	if r.Git {
		err := r.listGit(early)
		if err == nil {
			return r, nil
		}
		r.note(err)
		r.Git, r.Paths = false, nil
	}
	if err := r.walk(); err != nil {
		return nil, err
	}
	return r, nil
}

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
	if hasGitAbove(abs) {
		top, err := workTree(abs)
		if err != nil {
			r.note(err)
		}
		if top != "" {
			r.Root, r.Git = top, true
		}
	}
	if r.root, err = os.OpenRoot(r.Root); err != nil {
		return nil, fmt.Errorf("%s cannot be opened: %w", r.Root, errors.Unwrap(err))
	}
	if r.top, err = r.root.Open("."); err != nil {
		r.root.Close()
		return nil, fmt.Errorf("%s cannot be read: %w", r.Root, errors.Unwrap(err))
	}
	return r, nil
}

// note says that git could not be asked.
func (r *Repo) note(err error) {
	r.Notes = append(r.Notes, fmt.Sprintf("git could not be asked (%v); the folder is listed by its ignore files instead", gitError(err)))
}

// gitError is what git said, or why it could not be started.
func gitError(err error) error {
	var failed *exec.ExitError
	if errors.As(err, &failed) {
		line, _, _ := strings.Cut(strings.TrimSpace(string(failed.Stderr)), "\n")
		return errors.New(line)
	}
	if errors.Is(err, exec.ErrNotFound) {
		return errors.New("it is not installed")
	}
	return err
}

// FS returns the repository's files. Links that lead out of it cannot be
// opened.
func (r *Repo) FS() fs.FS { return files{r.root.FS(), r.root, r.top} }

// Close releases the repository's folder.
func (r *Repo) Close() error { return errors.Join(r.top.Close(), r.root.Close()) }

// workTree returns the top of the git work tree around dir, or "" if there is
// none or it ignores dir. A folder with a git folder in it is one, unless the
// environment says otherwise. The error says why git could not be asked.
func workTree(dir string) (string, error) {
	resolved, err := filepath.EvalSymlinks(dir)
	if err != nil {
		resolved = dir
	}
	if info, err := os.Stat(filepath.Join(resolved, ".git", "HEAD")); err == nil && info.Mode().IsRegular() && os.Getenv("GIT_DIR") == "" && os.Getenv("GIT_WORK_TREE") == "" {
		return resolved, nil
	}
	out, err := git(dir, "rev-parse", "--show-toplevel")
	if err != nil {
		return "", gitError(err)
	}
	top := filepath.FromSlash(strings.TrimRight(string(out), "\r\n"))
	if top != "" && resolved != top {
		if _, err := git(dir, "check-ignore", "-q", "."); err == nil {
			return "", nil
		}
	}
	return top, nil
}

// hasGitAbove spares a process where no folder above has a git folder.
func hasGitAbove(dir string) bool {
	for {
		if _, err := os.Lstat(filepath.Join(dir, ".git")); err == nil {
			return true
		}
		up := filepath.Dir(dir)
		if up == dir {
			return os.Getenv("GIT_DIR") != ""
		}
		dir = up
	}
}

// git runs git without locks, without a network and without anything a
// repository could make it start.
func git(dir string, args ...string) ([]byte, error) {
	return gitCommand(dir, args...).Output()
}

func gitCommand(dir string, args ...string) *exec.Cmd {
	safe := []string{"-c", "core.fsmonitor=false", "-c", "core.quotePath=false", "-c", "core.hooksPath=/dev/null"}
	cmd := exec.Command("git", append(safe, args...)...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "GIT_OPTIONAL_LOCKS=0", "GIT_NO_LAZY_FETCH=1", "LC_ALL=C")
	return cmd
}

// listGit takes the list from git: tracked files that are there, and new ones
// that are not ignored. What git tracks is handed to early at once. Then the
// folders are read: that tells which files are gone, and whether there is
// anything that git does not track, in which case git is asked for what is new.
func (r *Repo) listGit(early func(*Repo)) error {
	var err error
	var ok bool
	if r.Paths, r.sparse, ok = tracked(filepath.Join(r.Root, ".git")); !ok {
		r.Paths = nil
		err = r.eachRecord(func(record string) {
			if record[0] != 'S' { // left out of a sparse work tree
				r.Paths = append(r.Paths, record[2:])
			} else {
				r.sparse = true
			}
		}, "-t", "-c")
	}
	if err != nil {
		return err
	}
	r.arrange()
	if early != nil {
		early(r)
	}
	var others []string
	var wait sync.WaitGroup
	ask := sync.OnceFunc(func() {
		wait.Go(func() {
			err = r.eachRecord(func(p string) {
				if !strings.HasSuffix(p, "/") { // a repository within
					others = append(others, p)
				}
			}, "-o", "--exclude-standard")
		})
	})
	there := r.compare(ask)
	wait.Wait()
	if err != nil {
		return err
	}
	if len(there) != len(r.Paths) || len(others) > 0 {
		r.Paths = slices.Concat(there, others)
		r.arrange()
	}
	return nil
}

// compare reads the folders of the paths. It returns the paths at which there is
// a file, and calls other at the first thing that is none of them. A folder that
// cannot be read is taken to hold what it should. Other may be called at the same
// time from several goroutines.
func (r *Repo) compare(other func()) []string {
	if r.sparse || len(r.modules) > 0 {
		other() // what is left out may be there all the same
	}
	folders := map[string]*listed{"": new(listed)}
	var dir string
	list := folders[dir]
	for i, p := range r.Paths {
		slash := strings.LastIndexByte(p, '/')
		if d := p[:max(0, slash)]; d != dir { // paths of a folder mostly follow one another
			dir, list = d, folders[d]
			if list == nil {
				list = new(listed)
				folders[d] = list
				for d != "" {
					d = d[:max(0, strings.LastIndexByte(d, '/'))]
					if folders[d] != nil {
						break
					}
					folders[d] = new(listed)
				}
			}
		}
		*list = append(*list, int32(i))
	}
	there := make([]bool, len(r.Paths))
	sorted := slices.Sorted(maps.Keys(folders)) // the root first
	var wait sync.WaitGroup
	for w := range folderReaders {
		wait.Go(func() {
			for i := w; i < len(sorted); i += folderReaders {
				r.compareFolder(sorted[i], folders, there, other)
			}
		})
	}
	wait.Wait()
	if !slices.Contains(there, false) {
		return r.Paths
	}
	var out []string
	for i, p := range r.Paths {
		if there[i] {
			out = append(out, p)
		}
	}
	return out
}

// folderReaders is how many folders are read at a time.
const folderReaders = 2

// listed is the files that a folder should hold: where their paths stand among
// all, ascending.
type listed []int32

// compareFolder notes which of the paths in one of the folders are there.
func (r *Repo) compareFolder(dir string, folders map[string]*listed, there []bool, other func()) {
	list, head := *folders[dir], 0 // how much of the paths is the folder's
	if dir != "" {
		head = len(dir) + 1
	}
	err := readFolder(filepath.Join(r.Root, filepath.FromSlash(dir)), func(name []byte, folder bool) {
		if folder {
			if folders[path.Join(dir, string(name))] == nil && (dir != "" || string(name) != ".git") {
				other()
			}
			return
		}
		i, found := slices.BinarySearchFunc(list, name, func(at int32, name []byte) int { return cmp.Compare(r.Paths[at][head:], string(name)) })
		if found {
			there[list[i]] = true
		} else {
			other()
		}
	})
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		for _, i := range list {
			there[i] = true
		}
	}
}

// arrange sorts the paths, each once, and leaves out other repositories.
func (r *Repo) arrange() {
	if !slices.IsSorted(r.Paths) {
		slices.Sort(r.Paths)
	}
	r.Paths = slices.Compact(r.Paths)
	r.dropSubmodules()
}

// eachRecord calls use for each record that git ls-files prints.
func (r *Repo) eachRecord(use func(string), args ...string) error {
	cmd := gitCommand(r.Root, append([]string{"ls-files", "-z"}, args...)...)
	var said strings.Builder
	cmd.Stderr = &said
	out, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	in := bufio.NewReaderSize(out, 1<<16)
	for {
		record, err := in.ReadString(0)
		if err != nil {
			break
		}
		use(record[:len(record)-1])
	}
	err = cmd.Wait()
	var failed *exec.ExitError
	if errors.As(err, &failed) {
		failed.Stderr = []byte(said.String())
	}
	return err
}

// dropSubmodules takes out other repositories that git lists as single paths.
func (r *Repo) dropSubmodules() {
	if _, found := slices.BinarySearch(r.Paths, ".gitmodules"); !found {
		return
	}
	text, err := fs.ReadFile(r.FS(), ".gitmodules")
	if err != nil {
		return
	}
	modules := map[string]bool{}
	r.modules = modules
	for line := range strings.Lines(string(text)) {
		if key, value, ok := strings.Cut(line, "="); ok && strings.TrimSpace(key) == "path" {
			modules[strings.TrimSpace(value)] = true
		}
	}
	r.Paths = slices.DeleteFunc(r.Paths, func(p string) bool { return modules[p] })
}

// walk lists a plain folder by its ignore files.
func (r *Repo) walk() error {
	if _, err := os.ReadDir(r.Root); err != nil {
		return fmt.Errorf("%s cannot be read: %w", r.Root, errors.Unwrap(err))
	}
	w := walker{repo: r, fsys: r.FS()}
	w.folder(".", nil)
	slices.Sort(r.Paths)
	return nil
}

type walker struct {
	repo *Repo
	fsys fs.FS
}

// ignoreAt is an ignore list and the folder it stands in.
type ignoreAt struct {
	folder string
	list   pattern.IgnoreList
}

func (w *walker) folder(dir string, lists []ignoreAt) {
	entries, err := fs.ReadDir(w.fsys, dir)
	if err != nil {
		w.repo.Notes = append(w.repo.Notes, fmt.Sprintf("%s cannot be read (%v) and is left out", dir, errors.Unwrap(err)))
		return
	}
	for _, e := range entries {
		if e.Name() == ".gitignore" || e.Name() == ".ignore" {
			if text, err := w.read(path.Join(dir, e.Name())); err == nil {
				lists = append(slices.Clip(lists), ignoreAt{dir, pattern.ParseIgnoreList(string(text))})
			}
		}
	}
	for _, e := range entries {
		p := path.Join(dir, e.Name())
		if ignored(p, e.IsDir(), lists) {
			continue
		}
		switch {
		case e.IsDir():
			if e.Name() != ".git" && e.Name() != ".hg" && e.Name() != ".svn" && p != besideIt+"/state" {
				w.folder(p, lists)
			}
		case e.Type().IsRegular(), e.Type()&fs.ModeSymlink != 0:
			w.repo.Paths = append(w.repo.Paths, p)
		}
	}
}

func (w *walker) read(p string) ([]byte, error) {
	f, err := w.fsys.Open(p)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, 1<<20))
}

// ignored reports whether the nearest list that speaks about the path takes it
// out.
func ignored(p string, folder bool, lists []ignoreAt) bool {
	for _, l := range slices.Backward(lists) {
		rel := p
		if l.folder != "." {
			rel = strings.TrimPrefix(p, l.folder+"/")
		}
		if out, spoken := l.list.Decides(rel, folder); spoken {
			return out
		}
	}
	return false
}
