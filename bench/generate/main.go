// Command generate writes the benchmark repository: 100,000 files, about
// 500 MB, in the languages of a large monorepo, with settings files at its root
// and in its services. The same arguments give the same bytes.
//
//	go run ./bench/generate DIR [FILES]
package main

import (
	"bytes"
	_ "embed"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"

	"golang.org/x/tools/txtar"

	"jollytreaty/repo"
)

// kinds are the file types written, with their share in percent and a line.
var kinds = []struct {
	ext   string
	share int
	line  string
}{
	{".kt", 25, "    val crossing = harbour.sailings.filter { it.line == \"skerry\" }\n"},
	{".swift", 15, "    let crossing = harbour.sailings.filter { $0.line == \"skerry\" }\n"},
	{".rs", 15, "    let crossing: Vec<_> = harbour.sailings().filter(|s| s.line == id).collect();\n"},
	{".go", 20, "\tcrossing := harbour.Sailings(func(s Sailing) bool { return s.Line == id })\n"},
	{".md", 8, "The next crossing from Gullstone leaves when the tide allows.\n"},
	{".yaml", 8, "  - sailing: gullstone-ternby\n"},
	{".tf", 4, "  region = var.region\n"},
	{".sh", 3, "echo \"crossing $1\"\n"},
	{".toml", 2, "berths = 2\n"},
}

// settings are the files at the root.
//
//go:embed settings.txtar
var settings []byte

func main() {
	if len(os.Args) < 2 {
		fmt.Fprintln(os.Stderr, "usage: go run ./bench/generate DIR [FILES]")
		os.Exit(2)
	}
	files := 100_000
	if len(os.Args) > 2 {
		n, err := strconv.Atoi(os.Args[2])
		check(err)
		files = n
	}
	root := os.Args[1]
	random := rand.New(rand.NewPCG(1, 2))
	rootFiles := txtar.Parse(settings).Files
	for _, f := range rootFiles {
		put(filepath.Join(root, f.Name), f.Data)
	}
	written := len(rootFiles)
	for n := 0; written < files; n++ {
		kind := kinds[pick(random)]
		service := n / 500
		if n%500 == 0 { // every service brings settings of its own
			put(filepath.Join(root, folder(service), ".editorconfig"), []byte("[*.md]\nmax_line_length = 100\n"))
			written++
		}
		name := filepath.Join(root, folder(service), fmt.Sprintf("part%02d", n%20), fmt.Sprintf("file%06d%s", n, kind.ext))
		size := 1000 + random.IntN(8000)
		put(name, bytes.Repeat([]byte(kind.line), 1+size/len(kind.line)))
		written++
	}
	check(repo.New(root, "bench", "bench@skerry.example", "generated"))
}

func folder(service int) string { return fmt.Sprintf("services/service%03d", service) }

func pick(random *rand.Rand) int {
	n := random.IntN(100)
	for i, k := range kinds {
		if n -= k.share; n < 0 {
			return i
		}
	}
	return 0
}

func put(name string, text []byte) {
	check(os.MkdirAll(filepath.Dir(name), 0o755))
	check(os.WriteFile(name, text, 0o644))
}

func check(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}
