package repo

import (
	"io/fs"
	"os"
	"path/filepath"
	"runtime"

	"jollytreaty/core/presence"
	"jollytreaty/core/sign"
)

// Installed looks for executables with the given names in the folders of the project
// where its tools lie, and on the path. It runs none of them. What it finds in the project
// comes first, with its path from the root.
func (r *Repo) Installed(names, folders []string) []presence.Seen {
	var out []presence.Seen
	for _, name := range names {
		for _, dir := range folders {
			if runs(r.place.root.Stat(onThisSystem(dir + "/" + name))) {
				out = append(out, presence.Seen{As: sign.Installed, Path: dir + "/" + name, Folder: "."})
			}
		}
		for _, dir := range filepath.SplitList(os.Getenv("PATH")) {
			if p := filepath.Join(dir, name); filepath.IsAbs(dir) && runs(os.Stat(onThisSystem(p))) {
				out = append(out, presence.Seen{As: sign.Installed, Path: p, Folder: "."})
				break
			}
		}
	}
	return out
}

// onThisSystem is the name of the file that a program is in.
func onThisSystem(program string) string {
	if runtime.GOOS == "windows" {
		return program + ".exe"
	}
	return program
}

// runs reports whether a file is there and can be run.
func runs(info fs.FileInfo, err error) bool {
	return err == nil && info.Mode().IsRegular() && (runtime.GOOS == "windows" || info.Mode()&0o111 != 0)
}
