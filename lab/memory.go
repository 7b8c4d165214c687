package main

import (
	"io/fs"

	"jollytreaty/core/memory"
)

func memoryFile(s *single, name string) (fs.File, error) {
	if name != s.name {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return memory.File(s.name, s.text), nil
}
