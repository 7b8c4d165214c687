package tree

import (
	"io/fs"
	"strings"
	"sync"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/filetype"
)

// foldered is a file system that opens folders, and counts how often. It refuses
// those whose name ends in "!", and links, as files are opened without following them.
type foldered struct {
	fstest.MapFS
	*opened
}

// opened counts by name.
type opened struct {
	sync.Mutex
	of map[string]int
}

func inFolders(files fstest.MapFS) foldered {
	return foldered{files, &opened{of: map[string]int{}}}
}

func (f foldered) OpenFolder(name string) (Folder, error) {
	f.Lock()
	f.of[name]++
	f.Unlock()
	if strings.HasSuffix(name, "!") {
		return nil, fs.ErrPermission
	}
	return openFolder{f.MapFS, name}, nil
}

type openFolder struct {
	files fstest.MapFS
	name  string
}

func (o openFolder) Read(name string, buf []byte) (int, error) {
	file := o.files[strings.TrimPrefix(o.name+"/"+name, "./")]
	if file == nil || file.Mode&fs.ModeSymlink != 0 {
		return 0, fs.ErrNotExist
	}
	return copy(buf, file.Data), nil
}

func (openFolder) Close() error { return nil }

func TestReader(t *testing.T) {
	files := fstest.MapFS{
		"a": {Data: []byte("at the root")}, "d/b": {Data: []byte("first")}, "d/c": {Data: []byte("second")},
		"e!/f": {Data: []byte("alone")}, "d/pipe": {Mode: fs.ModeNamedPipe},
	}
	for name, fsys := range map[string]fs.FS{"by folders": inFolders(files), "file by file": files} {
		t.Run(name, func(t *testing.T) {
			r := NewReader(fsys, 6)
			defer r.Close()
			for _, c := range [][2]string{{"a", "at the"}, {"d/b", "first"}, {"d/c", "second"}, {"e!/f", "alone"}, {"d/b", "first"}} {
				got, err := r.Read(c[0])
				require.NoError(t, err, c[0])
				assert.Equal(t, c[1], string(got))
			}
			_, err := r.Read("d/none")
			assert.ErrorIs(t, err, fs.ErrNotExist)
			if f, ok := fsys.(foldered); ok {
				assert.Equal(t, map[string]int{".": 1, "d": 2, "e!": 1}, f.of, "a folder is opened once for neighbours")
			}
		})
	}
}

// However much is wanted, as much is read as there is.
func TestReaderOfLongFiles(t *testing.T) {
	for _, size := range []int{usual - 1, usual, usual + 1, 5 * usual, 9 * usual} {
		text := strings.Repeat("x", size)
		for _, fsys := range []fs.FS{inFolders(fstest.MapFS{"a": {Data: []byte(text)}}), fstest.MapFS{"a": {Data: []byte(text)}}} {
			r := NewReader(fsys, 8*usual)
			got, err := r.Read("a")
			require.NoError(t, err)
			assert.Len(t, got, min(size, 8*usual))
			r.Close()
		}
	}
}

// What tells a type is read at the end of links, too, and folders are told apart.
func TestHeads(t *testing.T) {
	files := inFolders(fstest.MapFS{
		"run":      {Data: []byte("#!/bin/sh\n")},
		"link":     {Data: []byte("run"), Mode: fs.ModeSymlink},
		"folder/x": {Data: []byte("#!/usr/bin/env python3\n")},
		"pipe":     {Mode: fs.ModeNamedPipe},
	})
	got := map[string]string{}
	for _, f := range Build(files, []string{"folder", "folder/x", "gone", "link", "pipe", "run"}).Files {
		got[f.Path] = f.Type.ID
	}
	assert.Equal(t, "shellscript", got["run"])
	assert.Equal(t, "python", got["folder/x"])
	assert.Equal(t, filetype.Unknown.ID, got["pipe"])
	assert.NotContains(t, got, "folder")
	assert.NotContains(t, got, "gone")
}
