package present

import (
	"embed"
	"fmt"
	"io"
	"path"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/tree"
)

//go:embed schema/*.json
var schemas embed.FS

// Schemas returns the names of the JSON Schemas that can be printed.
func Schemas() []string {
	return []string{"audit", "explain", "settlement", "treaty", "catalog"}
}

// Schema returns the JSON Schema with the given name.
func Schema(name string) ([]byte, error) { return schemas.ReadFile(path.Join("schema", name+".json")) }

// Catalog prints the programs of a catalog.
func Catalog(p *Page, c *catalog.Catalog) {
	rows := [][]string{{"PROGRAM", "ROLES", "READS", "FOR"}}
	for _, e := range c.Entries {
		var files []string
		for _, place := range e.Settings {
			files = append(files, place.Files[0])
		}
		reads := strings.Join(files, " ")
		if len(files) == 0 {
			reads = "nothing; one fixed style"
		}
		rows = append(rows, []string{e.Name, strings.Join(e.Roles, " "), reads, covers(e)})
	}
	for i, line := range p.flow(rows) {
		if i == 0 {
			line = p.bold(line)
		}
		fmt.Fprintln(p.W, line)
	}
	fmt.Fprintf(p.W, "\n%d programs, %d file types\n", len(c.Entries), tree.TypeCount())
}

func covers(e *catalog.Entry) string {
	var names []string
	for _, id := range e.Covers {
		if id == "*" {
			return "every type"
		}
		names = append(names, tree.TypeByID(id).Name)
	}
	if len(names) > 6 {
		return fmt.Sprintf("%s and %d more", strings.Join(names[:5], ", "), len(names)-5)
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
