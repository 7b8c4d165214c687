package document

import (
	"fmt"
	"strings"
)

// Member is a key of a map that is added, with its value: a scalar, a list of
// texts, or members.
type Member struct {
	Key   string
	Value any
}

// AddItem returns the edit that puts a map behind what stands in the list at a path
// of keys from the root. A list that is missing is added.
func (d *Document) AddItem(keys []string, item []Member) (Edit, error) {
	list := d.Root.Find(escaped(keys))
	if list != nil && list.Kind != List {
		return Edit{}, fmt.Errorf("%s: %s is no list", d.Path, strings.Join(keys, " "))
	}
	return d.how.item(d, keys, list, item)
}

func (d *Document) addYAMLItem(keys []string, _ *Node, item []Member) (Edit, error) {
	lines := yamlLines(d, item, "  ")
	return d.AddPart(keys, "- "+strings.TrimPrefix(lines, "  "))
}

func (d *Document) addTOMLItem(keys []string, list *Node, item []Member) (Edit, error) {
	if list != nil && (len(list.Items) == 0 || list.Items[0].Kind != Map || list.Items[0].flow) {
		return Edit{}, fmt.Errorf("%s: %s is written in one line, to which nothing is added", d.Path, strings.Join(keys, " "))
	}
	text := d.blankLine() + "[[" + tomlKey(keys) + "]]\n" + d.tomlLines(keys, item)
	return d.addLine(d.native(strings.TrimSuffix(text, "\n"))), nil
}

func (d *Document) addJSONItem(keys []string, list *Node, item []Member) (Edit, error) {
	if list == nil {
		n, rest := d.Root.deepest(keys, false)
		if len(rest) > 1 {
			return Edit{}, fmt.Errorf("%s: there is no %s to add to", d.Path, rest[0])
		}
		if n.indent == "" {
			return d.addJSON(keys, written("["+d.jsonObject(item, "")+"]"))
		}
		inner := n.indent + d.jsonUnit()
		return d.addJSON(keys, written("["+d.newline()+inner+d.jsonObject(item, inner)+d.newline()+n.indent+"]"))
	}
	if len(list.Items) == 0 {
		return Edit{list.Start, list.End, "[" + d.jsonObject(item, "") + "]"}, nil
	}
	last := list.Items[len(list.Items)-1]
	indent := d.blanksBefore(last.Start)
	if indent == "" {
		return Edit{last.End, last.End, ", " + d.jsonObject(item, "")}, nil
	}
	return d.behind(last.End, d.newline()+indent+d.jsonObject(item, indent)), nil
}

// written is a value as it stands in the document.
type written string

// jsonObject writes members, over several lines where indent is not "".
func (d *Document) jsonObject(members []Member, indent string) string {
	inner, between, open, end := "", ", ", "{ ", " }"
	if indent != "" {
		inner = indent + d.jsonUnit()
		between, open, end = ","+d.newline()+inner, "{"+d.newline()+inner, d.newline()+indent+"}"
	}
	var parts []string
	for _, m := range members {
		text := ""
		switch v := m.Value.(type) {
		case []Member:
			text = d.jsonObject(v, inner)
		case []string:
			text = "[" + d.texts(v) + "]"
		default:
			text = d.scalar(v, "")
		}
		parts = append(parts, d.scalar(m.Key, `"`)+": "+text)
	}
	return open + strings.Join(parts, between) + end
}

// texts writes texts with commas between them.
func (d *Document) texts(list []string) string {
	var out []string
	for _, s := range list {
		out = append(out, d.scalar(s, `"`))
	}
	return strings.Join(out, ", ")
}

func yamlLines(d *Document, members []Member, indent string) string {
	var b strings.Builder
	for _, m := range members {
		b.WriteString(indent + d.scalar(m.Key, "") + ":")
		switch v := m.Value.(type) {
		case []Member:
			b.WriteString("\n" + yamlLines(d, v, indent+"  "))
		case []string:
			b.WriteString(" [" + d.texts(v) + "]\n")
		default:
			b.WriteString(" " + d.scalar(v, "") + "\n")
		}
	}
	return b.String()
}

// tomlLines writes members of the table at a path of keys, those that are tables
// last and under headers of their own.
func (d *Document) tomlLines(keys []string, members []Member) string {
	var own, tables strings.Builder
	for _, m := range members {
		switch v := m.Value.(type) {
		case []Member:
			path := append(keys[:len(keys):len(keys)], m.Key)
			if text := d.tomlLines(path, v); strings.HasPrefix(text, "[") {
				tables.WriteString(text)
			} else {
				tables.WriteString("[" + tomlKey(path) + "]\n" + text)
			}
		case []string:
			own.WriteString(tomlKey([]string{m.Key}) + " = [" + d.texts(v) + "]\n")
		default:
			own.WriteString(tomlKey([]string{m.Key}) + " = " + d.scalar(v, "") + "\n")
		}
	}
	return own.String() + tables.String()
}
