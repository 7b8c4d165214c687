package document

import (
	"fmt"
	"strings"
)

// WholeWord stands for any whole number among the words of a domain.
const WholeWord = "<whole>"

// Texts returns the words of a domain as texts.
func Texts(words []any) []string {
	out := make([]string, len(words))
	for i, w := range words {
		out[i] = fmt.Sprint(w)
	}
	return out
}

// ListOf is the domain of a list of words, of which these are known.
type ListOf []any

// DomainText says in words which values a key takes: "whole", "bool", "text",
// "list", "map", one of a list of words, or ListOf. It is "" for any value.
func DomainText(domain any) string {
	if words, ok := domain.(ListOf); ok {
		return "a list of " + strings.Join(Texts(words), ", ")
	}
	words, ok := domain.([]any)
	if !ok {
		return map[any]string{"whole": "a whole number", "bool": "true or false", "text": "a text", "list": "a list", "map": "keys with values"}[domain]
	}
	list := Texts(words)
	for i := range list {
		if list[i] == WholeWord {
			list[i] = "a whole number"
		}
	}
	if len(list) > 1 {
		list[len(list)-2] += " or " + list[len(list)-1]
		list = list[:len(list)-1]
	}
	return strings.Join(list, ", ")
}
