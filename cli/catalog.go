package cli

import (
	"fmt"
	"io/fs"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"jollytreaty/core/catalog"
	"jollytreaty/core/nearest"
	"jollytreaty/present"
	"jollytreaty/repo"
)

func (s *session) catalogCommand() *cobra.Command {
	var schema, check string
	c := &cobra.Command{
		Use:   "catalog [ID]",
		Short: "The programs it knows, what it reads of each, how to add one",
		Long: "catalog lists the programs that are known, or tells what is known about one.\n\n" +
			"A program of your own is added as a file in the same format, named ID" + catalog.Ending + ":\n" +
			"in " + catalog.Folder + " of the repository, for everybody who works there, or in\n" +
			"treaty/programs of your configuration folder, for yourself. An entry with the id\n" +
			"of a program that is known takes its place. --check says whether a file is valid,\n" +
			"--schema entry prints the format as a JSON Schema.",
		Example: "  treaty catalog\n  treaty catalog ID\n  treaty catalog --check " + catalog.Folder + "/berth.entry.toml\n  treaty catalog --schema audit",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			switch {
			case schema != "":
				return s.schema(schema)
			case check != "":
				return s.checkEntry(check)
			}
			known, err := s.known()
			if err != nil {
				return err
			}
			if len(args) == 1 {
				e := known.ByID(args[0])
				if e == nil {
					return fmt.Errorf("%s is not known; the nearest is %s", args[0], nearest.Closest(args[0], ids(known)))
				}
				if s.format == "json" {
					return wrote(present.CatalogJSON(s.out, &catalog.Catalog{Entries: []*catalog.Entry{e}}))
				}
				present.Entry(s.page(), e)
				return nil
			}
			if s.format == "json" {
				return wrote(present.CatalogJSON(s.out, known))
			}
			present.Catalog(s.page(), known)
			return nil
		},
	}
	c.Flags().StringVar(&schema, "schema", "", "print a JSON Schema: "+strings.Join(present.Schemas(), ", "))
	c.Flags().StringVar(&check, "check", "", "say whether this entry of your own is valid")
	return c
}

func (s *session) schema(name string) error {
	text, err := present.Schema(name)
	if err != nil {
		return fmt.Errorf("--schema %s is not known; it takes %s", name, strings.Join(present.Schemas(), ", "))
	}
	fmt.Fprint(s.out, string(text))
	return nil
}

func (s *session) checkEntry(file string) error {
	full := file
	if !filepath.IsAbs(file) {
		full = filepath.Join(s.dir, file)
	}
	text, err := repo.LoadOutside(full)
	if err != nil {
		return fmt.Errorf("%s cannot be read: %w", file, plainError(err))
	}
	e, err := catalog.Decode(file, text)
	if err != nil {
		return err
	}
	present.Checked(s.page(), file, e)
	return nil
}

// plainError strips what an error repeats of the path.
func plainError(err error) error {
	if at, ok := err.(*fs.PathError); ok {
		return at.Err
	}
	return err
}

// known returns the built-in catalog with the entries of the person, and those
// of the repository in the folder, if there are any.
func (s *session) known() (*catalog.Catalog, error) {
	c, err := personal()
	if err != nil {
		return nil, err
	}
	r, err := repo.Locate(s.dir)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	c, invalid := c.Extended(r.FS(), catalog.Folder)
	return c, notValid(invalid)
}
