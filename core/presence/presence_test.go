package presence

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/catalog"
	"jollytreaty/internal/texttree"
)

// look prints the signs of a program found in a tree: how, place, version, what
// it does, and the part of the tree, each where it is said.
func look(t *testing.T, program, archive string) []string {
	t.Helper()
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	files, paths := texttree.Parse(archive)
	var out []string
	for _, f := range NewFinder(c).Look(files, paths).Signs {
		if f.Program.ID != program {
			continue
		}
		s := f.Seen
		text := fmt.Sprintf("%s %s:%d", s.As, s.Path, s.Line)
		for _, part := range []string{s.Version, s.Does.String()} {
			if part != "" {
				text += " " + part
			}
		}
		if s.Folder != "." {
			text += " in " + s.Folder
		}
		if f.Settings != "" {
			text += " by " + f.Settings
		}
		if s.Told != nil {
			text += " sets " + s.Told.Text
		}
		if f.Styled {
			text += " styled"
		}
		out = append(out, text)
	}
	return out
}

func TestDeclared(t *testing.T) {
	for _, c := range []struct{ program, archive, want string }{
		{"prettier", "-- package.json --\n{\n\"devDependencies\": {\"prettier\": \"^3.0.0\"}}\n", "dependency package.json:2 ^3.0.0"},
		{"prettier", "-- package.json --\n{\"keywords\": [\"prettier\"], \"name\": \"prettier\"}\n", ""},
		{"prettier", "-- package-lock.json --\n{\"packages\": {\n\"node_modules/prettier\": {\n\"version\": \"3.1.0\"\n}}}\n", "lock package-lock.json:2 3.1.0"},
		{"prettier", "-- yarn.lock --\nprettier@^3.0.0:\n  version \"3.1.0\"\n\nother@^1:\n  version \"1.0.0\"\n", "lock yarn.lock:1 3.1.0"},
		{"prettier", "-- pnpm-lock.yaml --\npackages:\n\n  prettier@3.1.0:\n    resolution: {}\n", "lock pnpm-lock.yaml:3 3.1.0"},
		{"prettier", "-- pnpm-workspace.yaml --\ncatalog:\n  prettier: 3.1.0\n", "dependency pnpm-workspace.yaml:2 3.1.0"},
		{"black", "-- requirements-dev.txt --\n# black==1\nblack[jupyter]==24.1.0  # c\n", "dependency requirements-dev.txt:2 ==24.1.0"},
		{"black", "-- pyproject.toml --\n[project.optional-dependencies]\ndev = [\"black>=24\", \"x\"]\n", "dependency pyproject.toml:2 >=24"},
		{"black", "-- pyproject.toml --\n[dependency-groups]\nlint = [\"black\"]\n", "dependency pyproject.toml:2"},
		{"black", "-- pyproject.toml --\n[tool.poetry.group.dev.dependencies]\nblack = {version = \"^24\", optional = true}\n", "dependency pyproject.toml:2 ^24"},
		{"black", "-- pyproject.toml --\n[tool.isort]\nprofile = \"black\"\n", ""},
		{"black", "-- poetry.lock --\n[[package]]\nname = \"black\"\nversion = \"24.1.0\"\n", "lock poetry.lock:2 24.1.0"},
		{"black", "-- Pipfile --\n[dev-packages]\nblack = \"*\"\n", "dependency Pipfile:2 *"},
		{"black", "-- setup.cfg --\n[options.extras_require]\ndev =\n  pytest\n  black >= 23\n", "dependency setup.cfg:2 >= 23"},
		{"black", "-- tox.ini --\n[testenv:lint]\ndeps =\n  black==23.1\n", "dependency tox.ini:2 ==23.1"},
		{"black", "-- tox.ini --\n[pins]\nblack==22.3\n[testenv:lint]\ndeps =\n  black=={[pins]black}\n", "dependency tox.ini:4 ==22.3"},
		{"black", "-- tox.ini --\n[testenv:lint]\ndeps =\n  black=={[pins]black}\n", "dependency tox.ini:2"},
		{"black", "-- environment.yml --\ndependencies:\n  - conda-forge::black=23.1\n", "dependency environment.yml:2 =23.1"},
		{"rubocop", "-- Gemfile --\ngem 'rubocop', '~> 1.60', require: false\n", "dependency Gemfile:1 ~> 1.60"},
		{"rubocop", "-- Gemfile.lock --\nGEM\n  specs:\n    rubocop (1.60.2)\n      json (~> 2.3)\n", "lock Gemfile.lock:3 1.60.2"},
		{"rubocop", "-- x.gemspec --\ns.add_development_dependency \"rubocop\", \"1.60\"\n", "dependency x.gemspec:1 1.60"},
		{"php-cs-fixer", "-- composer.json --\n{\"require-dev\": {\"friendsofphp/php-cs-fixer\": \"^3\"}}\n", "dependency composer.json:1 ^3"},
		{"csharpier", "-- .config/dotnet-tools.json --\n{\"tools\": {\"csharpier\": {\"version\": \"0.29.0\"}}}\n", "dependency .config/dotnet-tools.json:1 0.29.0"},
		{"stylecop", "-- App.csproj --\n<PackageReference Include=\"StyleCop.Analyzers\" Version=\"1.1.118\" />\n", "dependency App.csproj:1 1.1.118"},
		{"detekt", "-- build.gradle.kts --\nplugins {\n  id(\"io.gitlab.arturbosch.detekt\") version \"1.23.6\"\n}\n", "dependency build.gradle.kts:2 1.23.6"},
		{"detekt", "-- gradle/libs.versions.toml --\ndetekt = { id = \"io.gitlab.arturbosch.detekt\", version = \"1.23.6\" }\n", "dependency gradle/libs.versions.toml:1 1.23.6"},
		{"checkstyle", "-- pom.xml --\n<artifactId>maven-checkstyle-plugin</artifactId>\n<version>3.3.1</version>\n", "dependency pom.xml:1 3.3.1"},
		{"scalafmt", "-- project/plugins.sbt --\naddSbtPlugin(\"org.scalameta\" % \"sbt-scalafmt\" % \"2.5.2\")\n", "dependency project/plugins.sbt:1 2.5.2"},
		{"golangci-lint", "-- go.mod --\nrequire github.com/golangci/golangci-lint v1.61.0\n", "dependency go.mod:1 v1.61.0"},
		{"gofumpt", "-- tools.go --\nimport _ \"mvdan.cc/gofumpt\"\n", "dependency tools.go:1"},
		{"rustfmt", "-- rust-toolchain.toml --\n[toolchain]\ncomponents = [\"rustfmt\"]\n", "dependency rust-toolchain.toml:2"},
		{"swiftlint", "-- Package.swift --\n.package(url: \"https://github.com/realm/SwiftLint.git\", from: \"0.57.0\")\n", "dependency Package.swift:1 ^0.57.0"},
		{"swiftlint", "-- Package.swift --\n.package(url: \"https://github.com/realm/SwiftLint\", exact: \"0.54.0\"), .package(url: \"https://x/y\", from: \"1.0.0\")\n", "dependency Package.swift:1 0.54.0"},
		{"swiftlint", "-- Package.swift --\n.package(\nurl: \"https://github.com/realm/SwiftLint\",\n  exact: \"0.54.0\"\n)\n", "dependency Package.swift:2 0.54.0"},
		{"swiftlint", "-- Package.swift --\n.package(\nurl: \"https://github.com/realm/SwiftLint\",\n  from: \"0.54.0\"\n)\n", "dependency Package.swift:2 ^0.54.0"},
		{"ktlint", "-- build.gradle.kts --\nspotless {\n  kotlin { ktlint(\"1.2.1\") }\n}\n", "dependency build.gradle.kts:2 1.2.1"},
		{"google-java-format", "-- build.gradle --\nspotless {\n  java {\n    googleJavaFormat()\n  }\n}\n", "dependency build.gradle:3"},
		{"scalafmt", "-- build.gradle --\nid 'com.diffplug.spotless' version '6.25.0'\n", ""},
		{"swiftlint", "-- Podfile --\npod 'SwiftLint', '~> 0.57'\n", "dependency Podfile:1 ~> 0.57"},
		{"dart-analyze", "-- pubspec.yaml --\ndev_dependencies:\n  lints: ^5.0.0\n", "dependency pubspec.yaml:2 ^5.0.0"},
		{"credo", "-- mix.exs --\n{:credo, \"~> 1.7\", only: :dev}\n", "dependency mix.exs:1 ~> 1.7"},
		{"credo", "-- mix.lock --\n  \"credo\": {:hex, :credo, \"1.7.7\", \"abc\"},\n", "lock mix.lock:1 1.7.7"},
		{"shellcheck", "-- .tool-versions --\nshellcheck 0.10.0\n", "dependency .tool-versions:1 0.10.0"},
		{"shellcheck", "-- Brewfile --\nbrew \"shellcheck\"\n", "dependency Brewfile:1"},
		{"lintr", "-- DESCRIPTION --\nSuggests:\n    lintr (>= 3.0),\n    testthat\n", "dependency DESCRIPTION:2 >= 3.0"},
		{"prettier", "-- .vscode/extensions.json --\n{\"recommendations\": [\"esbenp.prettier-vscode\"]}\n", "recommended .vscode/extensions.json:1"},
	} {
		assert.Equal(t, c.want, strings.Join(look(t, c.program, c.archive), ", "), c.archive)
	}
}

func TestRun(t *testing.T) {
	ci := func(line string) string {
		return "-- .github/workflows/a.yml --\njobs:\n  a:\n    steps:\n      - run: " + line + "\n-- src/a.py --\n-- lint/black.toml --\n"
	}
	const at = "ci .github/workflows/a.yml:4"
	for _, c := range []struct{ program, archive, want string }{
		{"black", ci("black --check ."), at + " checks"},
		{"black", ci("black src"), at + " writes in src"},
		{"black", ci("poetry run black --check src/*.py"), at + " checks in src"},
		{"black", ci("python -m black ."), at + " writes"},
		{"black", ci("uvx black@24.1.0 --check ."), at + " 24.1.0 checks"},
		{"black", ci("cd src && ./venv/bin/black ."), at + " writes in src"},
		{"black", ci("test -z \"$(black --check .)\""), at + " checks"},
		{"black", ci("bash -c 'black --check .'"), at + " checks"},
		{"black", ci("git ls-files '*.py' | xargs -n 10 black --check"), at + " checks"},
		{"black", ci("black -l 100 ."), at + " writes sets line-length=100"},
		{"black", ci("black -l100 -S src"), at + " writes in src sets line-length=100 skip-string-normalization=true"},
		{"black", ci("black --line-length=$WIDTH ."), at + " writes sets line-length=$WIDTH styled"},
		{"rustfmt", ci("rustfmt --config max_width=90,tab_spaces=2 src/a.rs"), at + " writes sets max_width=90 tab_spaces=2"},
		{"clang-format", ci("clang-format -i --style=file a.c"), at + " writes"},
		{"clang-format", ci("clang-format -i --style file a.c"), at + " writes"},
		{"clang-format", ci("clang-format -i --style=Google a.c"), at + " writes styled"},
		{"black", ci("black --config lint/black.toml ."), at + " writes by lint/black.toml"},
		{"black", ci("black --config=no/such.toml ."), at + " writes styled"},
		{"black", ci("echo black"), ""},
		{"black", ci("pip install black"), ""},
		{"ruff-format", ci("ruff format --check"), at + " checks"},
		{"ruff", ci("ruff check --fix"), at + " writes"},
		{"ruff", ci("ruff format --check"), ""},
		{"prettier", ci("npx --yes prettier@3.1.0 -c ."), at + " 3.1.0 checks"},
		{"shellcheck", ci("docker run --rm -v x:y koalaman/shellcheck:v0.9.0 a.sh"), at + " v0.9.0 checks"},
		{"golangci-lint", ci("go run github.com/golangci/golangci-lint/cmd/golangci-lint@v1.61.0 run"), at + " v1.61.0 checks"},
		{"ktlint", ci("./gradlew :app:ktlintCheck detekt"), at + " checks"},
		{"ktlint", ci("./gradlew ktlintFormat"), at + " writes"},
		{"hadolint", "-- .gitlab-ci.yml --\nlint:\n  image: hadolint/hadolint:2.12.0\n  script:\n    - hadolint Dockerfile\n", "ci .gitlab-ci.yml:2 2.12.0 checks, ci .gitlab-ci.yml:4 checks"},
		{"golangci-lint", "-- .github/workflows/a.yml --\njobs:\n  a:\n    steps:\n      - uses: golangci/golangci-lint-action@v6\n        with:\n          version: v1.61\n", "ci .github/workflows/a.yml:4 v1.61 checks"},
		{"black", "-- .github/workflows/a.yml --\njobs:\n  a:\n    steps:\n      - uses: psf/black@24.2.0\n", "ci .github/workflows/a.yml:4 24.2.0 checks"},
		{"black", "-- .github/workflows/a.yml --\njobs:\n  a:\n    steps:\n      - uses: psf/black@stable\n        with: {version: 24.1.0, options: -l 90 --verbose}\n", "ci .github/workflows/a.yml:4 24.1.0 writes sets line-length=90"},
		{"golangci-lint", "-- .github/workflows/a.yml --\nsteps:\n  - uses: golangci/golangci-lint-action@v6\n    with: {args: --config=lint/black.toml}\n-- lint/black.toml --\n", "ci .github/workflows/a.yml:2 checks by lint/black.toml"},
		{"biome", "-- .github/workflows/a.yml --\nsteps:\n  - uses: biomejs/setup-biome@v2\n    with: {version: 1.9.4}\n", "ci .github/workflows/a.yml:2 1.9.4"},
		{"prettier", "-- .pre-commit-config.yaml --\nrepos:\n  - repo: https://github.com/pre-commit/mirrors-prettier\n    rev: v3.0.3\n    hooks:\n      - id: prettier\n", "hook .pre-commit-config.yaml:5 v3.0.3 writes"},
		{"ruff-format", "-- .pre-commit-config.yaml --\nrepos:\n  - repo: https://github.com/astral-sh/ruff-pre-commit\n    rev: v0.8.0\n    hooks:\n      - id: ruff\n        args: [--fix]\n      - id: ruff-format\n", "hook .pre-commit-config.yaml:7 v0.8.0 writes"},
		{"ruff", "-- .pre-commit-config.yaml --\nrepos:\n  - repo: https://github.com/astral-sh/ruff-pre-commit\n    rev: v0.8.0\n    hooks:\n      - id: ruff\n        args: [--fix]\n      - id: ruff-format\n", "hook .pre-commit-config.yaml:5 v0.8.0 writes"},
		{"prettier", "-- .husky/pre-commit --\n#!/bin/sh\nnpx prettier --check .\n", "hook .husky/pre-commit:2 checks"},
		{"prettier", "-- .git/hooks/pre-commit --\n#!/bin/sh\nprettier --check .\n", "hook .git/hooks/pre-commit:2 checks"},
		{"prettier", "-- .git/config --\n[core]\n\thooksPath = ops/hooks\n-- ops/hooks/pre-commit --\nprettier -c .\n", "hook ops/hooks/pre-commit:1 checks"},
		{"prettier", "-- package.json --\n{\"scripts\": {\n\"format\": \"prettier --write .\"},\n\"lint-staged\": {\"*.ts\": [\"eslint --fix\",\n\"prettier --write\"]}}\n", "script package.json:2 writes, script package.json:4 writes"},
		{"prettier", "-- package.json --\n{\"lint-staged\": {\"*.ts\": \"prettier --write\"}}\n-- .husky/pre-commit --\nnpx lint-staged\n", "hook package.json:1 writes"},
		{"prettier", "-- lefthook.yml --\npre-commit:\n  commands:\n    style:\n      run: prettier --check {staged_files}\n", "hook lefthook.yml:4 checks"},
		{"gofmt", "-- Makefile --\nGOFMT ?= gofmt\nfmt:\n\t@$(GOFMT) -l -w .\n", "script Makefile:3 writes"},
		{"gofmt", "-- Makefile --\nGOFMT ?= gofmt\n# gofmt -w\n", ""},
		{"ruff", "-- pyproject.toml --\n[tool.poe.tasks]\nlint = \"ruff check .\"\n", "script pyproject.toml:2 checks"},
		{"flake8", "-- tox.ini --\n[testenv:lint]\ncommands =\n  flake8 src\n", "script tox.ini:3 checks"},
		{"black", "-- noxfile.py --\ndef lint(session):\n    session.run(\"black\", \"--check\", \"src\")\n", "script noxfile.py:2 checks"},
		{"swiftlint", "-- Jenkinsfile --\nsteps { sh 'swiftlint lint --strict' }\n", "ci Jenkinsfile:1 checks"},
		{"gofmt", "-- script/x_fmt.txt --\ngofmt -w .\n", ""},
		{"shfmt", "-- scripts/lint.sh --\nif ! shfmt -d .; then exit 1; fi\n", "script scripts/lint.sh:1 checks"},
	} {
		assert.Equal(t, c.want, strings.Join(look(t, c.program, c.archive), ", "), c.archive)
	}
}

// What the manifests look like compiles, and names what it finds.
func TestOnly(t *testing.T) {
	hook := func(more string) string {
		return "-- .pre-commit-config.yaml --\nexclude: ^gen/\nrepos:\n  - repo: https://github.com/rbubley/mirrors-prettier\n    rev: v3.4.2\n    hooks:\n      - id: prettier\n" + more
	}
	script := func(line string) string {
		return "-- web/package.json --\n{\"scripts\": {\"a\": \"" + line + "\"}}\n-- web/src/x.ts --\n"
	}
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for _, test := range []struct{ name, archive, reached string }{
		{"all but what is left out", hook(""), "README.md web/a.ts web/src/b.css web/src/x.ts"},
		{"types", hook("        types_or: [css, markdown]\n"), "README.md web/src/b.css"},
		{"kinds that are no types", hook("        types: [text]\n"), "README.md web/a.ts web/src/b.css web/src/x.ts"},
		{"types by their tags", hook("        types_or: [ts, tsx]\n"), "web/a.ts web/src/x.ts"},
		{"types among kinds", hook("        types: [text, css]\n"), "web/src/b.css"},
		{"a tag nobody knows", hook("        types_or: [css, seaweed]\n"), "README.md web/a.ts web/src/b.css web/src/x.ts"},
		{"types left out", hook("        exclude_types: [css]\n"), "README.md web/a.ts web/src/x.ts"},
		{"files", hook("        files: ^web/.*\\.ts$\n        exclude: x\\.ts$\n"), "web/a.ts"},
		{"staged", "-- package.json --\n{\"lint-staged\": {\"*.{ts,css}\": \"prettier --write\"}}\n", "gen/y.ts web/a.ts web/src/b.css web/src/x.ts"},
		{"glob beside", "-- lefthook.yml --\npre-commit:\n  commands:\n    a:\n      glob: \"*.css\"\n      run: prettier -c {staged_files}\n", "web/src/b.css"},
		{"patterns", script("prettier --write 'src/**/*.ts' *.css"), "web/src/x.ts"},
		{"pattern and file", script("prettier --write '*.css' src/x.ts"), "web/src/x.ts"},
		{"folder", script("prettier --write src"), "web/src/b.css web/src/x.ts"},
		{"a word that is none", script("prettier --write --parser ts '*.css'"), "web/a.ts web/src/b.css web/src/x.ts"},
		{"everything", script("prettier --write ."), "web/a.ts web/src/b.css web/src/x.ts"},
	} {
		files, paths := texttree.Parse(test.archive)
		var reached []string
		for _, f := range NewFinder(c).Look(files, paths).Signs {
			if f.Program.ID != "prettier" {
				continue
			}
			for _, at := range [][2]string{{"README.md", "markdown"}, {"gen/y.ts", "typescript"}, {"web/a.ts", "typescript"}, {"web/src/b.css", "css"}, {"web/src/x.ts", "typescript"}} {
				if (f.Seen.Folder == "." || strings.HasPrefix(at[0], f.Seen.Folder+"/")) && f.Seen.Reaches(at[0], at[1]) {
					reached = append(reached, at[0])
				}
			}
		}
		assert.Equal(t, test.reached, strings.Join(reached, " "), test.name)
	}
}

func TestExpressions(t *testing.T) {
	c, err := catalog.BuiltIn()
	require.NoError(t, err)
	for _, m := range c.Places.Manifests {
		for i, text := range []string{m.Item, m.Version} {
			if text == "" {
				continue
			}
			expr, err := regexp.Compile(text)
			require.NoError(t, err, "%v", m.Files)
			assert.GreaterOrEqual(t, expr.SubexpIndex([]string{"name", "version"}[i]), 1, "%v", m.Files)
		}
	}
}
