package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAddItem(t *testing.T) {
	item := []Member{{"files", []string{"*.md"}}, {"options", []Member{{"semi", false}, {"width", int64(80)}}}}
	for _, c := range []struct {
		syntax    Syntax
		src, want string // "" where it is refused
	}{
		{JSON, "{\n  \"a\": 1\n}\n", "{\n  \"a\": 1,\n  \"for\": [\n    {\n      \"files\": [\"*.md\"],\n      \"options\": {\n        \"semi\": false,\n        \"width\": 80\n      }\n    }\n  ]\n}\n"},
		{JSON, `{"a": 1}`, `{"a": 1, "for": [{ "files": ["*.md"], "options": { "semi": false, "width": 80 } }]}`},
		{JSON, `{"for": [1]}`, `{"for": [1, { "files": ["*.md"], "options": { "semi": false, "width": 80 } }]}`},
		{JSON, `{"for": []}`, `{"for": [{ "files": ["*.md"], "options": { "semi": false, "width": 80 } }]}`},
		{JSONC, "{\n\t\"for\": [\n\t\t{ \"files\": \"*.x\" } // one\n\t]\n}\n", "{\n\t\"for\": [\n\t\t{ \"files\": \"*.x\" }, // one\n\t\t{\n\t\t\t\"files\": [\"*.md\"],\n\t\t\t\"options\": {\n\t\t\t\t\"semi\": false,\n\t\t\t\t\"width\": 80\n\t\t\t}\n\t\t}\n\t]\n}\n"},
		{JSON, `{"for": {}}`, ""},
		{YAML, "a: 1 # one\n", "a: 1 # one\nfor:\n  - files: [\"*.md\"]\n    options:\n      semi: false\n      width: 80\n"},
		{YAML, "for:\n- files: x\n# end\n", "for:\n- files: x\n- files: [\"*.md\"]\n  options:\n    semi: false\n    width: 80\n# end\n"},
		{TOML, "a = 1\n", "a = 1\n\n[[for]]\nfiles = [\"*.md\"]\n[for.options]\nsemi = false\nwidth = 80\n"},
		{TOML, "[[for]]\nfiles = \"x\"\n", "[[for]]\nfiles = \"x\"\n\n[[for]]\nfiles = [\"*.md\"]\n[for.options]\nsemi = false\nwidth = 80\n"},
		{TOML, "for = [{files = \"x\"}]\n", ""},
		{INI, "a = 1\n", ""},
	} {
		d, err := Parse(c.syntax, "file", []byte(c.src))
		require.NoError(t, err)
		edit, err := d.AddItem([]string{"for"}, item)
		if again := edited(t, d, []Edit{edit}, err, c.want); again != nil {
			list := again.Root.Get("for")
			assert.Equal(t, "80", list.Items[len(list.Items)-1].Find("options/width").Text())
		}
	}
}
