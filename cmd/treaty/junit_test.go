package main

import (
	"encoding/xml"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// element is an element of a document, whatever its name.
type element struct {
	XMLName  xml.Name
	Attrs    []xml.Attr `xml:",any,attr"`
	Children []element  `xml:",any"`
	Text     string     `xml:",chardata"`
}

// junitSchema is the XML schema of JUnit reports of the Ant task: of each element the
// attributes with the form of their values, all of which it must have, and the form
// of the list of its children.
var junitSchema = map[string]struct {
	attrs    map[string]string
	children string
}{
	"testsuites": {nil, `(testsuite )*`},
	"testsuite": {map[string]string{
		"package": `.+`, "id": `\d+`, "name": `.+`, "timestamp": `\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d`, "hostname": `.+`,
		"tests": `\d+`, "failures": `\d+`, "errors": `\d+`, "time": `\d+(\.\d+)?`,
	}, `properties (testcase )*system-out system-err `},
	"properties": {nil, ``},
	"testcase":   {map[string]string{"name": `.+`, "classname": `.+`, "time": `\d+(\.\d+)?`}, `(failure |error |skipped )?`},
	"failure":    {map[string]string{"message": `(?s).*`, "type": `.+`}, ``},
	"system-out": {nil, ``},
	"system-err": {nil, ``},
}

// validJUnit holds a report against the schema and its own sums, and returns how many
// failures it has.
func validJUnit(t *testing.T, text []byte) int {
	t.Helper()
	var root element
	require.NoError(t, xml.Unmarshal(text, &root))
	require.Equal(t, "testsuites", root.XMLName.Local)
	count := map[string]int{}
	var check func(e element)
	check = func(e element) {
		name := e.XMLName.Local
		rule, known := junitSchema[name]
		require.True(t, known, name)
		assert.Len(t, e.Attrs, len(rule.attrs), name)
		for _, a := range e.Attrs {
			require.Contains(t, rule.attrs, a.Name.Local, name)
			assert.Regexp(t, regexp.MustCompile(`^(`+rule.attrs[a.Name.Local]+`)$`), a.Value)
		}
		var names strings.Builder
		for _, c := range e.Children {
			names.WriteString(c.XMLName.Local + " ")
		}
		assert.Regexp(t, regexp.MustCompile(`^(`+rule.children+`)$`), names.String(), name)
		before := map[string]int{"testcase": count["testcase"], "failure": count["failure"]}
		count[name]++
		for _, c := range e.Children {
			check(c)
		}
		if name == "testsuite" {
			for _, a := range e.Attrs {
				of := map[string]string{"tests": "testcase", "failures": "failure"}[a.Name.Local]
				if of != "" {
					assert.Equal(t, strconv.Itoa(count[of]-before[of]), a.Value, a.Name.Local)
				}
			}
		}
	}
	check(root)
	return count["failure"]
}
