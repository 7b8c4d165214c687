package cli

import (
	"fmt"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"jollytreaty/core/nearest"
	"jollytreaty/core/tree"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) explainCommand() *cobra.Command {
	return &cobra.Command{
		Use:     "explain FILE",
		Short:   "Every effective setting of one file, who decided it, what it beat",
		Example: "  treaty explain src/main.go\n  treaty explain -C ../other docs/guide.md --format json",
		Args:    cobra.ExactArgs(1),
		RunE:    func(_ *cobra.Command, args []string) error { return s.explain(args[0]) },
	}
}

func (s *session) explain(file string) error {
	base := filepath.Base(file)
	s.inside = func(f tree.File) bool { return filepath.Base(filepath.FromSlash(f.Path)) == base }
	r, result, err := s.run()
	if err != nil {
		return err
	}
	defer r.Close()
	path := s.pathIn(r, file)
	x, ok := result.Explain(path)
	if !ok {
		near := nearest.Of(path, r.Paths)
		if near != "" {
			return fmt.Errorf("%s is no file of this repository; did you mean %s?", path, near)
		}
		return fmt.Errorf("%s is no file of this repository, or it is ignored", path)
	}
	if s.format == "json" {
		return wrote(present.ExplainJSON(s.out, x))
	}
	present.Explain(s.page(), x)
	return nil
}

// pathIn returns a file's path from the repository's root. A path is first
// taken from the folder the command runs in, then from the root.
func (s *session) pathIn(r *repo.Repo, file string) string {
	full := file
	if !filepath.IsAbs(file) {
		full = filepath.Join(s.dir, file)
	}
	if abs, err := filepath.Abs(full); err == nil {
		for _, root := range []string{r.Root, resolved(r.Root)} {
			for _, p := range []string{abs, filepath.Join(resolved(filepath.Dir(abs)), filepath.Base(abs))} {
				rel, err := filepath.Rel(root, p)
				if err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator)) && contains(r, filepath.ToSlash(rel)) {
					return filepath.ToSlash(rel)
				}
			}
		}
	}
	return filepath.ToSlash(filepath.Clean(file))
}

func resolved(p string) string {
	if real, err := filepath.EvalSymlinks(p); err == nil {
		return real
	}
	return p
}

func contains(r *repo.Repo, path string) bool {
	for _, p := range r.Paths {
		if p == path {
			return true
		}
	}
	return false
}
