package tree

import (
	"io/fs"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/filetype"
)

func TestTypes(t *testing.T) {
	for _, c := range []struct{ path, text, want string }{
		{"a/b.kt", "", "kotlin"},
		{"build.gradle.kts", "", "kotlin"},
		{"App.SWIFT", "", "swift"},
		{"Makefile", "", "makefile"},
		{"x/Dockerfile.dev", "", "dockerfile"},
		{"page.blade.php", "", "blade"},
		{"index.php", "", "php"},
		{"tool", "#!/usr/bin/env python3.11\n", "python"},
		{"tool2", "#!/usr/bin/env -S bash -e\n", "shellscript"},
		{"tool3", "#!/bin/sh\r\n", "shellscript"},
		{"tool4", "just words\n", "unknown"},
		{"data", "\x00\x01", "binary"},
		{"page", "<!DOCTYPE html>\n", "html"},
		{"LICENSE-MIT", "", "license"},
		{".env.local", "", "dotenv"},
		{"Cargo.lock", "", "lock"},
		{"x.tsx", "", "typescriptreact"},
		{"query.v", "Require Import Arith.\nLemma x : True.\n", "coq"},
		{"chip.v", "module chip(input a);\n", "verilog"},
		{"facts.pl", ":- module(tides, []).\n", "prolog"},
		{"script.pl", "use strict;\n", "perl"},
		{"what.ever", "", "unknown"},
		{"a.ts", "let x = 1\n", "typescript"},
		{"icu.res", "\x00\x20\xda\x27", "binary"},
		{"a.res", "let x = 1\n", "rescript"},
		{"thesis.cls", "\\NeedsTeXFormat{LaTeX2e}\n", "latex"},
		{"Ferry.cls", "public with sharing class Ferry {\n", "apex"},
		{"treaty.toml", "", "treaty"},
	} {
		tree := Build(fstest.MapFS{c.path: {Data: []byte(c.text)}}, []string{c.path})
		assert.Equal(t, c.want, tree.Files[0].Type.ID, c.path)
	}
}

// A header's language is asked only where more than one is likely.
func TestAmbiguousExtension(t *testing.T) {
	files := fstest.MapFS{"a.h": {Data: []byte("class Tide {\npublic:\n};\n")}, "b.c": {}}
	assert.Equal(t, "c", Build(files, []string{"a.h", "b.c"}).Files[0].Type.ID, "no C++ around")
	files["c.cpp"] = &fstest.MapFile{}
	assert.Equal(t, "cpp", Build(files, []string{"a.h", "b.c", "c.cpp"}).Files[0].Type.ID)

	words := fstest.MapFS{"de.ts": {Data: []byte("<?xml version=\"1.0\"?>\n<!DOCTYPE TS>\n")}, "a.ts": {Data: []byte("let a = 1\n")}, "x.xml": {}}
	tree := Build(words, []string{"a.ts", "de.ts", "x.xml"})
	assert.Equal(t, "typescript", tree.Files[0].Type.ID)
	assert.Equal(t, "xml", tree.Files[1].Type.ID)
}

func TestGoneFoldersAndCounts(t *testing.T) {
	files := fstest.MapFS{"dir/x.go": {}, "y.go": {}, "odd": {Mode: fs.ModeNamedPipe}}
	tree := Build(files, []string{"y.go", "dir", "dir/x.go", "vanished", "odd"})
	var paths []string
	for _, f := range tree.Files {
		paths = append(paths, f.Path)
	}
	assert.Equal(t, []string{"dir/x.go", "odd", "y.go"}, paths, "sorted, without the folder and the vanished file")
	assert.Equal(t, Count{filetype.ByID("go"), 2}, tree.Counts()[0])
}

// A tree of a later state is as if it were built anew, but what did not change is not
// looked at.
func TestOn(t *testing.T) {
	files := fstest.MapFS{
		"a.go": {}, "bin/run": {Data: []byte("#!/bin/sh\n")}, "bin/tide": {Data: []byte("#!/usr/bin/env python3\n")},
		"k.h": {Data: []byte("#import <Harbour.h>\n@interface Quay\n")}, "z.m": {},
	}
	before := Build(files, []string{"a.go", "bin/run", "bin/tide", "gone", "k.h", "z.m"})
	files["bin/tide"] = &fstest.MapFile{Data: []byte("#!/bin/sh\n")}
	files["new.rs"] = &fstest.MapFile{}
	files["bin/run"] = &fstest.MapFile{Data: []byte("#!/usr/bin/env python3\n")}
	paths := []string{"bin/run", "bin/tide", "gone", "k.h", "new.rs", "z.m"}
	got := before.On(files, paths, []string{"bin/tide", "new.rs"})
	want := Build(files, paths)
	require.Len(t, got.Files, len(want.Files))
	for i, f := range got.Files {
		assert.Equal(t, want.Files[i].Path, f.Path)
		if f.Path != "bin/run" {
			assert.Equal(t, want.Files[i].Type.ID, f.Type.ID, f.Path)
		}
	}
	assert.Equal(t, "shellscript", got.Files[0].Type.ID, "it was not said to have changed")
}
