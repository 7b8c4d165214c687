package repo

import (
	"bytes"
	"encoding/binary"
	"os"
	"path/filepath"
	"strings"
	"unicode/utf8"
	"unsafe"
)

// tracked reads the paths that git tracks from its index, which takes a fraction
// of the time of asking git. The format is that of gitformat-index(5), versions
// 2 to 4. It returns false where the index is of a kind that is better left to
// git: split, sparse, or with another hash than SHA-1.
func tracked(gitDir string) (paths []string, sparse, ok bool) {
	config, err := os.ReadFile(filepath.Join(gitDir, "config"))
	if err != nil || bytes.Contains(bytes.ToLower(config), []byte("objectformat")) {
		return nil, false, false
	}
	raw, err := os.ReadFile(filepath.Join(gitDir, "index"))
	if err != nil {
		return nil, false, false
	}
	return parseIndex(raw, nil)
}

// entries reads the files of the index with their contents' names, as tracked does.
// Of files with conflicts of a merge the side at hand counts.
func entries(gitDir string) (list []blob, ok bool) {
	config, err := os.ReadFile(filepath.Join(gitDir, "config"))
	if err != nil || bytes.Contains(bytes.ToLower(config), []byte("objectformat")) {
		return nil, false
	}
	raw, err := os.ReadFile(filepath.Join(gitDir, "index"))
	if err != nil {
		return nil, false
	}
	list = make([]blob, 0, indexCount(raw))
	_, _, ok = parseIndex(raw, func(b blob, stage int) {
		if (stage == 0 || stage == 2) && utf8.ValidString(b.path) {
			list = append(list, b)
		}
	})
	return list, ok
}

// Sizes and bits of gitformat-index(5).
const (
	indexHeader  = 12
	indexTrailer = 20
	entryFixed   = 62 // up to the name
	extendedFlag = 0x4000
	nameMask     = 0x0fff
	skipWorktree = 0x4000 // of the extended flags
	gitlinkType  = 0xe000 // of the mode
	linkType     = 0xa000
)

// indexCount is how many entries the index says it has, if that can be so.
func indexCount(raw []byte) int {
	if len(raw) < indexHeader {
		return 0
	}
	return min(int(binary.BigEndian.Uint32(raw[8:])), len(raw)/entryFixed)
}

// parseIndex reads the paths of an index, and hands each entry, but for the names of
// other repositories within, to use, if it is not nil, and else lists the paths.
func parseIndex(raw []byte, use func(b blob, stage int)) (paths []string, sparse, ok bool) {
	if len(raw) < indexHeader+indexTrailer || string(raw[:4]) != "DIRC" {
		return nil, false, false
	}
	version, count := binary.BigEndian.Uint32(raw[4:]), indexCount(raw)
	if version < 2 || version > 4 || count != int(binary.BigEndian.Uint32(raw[8:])) {
		return nil, false, false
	}
	text := unsafe.String(&raw[0], len(raw)) // the paths are parts of it; nobody writes to raw
	end := len(raw) - indexTrailer
	if use == nil {
		paths = make([]string, 0, count)
	}
	at, last := indexHeader, ""
	for range count {
		if at+entryFixed > end {
			return nil, false, false
		}
		from := at
		mode := binary.BigEndian.Uint32(raw[at+24:]) & 0xf000
		flags := binary.BigEndian.Uint16(raw[at+60:])
		name := at + entryFixed
		skipped := false
		if flags&extendedFlag != 0 {
			if version < 3 || name+2 > end {
				return nil, false, false
			}
			skipped = binary.BigEndian.Uint16(raw[name:])&skipWorktree != 0
			name += 2
		}
		var p string
		if version == 4 {
			drop, n := offsetVarint(raw[name:end])
			stop := strings.IndexByte(text[min(name+n, end):end], 0)
			if n == 0 || stop < 0 || drop > len(last) {
				return nil, false, false
			}
			p = last[:len(last)-drop] + text[name+n:name+n+stop]
			at = name + n + stop + 1
		} else {
			length := int(flags & nameMask)
			if length == nameMask {
				length = strings.IndexByte(text[name:end], 0)
			}
			if length < 0 || name+length >= end {
				return nil, false, false
			}
			p = text[name : name+length]
			at += (name + length - at + 8) &^ 7
		}
		last = p
		if use != nil && mode != gitlinkType && p != "" {
			use(blob{p, text[from+40 : from+60], mode == linkType}, int(flags>>12)&3)
		}
		switch {
		case skipped:
			sparse = true
		case use == nil && mode != gitlinkType && p != "":
			paths = append(paths, p)
		}
	}
	for at+8 <= end { // extensions
		switch string(raw[at : at+4]) {
		case "link", "sdir":
			return nil, false, false
		}
		at += 8 + int(binary.BigEndian.Uint32(raw[at+4:]))
	}
	return paths, sparse, at == end
}

// offsetVarint reads a number as pack offsets are written, and the bytes it
// took, 0 if it does not end.
func offsetVarint(raw []byte) (value, n int) {
	for i, c := range raw {
		if i > 4 {
			break
		}
		value = value<<7 | int(c&0x7f)
		if c&0x80 == 0 {
			return value, i + 1
		}
		value++
	}
	return 0, 0
}
