// Package demo holds the demo repository: Skerry Line, the monorepo of a
// made-up island ferry company whose style settings grew up separately.
package demo

import (
	_ "embed"
	"fmt"
	"os"
	"path/filepath"

	"golang.org/x/tools/txtar"

	"jollytreaty/repo"
)

//go:embed skerry-line.txtar
var archive []byte

// Name is the demo repository's folder name.
const Name = "skerry-line"

// Files returns the demo repository's files, in path order.
func Files() []txtar.File { return txtar.Parse(archive).Files }

// Unpack writes the demo repository into a new folder, and makes a git
// repository of it where git is there. It never writes into a folder that
// exists.
func Unpack(dir string) error {
	if err := os.MkdirAll(filepath.Dir(dir), 0o755); err != nil {
		return err
	}
	if err := os.Mkdir(dir, 0o755); err != nil {
		if os.IsExist(err) {
			return fmt.Errorf("%s is there already; name a new folder, or remove it", dir)
		}
		return err
	}
	for _, f := range Files() {
		path := filepath.Join(dir, filepath.FromSlash(f.Name))
		if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(path, f.Data, 0o644); err != nil {
			return err
		}
	}
	return repo.New(dir, "Skerry Line", "crew@skerry.example", "The line as it stands")
}
