package repo

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"runtime"
	"strings"
)

// place is a folder and what lies below it. Everything that this package reads or
// changes there goes through it, so that nothing a repository brings, links above
// all, leads a read or a write anywhere else. Paths have slashes and start at the
// folder.
type place struct {
	root *os.Root
	name string // the folder's absolute path

	// fault is called before and after each single step that changes something. A
	// test stops the program there by an error; elsewhere it is nil.
	fault func(step string) error
}

func openPlace(dir string) (*place, error) {
	root, err := os.OpenRoot(dir)
	if err != nil {
		return nil, err
	}
	return &place{root: root, name: dir}, nil
}

// within opens a folder below the place, which must not be a link.
func (p *place) within(name string) (*place, error) {
	info, err := p.root.Lstat(name)
	if err != nil {
		return nil, err
	}
	if !info.IsDir() {
		return nil, fmt.Errorf("%s is no folder but %s; it is not used", filepath.Join(p.name, name), kindOf(info.Mode()))
	}
	root, err := p.root.OpenRoot(name)
	if err != nil {
		return nil, err
	}
	return &place{root, filepath.Join(p.name, name), p.fault}, nil
}

func (p *place) close() error { return p.root.Close() }

// Why a path is not followed.
var (
	errLeadsOut = errors.New("it is a link that leads out of the repository")
	errGits     = errors.New("it is a link into git's own folder")
	errLinks    = errors.New("too many links lead on from it")
)

// maxLinks bounds how many links may follow one another, as systems do.
const maxLinks = 40

// resolve returns the path to which the links on the way of a path lead. A path
// that ends nowhere is returned as it is from there on. The error names the link
// that leads out of the place.
func (p *place) resolve(name string) (string, error) {
	done, rest := "", strings.Split(name, "/")
	for links := 0; len(rest) > 0; {
		part := rest[0]
		rest = rest[1:]
		switch part {
		case "", ".":
			continue
		case "..":
			if done == "" {
				return "", &fs.PathError{Op: "open", Path: name, Err: errLeadsOut}
			}
			done = strings.TrimPrefix(path.Dir(done), ".")
			continue
		}
		done = path.Join(done, part)
		info, err := p.root.Lstat(done)
		if err != nil {
			if errors.Is(err, fs.ErrNotExist) {
				return path.Join(append([]string{done}, rest...)...), nil
			}
			return "", err
		}
		if info.Mode()&fs.ModeSymlink == 0 {
			continue
		}
		to, err := p.root.Readlink(done)
		if err != nil {
			return "", err
		}
		if links++; links > maxLinks {
			return "", &fs.PathError{Op: "open", Path: done, Err: errLinks}
		}
		to = filepath.ToSlash(to)
		if path.IsAbs(to) || filepath.IsAbs(to) {
			return "", &fs.PathError{Op: "open", Path: done, Err: errLeadsOut}
		}
		up := strings.TrimPrefix(path.Dir(done), ".")
		if !filepath.IsLocal(path.Join(up, to)) {
			return "", &fs.PathError{Op: "open", Path: done, Err: errLeadsOut}
		}
		done, rest = up, append(strings.Split(to, "/"), rest...)
	}
	if done == "" {
		return ".", nil
	}
	if gits(done) && !gits(name) {
		return "", &fs.PathError{Op: "open", Path: name, Err: errGits}
	}
	return done, nil
}

// gits reports whether a path leads through a folder that git keeps for itself, also
// as file systems spell it that fold case, drop blanks and full stops at the end, or
// pass over characters that do not show.
func gits(name string) bool {
	for part := range strings.SplitSeq(name, "/") {
		part = strings.Map(func(r rune) rune {
			if r >= 0x200c && r <= 0x200f || r >= 0x202a && r <= 0x202e || r >= 0x206a && r <= 0x206f || r == 0xfeff {
				return -1
			}
			return r
		}, part)
		part = strings.TrimRight(strings.ToLower(part), " .")
		if part == ".git" || part == "git~1" && runtime.GOOS == "windows" {
			return true
		}
	}
	return false
}

// open opens a regular file or a folder for reading. Nothing else is waited for:
// not for what a pipe may bring, nor for a device.
func (p *place) open(name string) (*os.File, fs.FileInfo, error) {
	f, err := p.root.OpenFile(name, os.O_RDONLY|noWait, 0)
	if err != nil {
		return nil, nil, err
	}
	return plainFile(f, name)
}

// plainFile closes what is neither a regular file nor a folder.
func plainFile(f *os.File, name string) (*os.File, fs.FileInfo, error) {
	info, err := f.Stat()
	if err == nil && !info.Mode().IsRegular() && !info.IsDir() {
		err = notRegular(name, info.Mode())
	}
	if err != nil {
		f.Close()
		return nil, nil, err
	}
	return f, info, nil
}

func notRegular(name string, mode fs.FileMode) error {
	return &fs.PathError{Op: "open", Path: name, Err: fmt.Errorf("it is not a regular file but %s", kindOf(mode))}
}

// kindOf says in words what a file is.
func kindOf(mode fs.FileMode) string {
	switch {
	case mode&fs.ModeSymlink != 0:
		return "a link"
	case mode&fs.ModeNamedPipe != 0:
		return "a pipe"
	case mode&fs.ModeSocket != 0:
		return "a socket"
	case mode&fs.ModeDevice != 0:
		return "a device"
	case mode.IsDir():
		return "a folder"
	}
	return "a file"
}

// maxFile bounds what is read of one file as a whole, in bytes. No settings file
// and no list of packages comes near it.
const maxFile = 64 << 20

var errLarge = fmt.Errorf("it is larger than %d MB", maxFile>>20)

// read reads a whole file with its rights.
func (p *place) read(name string) ([]byte, fs.FileMode, error) {
	f, info, err := p.open(name)
	if err != nil {
		return nil, 0, err
	}
	defer f.Close()
	text, err := readWhole(f, info, name)
	return text, info.Mode(), err
}

func readWhole(f io.Reader, info fs.FileInfo, name string) ([]byte, error) {
	if info.IsDir() {
		return nil, notRegular(name, info.Mode())
	}
	text := make([]byte, 0, min(info.Size(), maxFile)+1)
	for {
		n, err := f.Read(text[len(text):cap(text)])
		text = text[:len(text)+n]
		switch {
		case errors.Is(err, io.EOF):
			return text, nil
		case err != nil:
			return nil, err
		case len(text) > maxFile:
			return nil, &fs.PathError{Op: "read", Path: name, Err: errLarge}
		case len(text) == cap(text):
			text = append(text, 0)[:len(text)]
		}
	}
}

// step does a single thing that changes the place.
func (p *place) step(name string, act func() error) error {
	if p.fault == nil {
		return act()
	}
	if err := p.fault("before " + name); err != nil {
		return err
	}
	if err := act(); err != nil {
		return err
	}
	return p.fault("after " + name)
}

// create makes a file that is not there yet, safely on disk. A link of that name
// is not followed but an error.
func (p *place) create(name string, text []byte, mode fs.FileMode) error {
	var f *os.File
	err := p.step("create "+name, func() (err error) {
		f, err = p.root.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
		return err
	})
	if f == nil {
		return err
	}
	if err == nil {
		err = p.step("write "+name, func() error { _, err := f.Write(text); return err })
	}
	if err == nil {
		err = p.step("give rights to "+name, func() error { return f.Chmod(mode.Perm()) })
	}
	if err == nil {
		err = p.step("keep "+name, f.Sync)
	}
	return errors.Join(err, f.Close())
}

func (p *place) rename(from, to string) error {
	return p.step("rename "+from+" to "+to, func() error { return p.root.Rename(from, to) })
}

func (p *place) remove(name string) error {
	return p.step("remove "+name, func() error { return p.root.Remove(name) })
}

// removeAll removes a folder with all in it, or nothing where there is none.
func (p *place) removeAll(name string) error {
	return p.step("remove all of "+name, func() error { return p.root.RemoveAll(name) })
}

// makeFolder makes a folder with those above it; one that is there is good.
func (p *place) makeFolder(name string, mode fs.FileMode) error {
	return p.step("make "+name, func() error { return p.root.MkdirAll(name, mode) })
}

// keepFolder brings to disk which files a folder holds.
func (p *place) keepFolder(name string) error {
	return p.step("keep the folder "+name, func() error { return syncFolder(p.root, name) })
}

// there reports whether there is anything of that name, be it a link to nowhere.
func (p *place) there(name string) bool {
	_, err := p.root.Lstat(name)
	return err == nil
}
