// Package jollytreaty is the root of Jolly Treaty, which makes the style
// settings of a repository agree. The program is cmd/treaty; docs/architecture.md
// says how the folders follow the order of the job.
package jollytreaty
