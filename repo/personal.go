package repo

import (
	"os"
	"path/filepath"
	"strings"

	"jollytreaty/core/presence"
	"jollytreaty/core/sign"
)

// Personal looks for settings files of the person who runs this: "~/" stands for
// the home folder, "config:" for its folder of settings. None is read.
func Personal(files []string) []presence.Seen {
	home, err := os.UserHomeDir()
	if err != nil {
		return nil
	}
	var out []presence.Seen
	for _, name := range files {
		p := filepath.Join(home, filepath.FromSlash(strings.TrimPrefix(name, "~/")))
		if rest, ok := strings.CutPrefix(name, "config:"); ok {
			config, err := os.UserConfigDir()
			if err != nil {
				continue
			}
			p = filepath.Join(config, filepath.FromSlash(rest))
		}
		if shown, err := filepath.Rel(home, p); regular(p) && err == nil {
			if filepath.IsLocal(shown) {
				shown = "~/" + filepath.ToSlash(shown)
			} else {
				shown = p
			}
			out = append(out, presence.Seen{As: sign.Personal, Path: shown, Folder: "."})
		}
	}
	return out
}

// Above looks for files with the given names in the folders above the root. It
// returns those of the closest that has any, none of which is read.
func (r *Repo) Above(names []string) []presence.Seen {
	for dir := r.Root; ; {
		above := filepath.Dir(dir)
		if above == dir {
			return nil
		}
		dir = above
		var out []presence.Seen
		for _, name := range names {
			if p := filepath.Join(dir, filepath.FromSlash(name)); !strings.Contains(name, "*") && regular(p) {
				out = append(out, presence.Seen{As: sign.Personal, Path: p, Folder: "."})
			}
		}
		if out != nil {
			return out
		}
	}
}

func regular(p string) bool {
	info, err := os.Stat(p)
	return err == nil && info.Mode().IsRegular()
}
