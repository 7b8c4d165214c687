package main

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/pelletier/go-toml/v2"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/rule"
)

// grown is a tree that was made up: settings of a program, and where its probes lie.
type grown struct {
	files    map[string]string
	folder   string // in which the probes lie
	mistyped string // a key that was spelled wrongly; "" for none
	slipIn   string // the settings file it stands in
}

// grow makes up a tree with settings of a program.
func grow(r *rand.Rand, e *catalog.Entry, in *installed) *grown {
	t := &grown{files: map[string]string{}, folder: "."}
	maps.Copy(t.files, in.Seed)
	if names := e.Packages["npm"]; len(in.NPM) > 0 && len(names) > 0 {
		t.files["package.json"] = fmt.Sprintf("{\"private\": true, \"devDependencies\": {%q: %q}}\n", names[0], in.version)
	}
	var words []string // a run that shows the program
	for _, word := range in.Run {
		if word != "{files}" {
			words = append(words, word)
		}
	}
	t.files["Makefile"] = "run:\n\t" + strings.Join(words, " ") + " .\n"
	t.settings(r, e, in, ".")
	if r.Float64() < 0.3 && in.Into == "" {
		t.folder = "deep"
		t.settings(r, e, in, "deep")
	}
	if slices.ContainsFunc(e.Settings, func(p *catalog.Place) bool { return p.Syntax.IsStandard() }) && r.Float64() < 0.5 {
		t.files[".editorconfig"] = standard(r)
	}
	return t
}

// standard makes up the open standard's file.
func standard(r *rand.Rand) string {
	b := "root = true\n\n[*]\n"
	for _, p := range []struct {
		name   string
		values []string
	}{
		{"indent_style", []string{"space", "tab"}}, {"indent_size", []string{"2", "3", "4", "8"}}, {"tab_width", []string{"4", "8"}},
		{"end_of_line", []string{"lf", "crlf"}}, {"max_line_length", []string{"72", "88", "100", "off"}},
	} {
		if r.Float64() < 0.4 {
			b += p.name + " = " + p.values[r.IntN(len(p.values))] + "\n"
		}
	}
	return b
}

// settings writes a settings file of a program into a folder.
func (t *grown) settings(r *rand.Rand, e *catalog.Entry, in *installed, folder string) {
	type home struct {
		place *catalog.Place
		name  string
	}
	var homes []home
	for _, p := range e.Settings {
		if p.ID != "" || p.Shared || p.Search == "given" || p.Section == "pep8" {
			continue
		}
		for _, name := range p.Files {
			if writable(p.SyntaxOf(path.Base(name))) && !strings.Contains(name, "*") && (in.Into == "" || name == in.Into) {
				homes = append(homes, home{p, name})
			}
		}
	}
	if len(homes) == 0 {
		return
	}
	h := homes[r.IntN(len(homes))]
	if h.name == "package.json" && t.files["package.json"] != "" {
		return
	}
	data := map[string]any{}
	if seed := in.Seed[h.name]; strings.HasPrefix(seed, "{") {
		_ = json.Unmarshal([]byte(seed), &data)
	}
	var ways []answerable
	for _, q := range e.Rules {
		if q.Variant > 0 || !slices.ContainsFunc(in.Types, q.Concerns) {
			continue
		}
		for _, w := range q.From {
			if w.Place == "" && w.Match == "" && w.Present == "" && !w.Blanks && !strings.HasPrefix(w.Key, "*") && !strings.Contains(w.Key, "[") && !strings.HasPrefix(w.Key, "@") {
				ways = append(ways, answerable{q, w})
			}
		}
	}
	section := strings.Split(h.place.Section, "/")
	for range r.IntN(5) {
		if len(ways) == 0 {
			break
		}
		w := ways[r.IntN(len(ways))]
		raw := w.raw(r, e)
		if raw == nil {
			continue
		}
		keys := strings.Split(w.way.Key, "/")
		if h.place.Section != "" {
			keys = append(slices.Clone(section), keys...)
		}
		for i := range keys {
			keys[i] = document.Unescape(keys[i])
		}
		if t.mistyped == "" && r.Float64() < 0.08 && e.Unknown.Tells(e.Unknown.Keys) {
			last := keys[len(keys)-1]
			if _, index := strconv.Atoi(last); index != nil && len(last) > 5 {
				at := 1 + r.IntN(len(last)-3)
				swapped := last[:at] + string(last[at+1]) + string(last[at]) + last[at+2:]
				if swapped != last {
					t.mistyped, t.slipIn = swapped, path.Join(folder, h.name)
					keys[len(keys)-1] = swapped
				}
			}
		}
		put(data, keys, raw)
	}
	if len(data) == 0 {
		if h.place.Section != "" {
			return
		}
	}
	if text := written(h.place.SyntaxOf(path.Base(h.name)), data, in.Seed[h.name]); text != "" {
		t.files[path.Join(folder, h.name)] = text
	}
}

// answerable is a key that answers a rule.
type answerable struct {
	q   *catalog.Question
	way *catalog.Way
}

// raw makes up a value of the key, nil for none.
func (a answerable) raw(r *rand.Rand, e *catalog.Entry) any {
	domain, _ := e.Takes(a.way.Key)
	var choices []any
	for _, word := range slices.Sorted(maps.Keys(a.way.Values)) {
		if word == "" || a.way.Values[word] == catalog.UnknownWord {
			continue
		}
		var v any = word
		if n, err := strconv.Atoi(word); err == nil {
			v = n
		}
		if word == "true" || word == "false" {
			v = word == "true"
		}
		choices = append(choices, v)
	}
	ru := rule.ByID(a.q.Rule)
	switch {
	case ru.Domain.Number && strings.Contains(a.q.Rule, "length"):
		choices = append(choices, 60, 72, 80, 88, 100, 120)
	case ru.Domain.Number && a.q.Rule == "blank_lines":
		choices = append(choices, 1, 2)
	case ru.Domain.Number:
		choices = append(choices, 2, 3, 4, 8)
	case a.way.Number != "":
		choices = append(choices, 2, 4)
	case len(a.way.Values) == 0:
		for _, word := range ru.Domain.Words {
			var v any = word
			if word == "true" || word == "false" {
				v = word == "true"
			}
			choices = append(choices, v)
		}
	}
	if domain == "bool" {
		choices = slices.DeleteFunc(choices, func(v any) bool { _, ok := v.(bool); return !ok })
	}
	if len(choices) == 0 {
		return nil
	}
	return choices[r.IntN(len(choices))]
}

// put sets a value at a path of keys; a number is a place in a list, which begins with a
// level.
func put(data map[string]any, keys []string, raw any) {
	if len(keys) == 1 {
		if _, list := data[keys[0]].([]any); !list {
			data[keys[0]] = raw
		}
		return
	}
	if n, err := strconv.Atoi(keys[1]); err == nil {
		list, _ := data[keys[0]].([]any)
		if list == nil {
			list = []any{"error"}
			if n == 0 {
				list = nil
			}
		}
		for len(list) <= n {
			list = append(list, nil)
		}
		if len(keys) == 2 {
			list[n] = raw
		} else {
			below, _ := list[n].(map[string]any)
			if below == nil {
				below = map[string]any{}
			}
			put(below, keys[2:], raw)
			list[n] = below
		}
		data[keys[0]] = list
		return
	}
	below, _ := data[keys[0]].(map[string]any)
	if below == nil {
		below = map[string]any{}
	}
	put(below, keys[1:], raw)
	data[keys[0]] = below
}

func writable(s document.Syntax) bool {
	return slices.Contains([]document.Syntax{"json", "jsonc", "json5", "yaml", "toml", "ini", "properties"}, s)
}

// written is data in a syntax.
func written(s document.Syntax, data map[string]any, seed string) string {
	switch s {
	case "json", "jsonc", "json5":
		text, _ := json.MarshalIndent(data, "", "  ")
		return string(text) + "\n"
	case "yaml":
		return yaml(data, "")
	case "toml":
		text, err := toml.Marshal(data)
		if err != nil {
			return ""
		}
		return string(text)
	case "ini":
		b := ""
		for _, section := range slices.Sorted(maps.Keys(data)) {
			below, ok := data[section].(map[string]any)
			if !ok {
				return ""
			}
			if !strings.Contains(seed, "["+section+"]") {
				b += "[" + section + "]\n"
			}
			for _, k := range slices.Sorted(maps.Keys(below)) {
				b += fmt.Sprintf("%s = %v\n", k, below[k])
			}
		}
		return seed + b
	case "properties":
		b := ""
		for _, k := range slices.Sorted(maps.Keys(data)) {
			b += fmt.Sprintf("%s = %v\n", k, data[k])
		}
		return b
	}
	return ""
}

// yaml writes maps in lines, and everything else as JSON, which YAML contains.
func yaml(data map[string]any, indent string) string {
	b := ""
	for _, k := range slices.Sorted(maps.Keys(data)) {
		key := k
		if strings.ContainsAny(k, "@:#") {
			key = strconv.Quote(k)
		}
		if below, ok := data[k].(map[string]any); ok {
			b += indent + key + ":\n" + yaml(below, indent+"  ")
			continue
		}
		text, _ := json.Marshal(data[k])
		if s, ok := data[k].(string); ok && strings.Trim(s, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ_-") == "" {
			text = []byte(s)
		}
		b += indent + key + ": " + string(text) + "\n"
	}
	return b
}
