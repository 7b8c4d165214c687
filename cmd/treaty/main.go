// Command treaty makes the style settings of a repository agree.
package main

import (
	"os"

	"jollytreaty/cli"
)

func main() { os.Exit(cli.Main(os.Args[1:], os.Stdout, os.Stderr)) }
