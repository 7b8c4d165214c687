package present

import (
	"io"
	"path"
	"strings"

	"jollytreaty/core/conflict"
)

// SARIF prints a check in the Static Analysis Results Interchange Format 2.1.0, an
// OASIS standard: a rule for each code, a result for each finding.
func SARIF(w io.Writer, version string, c *Check) error {
	rules, index := []object{}, map[conflict.Code]int{}
	for i, code := range conflict.Codes() {
		index[code] = i
		rules = append(rules, object{
			"id": string(code), "name": sarifName(code),
			"shortDescription":     object{"text": code.Meaning().Help},
			"help":                 object{"text": code.Meaning().Help + " See: treaty conflicts --code " + string(code)},
			"defaultConfiguration": object{"level": string(code.Severity())},
		})
	}
	results := []object{}
	for _, f := range c.Findings {
		locations := []object{}
		for _, s := range f.Sides {
			if s.Path != "" && !strings.HasPrefix(s.Path, "../") {
				locations = append(locations, location(s.Path, max(s.Line, 1), max(s.Column, 1)))
			}
		}
		if len(locations) == 0 && len(f.Examples) > 0 {
			locations = append(locations, location(f.Examples[0], 1, 1))
		}
		result := object{
			"ruleId": string(f.Code), "ruleIndex": index[f.Code], "level": string(f.Severity), "message": object{"text": sarifText(f.Message)},
			"partialFingerprints": object{"treatyFinding/v1": f.ID},
			"locations":           locations[:min(len(locations), 1)],
		}
		if len(locations) > 1 {
			for i, l := range locations[1:] {
				l["id"] = i + 1
			}
			result["relatedLocations"] = locations[1:]
		}
		results = append(results, result)
	}
	return write(w, object{
		"$schema": "https://json.schemastore.org/sarif-2.1.0.json", "version": "2.1.0",
		"runs": []object{{
			"tool":       object{"driver": object{"name": "Jolly Treaty", "version": version, "semanticVersion": version, "language": "en-US", "rules": rules}},
			"columnKind": "unicodeCodePoints", "language": "en-US", "newlineSequences": []string{"\r\n", "\n"}, "results": results,
		}},
	})
}

// sarifText is a plain text in SARIF, in which no part of it is a link to anywhere.
func sarifText(text string) string { return strings.ReplaceAll(Clean(text), "](", "] (") }

func sarifName(code conflict.Code) string {
	var b strings.Builder
	for _, word := range strings.FieldsFunc(string(code), func(r rune) bool { return r == '/' || r == '-' }) {
		b.WriteString(strings.ToUpper(word[:1]) + word[1:])
	}
	return b.String()
}

func location(file string, line, column int) object {
	return object{"physicalLocation": object{
		"artifactLocation": object{"uri": uri(file)},
		"region":           object{"startLine": line, "startColumn": column},
	}}
}

// uri writes a path as a relative reference, RFC 3986.
func uri(file string) string {
	var b strings.Builder
	for _, c := range []byte(path.Clean(file)) {
		switch {
		case 'a' <= c && c <= 'z', 'A' <= c && c <= 'Z', '0' <= c && c <= '9', strings.IndexByte("-._~/", c) >= 0:
			b.WriteByte(c)
		default:
			const hex = "0123456789ABCDEF"
			b.WriteString("%" + string(hex[c>>4]) + string(hex[c&15]))
		}
	}
	return b.String()
}
