package present

import (
	"encoding/xml"
	"fmt"
	"io"
	"slices"

	"jollytreaty/core/conflict"
)

// The elements of JUnit XML, with all that the strictest of its schemas, that of the
// Ant task which reports in it, asks of them; it has no place for a file and a line,
// so these stand in the text of a failure.
type junitSuites struct {
	XMLName xml.Name     `xml:"testsuites"`
	Suites  []junitSuite `xml:"testsuite"`
}

type junitSuite struct {
	Package    string      `xml:"package,attr"`
	ID         int         `xml:"id,attr"` // from 0
	Name       string      `xml:"name,attr"`
	Timestamp  string      `xml:"timestamp,attr"` // of the day that was asked about, as xs:dateTime without a zone
	Hostname   string      `xml:"hostname,attr"`
	Tests      int         `xml:"tests,attr"`
	Failures   int         `xml:"failures,attr"`
	Errors     int         `xml:"errors,attr"`
	Time       string      `xml:"time,attr"` // seconds
	Properties struct{}    `xml:"properties"`
	Cases      []junitCase `xml:"testcase"`
	Out        string      `xml:"system-out"`
	Err        string      `xml:"system-err"`
}

type junitCase struct {
	Name    string        `xml:"name,attr"`
	Class   string        `xml:"classname,attr"`
	Time    string        `xml:"time,attr"`
	Failure *junitFailure `xml:"failure,omitempty"`
}

type junitFailure struct {
	Message string `xml:"message,attr"`
	Type    string `xml:"type,attr"`
	Text    string `xml:",chardata"`
}

// noTime stands where a schema wants a duration: findings have none.
const noTime = "0"

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
		all.Suites = append(all.Suites, junitSuite{
			Package: "treaty", Name: kind, Timestamp: c.Result.Day().UTC().Format("2006-01-02T15:04:05"), Hostname: "localhost", Time: noTime,
		})
		return &all.Suites[len(all.Suites)-1]
	}
	for _, code := range conflict.Codes() {
		s, found := suite(code.Kind()), false
		for _, f := range c.Findings {
			if f.Code != code {
				continue
			}
			found = true
			one := junitCase{Name: fmt.Sprintf("%s %s", f.ID, Clean(f.Message)), Class: string(code), Time: noTime}
			if fails[f] {
				one.Failure = &junitFailure{Message: Clean(f.Message), Type: string(f.Severity), Text: Clean(Places(f))}
				s.Failures++
			}
			s.Cases = append(s.Cases, one)
		}
		if !found && c.looksFor(code) {
			s.Cases = append(s.Cases, junitCase{Name: "nothing found", Class: string(code), Time: noTime})
		}
	}
	all.Suites = slices.DeleteFunc(all.Suites, func(s junitSuite) bool { return len(s.Cases) == 0 })
	for i := range all.Suites {
		all.Suites[i].ID, all.Suites[i].Tests = i, len(all.Suites[i].Cases)
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
