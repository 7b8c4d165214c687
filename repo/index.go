package repo

import (
	"bytes"
	"encoding/binary"
	"io"
	"path/filepath"
	"strings"
	"unsafe"
)

// indexed is what an index says.
type indexed struct {
	paths   []string        // of the files, where no entries are wanted
	modules map[string]bool // paths of other repositories within
	sparse  bool            // some of the files are left out of the work tree
}

// readIndex reads git's index, which takes a fraction of the time of asking git.
// The format is that of gitformat-index(5), versions 2 to 4. Each file with its
// contents' name is handed to use, if it is not nil. It returns false where the
// index is of a kind that is better left to git: split, sparse, or with another
// hash than SHA-1.
func readIndex(g *gitAt, use func(b blob, stage int)) (indexed, bool) {
	config, err := readRegular(filepath.Join(g.common(), "config"))
	if err != nil || bytes.Contains(bytes.ToLower(config), []byte("objectformat")) {
		return indexed{}, false
	}
	raw, err := readIndexFile(g.index())
	if err != nil {
		return indexed{}, false
	}
	return parseIndex(raw, use)
}

// readIndexFile reads a regular file, however large.
func readIndexFile(name string) ([]byte, error) {
	at, err := openPlace(filepath.Dir(name))
	if err != nil {
		return nil, err
	}
	defer at.close()
	f, info, err := at.open(filepath.Base(name))
	if err != nil {
		return nil, err
	}
	defer f.Close()
	raw := make([]byte, info.Size())
	_, err = io.ReadFull(f, raw)
	return raw, err
}

// entries returns the files of git's index with their contents' names, as readIndex
// does. Of files with conflicts of a merge the side at hand counts.
func entries(g *gitAt) (list []blob, ok bool) {
	_, ok = readIndex(g, func(b blob, stage int) {
		if stage == 0 || stage == 2 {
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

// parseIndex reads the text of an index, as readIndex does.
func parseIndex(raw []byte, use func(b blob, stage int)) (x indexed, ok bool) {
	if len(raw) < indexHeader+indexTrailer || string(raw[:4]) != "DIRC" {
		return indexed{}, false
	}
	version, count := binary.BigEndian.Uint32(raw[4:]), indexCount(raw)
	if version < 2 || version > 4 || count != int(binary.BigEndian.Uint32(raw[8:])) {
		return indexed{}, false
	}
	text := unsafe.String(&raw[0], len(raw)) // the paths are parts of it; nobody writes to raw
	end := len(raw) - indexTrailer
	if use == nil {
		x.paths = make([]string, 0, count)
	}
	at, last := indexHeader, ""
	for range count {
		if at+entryFixed > end {
			return indexed{}, false
		}
		from := at
		mode := binary.BigEndian.Uint32(raw[at+24:]) & 0xf000
		flags := binary.BigEndian.Uint16(raw[at+60:])
		name := at + entryFixed
		skipped := false
		if flags&extendedFlag != 0 {
			if version < 3 || name+2 > end {
				return indexed{}, false
			}
			skipped = binary.BigEndian.Uint16(raw[name:])&skipWorktree != 0
			name += 2
		}
		var p string
		if version == 4 {
			drop, n := offsetVarint(raw[name:end])
			stop := strings.IndexByte(text[min(name+n, end):end], 0)
			if n == 0 || stop < 0 || drop > len(last) {
				return indexed{}, false
			}
			p = last[:len(last)-drop] + text[name+n:name+n+stop]
			at = name + n + stop + 1
		} else {
			length := int(flags & nameMask)
			if length == nameMask {
				length = strings.IndexByte(text[name:end], 0)
			}
			if length < 0 || name+length >= end {
				return indexed{}, false
			}
			p = text[name : name+length]
			at += (name + length - at + 8) &^ 7
		}
		last = p
		x.sparse = x.sparse || skipped
		switch {
		case !ordinary(p):
		case mode == gitlinkType:
			if x.modules == nil {
				x.modules = map[string]bool{}
			}
			x.modules[p] = true
		case use != nil:
			use(blob{p, text[from+40 : from+60], mode == linkType}, int(flags>>12)&3)
		default:
			x.paths = append(x.paths, p)
		}
	}
	for at+8 <= end { // extensions
		switch string(raw[at : at+4]) {
		case "link", "sdir":
			return indexed{}, false
		}
		at += 8 + int(binary.BigEndian.Uint32(raw[at+4:]))
	}
	return x, at == end
}

// ordinary reports whether a path is one that git would check out.
func ordinary(p string) bool {
	if p == "" {
		return false
	}
	if p[0] != '.' && p[0] != '/' && !strings.Contains(p, "/.") && !strings.Contains(p, "//") {
		return true // as nearly all are
	}
	return valid(p) && !gits(p)
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
