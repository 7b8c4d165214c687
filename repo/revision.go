package repo

import (
	"bufio"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"sync"

	"jollytreaty/core/memory"
)

// Revision is the files of one commit, read from git without touching the work
// tree. It is a file system; Close ends the process that reads for it.
type Revision struct {
	Name  string   // the commit's hash
	Paths []string // every file, sorted

	blobs []blob // by path

	mutex sync.Mutex
	kept  map[string][]byte // what was read, by id: most of it is asked for again
	room  int               // for more of it, in bytes
	cmd   *exec.Cmd
	in    io.WriteCloser
	out   *bufio.Reader
}

type blob struct {
	path string
	id   string // as git writes it, or as the index stores it
	link bool
}

func (v *Revision) blob(p string) (blob, bool) {
	i, found := slices.BinarySearchFunc(v.blobs, p, func(b blob, p string) int { return strings.Compare(b.path, p) })
	if !found {
		return blob{}, false
	}
	return v.blobs[i], true
}

// At reads the list of files of a revision, in any of the ways in which git
// names one. The error says that git knows none of that name.
func (r *Repo) At(revision string) (*Revision, error) {
	if !r.Git {
		return nil, fmt.Errorf("%s is no git work tree, so it has no revisions", r.Root)
	}
	name, err := git(r.Root, "rev-parse", "--verify", "--quiet", "--end-of-options", revision+"^{commit}")
	if err != nil {
		if shallow, _ := git(r.Root, "rev-parse", "--is-shallow-repository"); strings.TrimSpace(string(shallow)) == "true" {
			return nil, errors.New("git knows no revision of that name here, as the clone is shallow; fetch more of its history, as with git fetch --unshallow")
		}
		return nil, errors.New("git knows no revision of that name")
	}
	v := &Revision{Name: strings.TrimSpace(string(name))}
	list, err := git(r.Root, "ls-tree", "-r", "-z", "--full-tree", v.Name)
	if err != nil {
		return nil, gitError(err)
	}
	return v, v.start(r, list, func(fields []string) (id string, ok bool) { return fields[2], fields[1] == "blob" })
}

// Staged reads the list of files that would be committed: those of the index. Of
// files with conflicts of a merge that is not finished, the side at hand counts.
func (r *Repo) Staged() (*Revision, error) {
	if !r.Git {
		return nil, fmt.Errorf("%s is no git work tree, so nothing is staged", r.Root)
	}
	v := &Revision{Name: "what is staged"}
	if list, ok := entries(filepath.Join(r.Root, ".git")); ok {
		v.blobs = list
		return v, v.ready(r)
	}
	list, err := git(r.Root, "ls-files", "--stage", "-z", "--full-name")
	if err != nil {
		return nil, gitError(err)
	}
	return v, v.start(r, list, func(fields []string) (id string, ok bool) { return fields[1], fields[2] == "0" || fields[2] == "2" })
}

// Changed returns the paths in which the index differs from the last commit, or
// all that is staged where there is none. Files that go are left out.
func (r *Repo) Changed() ([]string, error) {
	differs := func(base string) ([]byte, error) {
		return git(r.Root, "diff-index", "--cached", "--name-only", "-z", "--no-renames", "--diff-filter=d", base, "--")
	}
	out, err := differs("HEAD")
	if err == nil {
		return records(out), nil
	}
	if _, none := git(r.Root, "rev-parse", "--verify", "--quiet", "HEAD"); none == nil {
		return nil, gitError(err)
	}
	empty, err := git(r.Root, "hash-object", "-t", "tree", "/dev/null")
	if err == nil {
		out, err = differs(strings.TrimSpace(string(empty)))
	}
	if err != nil {
		return nil, gitError(err)
	}
	return records(out), nil
}

// Unstaged returns the paths of which the work tree differs from the index.
func (r *Repo) Unstaged() ([]string, error) {
	out, err := git(r.Root, "diff-files", "--name-only", "-z")
	if err != nil {
		return nil, gitError(err)
	}
	return records(out), nil
}

func records(out []byte) []string {
	var list []string
	for record := range strings.SplitSeq(string(out), "\x00") {
		if record != "" {
			list = append(list, record)
		}
	}
	return list
}

// start enters the files of a list, of which each record is "MODE ... ID ...", a
// tab and the path, and starts the process that reads them.
func (v *Revision) start(r *Repo, list []byte, entry func(fields []string) (id string, ok bool)) error {
	for record := range strings.SplitSeq(string(list), "\x00") {
		head, p, ok := strings.Cut(record, "\t")
		fields := strings.Fields(head)
		if !ok || len(fields) != 3 || fields[0] == "160000" {
			continue // another repository within
		}
		if id, counts := entry(fields); counts {
			v.add(p, id, fields[0] == "120000")
		}
	}
	return v.ready(r)
}

// add enters a file.
func (v *Revision) add(p, id string, link bool) {
	if fs.ValidPath(p) {
		v.blobs = append(v.blobs, blob{p, id, link})
	}
}

// ready starts the process that reads the files.
func (v *Revision) ready(r *Repo) error {
	v.Paths = make([]string, 0, len(v.blobs))
	sorted := true
	for _, b := range v.blobs {
		if last := len(v.Paths) - 1; last >= 0 && v.Paths[last] >= b.path {
			sorted = false
			break
		}
		v.Paths = append(v.Paths, b.path)
	}
	if !sorted {
		slices.SortStableFunc(v.blobs, func(a, b blob) int { return strings.Compare(a.path, b.path) })
		v.blobs = slices.CompactFunc(v.blobs, func(a, b blob) bool { return a.path == b.path })
		v.Paths = v.Paths[:0]
		for _, b := range v.blobs {
			v.Paths = append(v.Paths, b.path)
		}
	}
	v.kept, v.room = map[string][]byte{}, maxKept
	v.cmd = gitCommand(r.Root, "cat-file", "--batch")
	var err error
	if v.in, err = v.cmd.StdinPipe(); err != nil {
		return err
	}
	out, err := v.cmd.StdoutPipe()
	if err != nil {
		return err
	}
	v.out = bufio.NewReader(out)
	if err := v.cmd.Start(); err != nil {
		return gitError(err)
	}
	return nil
}

// folder lists what lies in a folder; nil if there is none.
func (v *Revision) folder(dir string) []fs.DirEntry {
	prefix := dir + "/"
	if dir == "." {
		prefix = ""
	}
	at, _ := slices.BinarySearch(v.Paths, prefix)
	var list []fs.DirEntry
	last := ""
	for ; at < len(v.Paths) && strings.HasPrefix(v.Paths[at], prefix); at++ {
		name, _, isDir := strings.Cut(v.Paths[at][len(prefix):], "/")
		if name != last {
			list = append(list, memory.Entry(name, isDir))
			last = name
		}
	}
	return list
}

// Close ends reading.
func (v *Revision) Close() error {
	v.in.Close()
	return v.cmd.Wait()
}

// maxLinks bounds how many links may follow one another.
const maxLinks = 20

// Open opens a file or folder.
func (v *Revision) Open(name string) (fs.File, error) {
	fail := func(err error) (fs.File, error) { return nil, &fs.PathError{Op: "open", Path: name, Err: err} }
	if !fs.ValidPath(name) {
		return fail(fs.ErrInvalid)
	}
	p := name
	for range maxLinks {
		b, ok := v.blob(p)
		if !ok {
			if list := v.folder(p); list != nil || p == "." {
				return memory.Folder(path.Base(name), list), nil
			}
			return fail(fs.ErrNotExist)
		}
		text, err := v.read(b.id)
		if err != nil {
			return fail(err)
		}
		if !b.link {
			return memory.File(path.Base(name), text), nil
		}
		if p = path.Join(path.Dir(p), string(text)); !fs.ValidPath(p) {
			return fail(errors.New("the link leads out of the repository"))
		}
	}
	return fail(errors.New("too many links"))
}

// maxKept bounds how much of what was read is kept, in bytes.
const maxKept = 16 << 20

// read asks git for an object, once as long as there is room to keep it.
func (v *Revision) read(id string) ([]byte, error) {
	v.mutex.Lock()
	defer v.mutex.Unlock()
	if text, ok := v.kept[id]; ok {
		return text, nil
	}
	text, err := v.ask(id)
	if err == nil && len(text) <= v.room {
		v.kept[id], v.room = text, v.room-len(text)
	}
	return text, err
}

func (v *Revision) ask(id string) ([]byte, error) {
	if len(id) == 20 {
		id = hex.EncodeToString([]byte(id))
	}
	if _, err := io.WriteString(v.in, id+"\n"); err != nil {
		return nil, err
	}
	head, err := v.out.ReadString('\n')
	if err != nil {
		return nil, err
	}
	size := 0
	if _, err := fmt.Sscanf(head, id+" blob %d", &size); err != nil {
		return nil, fmt.Errorf("git does not have it: %s", strings.TrimSpace(head))
	}
	text := make([]byte, size+1)
	if _, err := io.ReadFull(v.out, text); err != nil {
		return nil, err
	}
	return text[:size], nil
}
