package repo

import (
	"bytes"
	"errors"
	"io/fs"
)

// Differ returns those of the paths at which the files on disk have other contents
// than the revision, or are there in one of the two only. They are compared byte by
// byte, but for the line ends that git may turn when it checks out: whoever would
// convert more by a program of his own is told of a difference, since none is run.
func (r *Repo) Differ(v *Revision, paths []string) ([]string, error) {
	var out []string
	for _, p := range paths {
		now, there, err := r.onDisk(p)
		if err != nil {
			return nil, err
		}
		b, known := v.blob(p)
		if !there || !known {
			if there != known {
				out = append(out, p)
			}
			continue
		}
		text, err := v.read(b)
		if errors.Is(err, errMissing) {
			return nil, v.Missing()
		}
		if err != nil {
			return nil, err
		}
		if !sameText(now, text) {
			out = append(out, p)
		}
	}
	return out, nil
}

// onDisk reads the file at a path, links not followed: of a link, where it leads.
func (r *Repo) onDisk(p string) (text []byte, there bool, err error) {
	info, err := r.place.root.Lstat(p)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil, false, nil
	case err != nil:
		return nil, false, err
	case info.Mode()&fs.ModeSymlink != 0:
		to, err := r.place.root.Readlink(p)
		return []byte(to), true, err
	}
	text, _, err = r.place.read(p)
	return text, true, err
}

// Uncommitted returns those of the files at the paths that have changes git does not
// have in its last commit; none outside of git. It does not go by what git is told
// to ignore or to take for unchanged.
func (r *Repo) Uncommitted(paths []string) ([]string, error) {
	if !r.Git || len(paths) == 0 {
		return nil, nil
	}
	real := make([]string, len(paths))
	for i, p := range paths {
		var err error
		if real[i], err = r.place.resolve(p); err != nil {
			return nil, err
		}
	}
	if _, err := r.git.line("rev-parse", "--verify", "--quiet", "HEAD"); err != nil {
		return real, nil // nothing is committed
	}
	v, err := r.At("HEAD", real...)
	if err != nil {
		return nil, err
	}
	defer v.Close()
	return r.Differ(v, real)
}

// sameText reports whether two texts are the same but for line ends.
func sameText(a, b []byte) bool {
	if bytes.Equal(a, b) {
		return true
	}
	crlf, lf := []byte("\r\n"), []byte("\n")
	return bytes.Equal(bytes.ReplaceAll(a, crlf, lf), bytes.ReplaceAll(b, crlf, lf))
}
