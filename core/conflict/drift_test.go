package conflict_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What is said of programs by who brings them, and in which version.
func TestDrift(t *testing.T) {
	const lock = "-- package-lock.json --\n{\"packages\": {\n\"node_modules/prettier\": {\n\"version\": \"3.4.2\"\n}}}\n"
	hook := func(rev string) string {
		return "-- .pre-commit-config.yaml --\nrepos:\n  - repo: https://github.com/rbubley/mirrors-prettier\n    rev: " + rev + "\n    hooks:\n      - id: prettier\n"
	}
	for _, c := range []struct {
		name, archive string
		messages      []string
	}{
		{"lockfile outside of the range", "-- package.json --\n{\"devDependencies\": {\"prettier\": \"^2.8.0\"}}\n" + lock,
			[]string{"drift/version Prettier has several versions: 3.4.2 in package-lock.json, ^2.8.0 in package.json"}},
		{"hook apart", lock + hook("v3.0.0"), []string{"drift/version Prettier has several versions: v3.0.0 in .pre-commit-config.yaml, 3.4.2 in package-lock.json"}},
		{"parts of one program", "-- requirements.txt --\nruff==0.6.1\n-- scripts/ci.sh --\nuvx ruff@0.5.0 format .\n", []string{"drift/version Ruff has several versions: ==0.6.1 in requirements.txt, 0.5.0 in scripts/ci.sh"}},
		{"action apart", "-- requirements.txt --\nblack==24.1.0\n-- .github/workflows/a.yml --\nsteps:\n  - uses: psf/black@24.2.0\n",
			[]string{"drift/version Black has several versions: 24.2.0 in .github/workflows/a.yml, ==24.1.0 in requirements.txt"}},
		{"import sorter nothing brings", "-- .isort.cfg --\n[settings]\nline_length = 90\n",
			[]string{"dead/no-provider isort is configured by .isort.cfg, and nothing else here knows it: no manifest, hook, script or CI step brings or runs it"}},
		{"hook the same", lock + hook("v3.4.2"), nil},
		{"hook by a branch", hook("main"), []string{"drift/unpinned Prettier is not pinned: .pre-commit-config.yaml says main, and no lockfile fixes it"}},
		{"commit", hook("0123456789abcdef0123456789abcdef01234567"), nil},
		{"range without a lockfile", "-- package.json --\n{\"devDependencies\": {\"prettier\": \"^3\"}}\n",
			[]string{"drift/unpinned Prettier is not pinned: package.json says ^3, and no lockfile fixes it"}},
		{"exact without a lockfile", "-- package.json --\n{\"devDependencies\": {\"prettier\": \"3.0.0\"}}\n", nil},
		{"the version of a wrapper", "-- .pre-commit-config.yaml --\nrepos:\n  - repo: https://github.com/doublify/pre-commit-rust\n    rev: v1.0\n    hooks:\n      - id: fmt\n-- rust-toolchain.toml --\n[toolchain]\ncomponents = [\"rustfmt\"]\n", nil},
		{"retired", "-- package.json --\n{\"devDependencies\": {\"tslint\": \"6.0.0\"}}\n",
			[]string{"drift/retired TSLint is retired since 2019; followed by ESLint"}},
		{"retired, and only locked", "-- yarn.lock --\ntslint@^6:\n  version \"6.0.0\"\n", nil},
		{"a key not yet retired", "-- requirements.txt --\nruff==0.1.0\n-- ruff.toml --\nselect = [\"E\"]\n", nil},
		{"a retired key", "-- requirements.txt --\nruff==0.4.0\n-- ruff.toml --\nselect = [\"E\"]\n",
			[]string{"drift/retired \"select\" is no longer to be used; use select in the section lint"}},
		{"formatter nothing brings", "-- .prettierrc --\nsemi: true\n",
			[]string{"gap/undeclared Prettier is configured by .prettierrc, and no manifest, hook, script or CI step brings or runs it"}},
		{"formatter of the toolchain", "-- rustfmt.toml --\nmax_width = 90\n-- a.rs --\n", nil},
		{"formatter a document tells of", "-- .prettierrc --\nsemi: true\n-- CONTRIBUTING.md --\nPlease run prettier.\n",
			[]string{"gap/undeclared Prettier is configured by .prettierrc, and no manifest, hook, script or CI step brings or runs it"}},
		{"formatter the build knows", "-- .prettierrc --\nsemi: true\n-- tools/build.sh --\nstyle=prettier\n", nil},
		{"linter a document tells of", "-- .yamllint --\nextends: default\n-- README.md --\nWe use yamllint.\n", nil},
		{"linter nothing brings", "-- .yamllint --\nextends: default\n",
			[]string{"dead/no-provider yamllint is configured by .yamllint, and nothing else here knows it: no manifest, hook, script or CI step brings or runs it"}},
		{"linter in an image", "-- .yamllint --\nextends: default\n-- .gitlab-ci.yml --\nlint:\n  image: cytopia/yamllint:1.35\n", nil},
		{"something that runs everything", "-- .yamllint --\nextends: default\n-- .github/workflows/a.yml --\njobs:\n  a:\n    steps:\n      - uses: super-linter/super-linter@v7\n", nil},
		{"editors need nobody", "-- .editorconfig --\nroot = true\n-- .vscode/settings.json --\n{\"editor.tabSize\": 2}\n", nil},
	} {
		t.Run(c.name, func(t *testing.T) {
			var got []string
			for _, f := range findings(t, c.archive+"-- a.css --\n-- a.ts --\n-- a.py --\n") {
				switch kind := f.Code.Kind(); {
				case kind == "drift", f.Code == "gap/undeclared", f.Code == "dead/no-provider":
					got = append(got, string(f.Code)+" "+f.Message)
				}
			}
			assert.Equal(t, c.messages, got)
		})
	}
}
