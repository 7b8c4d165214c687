// Package texttree makes file systems of text archives, for tests: a case is a
// small tree that is read at a glance.
package texttree

import (
	"slices"
	"testing/fstest"

	"golang.org/x/tools/txtar"
)

// Files returns the files of an archive as a file system, and their paths in
// order.
func Files(archive []txtar.File) (fstest.MapFS, []string) {
	files := fstest.MapFS{}
	paths := make([]string, 0, len(archive))
	for _, f := range archive {
		files[f.Name] = &fstest.MapFile{Data: f.Data}
		paths = append(paths, f.Name)
	}
	slices.Sort(paths)
	return files, paths
}

// Parse is Files of an archive's text.
func Parse(text string) (fstest.MapFS, []string) { return Files(txtar.Parse([]byte(text)).Files) }
