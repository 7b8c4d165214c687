//go:build !linux

package repo

import "os"

// readFolder calls use for each name in a folder.
func readFolder(dir string, use func(name []byte, folder bool)) error {
	in, err := os.Open(dir)
	if err != nil {
		return err
	}
	defer in.Close()
	entries, err := in.ReadDir(-1)
	for _, e := range entries {
		use([]byte(e.Name()), e.IsDir())
	}
	return err
}
