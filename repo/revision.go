package repo

import (
	"bufio"
	"bytes"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"

	"jollytreaty/core/memory"
)

// Revision is the files of one commit, or of the index, read from git without
// touching the work tree. It is a file system; Close ends the process that reads
// for it.
type Revision struct {
	Name  string   // the commit's hash
	Paths []string // every file, sorted

	blobs []blob // by path

	mutex   sync.Mutex
	kept    map[string][]byte // what was read, by id: most of it is asked for again
	room    int               // for more of it, in bytes
	missing string            // the first file whose contents could not be had
	ended   error             // why git reads no more; nil while it does
	git     *gitAt
	cmd     *exec.Cmd
	in      io.WriteCloser
	out     *bufio.Reader
	said    bytes.Buffer // by git, beside the contents
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

// MissingError says that the clone does not have what is asked for. It tells what
// would bring it.
type MissingError struct{ What, Bring string }

func (e *MissingError) Error() string {
	return fmt.Sprintf("%s; to bring it: %s", e.What, e.Bring)
}

// What brings what a clone leaves out.
const (
	bringHistory  = "git fetch --unshallow"
	bringContents = "git fetch --refetch --no-filter"
)

// At reads the list of files of a revision, in any of the ways in which git
// names one; of all files, or of those at the paths. The error says that git knows
// none of that name, or is a MissingError.
func (r *Repo) At(revision string, paths ...string) (*Revision, error) {
	if !r.Git {
		return nil, fmt.Errorf("%s is no git work tree, so it has no revisions", r.Root)
	}
	name, err := r.git.line("rev-parse", "--verify", "--quiet", "--end-of-options", revision+"^{commit}")
	if err != nil {
		if r.git.says("rev-parse", "--is-shallow-repository") {
			return nil, &MissingError{"git knows no revision of that name here, as the clone is shallow and has a part of its history only", bringHistory}
		}
		if id, err := r.git.line("rev-parse", "--verify", "--quiet", "--end-of-options", revision); err == nil && r.git.partial() {
			return nil, &MissingError{fmt.Sprintf("the clone does not have the commit %s", id), bringContents}
		}
		return nil, errors.New("git knows no revision of that name")
	}
	v := &Revision{Name: name}
	args := []string{"ls-tree", "-r", "-z", "--full-tree", v.Name}
	if len(paths) > 0 && len(paths) < maxNamed {
		args = append(append(args, "--"), literal(paths)...)
	}
	list, err := r.git.ask(args...)
	if err != nil {
		if r.git.partial() {
			return nil, &MissingError{fmt.Sprintf("the clone does not have the list of files of %s", revision), bringContents}
		}
		return nil, err
	}
	return v, v.start(r, list, func(fields []string) (id string, ok bool) { return fields[2], fields[1] == "blob" })
}

// maxNamed bounds how many paths are named to git at once.
const maxNamed = 1000

// literal keeps git from reading patterns in paths.
func literal(paths []string) []string {
	out := make([]string, len(paths))
	for i, p := range paths {
		out[i] = ":(literal,top)" + p
	}
	return out
}

// says reports whether git answers with "true".
func (g *gitAt) says(args ...string) bool {
	answer, err := g.line(args...)
	return err == nil && answer == "true"
}

// partial reports whether the clone leaves out some of what its history is made of.
func (g *gitAt) partial() bool {
	_, err := g.line("config", "--get-regexp", `^(remote\..*\.promisor|extensions\.partialclone)$`)
	return err == nil
}

// Borrow has contents that the clone leaves out read from the repository it was cloned
// from, where that is a folder of this machine: as git reads from alternates, without
// fetching or starting anything.
func (r *Repo) Borrow() {
	if !r.Git {
		return
	}
	remotes, err := r.git.ask("config", "--get-regexp", `^remote\..*\.promisor$`)
	if err != nil {
		return // nothing is left out
	}
	var stores []string
	for line := range strings.Lines(string(remotes)) {
		key, promises, _ := strings.Cut(strings.TrimSpace(line), " ")
		url, err := r.git.line("config", strings.TrimSuffix(key, "promisor")+"url")
		if err != nil || promises != "true" {
			continue
		}
		if rest, ok := strings.CutPrefix(url, "file://"); ok {
			url = rest
		}
		for _, objects := range []string{filepath.Join(url, ".git", "objects"), filepath.Join(url, "objects")} {
			if info, err := os.Stat(objects); err == nil && info.IsDir() && filepath.IsAbs(objects) {
				stores = append(stores, strconv.Quote(objects))
				break
			}
		}
	}
	if had := r.git.variable("GIT_ALTERNATE_OBJECT_DIRECTORIES"); had != "" {
		stores = append(stores, had)
	}
	if stores != nil {
		r.git.env = append(r.git.env, "GIT_ALTERNATE_OBJECT_DIRECTORIES="+strings.Join(stores, string(os.PathListSeparator)))
	}
}

// Staged reads the list of files that would be committed: those of the index. Of
// files with conflicts of a merge that is not finished, the side at hand counts.
func (r *Repo) Staged() (*Revision, error) {
	if !r.Git {
		return nil, fmt.Errorf("%s is no git work tree, so nothing is staged", r.Root)
	}
	v := &Revision{Name: "what is staged"}
	if list, ok := entries(r.git); ok {
		v.blobs = list
		return v, v.ready(r)
	}
	list, err := r.git.ask("ls-files", "--stage", "-z", "--full-name")
	if err != nil {
		return nil, err
	}
	return v, v.start(r, list, func(fields []string) (id string, ok bool) { return fields[1], fields[2] == "0" || fields[2] == "2" })
}

// Changed returns the paths in which the index differs from the last commit, or
// all that is staged where there is none. Files that go are left out.
func (r *Repo) Changed() ([]string, error) {
	differs := func(base string) ([]byte, error) {
		return r.git.ask("diff-index", "--cached", "--name-only", "-z", "--no-renames", "--no-ext-diff", "--no-textconv", "--ignore-submodules", "--diff-filter=d", base, "--")
	}
	out, err := differs("HEAD")
	if err == nil {
		return records(out), nil
	}
	if _, none := r.git.line("rev-parse", "--verify", "--quiet", "HEAD"); none == nil {
		if r.git.partial() {
			return nil, &MissingError{"the clone does not have the list of files of its last commit", bringContents}
		}
		return nil, err
	}
	empty, err := r.git.line("hash-object", "-t", "tree", "--stdin")
	if err == nil {
		out, err = differs(empty)
	}
	if err != nil {
		return nil, err
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
		if id, counts := entry(fields); counts && ordinary(p) {
			v.blobs = append(v.blobs, blob{p, id, fields[0] == "120000"})
		}
	}
	return v.ready(r)
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
	v.git = r.git
	v.cmd = r.git.command("cat-file", "--batch")
	v.cmd.Stderr = &v.said
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
	v.mutex.Lock()
	defer v.mutex.Unlock()
	if v.ended != nil {
		return nil
	}
	v.ended = errors.New("it is closed")
	v.in.Close()
	return v.cmd.Wait()
}

// Missing returns an error, most often a MissingError, if contents that were asked for
// could not be had, so that whatever was found out from the others says nothing.
func (v *Revision) Missing() error {
	v.mutex.Lock()
	defer v.mutex.Unlock()
	switch {
	case v.missing == "":
		return nil
	case v.git.partial():
		return &MissingError{fmt.Sprintf("the clone leaves out contents of files, such as those of %s in %s", v.missing, v.Name), bringContents}
	case v.ended != nil:
		return fmt.Errorf("git cannot read %s in %s: %w", v.missing, v.Name, v.ended)
	}
	return &MissingError{fmt.Sprintf("the repository does not have the contents of %s in %s", v.missing, v.Name), "git fsck tells what is lost"}
}

// Open opens a file or folder.
func (v *Revision) Open(name string) (fs.File, error) {
	fail := func(err error) (fs.File, error) { return nil, &fs.PathError{Op: "open", Path: name, Err: err} }
	if !valid(name) {
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
		text, err := v.read(b)
		if err != nil {
			return fail(err)
		}
		if !b.link {
			return memory.File(path.Base(name), text), nil
		}
		if p = path.Join(path.Dir(p), string(text)); !valid(p) || path.IsAbs(string(text)) {
			return fail(errLeadsOut)
		}
	}
	return fail(errLinks)
}

// maxKept bounds how much of what was read is kept, in bytes.
const maxKept = 16 << 20

// read asks git for a file's contents, once as long as there is room to keep them.
func (v *Revision) read(b blob) ([]byte, error) {
	v.mutex.Lock()
	defer v.mutex.Unlock()
	if text, ok := v.kept[b.id]; ok {
		return text, nil
	}
	if v.missing != "" {
		return nil, errMissing // the result is of no use any more
	}
	text, err := v.ask(b.id)
	if errors.Is(err, errMissing) {
		v.missing = b.path
	}
	if err == nil && len(text) <= v.room {
		v.kept[b.id], v.room = text, v.room-len(text)
	}
	return text, err
}

var errMissing = errors.New("the clone does not have it")

func (v *Revision) ask(id string) ([]byte, error) {
	if len(id) == 20 {
		id = hex.EncodeToString([]byte(id))
	}
	if _, err := io.WriteString(v.in, id+"\n"); err != nil {
		return nil, v.end()
	}
	head, err := v.out.ReadString('\n')
	if err != nil {
		return nil, v.end()
	}
	size := 0
	if _, err := fmt.Sscanf(head, id+" blob %d", &size); err != nil {
		if strings.HasSuffix(head, " missing\n") {
			return nil, errMissing
		}
		return nil, fmt.Errorf("git cannot read it: %s", strings.TrimSpace(head))
	}
	if size > maxFile {
		if _, err := v.out.Discard(size + 1); err != nil {
			return nil, v.end()
		}
		return nil, errLarge
	}
	text := make([]byte, size+1)
	if _, err := io.ReadFull(v.out, text); err != nil {
		return nil, v.end()
	}
	return text[:size], nil
}

// end keeps why git ended although it was still asked: it does where it may not fetch
// what the clone leaves out.
func (v *Revision) end() error {
	if v.ended == nil {
		v.in.Close()
		v.ended = errors.New("it ended")
		if err := v.cmd.Wait(); err != nil {
			v.ended = err
		}
		if line, _, _ := strings.Cut(strings.TrimSpace(v.said.String()), "\n"); line != "" {
			v.ended = errors.New(line)
		}
	}
	return errMissing
}
