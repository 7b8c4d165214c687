package cli

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/signal"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/fsnotify/fsnotify"
	"github.com/spf13/cobra"

	"jollytreaty/core/audit"
	"jollytreaty/core/catalog"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/present"
	"jollytreaty/repo"
)

// How long watch waits for changes to end, and for how long it waits at most.
const (
	settleTime = 200 * time.Millisecond
	longestLag = 2 * time.Second
)

func (s *session) watchCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "watch",
		Short: "Audits again when settings change, and prints what is new and what is gone",
		Long: "watch audits the settings, and again whenever a settings file changes or any file\n" +
			"appears or goes. It prints only the difference, with the time. An interrupt ends it.",
		Example: "  treaty watch\n  treaty watch --format json",
		Args:    noArguments,
		RunE: func(*cobra.Command, []string) error {
			ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			return s.watch(ctx)
		},
	}
}

func (s *session) watch(ctx context.Context) error {
	c, err := personal()
	if err != nil {
		return err
	}
	w := &watcher{session: s, matters: claim.Matters(c), depots: c.Places.Depots, open: map[string]*conflict.Finding{}}
	if w.notify, err = fsnotify.NewWatcher(); err != nil {
		return ioFailure(fmt.Errorf("the system cannot tell of changes: %w", err))
	}
	defer w.notify.Close()
	first, err := repo.Locate(s.dir)
	if err != nil {
		return err
	}
	w.root = first.Root
	first.Close()
	if err := w.add(w.root); err != nil { // before the audit, so that nothing is missed
		return ioFailure(err)
	}
	if err := w.audit(true); err != nil {
		return err
	}
	return w.loop(ctx)
}

// watcher audits a repository again and again.
type watcher struct {
	session *session
	root    string
	notify  *fsnotify.Watcher
	matters func(path string) bool
	depots  []*catalog.Depot // folders of installed packages, which nobody here edits
	open    map[string]*conflict.Finding
	trouble string // why the last audit failed
}

// add watches a folder and those in it, but for those of version control.
func (w *watcher) add(dir string) error {
	return filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return nil // it went in the meantime, or cannot be read
		}
		if !d.IsDir() {
			return nil
		}
		if name := d.Name(); name == ".git" || name == ".hg" || name == ".svn" ||
			slices.ContainsFunc(w.depots, func(d *catalog.Depot) bool { return d.Folder == name }) {
			return filepath.SkipDir
		}
		err = w.notify.Add(p)
		if errors.Is(err, syscall.ENOSPC) {
			return fmt.Errorf("the system does not watch so many folders; raise fs.inotify.max_user_watches")
		}
		return nil
	})
}

// loop waits for changes, and audits when they have ended.
func (w *watcher) loop(ctx context.Context) error {
	var due <-chan time.Time
	var since time.Time
	for {
		select {
		case <-ctx.Done():
			return nil
		case event, ok := <-w.notify.Events:
			if !ok {
				return nil
			}
			if !w.counts(event) {
				continue
			}
			if due == nil {
				since = time.Now()
			}
			due = time.After(max(0, min(settleTime, longestLag-time.Since(since))))
		case err, ok := <-w.notify.Errors:
			if !ok {
				return nil
			}
			if errors.Is(err, fsnotify.ErrEventOverflow) { // more than could be told
				if err := w.add(w.root); err != nil {
					return ioFailure(err)
				}
				due = time.After(settleTime)
			}
		case <-due:
			due = nil
			if err := w.audit(false); err != nil {
				return err
			}
		}
	}
}

// counts reports whether an event may change what an audit says. A folder that
// appears is watched from then on.
func (w *watcher) counts(event fsnotify.Event) bool {
	rel, err := filepath.Rel(w.root, event.Name)
	if err != nil {
		return false
	}
	rel = filepath.ToSlash(rel)
	if base := path.Base(rel); base == ".git" || strings.HasPrefix(base, ".treaty-new") {
		return false
	}
	switch {
	case event.Has(fsnotify.Create):
		if info, err := os.Lstat(event.Name); err == nil && info.IsDir() {
			w.add(event.Name)
		}
		return true
	case event.Has(fsnotify.Remove), event.Has(fsnotify.Rename):
		return true
	}
	return event.Has(fsnotify.Write) && w.matters(rel)
}

// change is what an audit brought, as JSON prints it.
type change struct {
	Time     string `json:"time"`
	Event    string `json:"event"` // "start", "new", "gone", "open" or "trouble"
	ID       string `json:"id,omitempty"`
	Code     string `json:"code,omitempty"`
	Severity string `json:"severity,omitempty"`
	Message  string `json:"message,omitempty"`
	Path     string `json:"path,omitempty"`
	Open     *int   `json:"open,omitempty"`
}

// audit prints what is new and what is gone since the last one.
func (w *watcher) audit(first bool) error {
	now := time.Now().Format(time.TimeOnly)
	result, err := w.result()
	if err != nil {
		if first {
			return err
		}
		if w.trouble != err.Error() { // a treaty that is half-written, say
			w.trouble = err.Error()
			return w.say(change{Time: now, Event: "trouble", Message: err.Error()})
		}
		return nil
	}
	w.trouble, w.matters = "", claim.Matters(result.Picture.Catalog)
	found := map[string]*conflict.Finding{}
	var changes []change
	for _, f := range result.Findings {
		if f.Waived != nil {
			continue
		}
		if found[f.Cause] != nil {
			continue // about one more file type
		}
		found[f.Cause] = f
		if w.open[f.Cause] == nil && !first {
			changes = append(changes, told(now, "new", f))
		}
	}
	for cause, f := range w.open {
		if found[cause] == nil {
			changes = append(changes, told(now, "gone", f))
		}
	}
	w.open = found
	if !first && len(changes) == 0 {
		return nil
	}
	n, event := len(found), "open"
	if first {
		event = "start"
	}
	for _, c := range append(changes, change{Time: now, Event: event, Open: &n}) {
		if err := w.say(c); err != nil {
			return err
		}
	}
	return nil
}

func told(now, event string, f *conflict.Finding) change {
	c := change{Time: now, Event: event, ID: f.ID, Code: string(f.Code), Severity: string(f.Severity), Message: f.Message}
	for _, s := range f.Sides {
		if s.Path != "" {
			c.Path = s.Path
			break
		}
	}
	return c
}

func (w *watcher) say(c change) error {
	if w.session.format == "json" {
		return wrote(present.WriteJSON(w.session.out, c))
	}
	return wrote(present.Change(w.session.page(), c.Time, c.Event, c.Severity, c.Path, c.Message, c.Code, c.ID, c.Open))
}

// result audits what lies on disk, settings alone.
func (w *watcher) result() (*audit.Result, error) {
	r, err := repo.Open(w.root, listing(nil))
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return w.session.auditOf(context.Background(), r.Root, r.FS(), r.Paths, time.Now())
}
