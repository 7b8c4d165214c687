package filetype

// otherTypes are files that nobody lays out, in the order of their ids.
var otherTypes = []Type{
	{
		ID: "archive", Name: "Archive",
		Extensions: []string{".zip", ".gz", ".tgz", ".bz2", ".xz", ".zst", ".7z", ".rar", ".tar", ".jar", ".war", ".ear", ".aar", ".whl", ".egg", ".gem", ".nupkg", ".deb", ".rpm", ".dmg", ".iso", ".apk", ".ipa", ".crx", ".cab", ".lz4", ".br", ".txtar"},
	},
	{
		ID: "audio", Name: "Sound",
		Extensions: []string{".mp3", ".wav", ".ogg", ".flac", ".m4a", ".aac", ".opus", ".mid", ".aiff"},
	},
	{
		ID: "binary", Name: "Binary",
		Extensions: []string{".exe", ".dll", ".so", ".dylib", ".a", ".o", ".obj", ".lib", ".class", ".pyc", ".pyo", ".wasm", ".bin", ".dat", ".elf", ".node", ".pdb", ".dex", ".rlib", ".pack", ".idx", ".db", ".sqlite", ".sqlite3", ".mdb", ".parquet", ".avro", ".arrow", ".npy", ".npz", ".pkl", ".pt", ".onnx", ".h5", ".hdf5", ".pb", ".gob", ".syso", ".beam", ".der", ".jks", ".keystore", ".p12", ".pfx"},
		Shared:     []Shared{{Extension: ".res", Read: true}},
	},
	{
		ID: "certificate", Name: "Certificate or key",
		Extensions: []string{".pem", ".crt", ".cer", ".key", ".csr", ".pub", ".asc", ".gpg", ".p7b", ".p7s"},
	},
	{ID: "conf", Name: "Configuration text", Extensions: []string{".cfg", ".conf", ".config"}},
	{
		ID: "document", Name: "Document",
		Extensions: []string{".pdf", ".doc", ".docx", ".odt", ".xls", ".xlsx", ".ods", ".ppt", ".pptx", ".odp", ".epub", ".pages", ".numbers"},
	},
	{ID: "dotenv", Name: "Dotenv list", Extensions: []string{".env"}, Names: []string{".env"}},
	{ID: "editorconfig", Name: "EditorConfig", Extensions: []string{".editorconfig"}},
	{
		ID: "font", Name: "Font",
		Extensions: []string{".ttf", ".otf", ".woff", ".woff2", ".eot", ".pfb", ".bdf", ".pcf"},
	},
	{ID: "gettext", Name: "Gettext catalogue", Extensions: []string{".po", ".pot"}},
	{ID: "gomod", Name: "Go module", Names: []string{"go.mod", "go.work"}},
	{
		ID: "ignore", Name: "Ignore or attributes list",
		Extensions: []string{".gitignore", ".gitattributes", ".dockerignore", ".npmignore", ".eslintignore", ".prettierignore", ".helmignore", ".hgignore", ".bzrignore", ".gcloudignore", ".vscodeignore", ".ignore"},
		Names:      []string{".gitignore", ".gitattributes", ".gitmodules", ".mailmap", "CODEOWNERS"},
	},
	{
		ID: "image", Name: "Picture",
		Extensions: []string{".png", ".jpg", ".jpeg", ".gif", ".webp", ".ico", ".bmp", ".tif", ".tiff", ".avif", ".heic", ".icns", ".psd", ".xcf", ".ai", ".sketch", ".fig", ".cur", ".dds", ".ktx", ".tga", ".pbm", ".pgm", ".ppm"},
	},
	{ID: "jsonlines", Name: "JSON lines", Extensions: []string{".jsonl", ".ndjson"}},
	{
		ID: "license", Name: "Licence text",
		Names: []string{"LICENSE", "LICENCE", "COPYING", "NOTICE", "COPYRIGHT", "UNLICENSE", "PATENTS", "AUTHORS", "CONTRIBUTORS", "MAINTAINERS"},
	},
	{ID: "llvm", Name: "LLVM IR", Extensions: []string{".ll"}},
	{
		ID: "lock", Name: "Lock file", Extensions: []string{".lock", ".lockb", ".lockfile"},
		Names: []string{"Cargo.lock", "go.sum", "go.work.sum", "package-lock.json", "npm-shrinkwrap.json", "yarn.lock", "pnpm-lock.yaml", "composer.lock", "Gemfile.lock", "poetry.lock", "uv.lock", "Pipfile.lock", "flake.lock", "pubspec.lock", "Podfile.lock", "bun.lock", "bun.lockb", ".terraform.lock.hcl", "deno.lock", "gradle.lockfile", "packages.lock.json", "mix.lock"},
	},
	{ID: "log", Name: "Log", Extensions: []string{".log", ".out"}},
	{
		ID: "manpage", Name: "Manual page",
		Extensions: []string{".1", ".2", ".3", ".4", ".5", ".6", ".7", ".8", ".man", ".mdoc"},
	},
	{ID: "patch", Name: "Patch", Extensions: []string{".patch", ".diff", ".rej", ".orig"}},
	{ID: "pip-requirements", Name: "Requirements list", Names: []string{"requirements.txt"}},
	{
		ID: "plaintext", Name: "Plain text", Extensions: []string{".txt", ".text", ".me", ".1st"},
		Names:  []string{"README", "CHANGELOG", "ChangeLog", "CHANGES", "INSTALL", "TODO", "NEWS", "VERSION", "HACKING", "THANKS", "CONTRIBUTING"},
		Speaks: Explains,
	},
	{ID: "postscript", Name: "PostScript", Extensions: []string{".ps", ".eps"}},
	{ID: "rtf", Name: "Rich text", Extensions: []string{".rtf"}},
	{ID: "snapshot", Name: "Test snapshot", Extensions: []string{".snap", ".golden"}},
	{ID: "sourcemap", Name: "Source map", Extensions: []string{".map"}},
	{
		ID: "starlarkconfig", Name: "Build rules", Extensions: []string{".buckconfig", ".bazelrc"},
		Names: []string{".bazelversion", ".bazelignore", ".bazelrc", ".buckconfig"},
	},
	{ID: "svg", Name: "SVG", Extensions: []string{".svg"}},
	{ID: "table", Name: "Table (CSV, TSV)", Extensions: []string{".csv", ".tsv", ".psv"}},
	{ID: "treaty", Name: "Treaty file", Names: []string{"treaty.toml"}},
	{
		ID: "video", Name: "Video",
		Extensions: []string{".mp4", ".mov", ".avi", ".mkv", ".webm", ".m4v", ".mpg", ".mpeg"},
	},
}
