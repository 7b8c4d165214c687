package present

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/rule"
)

// Entry prints what is known about one program.
func Entry(p *Page, e *catalog.Entry) {
	fmt.Fprintf(p.W, "%s  %s\n", p.bold(e.Name), strings.Join(e.Roles, ", "))
	if e.Retired != nil {
		text := "retired since " + e.Retired.Since
		if len(e.Retired.By) > 0 {
			text += ", followed by " + strings.Join(e.Retired.By, ", ")
		}
		fmt.Fprintf(p.W, "  %s\n", text)
	}
	proved := "by its documentation; nothing of it was run"
	if len(e.Proved) > 0 {
		proved = "by running " + strings.Join(e.Proved, " and ")
	}
	rows := [][]string{{"  as of", "version " + e.Version + ", " + e.Source}, {"  proved", proved}, {"  for", covers(e)}}
	for typ, part := range e.Partial {
		rows = append(rows, []string{"  in part", typ + ": " + part})
	}
	for _, place := range e.Settings {
		text := strings.Join(place.Files, " ")
		if place.Section != "" {
			text += ", section " + catalog.Dotted(place.Section)
		}
		how := map[string]string{"nearest": "the closest alone", "merged": "every one up the tree", "root": "at the root alone", "given": "where it is named"}[place.Search]
		rows = append(rows, []string{"  reads", text + "; " + how})
		if len(place.IgnoreFiles) > 0 {
			rows = append(rows, []string{"  leaves out", "what " + strings.Join(place.IgnoreFiles, ", ") + " lists"})
		}
	}
	if len(e.Commands) > 0 {
		rows = append(rows, []string{"  started as", strings.Join(e.Commands, ", ")})
	}
	if len(e.Options) > 0 {
		rows = append(rows, []string{"  options", strings.Join(sortedKeys(e.Options), " ")})
	}
	if len(e.Personal.Files) > 0 {
		how := "weaker than a project's"
		if e.Personal.Alone {
			how = "where a project has none"
		}
		rows = append(rows, []string{"  personal", strings.ReplaceAll(strings.Join(e.Personal.Files, " "), "config:", "") + "; " + how})
	}
	for _, ecosystem := range sortedKeys(e.Packages) {
		var names []string
		for _, n := range e.Packages[ecosystem] {
			names = append(names, strings.Trim(n, "~@"))
		}
		rows = append(rows, []string{"  brought by", ecosystem + ": " + strings.Join(names, ", ")})
	}
	for _, line := range p.flow(rows) {
		fmt.Fprintln(p.W, line)
	}
	if len(e.Rules) == 0 {
		fmt.Fprintln(p.W, "\nNone of its settings answers a rule known here.")
		return
	}
	table := [][]string{{"RULE", "ROLE", "DEFAULT", "FOR", "KEY"}}
	for _, q := range e.Rules {
		if q.Variant > 0 {
			continue // told with the first
		}
		var keys []string
		for _, w := range q.From {
			if name := e.NameOf(w); !slices.Contains(keys, name) {
				keys = append(keys, name)
			}
		}
		types := "all"
		if len(q.Types) > 0 {
			types = count(len(q.Types), "type", "types")
			if len(q.Types) < 3 {
				types = strings.Join(q.Types, " ")
			}
		}
		fallback := "-"
		if q.Default != nil {
			fallback = fmt.Sprint(q.Default)
		}
		table = append(table, []string{q.Rule, string(q.Role), fallback, types, keyText(keys)})
	}
	fmt.Fprintln(p.W)
	p.titled(table)
	fmt.Fprintf(p.W, "\n%s  every key of it, with its value here\n", p.bold("treaty rules --program "+e.ID))
}

func sortedKeys[V any](m map[string]V) []string {
	var out []string
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// Checked says what an entry of one's own tells, after it was found valid.
func Checked(p *Page, name string, e *catalog.Entry) {
	fmt.Fprintf(p.W, "%s is valid: %s, %s; %s, %s\n", Clean(name), e.Name, strings.Join(e.Roles, ", "),
		count(len(e.Settings), "kind of settings file", "kinds of settings file"), count(len(e.Rules), "rule", "rules"))
	for _, hint := range hints(e) {
		indented(p, "  ", hint)
	}
}

// hints names what an entry leaves out that most have.
func hints(e *catalog.Entry) []string {
	var out []string
	if len(e.Covers)+len(e.Partial) == 0 {
		out = append(out, "it covers no file type, so it never speaks about a file: covers = [\"kotlin\"]")
	}
	if len(e.Settings) == 0 && len(e.Commands) == 0 && len(e.Packages) == 0 {
		out = append(out, "nothing shows that it is in play: give settings, commands or packages")
	}
	if len(e.Rules) == 0 {
		out = append(out, "it answers no rule; see: treaty rules")
	}
	return out
}

// EntrySchema is the JSON Schema of a catalog entry, made from the format's own
// definition.
func EntrySchema() ([]byte, error) {
	schema := schemaOf(reflect.TypeFor[catalog.Entry]())
	schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	schema["title"] = "A program in the catalog of treaty"
	schema["required"] = []string{"id", "name", "roles", "version", "source"}
	var ids []string
	for _, r := range rule.All() {
		ids = append(ids, r.ID)
	}
	properties := schema["properties"].(object)
	properties["rule"].(object)["items"].(object)["properties"].(object)["rule"] = object{"enum": ids}
	text, err := json.MarshalIndent(schema, "", "  ")
	return append(text, '\n'), err
}

func schemaOf(t reflect.Type) object {
	switch t.Kind() {
	case reflect.Pointer:
		return schemaOf(t.Elem())
	case reflect.Slice:
		return object{"type": "array", "items": schemaOf(t.Elem())}
	case reflect.Map:
		return object{"type": "object", "additionalProperties": schemaOf(t.Elem())}
	case reflect.String:
		return object{"type": "string"}
	case reflect.Bool:
		return object{"type": "boolean"}
	case reflect.Struct:
		properties := object{}
		for i := range t.NumField() {
			if name := t.Field(i).Tag.Get("toml"); name != "" && name != "-" {
				properties[name] = schemaOf(t.Field(i).Type)
			}
		}
		return object{"type": "object", "properties": properties, "additionalProperties": false}
	}
	return object{}
}
