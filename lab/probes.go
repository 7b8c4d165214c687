package main

import (
	"fmt"
	"regexp"
	"strings"

	"jollytreaty/core/rule"
)

// probe is a file of a type, in which it shows what a program does: to be written anew by
// formatters, or with the value of one rule, to be looked at by linters.
type probe struct {
	name  string
	text  string
	width *regexp.Regexp // a statement that stands in one line where it fits
}

// widths are the lengths of the statements, in columns.
const (
	shortest = 50
	longest  = 130
)

// lines writes a statement of every length, where two parts of it take up what is left.
func lines(format string, fixed int) string {
	var b strings.Builder
	for n := shortest; n <= longest; n++ {
		room := n - fixed
		fmt.Fprintf(&b, format, strings.Repeat("a", room/2), strings.Repeat("b", room-room/2))
	}
	return b.String()
}

// probeOf returns the probe of a type for formatters.
func probeOf(typeID string) (probe, bool) {
	switch typeID {
	case "javascript", "typescript":
		ext := map[string]string{"javascript": ".js", "typescript": ".ts"}[typeID]
		return probe{"probe" + ext, "const one = { aa: 'x', bb: \"y\" };\nfunction two(aa, bb) {\n    if (aa) {\n        return bb;\n    }\n    const list = [\n        'first',\n        'second',\n        'third'\n    ];\n    call(\n        function () { return 1; },\n        function () { return 2; }\n    );\n    return list;\n}\n" + lines("call(%s, %s);\n", 9), regexp.MustCompile(`^call\(a+, b+\);?$`)}, true
	case "python":
		return probe{"probe.py", "def two(aa, bb):\n    if aa:\n        return 'x' + \"y\"\n    return {'a': 1}\n\n\n" + lines("call(%s, %s)\n", 8), regexp.MustCompile(`^call\(a+, b+\)$`)}, true
	case "css", "scss":
		return probe{"probe." + typeID, "a {\n    color: red;\n    content: 'x';\n}\n\nb {\n    margin: 0;\n}\n", nil}, true
	case "json":
		return probe{"probe.json", "{\n    \"a\": {\n        \"b\": 1\n    },\n    \"c\": [1, 2]\n}\n", nil}, true
	case "yaml":
		return probe{"probe.yaml", "a:\n    b: 'x'\n    c:\n        d: \"y\"\ne: { f: 1 }\n", nil}, true
	case "lua":
		return probe{"probe.lua", "local function two(aa)\n    if aa then\n        return 'x' .. \"y\"\n    end\nend\n" + lines("call(%s, %s)\n", 8), regexp.MustCompile(`^call\(a+, b+\)$`)}, true
	case "shellscript":
		return probe{"probe.sh", "#!/bin/sh\nif x; then\n    y\n    if z; then\n        w\n    fi\nfi\n", nil}, true
	case "cpp":
		return probe{"probe.cpp", "int two(int aa)\n{\n    if (aa) {\n        return 1;\n    }\n    return 2;\n}\n" + lines("int x = %s + %s;\n", 12), regexp.MustCompile(`^int x = a+ \+ b+;$`)}, true
	case "rust":
		return probe{"probe.rs", "fn two(aa: bool) -> u8 {\n    if aa {\n        return 1;\n    }\n    2\n}\n", nil}, true
	case "go":
		return probe{"probe.go", "package a\n\nfunc two(aa bool) int {\n    if aa {\n        return 1\n    }\n    return 2\n}\n", nil}, true
	case "sql":
		return probe{"probe.sql", "select a, b from c where d = 1;\n", nil}, true
	case "ocaml":
		return probe{"probe.ml", "let two aa =\n    if aa then\n        print_string \"x\";\n    1\n" + lines("let x = call %s %s\n", 14), regexp.MustCompile(`^let x = call a+ b+$`)}, true
	case "perl":
		return probe{"probe.pl", "use strict;\nsub two {\n    my $aa = shift;\n    if ($aa) {\n        return 1;\n    }\n    return 2;\n}\n", nil}, true
	case "toml":
		return probe{"probe.toml", "a = [\n    1,\n    2,\n]\n", nil}, true
	case "cmake":
		return probe{"probe.cmake", "if(A)\n    set(B 1)\n    if(C)\n        set(D 2)\n    endif()\nendif()\n", nil}, true
	}
	return probe{}, false
}

// offers are files of a type in which a rule has one value each.
func offers(typeID string, r *rule.Rule) map[rule.Value]string {
	long := func(n int, open, shut string) string { return open + strings.Repeat("a", n-len(open)-len(shut)) + shut }
	words := func(pairs ...string) map[rule.Value]string {
		out := map[rule.Value]string{}
		for i := 0; i < len(pairs); i += 2 {
			v, err := r.Domain.Parse(pairs[i])
			if err == nil {
				out[v] = pairs[i+1]
			}
		}
		return out
	}
	numbers := func(text func(n int) string, sizes ...int) map[rule.Value]string {
		out := map[rule.Value]string{}
		for _, n := range sizes {
			out[rule.Number(n)] = text(n)
		}
		return out
	}
	widths := []int{60, 72, 79, 80, 81, 88, 99, 100, 101, 119, 120, 121, 140, 160}
	switch typeID + " " + r.ID {
	case "javascript quotes":
		return words("single", "export const a = 'x';\n", "double", "export const a = \"x\";\n")
	case "javascript statement_terminator":
		return words("always", "export const a = 1;\n", "needed", "export const a = 1\n")
	case "javascript trailing_comma":
		return words("multiline", "export const a = {\n  b: 1,\n};\n", "never", "export const a = {\n  b: 1\n};\n")
	case "javascript bracket_spacing":
		return words("spaced", "export const a = { b: 1 };\n", "tight", "export const a = {b: 1};\n")
	case "javascript indent_style":
		return words("tab", "export function a() {\n\treturn 1;\n}\n", "space", "export function a() {\n  return 1;\n}\n")
	case "javascript indent_size":
		return numbers(func(n int) string {
			return "export function a() {\n" + strings.Repeat(" ", n) + "return 1;\n}\n"
		}, 2, 3, 4, 8)
	case "javascript max_line_length":
		return numbers(func(n int) string { return long(n, "export const ", " = 1;") + "\n" }, widths...)
	case "javascript brace_placement":
		return words("same_line", "export function a(b) {\n  if (b) {\n    c();\n  }\n}\n", "next_line", "export function a(b)\n{\n  if (b)\n  {\n    c();\n  }\n}\n")
	case "css indent_size":
		return numbers(func(n int) string { return "a {\n" + strings.Repeat(" ", n) + "color: red;\n}\n" }, 2, 3, 4, 8)
	case "css indent_style":
		return words("tab", "a {\n\tcolor: red;\n}\n", "space", "a {\n  color: red;\n}\n")
	case "css quotes":
		return words("single", "a {\n  content: 'x';\n}\n", "double", "a {\n  content: \"x\";\n}\n")
	case "css max_line_length":
		return numbers(func(n int) string { return long(n, "/* ", " */") + "\n" }, widths...)
	case "python max_line_length", "ruby max_line_length":
		return numbers(func(n int) string { return long(n, "", " = 1") + "\n" }, widths...)
	case "sql max_line_length":
		return numbers(func(n int) string { return long(n, "SELECT ", " FROM b") + "\n" }, widths...)
	case "yaml max_line_length":
		return numbers(func(n int) string { return "---\n" + long(n, "a: b ", "") + "\n" }, widths...)
	case "yaml indent_size":
		return numbers(func(n int) string {
			p := strings.Repeat(" ", n)
			return "---\na:\n" + p + "b:\n" + p + p + "c: 1\n"
		}, 2, 3, 4, 8)
	case "yaml quotes":
		return words("single", "---\na: 'x y'\n", "double", "---\na: \"x y\"\n")
	case "yaml bracket_spacing":
		return words("spaced", "---\na: { b: 1 }\n", "tight", "---\na: {b: 1}\n")
	case "ruby quotes":
		return words("single", "a = 'x'\n", "double", "a = \"x\"\n")
	case "ruby indent_size":
		return numbers(func(n int) string { return "def a\n" + strings.Repeat(" ", n) + "1\nend\n" }, 2, 3, 4, 8)
	case "ruby end_of_line", "python end_of_line":
		return words("lf", "a = 1\nb = 2\n", "crlf", "a = 1\r\nb = 2\r\n")
	case "yaml end_of_line":
		return words("lf", "---\na: 1\n", "crlf", "---\r\na: 1\r\n")
	case "javascript end_of_line":
		return words("lf", "export const a = 1;\n", "crlf", "export const a = 1;\r\n")
	case "javascript insert_final_newline":
		return words("true", "export const a = 1;\n", "false", "export const a = 1;")
	case "python insert_final_newline", "ruby insert_final_newline":
		return words("true", "a = 1\n", "false", "a = 1")
	case "yaml insert_final_newline":
		return words("true", "---\na: 1\n", "false", "---\na: 1")
	case "markdown insert_final_newline":
		return words("true", "# A\n", "false", "# A")
	case "css insert_final_newline":
		return words("true", "a {\n  color: red;\n}\n", "false", "a {\n  color: red;\n}")
	case "javascript trim_trailing_whitespace":
		return words("true", "export const a = 1;\n", "false", "export const a = 1; \n")
	case "python trim_trailing_whitespace", "ruby trim_trailing_whitespace":
		return words("true", "a = 1\n", "false", "a = 1 \n")
	case "yaml trim_trailing_whitespace":
		return words("true", "---\na: 1\n", "false", "---\na: 1 \n")
	case "css trim_trailing_whitespace":
		return words("true", "a {\n  color: red;\n}\n", "false", "a {\n  color: red; \n}\n")
	case "javascript blank_lines":
		return numbers(func(n int) string {
			return "export const a = 1;\n" + strings.Repeat("\n", n) + "export const b = 2;\n"
		}, 1, 2, 3, 4)
	}
	return nil
}
