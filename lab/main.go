// Command lab holds what the product says about programs against the programs
// themselves. It is the only part of the project that starts any of them, and is never
// linked into the product.
package main

import (
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
)

const usage = `lab/run                  everything
lab/run facts [PROGRAM]  what programs do against what is claimed, on generated trees
lab/run settle [NAME]    settlements, with the real programs run over them
lab/run quick            what installs in a few minutes, as CI does

The folder for what is installed is $LAB, or lab in the user's cache folder.
`

// tally counts what was compared.
type tally struct{ passed, failed int }

func main() {
	run()
	if failed {
		os.Exit(1)
	}
}

func run() {
	part, name := "", ""
	if len(os.Args) > 1 {
		part = os.Args[1]
	}
	if len(os.Args) > 2 {
		name = os.Args[2]
	}
	if !slices.Contains([]string{"", "facts", "settle", "quick"}, part) {
		fmt.Print(usage)
		os.Exit(2)
	}
	dir := os.Getenv("LAB")
	if dir == "" {
		cache, err := os.UserCacheDir()
		exitOn(err)
		dir = filepath.Join(cache, "jolly-treaty-lab")
	}
	exitOn(os.MkdirAll(dir, 0o755))
	programs, err := readPrograms("lab/programs.toml")
	exitOn(err)
	out := io.Writer(os.Stdout)
	if part == "" {
		file, err := os.Create("lab/results.md")
		exitOn(err)
		defer file.Close()
		fmt.Fprint(file, "# What the lab found last\n\nWritten by `lab/run`; see docs/lab.md.\n\n```\n")
		out = io.MultiWriter(os.Stdout, file)
		defer fmt.Fprintln(file, "```")
	}
	var n tally
	if part != "settle" {
		trees := 60
		if part == "quick" {
			programs, trees = quick(programs), 12
		}
		facts(out, dir, programs, name, trees, &n)
	}
	if part != "facts" {
		settlements(out, dir, programs, name, part == "quick", &n)
	}
	fmt.Fprintf(out, "\n%d passed, %d failed\n", n.passed, n.failed)
	failed = n.failed > 0
}

// failed is whether anything did, which the exit code tells.
var failed bool

func exitOn(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, "lab:", err)
		os.Exit(3)
	}
}
