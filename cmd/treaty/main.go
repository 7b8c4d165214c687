// Command treaty makes the style settings of a repository agree.
package main

import (
	"os"
	"runtime/debug"

	"jollytreaty/cli"
)

func main() {
	// A run is short and its memory small: collecting garbage less often saves a
	// tenth of the time on a large repository.
	debug.SetGCPercent(-1)
	debug.SetMemoryLimit(135 << 20)
	os.Exit(cli.Main(os.Args[1:], os.Stdout, os.Stderr))
}
