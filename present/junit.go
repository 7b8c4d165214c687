package present

import (
	"encoding/xml"
	"fmt"
	"io"
	"slices"

	"jollytreaty/core/conflict"
)

type junitSuites struct {
	XMLName  xml.Name     `xml:"testsuites"`
	Tests    int          `xml:"tests,attr"`
	Failures int          `xml:"failures,attr"`
	Suites   []junitSuite `xml:"testsuite"`
}

type junitSuite struct {
	Name     string      `xml:"name,attr"`
	Tests    int         `xml:"tests,attr"`
	Failures int         `xml:"failures,attr"`
	Cases    []junitCase `xml:"testcase"`
}

type junitCase struct {
	Name    string        `xml:"name,attr"`
	Class   string        `xml:"classname,attr"`
	File    string        `xml:"file,attr,omitempty"`
	Line    int           `xml:"line,attr,omitempty"`
	Failure *junitFailure `xml:"failure,omitempty"`
}

type junitFailure struct {
	Message string `xml:"message,attr"`
	Type    string `xml:"type,attr"`
	Text    string `xml:",chardata"`
}

// JUnit prints a check as JUnit XML: a suite for each kind of finding, a case for
// each finding, and one for each code of which there is none.
func JUnit(w io.Writer, c *Check) error {
	fails := map[*conflict.Finding]bool{}
	for _, f := range c.Failing {
		fails[f] = true
	}
	var all junitSuites
	suite := func(kind string) *junitSuite {
		for i := range all.Suites {
			if all.Suites[i].Name == kind {
				return &all.Suites[i]
			}
		}
		all.Suites = append(all.Suites, junitSuite{Name: kind})
		return &all.Suites[len(all.Suites)-1]
	}
	for _, code := range conflict.Codes() {
		s, found := suite(code.Kind()), false
		for _, f := range c.Findings {
			if f.Code != code {
				continue
			}
			found = true
			one := junitCase{Name: fmt.Sprintf("%s %s", f.ID, clean(f.Message)), Class: string(code)}
			if place := firstPlace(f); place != nil {
				one.File, one.Line = place.Path, max(place.Line, 1)
			}
			if fails[f] {
				one.Failure = &junitFailure{Message: clean(f.Message), Type: string(f.Severity), Text: clean(wherePlaces(f))}
				s.Failures++
			}
			s.Cases = append(s.Cases, one)
		}
		if !found && c.looksFor(code) {
			s.Cases = append(s.Cases, junitCase{Name: "nothing found", Class: string(code)})
		}
	}
	all.Suites = slices.DeleteFunc(all.Suites, func(s junitSuite) bool { return len(s.Cases) == 0 })
	for i := range all.Suites {
		all.Suites[i].Tests = len(all.Suites[i].Cases)
		all.Tests += all.Suites[i].Tests
		all.Failures += all.Suites[i].Failures
	}
	if _, err := io.WriteString(w, xml.Header); err != nil {
		return err
	}
	e := xml.NewEncoder(w)
	e.Indent("", "  ")
	if err := e.Encode(all); err != nil {
		return err
	}
	_, err := io.WriteString(w, "\n")
	return err
}
