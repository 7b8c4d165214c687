package cli

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) compareCommand() *cobra.Command {
	var every bool
	c := &cobra.Command{
		Use:   "compare A B",
		Short: "Two files, folders, repositories or revisions side by side, rule by rule",
		Long: "compare shows, for every file type that both have, where formatter and style differ.\n" +
			"A and B are each a file, a folder, another repository, or a revision as git names\n" +
			"one, with a path in it behind a colon if not all of it is meant: v1.2:src.",
		Example: "  treaty compare ios kit\n  treaty compare src/a.rs tools/b.rs\n  treaty compare HEAD .\n  treaty compare . ../other --all",
		Args: func(_ *cobra.Command, sides []string) error {
			if len(sides) != 2 {
				return errors.New("compare needs two files, folders or revisions; see: treaty compare --help")
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error { return s.compare(args[0], args[1], every) },
	}
	c.Flags().BoolVar(&every, "all", false, "what is the same, too")
	return c
}

func (s *session) compare(a, b string, every bool) error {
	x := comparison{session: s, audits: map[string]*audit.Result{}}
	defer x.close()
	var sides [2]present.Compared
	for i, name := range []string{a, b} {
		p, err := x.side(name)
		if err != nil {
			return err
		}
		sides[i] = present.Compared{Name: name, Profile: p}
	}
	if s.format == "json" {
		return wrote(present.CompareJSON(s.out, sides, every))
	}
	present.Compare(s.page(), sides, every)
	return nil
}

// comparison audits what is compared, each repository or revision once.
type comparison struct {
	*session
	audits map[string]*audit.Result
	open   []io.Closer
}

func (x *comparison) close() {
	for _, c := range x.open {
		c.Close()
	}
}

// side finds what one of the arguments names.
func (x *comparison) side(name string) (*audit.Profile, error) {
	full := name
	if !filepath.IsAbs(name) {
		full = filepath.Join(x.dir, name)
	}
	info, err := os.Stat(full)
	if err != nil {
		return x.revision(name)
	}
	folder := full
	if !info.IsDir() {
		folder = filepath.Dir(full)
	}
	r, err := repo.Open(folder, listing(nil))
	if err != nil {
		return nil, err
	}
	x.open = append(x.open, r)
	result := x.audits[r.Root]
	if result == nil {
		if result, err = x.auditOf(context.Background(), r.Root, r.FS(), r.Paths, time.Now()); err != nil {
			return nil, err
		}
		x.audits[r.Root] = result
	}
	abs, err := filepath.Abs(full)
	if err != nil {
		return nil, err
	}
	rel, err := filepath.Rel(resolved(r.Root), resolved(abs))
	if err != nil {
		return nil, fmt.Errorf("%s is not in the repository around it: %w", name, err)
	}
	return profile(result, name, filepath.ToSlash(rel))
}

// revision audits a revision, or a part of one.
func (x *comparison) revision(name string) (*audit.Profile, error) {
	r, err := repo.Open(x.dir, listing(nil))
	if err != nil {
		return nil, err
	}
	x.open = append(x.open, r)
	commit, part, _ := strings.Cut(name, ":")
	r.Borrow()
	v, err := r.At(commit)
	if err != nil {
		return nil, ofRevision(fmt.Errorf("%s is no file and no folder here, and %w", name, err))
	}
	x.open = append(x.open, v)
	result := x.audits[v.Name]
	if result == nil {
		if result, err = x.auditRevision(r.Root, v, v.Paths); err != nil {
			return nil, err
		}
		x.audits[v.Name] = result
	}
	return profile(result, name, strings.Trim(part, "/"))
}

var errNothing = errors.New("no file with style there")

// profile is what holds below a path of what was audited.
func profile(result *audit.Result, name, rel string) (*audit.Profile, error) {
	p := result.Profile(func(path string) bool {
		return rel == "." || rel == "" || path == rel || strings.HasPrefix(path, rel+"/")
	})
	if len(p.Types) == 0 {
		return nil, fmt.Errorf("%s: %w", name, errNothing)
	}
	return p, nil
}
