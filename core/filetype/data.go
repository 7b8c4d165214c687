package filetype

import "jollytreaty/core/scan"

// dataTypes are data, settings and build files, in the order of their ids.
var dataTypes = []Type{
	{ID: "antlr", Name: "ANTLR grammar", Styled: true, Extensions: []string{".g4"}, Forms: curly},
	{
		ID: "bazel", Name: "Starlark", Styled: true, Extensions: []string{".bzl", ".bazel", ".star"},
		Names: []string{"BUILD", "WORKSPACE", "Tiltfile"}, Speaks: Builds, Forms: pythonic,
		Traits: &Traits{Openers: "([{:", Quotes: true, Lists: "[{", Args: true},
	},
	{ID: "bibtex", Name: "BibTeX", Styled: true, Extensions: []string{".bib"}, Forms: percent},
	{ID: "bicep", Name: "Bicep", Styled: true, Extensions: []string{".bicep", ".bicepparam"}, Forms: styles},
	{ID: "capnp", Name: "Cap'n Proto", Styled: true, Extensions: []string{".capnp"}, Forms: hashes},
	{
		ID: "cmake", Name: "CMake", Styled: true, Extensions: []string{".cmake"}, Names: []string{"CMakeLists.txt"},
		Speaks: Builds,
		Forms:  &scan.Language{Lines: hash, Blocks: [][2]string{{"#[[", "]]"}}, Quotes: []scan.Quote{lines}},
		Traits: &nested,
	},
	{
		ID: "cue", Name: "CUE", Styled: true, Extensions: []string{".cue"},
		Forms: &scan.Language{Lines: slash, Quotes: []scan.Quote{longDouble, double}},
	},
	{
		ID: "dockerfile", Name: "Dockerfile", Styled: true, Extensions: []string{".dockerfile", ".containerfile"},
		Names: []string{"Dockerfile", "Containerfile"}, Speaks: Builds, Forms: hashLists,
	},
	{ID: "flatbuffers", Name: "FlatBuffers", Styled: true, Extensions: []string{".fbs"}, Forms: curly},
	{ID: "gherkin", Name: "Gherkin", Styled: true, Extensions: []string{".feature"}},
	{
		ID: "graphql", Name: "GraphQL", Styled: true, Extensions: []string{".graphql", ".gql", ".graphqls"},
		Forms: &scan.Language{Lines: hash, Quotes: []scan.Quote{longDouble, double}}, Traits: &records,
	},
	{ID: "hcl", Name: "HCL", Styled: true, Extensions: []string{".hcl", ".nomad"}, Forms: infra, Traits: &hcl},
	{
		ID: "ini", Name: "INI", Styled: true,
		Extensions: []string{".ini", ".desktop", ".service", ".socket", ".timer", ".mount", ".target"},
		Names:      []string{".gitconfig", ".npmrc", ".pylintrc", ".flake8", ".coveragerc"}, Forms: lists,
	},
	{
		ID: "json", Name: "JSON", Styled: true,
		Extensions: []string{".json", ".geojson", ".webmanifest", ".avsc", ".topojson", ".har", ".ipynb.json", ".jsonld", ".mcmeta", ".swift-format"},
		Names:      []string{".babelrc", ".jshintrc", ".eslintrc", ".prettierrc", ".stylelintrc", ".swcrc", ".watchmanconfig", "Package.resolved"},
		Forms:      &scan.Language{Quotes: []scan.Quote{double}}, Traits: &records,
	},
	{
		ID: "json5", Name: "JSON5", Styled: true, Extensions: []string{".json5"},
		Forms: &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{double, single}}, Traits: &records,
	},
	{
		ID: "jsonc", Name: "JSON with comments", Styled: true, Extensions: []string{".jsonc", ".code-workspace"},
		Names: []string{"tsconfig.json", "jsconfig.json", "devcontainer.json", ".markdownlint.jsonc", "language-configuration.json"},
		Forms: &scan.Language{Lines: slash, Blocks: stars, Quotes: []scan.Quote{double}}, Traits: &records,
	},
	{ID: "jsonnet", Name: "Jsonnet", Styled: true, Extensions: []string{".jsonnet", ".libsonnet"}},
	{
		ID: "just", Name: "Just recipes", Styled: true, Extensions: []string{".just"},
		Names: []string{"justfile", "Justfile", ".justfile"}, Forms: hashes,
	},
	{ID: "linkerscript", Name: "Linker script", Styled: true, Extensions: []string{".ld", ".lds"}},
	{
		ID: "makefile", Name: "Make", Styled: true, Modes: []string{"makefile-gmake", "makefile-bsdmake"},
		Shared:     []Shared{{Extension: ".d", Line: `\S+\.(o|lo|obj|rlib|rmeta)\s*:`, Read: true}},
		Extensions: []string{".mk", ".mak", ".make"},
		Names:      []string{"Makefile", "makefile", "GNUmakefile", "Kbuild", "Makefile.am", "Makefile.in"}, Speaks: Builds,
		Forms: hashLists,
	},
	{ID: "mermaid", Name: "Mermaid", Styled: true, Extensions: []string{".mmd", ".mermaid"}},
	{
		ID: "meson", Name: "Meson", Styled: true, Names: []string{"meson.build", "meson_options.txt", "meson.options"},
		Speaks: Builds, Forms: &scan.Language{Lines: hash, Quotes: []scan.Quote{longSingle, single}},
	},
	{
		ID: "nginx", Name: "nginx configuration", Styled: true, Extensions: []string{".nginx", ".nginxconf"},
		Names: []string{"nginx.conf"},
	},
	{
		ID: "plist", Name: "Property list", Styled: true,
		Extensions: []string{".plist", ".entitlements", ".xcprivacy"}, Forms: markup, Traits: &nested,
	},
	{ID: "prisma", Name: "Prisma schema", Styled: true, Extensions: []string{".prisma"}, Forms: curly, Traits: &records},
	{ID: "properties", Name: "Properties", Styled: true, Extensions: []string{".properties"}, Forms: hashLists},
	{
		ID: "proto3", Name: "Protocol Buffers", Styled: true, Extensions: []string{".proto"}, Forms: styles,
		Traits: &cLike,
	},
	{ID: "puppet", Name: "Puppet", Styled: true, Extensions: []string{".epp"}, Forms: hashes},
	{ID: "rego", Name: "Rego", Styled: true, Extensions: []string{".rego"}, Forms: hashes},
	{
		ID: "terraform", Name: "Terraform", Styled: true, Extensions: []string{".tf", ".tofu", ".tftest.hcl"},
		Forms: infra, Traits: &hcl,
	},
	{
		ID: "terraform-vars", Name: "Terraform variables", Styled: true, Extensions: []string{".tfvars"}, Forms: infra,
		Traits: &hcl,
	},
	{ID: "thrift", Name: "Thrift", Styled: true, Extensions: []string{".thrift"}, Forms: styles},
	{
		ID: "toml", Name: "TOML", Styled: true, Extensions: []string{".toml"}, Names: []string{"Pipfile"},
		Forms:  &scan.Language{Lines: hash, Quotes: []scan.Quote{longDouble, {Open: "'''", Close: "'''", Lines: true, Raw: true}, double, {Open: "'", Close: "'", Raw: true}}},
		Traits: &Traits{Openers: "["},
	},
	{ID: "wat", Name: "WebAssembly text", Styled: true, Extensions: []string{".wat", ".wast"}},
	{ID: "xaml", Name: "XAML", Styled: true, Extensions: []string{".xaml", ".axaml"}, Forms: markup, Traits: &nested},
	{
		ID: "xml", Name: "XML", Styled: true,
		Extensions: []string{".xml", ".xsd", ".wsdl", ".xlf", ".xliff", ".csproj", ".vbproj", ".fsproj", ".vcxproj", ".props", ".targets", ".nuspec", ".resx", ".ui", ".storyboard", ".xib", ".iml", ".pom", ".rng", ".kml", ".gpx", ".rss", ".atom", ".xcworkspacedata", ".xcscheme", ".dtd"},
		Begins:     []string{"<?xml"}, Shared: []Shared{{Extension: ".ts", Line: `(<\?xml|<!DOCTYPE TS)`}}, Forms: markup,
		Traits: &nested,
	},
	{ID: "xsl", Name: "XSLT", Styled: true, Extensions: []string{".xsl", ".xslt"}, Forms: markup, Traits: &nested},
	{
		ID: "yaml", Name: "YAML", Styled: true, Extensions: []string{".yaml", ".yml", ".cff", ".sublime-syntax"},
		Names:  []string{".clang-format", ".clang-tidy", ".clangd", ".yamllint", ".gemrc", "CITATION.cff"},
		Forms:  &scan.Language{Lines: hash, Lone: true, Quotes: []scan.Quote{{Open: `"`, Close: `"`, Lines: true, Lone: true}, {Open: "'", Close: "'", Lines: true, Raw: true, Doubled: true, Lone: true}}},
		Traits: &Traits{Openers: ":", Quotes: true, Blocks: true},
	},
	{ID: "yang", Name: "YANG", Styled: true, Extensions: []string{".yang"}},
}
