package cli

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/nearest"
	"jollytreaty/core/treaty"
	"jollytreaty/repo"
)

// What a person keeps for every repository lies in their configuration folder.
const (
	personalEntries  = "treaty/programs"
	personalSettings = "treaty/settings.toml"
)

// personal returns the built-in catalog with the entries in the person's
// configuration folder.
func personal() (*catalog.Catalog, error) {
	c, err := catalog.BuiltIn()
	if err != nil {
		return nil, err
	}
	dir, err := os.UserConfigDir()
	if err != nil {
		return c, nil
	}
	c, invalid := c.Extended(os.DirFS(dir), personalEntries)
	for _, at := range invalid {
		at.Path = filepath.Join(dir, filepath.FromSlash(at.Path))
	}
	return c, notValid(invalid)
}

// notValid makes one error of entries that are not valid, nil of none.
func notValid(entries []*document.SyntaxError) error {
	var all []error
	for _, at := range entries {
		all = append(all, at)
	}
	return errors.Join(all...)
}

// trusted returns the files and folders out of which the person lets repositories
// adopt house rules, and the settings file in which they say so.
func trusted() (houses []string, file string, err error) {
	dir, err := os.UserConfigDir()
	if err != nil {
		return nil, "your settings", nil
	}
	file = filepath.Join(dir, filepath.FromSlash(personalSettings))
	text, err := repo.LoadOutside(file)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, file, nil
	}
	if err != nil {
		return nil, file, err
	}
	doc, err := document.Parse(document.TOML, file, text)
	if err != nil {
		return nil, file, err
	}
	fail := func(n *document.Node, format string, args ...any) error {
		line, column := doc.Position(n.KeyStart)
		return &document.SyntaxError{Path: file, Line: line, Column: column, Message: fmt.Sprintf(format, args...)}
	}
	for _, n := range doc.Root.Items {
		if n.Key != "house" {
			return nil, file, fail(n, "unknown key %q; the nearest known one is %q", n.Key, nearest.Closest(n.Key, []string{"house"}))
		}
		for _, item := range n.Items {
			name, ok := item.Value.(string)
			if home, err := os.UserHomeDir(); err == nil && strings.HasPrefix(name, "~/") {
				name = filepath.Join(home, name[2:])
			}
			if !ok || !filepath.IsAbs(name) {
				return nil, file, fail(n, "house has to be a list of files or folders, from / or ~/")
			}
			houses = append(houses, resolved(name))
		}
	}
	return houses, file, nil
}

// houseRules are what counts for a repository besides its own files: the house rules
// that the person names, and those out of which they let it adopt.
type houseRules struct {
	root string // of the repository
	file string // named for this run, "" for none
}

// path returns the path of the house rules from the repository's root, "" for none.
func (h houseRules) path() (string, error) {
	if h.file == "" {
		return "", nil
	}
	full, err := filepath.Abs(h.file)
	if err != nil {
		return "", err
	}
	if _, err := os.Stat(full); err != nil {
		return "", fmt.Errorf("--house %s: there is no such file", h.file)
	}
	root, err := filepath.Abs(h.root)
	if err != nil {
		return "", err
	}
	rel, err := filepath.Rel(resolved(root), resolved(full))
	if err != nil {
		return "", fmt.Errorf("--house %s: %w", h.file, err)
	}
	return filepath.ToSlash(rel), nil
}

// outside reads house rules outside of the repository: those that the person named,
// or lets repositories adopt, and what such house rules adopt themselves.
func (h houseRules) outside(name, by string) ([]byte, error) {
	full := resolved(filepath.Join(resolved(h.root), filepath.FromSlash(name)))
	named, err := h.path()
	if err != nil {
		return nil, err
	}
	if named != name && !treaty.Outside(by) {
		houses, file, err := trusted()
		if err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(houses, func(house string) bool {
			rel, err := filepath.Rel(house, full)
			return err == nil && filepath.IsLocal(rel)
		}) {
			return nil, fmt.Errorf("that lies outside of this repository and is not read; if these house rules are meant: --house %s, or house = [%q] in %s", full, full, file)
		}
	}
	text, err := repo.LoadOutside(full)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, plainError(err)
	}
	if len(text) > document.MaxSize {
		return nil, errors.New("it is too large for house rules")
	}
	return text, nil
}

// houseFolder is where house rules from elsewhere are kept with a repository.
const houseFolder = ".treaty/house"

// kept returns the files in which the house rules named for this run are kept with
// the repository, with those that they adopt, and which of them is the first: they
// come with it wherever it is opened. House rules in the repository stay where they
// are.
func (h houseRules) kept() (first string, files map[string][]byte, err error) {
	first, err = h.path()
	if err != nil || !treaty.Outside(first) {
		return first, nil, err
	}
	texts := map[string][]byte{}
	_, err = treaty.Load(treaty.Sources{House: first, Read: func(string) ([]byte, error) { return nil, nil },
		Outside: func(name, by string) ([]byte, error) {
			text, err := h.outside(name, by)
			texts[name] = text
			return text, err
		}})
	if err != nil {
		return "", nil, fmt.Errorf("--house %s: %w", h.file, err)
	}
	above := filepath.ToSlash(filepath.Dir(first))
	for name := range texts { // the folder they have in common
		for above != "." && !strings.HasPrefix(name, above+"/") {
			above = filepath.ToSlash(filepath.Dir(above))
		}
	}
	files = map[string][]byte{}
	for name, text := range texts {
		files[houseFolder+strings.TrimPrefix(name, above)] = text
	}
	return houseFolder + strings.TrimPrefix(first, above), files, nil
}
