package present

import (
	"embed"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/filetype"
)

//go:embed schema/*.json
var schemas embed.FS

// Schemas returns the names of the JSON Schemas that can be printed.
func Schemas() []string {
	return []string{"audit", "explain", "settlement", "evidence", "cost", "treaty", "catalog", "rules", "entry"}
}

// Schema returns the JSON Schema with the given name.
func Schema(name string) ([]byte, error) {
	switch name {
	case "entry":
		return EntrySchema()
	case "treaty":
		return treatySchema()
	}
	return schemas.ReadFile(path.Join("schema", name+".json"))
}

// Catalog prints the programs of a catalog.
func Catalog(p *Page, c *catalog.Catalog) {
	rows := [][]string{{"ID", "ROLES", "READS", "FOR"}}
	for _, e := range c.Entries {
		var files []string
		for _, place := range e.Settings {
			if !place.Shared && !slices.Contains(files, place.Files[0]) {
				files = append(files, place.Files[0])
			}
		}
		reads := "-"
		if len(files) > 0 {
			reads = files[0]
		}
		rows = append(rows, []string{e.ID, strings.Join(e.Roles, " "), cut(reads, 18), covers(e)})
	}
	for i, line := range table(rows) {
		if i == 0 {
			line = p.bold(line)
		}
		fmt.Fprintln(p.W, cut(line, p.Width))
	}
	fmt.Fprintf(p.W, "\n%d programs, %d file types\n", len(c.Entries), filetype.Number())
	fmt.Fprintf(p.W, "%s  what is known about one\n%s  how to add one\n", pad(p.bold("treaty catalog ID"), 21), pad(p.bold("treaty catalog --help"), 21))
}

func covers(e *catalog.Entry) string {
	var names []string
	for _, id := range e.Covers {
		if id == "*" {
			return "every type"
		}
		names = append(names, filetype.ByID(id).Name)
	}
	if len(names) > 4 {
		return fmt.Sprintf("%s and %d more", strings.Join(names[:3], ", "), len(names)-3)
	}
	return strings.Join(names, ", ")
}

// CatalogJSON prints the programs of a catalog as one object.
func CatalogJSON(w io.Writer, c *catalog.Catalog) error {
	programs := []object{}
	for _, e := range c.Entries {
		files := []string{}
		for _, place := range e.Settings {
			files = append(files, place.Files...)
		}
		rules := []string{}
		for _, q := range e.Rules {
			rules = append(rules, q.Rule)
		}
		programs = append(programs, object{"program": e.ID, "name": e.Name, "roles": e.Roles, "version": e.Version,
			"source": e.Source, "types": e.Covers, "files": files, "rules": rules})
	}
	return write(w, object{"format": "jolly-treaty/catalog", "version": 1, "programs": programs})
}
