package repo

import (
	"bufio"
	"cmp"
	"context"
	"errors"
	"io/fs"
	"maps"
	"os/exec"
	"path"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
)

// listGit takes the list from git: tracked files that are there, and new ones
// that are not ignored. What git tracks is handed to early at once. Then the
// folders are read: that tells which files are gone, and whether there is
// anything that git does not track, in which case git is asked for what is new.
// A file that git is told to leave out of the work tree, or to take for unchanged,
// is listed where it is there all the same: programs read it.
func (r *Repo) listGit(early func(*Repo)) error {
	index, ok := readIndex(r.git, nil)
	if !ok {
		var err error
		if index, err = r.git.listIndex(); err != nil {
			return err
		}
	}
	r.Paths, r.modules = index.paths, index.modules
	r.arrange()
	if early != nil && !index.sparse {
		early(r)
	}
	o := r.others()
	there := r.compare(o)
	new, err := o.found()
	if err != nil {
		return err
	}
	if len(there) != len(r.Paths) || len(new) > 0 {
		r.Paths = slices.Concat(there, new)
		r.arrange()
	}
	return nil
}

// arrange sorts the paths, each once.
func (r *Repo) arrange() {
	if !slices.IsSorted(r.Paths) {
		slices.Sort(r.Paths)
	}
	r.Paths = slices.Compact(r.Paths)
}

// listIndex has git list its index.
func (g *gitAt) listIndex() (indexed, error) {
	x := indexed{modules: map[string]bool{}}
	err := g.eachRecord(context.Background(), func(record string) {
		head, p, ok := strings.Cut(record, "\t") // tag, mode, name of the contents, stage
		fields := strings.Fields(head)
		switch {
		case !ok || len(fields) != 4:
		case fields[1] == "160000":
			x.modules[p] = true
		default:
			x.sparse = x.sparse || fields[0] == "S"
			x.paths = append(x.paths, p)
		}
	}, "-t", "-s", "-c")
	return x, err
}

// eachRecord calls use for each record that git ls-files prints.
func (g *gitAt) eachRecord(ctx context.Context, use func(string), args ...string) error {
	cmd := g.commandIn(ctx, g.top, append([]string{"ls-files", "-z"}, args...)...)
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

// others is the search for files that git does not track. Git makes it, from the
// first sign that there are any. Meanwhile the folders it may look into are looked
// at for ignore lists that are pipes or the like: git would wait for them without
// end. Where there is one, the search is made without git.
type others struct {
	repo   *Repo
	cancel context.CancelFunc
	ask    func()
	wait   sync.WaitGroup
	paths  []string
	err    error

	mutex   sync.Mutex
	folders []string // none of whose files is tracked
	endless atomic.Bool
}

func (r *Repo) others() *others {
	ctx, cancel := context.WithCancel(context.Background())
	o := &others{repo: r, cancel: cancel}
	o.ask = sync.OnceFunc(func() {
		o.wait.Go(func() {
			o.err = r.git.eachRecord(ctx, func(p string) {
				if !strings.HasSuffix(p, "/") { // a repository within
					o.paths = append(o.paths, p)
				}
			}, "-o", "--exclude-standard")
		})
	})
	return o
}

// folder notes a folder with nothing in it that is tracked.
func (o *others) folder(dir string) {
	o.mutex.Lock()
	o.folders = append(o.folders, dir)
	o.mutex.Unlock()
	o.ask()
}

// stop has git no longer wait for an ignore list.
func (o *others) stop() {
	o.endless.Store(true)
	o.cancel()
}

// found returns what is not tracked.
func (o *others) found() ([]string, error) {
	defer o.cancel()
	w := walker{repo: o.repo, fsys: files{o.repo.place, o.repo.top}, most: maxSearched}
	slices.Sort(o.folders)
	for _, dir := range o.folders {
		if o.endless.Load() {
			break
		}
		if lists := w.above(dir); !ignored(dir, true, lists) {
			w.folder(dir, lists)
		}
		if w.odd {
			o.stop()
		}
	}
	o.wait.Wait()
	if !o.endless.Load() {
		return o.paths, o.err
	}
	o.repo.Notes = append(o.repo.Notes, "git cannot be asked for what it does not track, as one of the ignore lists is not a regular file; that is listed without it")
	w = walker{repo: o.repo, fsys: w.fsys, git: true}
	w.folder(".", nil)
	return w.paths, nil
}

// maxSearched bounds the search for ignore lists that are none: files that were not
// tracked did not come with a clone.
const maxSearched = 20_000

// compare reads the folders of the paths. It returns the paths at which there is
// a file, and has git look for others at the first thing that is none of them. A
// folder that cannot be read is taken to hold what it should.
func (r *Repo) compare(o *others) []string {
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
				r.compareFolder(sorted[i], folders, there, o)
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
func (r *Repo) compareFolder(dir string, folders map[string]*listed, there []bool, o *others) {
	list, head := *folders[dir], 0 // how much of the paths is the folder's
	if dir != "" {
		head = len(dir) + 1
	}
	err := files{r.place, r.top}.list(cmp.Or(dir, "."), func(name []byte, kind fs.FileMode) {
		if kind == fs.ModeDir {
			below := path.Join(dir, string(name))
			if folders[below] == nil && !r.modules[below] && string(name) != ".git" {
				o.folder(below)
			}
			return
		}
		if waitedFor(kind) && string(name) == ignoreList {
			o.stop()
		}
		i, found := slices.BinarySearchFunc(list, name, func(at int32, name []byte) int { return cmp.Compare(r.Paths[at][head:], string(name)) })
		if found {
			there[list[i]] = true
		} else {
			o.ask()
		}
	})
	if err != nil && !errors.Is(err, fs.ErrNotExist) && !errors.Is(err, errLeadsOut) && !errors.Is(err, errGits) && !errors.Is(err, syscall.ENOTDIR) {
		for _, i := range list {
			there[i] = true
		}
	}
}
