// Package tree knows the files of a repository and the type of each.
//
// A type comes from the file's name, else its extension, else, for missing and
// ambiguous extensions only, from its first bytes. Nothing else is opened.
package tree

import (
	"cmp"
	"errors"
	"io/fs"
	"slices"
	"sync"
	"sync/atomic"

	"jollytreaty/core/filetype"
)

// File is one file of the repository.
type File struct {
	Path string // relative to the root, with forward slashes
	Type *filetype.Type
}

// Tree is the files of a repository, in path order.
type Tree struct {
	Files []File
}

// readers is how many files are read at a time.
const readers = 4

// headSize is how much of a file is read to tell its type, in bytes.
const headSize = 4096

// Build tells the type of every path. Paths that vanished or are folders are
// left out; unreadable files stay, with an unknown type.
func Build(fsys fs.FS, paths []string) *Tree {
	tree := &Tree{Files: make([]File, 0, len(paths))}
	present := map[*filetype.Type]bool{}
	type open struct {
		file  int
		doubt *filetype.Doubt
	}
	var later []open
	for _, p := range paths {
		typ, doubt := filetype.ByPath(p)
		if typ == nil {
			later = append(later, open{len(tree.Files), doubt})
		} else {
			present[typ] = true
		}
		tree.Files = append(tree.Files, File{Path: p, Type: typ})
	}
	var wait sync.WaitGroup
	gone := make([]bool, len(tree.Files))
	anyGone := atomic.Bool{}
	for w := range readers {
		wait.Go(func() {
			r := NewReader(fsys, headSize)
			defer r.Close()
			for _, o := range later[w*len(later)/readers : (w+1)*len(later)/readers] {
				f := &tree.Files[o.file]
				if o.doubt != nil && !o.doubt.Matters(present) {
					f.Type = o.doubt.Usual()
					continue
				}
				head, err := r.head(f.Path)
				switch {
				case errors.Is(err, errFolder), errors.Is(err, fs.ErrNotExist):
					gone[o.file] = true
					anyGone.Store(true)
				case err != nil:
					f.Type = filetype.Unknown
				case o.doubt != nil:
					f.Type = o.doubt.Decide(head)
				default:
					f.Type = filetype.ByStart(head)
				}
			}
		})
	}
	wait.Wait()
	if anyGone.Load() {
		kept := tree.Files[:0]
		for i, f := range tree.Files {
			if !gone[i] {
				kept = append(kept, f)
			}
		}
		tree.Files = kept
	}
	byPath := func(a, b File) int { return cmp.Compare(a.Path, b.Path) }
	if !slices.IsSortedFunc(tree.Files, byPath) {
		slices.SortFunc(tree.Files, byPath)
	}
	return tree
}

// On returns the tree of other paths, in order, of a state from which only the files
// at the changed paths differ: the others are what they were.
func (t *Tree) On(fsys fs.FS, paths, changed []string) *Tree {
	out := &Tree{Files: make([]File, 0, len(paths))}
	var others []string
	changed = slices.Sorted(slices.Values(changed))
	at, next := 0, 0
	for _, p := range paths {
		for at < len(t.Files) && t.Files[at].Path < p {
			at++
		}
		for next < len(changed) && changed[next] < p {
			next++
		}
		if at < len(t.Files) && t.Files[at].Path == p && (next == len(changed) || changed[next] != p) {
			out.Files = append(out.Files, t.Files[at])
		} else {
			out.Files = append(out.Files, File{Path: p})
			others = append(others, p)
		}
	}
	built := Build(fsys, others).Files
	kept := out.Files[:0]
	for _, f := range out.Files {
		if f.Type == nil {
			if len(built) == 0 || built[0].Path != f.Path {
				continue // it is not there
			}
			f, built = built[0], built[1:]
		}
		kept = append(kept, f)
	}
	out.Files = kept
	return out
}

var errFolder = errors.New("is a folder")

// head reads what a regular file starts with, at the end of a link, too.
func (r *Reader) head(p string) ([]byte, error) {
	if _, ok := r.fsys.(Opener); ok {
		if head, err := r.Read(p); err == nil {
			return head, nil
		}
	}
	info, err := fs.Stat(r.fsys, p)
	switch {
	case err != nil:
		return nil, err
	case info.IsDir():
		return nil, errFolder
	case !info.Mode().IsRegular():
		return nil, fs.ErrInvalid // a pipe or device could block for ever
	}
	return r.readAlone(p)
}

// Count is a file type and how many files have it.
type Count struct {
	Type  *filetype.Type
	Files int
}

// Counts returns the types present, most files first, then by name.
func (t *Tree) Counts() []Count {
	by := map[*filetype.Type]int{}
	for _, f := range t.Files {
		by[f.Type]++
	}
	counts := make([]Count, 0, len(by))
	for typ, n := range by {
		counts = append(counts, Count{typ, n})
	}
	slices.SortFunc(counts, func(a, b Count) int {
		return cmp.Or(cmp.Compare(b.Files, a.Files), cmp.Compare(a.Type.Name, b.Type.Name))
	})
	return counts
}
