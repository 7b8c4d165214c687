package main

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// effective returns the value that one of the programs goes by, and where it is
// set, as explain says.
func effective(t *testing.T, dir, file, rule, program string) string {
	t.Helper()
	r := run(t, dir, "explain", "--format", "json", file)
	require.Zero(t, r.code, r.err)
	var x struct {
		Rules []struct {
			Rule   string
			Claims []struct {
				Program, Basis, Path string
				Value                any
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(r.out), &x), r.out)
	for _, ru := range x.Rules {
		for _, c := range ru.Claims {
			if ru.Rule == rule && c.Program == program {
				value, err := json.Marshal(c.Value)
				require.NoError(t, err)
				return string(value) + " " + c.Basis + " " + c.Path
			}
		}
	}
	return ""
}

// A repository of several packages, each with a way of its own to its settings.
func monorepo(t *testing.T) string {
	return write(t, t.TempDir(), map[string]string{
		"package.json": `{"workspaces": ["apps/*"], "devDependencies": {"prettier": "3.3.2", "eslint": "8.57.0"}}`,
		"node_modules/@skerry/style/package.json": `{"name": "@skerry/style", "main": "index.json"}`,
		"node_modules/@skerry/style/index.json":   `{"tabWidth": 4, "overrides": [{"files": "*.css", "options": {"tabWidth": 8}}]}`,
		"apps/deck/package.json":                  `{"prettier": "@skerry/style"}`,
		"apps/deck/a.ts":                          "let a = 1;\n",
		"apps/deck/a.css":                         "a {}\n",
		"apps/engine/prettier.config.ts":          "const wide = 100\nconst base = { printWidth: wide }\nexport default { ...base, semi: false } satisfies Config\n",
		"apps/engine/a.ts":                        "let a = 1\n",
		"apps/horn/.prettierrc.yaml":              "one: &one\n  printWidth: 66\noverrides:\n  - files: '*.ts'\n    options:\n      <<: *one\n",
		"apps/horn/a.ts":                          "let a = 1;\n",
		"apps/horn/a.css":                         "a {}\n",
		"apps/mast/.eslintrc.json":                `{"root": true, "extends": ["./our-style.json"], "rules": {"max-len": ["error", 90]}}`,
		"apps/mast/our-style.json":                `{"rules": {"max-len": ["error", 70], "indent": ["error", 3]}, "overrides": [{"files": ["*.spec.ts"], "rules": {"indent": ["error", 5]}}]}`,
		"apps/mast/a.ts":                          "let a = 1;\n",
		"apps/mast/a.spec.ts":                     "let a = 1;\n",
		".pre-commit-config.yaml":                 "repos:\n  - repo: https://github.com/psf/black\n    rev: 24.10.0\n    hooks:\n      - id: black\n        files: ^tools/\n",
		"tools/a.py":                              "a = 1\n",
		"docs/a.py":                               "a = 1\n",
		"crew/composer.json":                      "{}\n",
		"crew/.php-cs-fixer.php":                  "<?php\nreturn (new PhpCsFixer\\Config())->setRules(['@PSR12' => true])->setIndent(\"\\t\");\n",
		"crew/a.php":                              "<?php\n",
		"lost/.php-cs-fixer.php":                  "<?php\nreturn (new PhpCsFixer\\Config())->setIndent(\"\\t\");\n",
		".tidebookrc":                             "indent_size = 2\nmax_line_length = 70\n",
		".github/workflows/lint.yml":              "on: push\njobs:\n  lint:\n    steps:\n      - uses: psf/black@24.2.0\n",
	})
}

func TestReach(t *testing.T) {
	dir := monorepo(t)
	for _, c := range []struct{ file, rule, program, want string }{
		{"apps/deck/a.ts", "indent_size", "prettier", "4 inherited node_modules/@skerry/style/index.json"},
		{"apps/deck/a.css", "indent_size", "prettier", "8 inherited node_modules/@skerry/style/index.json"},
		{"apps/engine/a.ts", "max_line_length", "prettier", "100 set apps/engine/prettier.config.ts"},
		{"apps/horn/a.ts", "max_line_length", "prettier", "66 set apps/horn/.prettierrc.yaml"},
		{"apps/horn/a.css", "max_line_length", "prettier", "80 default "},
		{"apps/mast/a.ts", "max_line_length", "eslint", "90 set apps/mast/.eslintrc.json"},
		{"apps/mast/a.ts", "indent_size", "eslint", "3 inherited apps/mast/our-style.json"},
		{"apps/mast/a.spec.ts", "indent_size", "eslint", "5 inherited apps/mast/our-style.json"},
		{"crew/a.php", "indent_style", "php-cs-fixer", `"tab" set crew/.php-cs-fixer.php`},
	} {
		assert.Equal(t, c.want, effective(t, dir, c.file, c.rule, c.program), c.file+" "+c.rule)
	}
}

func TestSurveyOfManyPackages(t *testing.T) {
	dir := monorepo(t)
	out := strings.Join(strings.Fields(run(t, dir, "survey").out), " ")
	for _, says := range []string{
		"unknown .tidebookrc looks like settings of style",
		"lost/.php-cs-fixer.php is not read: PHP CS Fixer only looks in the folder it is started in",
		"Black has several versions: 24.2.0 in .github/workflows/lint.yml, 24.10.0 in .pre-commit-config.yaml",
		"misplaced 0 PHP CS Fixer lost/.php-cs-fixer.php",
		"read 2 PHP CS Fixer crew/.php-cs-fixer.php",
	} {
		assert.Contains(t, out, says)
	}
	assert.NotContains(t, out, "crew/.php-cs-fixer.php is not read")
	assert.NotContains(t, out, "unknown .github/workflows/lint.yml")
	assert.NotContains(t, out, "unknown apps/mast/our-style.json", "it is extended")
}

// Whatever the catalog knows can be asked for, and its page says where from.
func TestEveryEntryHasAPage(t *testing.T) {
	dir := t.TempDir()
	r := run(t, dir, "catalog", "--format", "json")
	require.Zero(t, r.code, r.err)
	var listed struct {
		Programs []struct{ Program, Name string }
	}
	require.NoError(t, json.Unmarshal([]byte(r.out), &listed))
	require.GreaterOrEqual(t, len(listed.Programs), 60)
	for _, e := range listed.Programs {
		page := run(t, dir, "catalog", e.Program)
		require.Zero(t, page.code, page.err)
		assert.Contains(t, page.out, e.Name)
		assert.Contains(t, page.out, "http", "%s says where its facts are from", e.Program)
		keys := run(t, dir, "rules", "--program", e.Program)
		assert.NotEqual(t, 3, keys.code, e.Program)
		assert.Empty(t, keys.err, e.Program)
	}
}
