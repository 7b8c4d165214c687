package present

import (
	"fmt"
	"io"
	"strings"

	"jollytreaty/core/audit"
	"jollytreaty/core/rule"
)

// Rules prints rules with what programs make of them, and keys of programs.
func Rules(p *Page, refs []audit.Reference, keys []audit.Key) {
	for i, ref := range refs {
		if i > 0 {
			fmt.Fprintln(p.W)
		}
		ruleHead(p, ref.Rule)
		rows := [][]string{{"  PROGRAM", "ROLE", "DEFAULT", "KEY"}}
		here := [][]audit.Here{nil}
		for _, a := range ref.Answers {
			rows = append(rows, []string{"  " + a.Program.Name, string(a.Role), dash(a.Default), keyText(a.Keys)})
			here = append(here, a.Here)
		}
		if len(ref.Answers) == 0 {
			fmt.Fprintln(p.W, "  no program in play here answers it; for all that are known: --all")
			continue
		}
		p.withHere(rows, here)
	}
	if len(keys) > 0 && len(refs) > 0 {
		fmt.Fprintln(p.W)
	}
	keyTable(p, keys)
}

func ruleHead(p *Page, r *rule.Rule) {
	fmt.Fprintf(p.W, "%s  %s\n", p.bold(r.ID), r.Title)
	for _, line := range wrap(r.Sentence, p.Width-2) {
		fmt.Fprintf(p.W, "  %s\n", line)
	}
	example := r.Example[0] + "  or  " + r.Example[1]
	fmt.Fprintf(p.W, "  takes %s; for example %s\n", DomainText(r.Domain), strings.ReplaceAll(example, "\n", " ␊ "))
}

// DomainText says in words which values a rule has.
func DomainText(d rule.Domain) string {
	switch {
	case d.Number:
		return "a whole number, or unlimited"
	case d.Text, d.Prose:
		return "a text"
	}
	return strings.Join(d.Words, ", ")
}

func dash(text string) string {
	if text == "" {
		return "-"
	}
	return text
}

// keyText names the keys of an answer: the first, and how many more there are.
func keyText(keys []string) string {
	switch {
	case len(keys) == 0:
		return "(fixed)"
	case len(keys) > 2:
		return fmt.Sprintf("%s and %d more", keys[0], len(keys)-1)
	}
	return strings.Join(keys, ", ")
}

// mostHere is how many places are told of for one key.
const mostHere = 4

// withHere prints a table, and below each row its values here.
func (p *Page) withHere(rows [][]string, here [][]audit.Here) {
	for i, lines := range p.flowRows(rows) {
		for _, line := range lines {
			if i == 0 {
				line = p.bold(line)
			}
			fmt.Fprintln(p.W, line)
		}
		for j, h := range here[i] {
			if j == mostHere && len(here[i]) > mostHere+1 {
				fmt.Fprintf(p.W, "      here in %d more places\n", len(here[i])-j)
				break
			}
			fmt.Fprintf(p.W, "      here %s\n", hereText(h))
		}
	}
}

func hereText(h audit.Here) string {
	value := cut(Clean(h.Value), 30)
	switch {
	case h.Path == "":
		return value + ", its default, " + fileCount(h.Files)
	case h.Files > 0:
		return fmt.Sprintf("%s, %s:%d, %s", value, Clean(h.Path), h.Line, fileCount(h.Files))
	}
	return fmt.Sprintf("%s, %s:%d", value, Clean(h.Path), h.Line)
}

// keyTable prints the keys of each program: in a table those of which there is
// something to say, and then the names of the others.
func keyTable(p *Page, keys []audit.Key) {
	for len(keys) > 0 {
		program := keys[0].Program
		fmt.Fprintf(p.W, "%s  %s\n", p.bold(program.Name), p.faint("keys of its settings, as of version "+program.Version))
		rows, here := [][]string{{"  KEY", "TAKES"}}, [][]audit.Here{nil}
		var names []string
		for len(keys) > 0 && keys[0].Program == program {
			k := keys[0]
			keys = keys[1:]
			if text := keyTakes(k); text != "" || len(k.Here) > 0 {
				rows = append(rows, []string{"  " + Clean(k.Name), dash(text)})
				here = append(here, k.Here)
			} else {
				names = append(names, k.Name)
			}
		}
		if len(rows) > 1 {
			p.withHere(rows, here)
		}
		namesOf(p, names, len(rows) > 1)
		if len(keys) > 0 {
			fmt.Fprintln(p.W)
		}
	}
}

// keyTakes says what a key takes, and what holds where it is not set.
func keyTakes(k audit.Key) string {
	if k.Retired {
		if k.Instead == "" {
			return "retired"
		}
		return "retired; use " + k.Instead
	}
	text := k.Takes
	if k.Default != "" {
		text = strings.TrimPrefix(text+"; "+k.Default+" where it is not set", "; ")
	}
	if k.Rule != nil {
		text = strings.TrimPrefix(text+" ("+k.Rule.ID+")", " ")
	}
	return text
}

// namesOf lists keys of which only the name is known, by the path before it.
func namesOf(p *Page, names []string, more bool) {
	if len(names) == 0 {
		return
	}
	if more {
		fmt.Fprintln(p.W, "  "+p.bold("BY NAME"))
	}
	for len(names) > 0 {
		parent := names[0][:strings.LastIndexByte(names[0], '.')+1]
		n := 1
		for n < len(names) && names[n][:strings.LastIndexByte(names[n], '.')+1] == parent {
			n++
		}
		text := strings.Join(names[:n], ", ")
		if n > 1 && parent != "" {
			var parts []string
			for _, name := range names[:n] {
				parts = append(parts, name[len(parent):])
			}
			text = parent + " " + strings.Join(parts, ", ")
		}
		for i, line := range wrap(Clean(text), p.Width-4) {
			fmt.Fprintf(p.W, "%s%s\n", strings.Repeat(" ", min(2+2*i, 4)), line)
		}
		names = names[n:]
	}
}

// RulesJSON prints rules and keys as one object.
func RulesJSON(w io.Writer, refs []audit.Reference, keys []audit.Key) error {
	rules, list := []object{}, []object{}
	for _, ref := range refs {
		answers := []object{}
		for _, a := range ref.Answers {
			o := object{"program": a.Program.ID, "role": a.Role, "keys": append([]string{}, a.Keys...), "in_play": a.InPlay, "here": hereObjects(a.Here)}
			if a.Default != "" {
				o["default"] = a.Default
			}
			answers = append(answers, o)
		}
		rules = append(rules, object{"rule": ref.Rule.ID, "title": ref.Rule.Title, "sentence": ref.Rule.Sentence,
			"takes": DomainText(ref.Rule.Domain), "examples": ref.Rule.Example, "programs": answers})
	}
	for _, k := range keys {
		o := object{"program": k.Program.ID, "key": k.Name, "retired": k.Retired, "here": hereObjects(k.Here)}
		for name, text := range map[string]string{"takes": k.Takes, "default": k.Default, "instead": k.Instead} {
			if text != "" {
				o[name] = text
			}
		}
		if k.Rule != nil {
			o["rule"] = k.Rule.ID
		}
		list = append(list, o)
	}
	return write(w, object{"format": "jolly-treaty/rules", "version": 1, "rules": rules, "keys": list})
}

func hereObjects(here []audit.Here) []object {
	out := []object{}
	for _, h := range here {
		o := object{"value": h.Value, "files": h.Files}
		if h.Path != "" {
			o["path"], o["line"] = h.Path, h.Line
		}
		out = append(out, o)
	}
	return out
}

// RuleList prints the rules, each with the values it has here.
func RuleList(p *Page, refs []audit.Reference) {
	rows := [][]string{{"RULE", "ASKS", "HERE"}}
	for _, ref := range refs {
		var values []string
		seen := map[string]int{}
		for _, a := range ref.Answers {
			for _, h := range a.Here {
				if seen[h.Value]++; seen[h.Value] == 1 {
					values = append(values, Clean(h.Value))
				}
			}
		}
		rows = append(rows, []string{ref.Rule.ID, ref.Rule.Title, cut(dash(strings.Join(values, ", ")), 40)})
	}
	p.titled(rows)
	fmt.Fprintf(p.W, "\n%s  keys, defaults and values of one rule\n%s  every key of one program\n",
		pad(p.bold("treaty rules WORDS"), 26), pad(p.bold("treaty rules --program ID"), 26))
}
