package cli

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"jollytreaty/core/catalog"
	"jollytreaty/present"
)

func (s *session) catalogCommand() *cobra.Command {
	var schema string
	c := &cobra.Command{
		Use:     "catalog",
		Short:   "The programs it knows and what it reads of each",
		Example: "  treaty catalog\n  treaty catalog --schema audit",
		Args:    cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			if schema != "" {
				text, err := present.Schema(schema)
				if err != nil {
					return fmt.Errorf("--schema %s is not known; it takes %s", schema, strings.Join(present.Schemas(), ", "))
				}
				fmt.Fprint(s.out, string(text))
				return nil
			}
			known, err := catalog.BuiltIn()
			if err != nil {
				return err
			}
			if s.format == "json" {
				return wrote(present.CatalogJSON(s.out, known))
			}
			present.Catalog(s.page(), known)
			return nil
		},
	}
	c.Flags().StringVar(&schema, "schema", "", "print a JSON Schema: "+strings.Join(present.Schemas(), ", "))
	return c
}
