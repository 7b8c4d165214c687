package present

import (
	"encoding/json"
	"slices"

	"jollytreaty/core/rule"
)

// treatySchema is the JSON Schema of the treaty file, with the rules' own domains.
func treatySchema() ([]byte, error) {
	text, err := schemas.ReadFile("schema/treaty.json")
	if err != nil {
		return nil, err
	}
	var schema map[string]any
	if err := json.Unmarshal(text, &schema); err != nil {
		return nil, err
	}
	style := object{}
	for _, r := range rule.All() {
		style[r.ID] = domainSchema(r.Domain)
	}
	schema["properties"].(map[string]any)["style"] = object{"type": "object", "properties": style, "additionalProperties": false}
	article := schema["properties"].(map[string]any)["article"].(map[string]any)["items"].(map[string]any)
	article["properties"].(map[string]any)["style"] = object{"type": "object", "properties": style, "additionalProperties": false}
	out, err := json.MarshalIndent(schema, "", "  ")
	return append(out, '\n'), err
}

// domainSchema is what values of a rule may be in the treaty file.
func domainSchema(d rule.Domain) object {
	number := object{"type": "integer", "minimum": 1}
	switch {
	case d.Unlimited:
		return object{"anyOf": []object{number, {"const": rule.Unlimited.String()}}}
	case d.Number:
		return number
	case slices.Equal(slices.Sorted(slices.Values(d.Words)), []string{"false", "true"}):
		return object{"type": "boolean"}
	case len(d.Words) > 0:
		return object{"enum": d.Words}
	case d.Text:
		return object{"type": []string{"string", "integer"}}
	}
	return object{"type": "string", "minLength": 1}
}
