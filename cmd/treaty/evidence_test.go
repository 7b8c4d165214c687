package main

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// harbour is a repository whose two folders do not agree.
func harbour(t *testing.T) string {
	files := map[string]string{".editorconfig": "root = true\n[*.py]\nindent_style = space\nindent_size = 4\n"}
	for i := range 8 {
		files[fmt.Sprintf("crew/m%d.py", i)] = "def a():\n    return \"x\"  \n"
		files[fmt.Sprintf("fares/m%d.py", i)] = "def a():\n  return 'x'\n\n\n\nb = 1"
	}
	for i := range 4 {
		files[fmt.Sprintf("fares/n%d.py", i)] = "def a():\n  return 'x'\n"
	}
	return write(t, t.TempDir(), files)
}

func TestEvidence(t *testing.T) {
	dir := harbour(t)
	r := run(t, dir, "evidence")
	require.Zero(t, r.code, r.err)
	for _, part := range []string{
		"all of 20 files with code read", "Python  20 files", "2 spaces", "60 %", "in crew: 4 spaces, 100 % of 8", "in fares: single quotes, 100 % of 12", "lines within 80 columns", "differ most: ",
	} {
		assert.Contains(t, r.out, part)
	}
	one := run(t, dir, "evidence", "--rule", "quotes", "--path", "crew", "--type", "python")
	assert.Contains(t, one.out, "double quotes")
	assert.NotContains(t, one.out, "single quotes")
	assert.Contains(t, one.out, "all of 8 files with code read", "nothing else is read")
	nowhere := run(t, dir, "evidence", "--path", "crow/**")
	assert.Equal(t, 2, nowhere.code)
	assert.Contains(t, nowhere.err, "--path crow/**: no file of this repository is there")
	lengths := run(t, dir, "evidence", "--path", "crew", "--rule", "max_line_length")
	assert.Contains(t, lengths.out, "half of 16 lines within", "of the files at the path alone")
	assert.Contains(t, run(t, dir, "evidence", "--type", "kotlin").out, "No code says anything about that.")
}

func TestEvidenceForMachines(t *testing.T) {
	dir := harbour(t)
	var o struct {
		Types []struct {
			Type  string
			Rules []struct {
				Rule    string
				Telling int
				Values  []struct {
					Value any
					Files int
					Share float64
				}
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(run(t, dir, "evidence", "--format", "json", "--rule", "indent_size").out), &o))
	require.Len(t, o.Types, 1)
	require.Len(t, o.Types[0].Rules, 1)
	assert.EqualValues(t, 2, o.Types[0].Rules[0].Values[0].Value)
	assert.Equal(t, 12, o.Types[0].Rules[0].Values[0].Files)
	rows, err := csv.NewReader(strings.NewReader(run(t, dir, "evidence", "--format", "csv", "--rule", "indent_size").out)).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"type", "rule", "value", "files", "share", "telling", "read", "of"}, {"python", "indent_size", "2", "12", "0.6000", "20", "20", "20"}, {"python", "indent_size", "4", "8", "0.4000", "20", "20", "20"}}, rows)
	rows, err = csv.NewReader(strings.NewReader(run(t, dir, "evidence", "--format", "csv", "--if", "insert_final_newline=true").out)).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"python", "insert_final_newline", "true", "20", "8", "8", "true"}, rows[1])
}

func TestCostOfAChoice(t *testing.T) {
	dir := harbour(t)
	for choice, parts := range map[string][]string{
		"indent_size=4":                 {"Python        20            12     12  certain", "fares/m0.py:2", "was  ··return 'x'", "now  ····return 'x'"},
		"quotes=double":                 {"12     12  certain", "now    return \"x\""},
		"trim_trailing_whitespace=true": {"8      8  certain", "crew/m0.py:2", "\"x\"··"},
		"blank_lines=1":                 {"8     16  certain", "now  the line is gone"},
		"end_of_line=lf":                {"nothing to change in Python (20)"},
		"max_line_length=10":            {"20     20  estimate", "too long today"},
	} {
		r := run(t, dir, "evidence", "--if", choice)
		require.Zero(t, r.code, r.err)
		for _, part := range parts {
			assert.Contains(t, r.out, part, choice)
		}
	}
	for choice, says := range map[string]string{
		"quotes": "write a rule and a value", "quote=double": "the nearest is quotes", "quotes=curly": "it takes single, double", "type_names=snake": "is not measured",
	} {
		r := run(t, dir, "evidence", "--if", choice)
		assert.Equal(t, 2, r.code)
		assert.Contains(t, r.err, says)
	}
	assert.Equal(t, 2, run(t, dir, "audit", "--format", "csv").code, "only some commands print it")
}

func TestEvidenceIsCarriedIntoConflicts(t *testing.T) {
	dir := harbour(t)
	r := run(t, dir, "conflicts", "--code", "code/disagrees")
	assert.Contains(t, r.out, "60 % of 20 Python files that tell do")
	assert.Contains(t, r.out, "the code: of 20 files read, 40 % have 4 spaces")
	assert.NotContains(t, run(t, dir, "conflicts", "--quick").out, "the code:")
	assert.Contains(t, run(t, dir, "explain", "fares/n0.py").out, "has 2 spaces, which differs")
}

func TestFollowingTheCode(t *testing.T) {
	dir := harbour(t)
	r := run(t, dir, "settle", "--follow", "code", "--write")
	require.Zero(t, r.code, r.err)
	text := contents(t, dir)[".editorconfig"]
	assert.Contains(t, text, "indent_size = 2")
	assert.Contains(t, run(t, dir, "conflicts", "--code", "code/disagrees").out, "0 errors, 0 warnings, 0 notes")
	again := run(t, dir, "settle", "--follow", "code", "--patch")
	assert.Empty(t, again.out, "settling twice changes nothing")
	assert.Equal(t, 2, run(t, dir, "settle", "--follow", "code", "--quick").code)
	assert.Equal(t, 2, run(t, dir, "settle", "--follow", "fashion").code)
}

func TestARepositoryWithoutSettings(t *testing.T) {
	files := map[string]string{}
	for i := range 5 {
		files[fmt.Sprintf("a%d.js", i)] = "if (a) {\n\tb();\n}\n"
	}
	dir := write(t, t.TempDir(), files)
	r := run(t, dir, "settle", "--write")
	require.Zero(t, r.code, r.err)
	assert.Contains(t, r.out, "JavaScript: tabs, LF, utf-8, no trailing blanks, a final newline")
	assert.Contains(t, r.out, "because the code does so, without exception")
	assert.Contains(t, contents(t, dir)[".editorconfig"], "[*.js]\nindent_style = tab\n")
	assert.Empty(t, run(t, dir, "settle", "--patch").out)
}
