// Command profile writes where the program spends its time on a repository, for the
// compiler: go run ./bench/profile DIR cmd/treaty/default.pgo. See
// https://go.dev/doc/pgo.
package main

import (
	"bytes"
	"compress/gzip"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"runtime/pprof"
	"strings"

	"jollytreaty/cli"
)

// rounds is how often each command is run.
const rounds = 4

// commands are those that have to be fast, the heaviest thrice.
var commands = []string{"evidence --all", "evidence --all", "evidence --all", "audit", "audit --quick", "settle", "check"}

func main() {
	if len(os.Args) != 3 {
		fmt.Fprintln(os.Stderr, "usage: profile DIR FILE")
		os.Exit(2)
	}
	if err := profile(os.Args[1], os.Args[2]); err != nil {
		fmt.Fprintln(os.Stderr, "profile:", err)
		os.Exit(1)
	}
}

func profile(dir, file string) error {
	var taken bytes.Buffer
	if err := pprof.StartCPUProfile(&taken); err != nil {
		return err
	}
	for range rounds {
		for _, command := range commands {
			cli.Main(append(strings.Fields(command), "-C", dir), io.Discard, io.Discard)
		}
	}
	pprof.StopCPUProfile()
	plain, err := gzip.NewReader(&taken)
	if err != nil {
		return err
	}
	text, err := io.ReadAll(plain)
	if err != nil {
		return err
	}
	if text, err = withoutPaths(text); err != nil {
		return err
	}
	var out bytes.Buffer
	packed := gzip.NewWriter(&out)
	if _, err := packed.Write(text); err != nil {
		return err
	}
	if err := packed.Close(); err != nil {
		return err
	}
	return os.WriteFile(file, out.Bytes(), 0o644)
}

// stringTable is the number of the field that holds the texts of a profile, in
// profile.proto of https://github.com/google/pprof.
const stringTable = 6

var errFormat = errors.New("the profile is not in the format that is known")

// withoutPaths leaves of absolute paths in the texts of a profile only their last
// parts: the compiler goes by names, and the paths are this machine's.
func withoutPaths(message []byte) ([]byte, error) {
	var out []byte
	for rest := message; len(rest) > 0; {
		key, n := binary.Uvarint(rest)
		if n <= 0 {
			return nil, errFormat
		}
		field := rest[n:]
		switch key & 7 {
		case 0:
			_, m := binary.Uvarint(field)
			if m <= 0 {
				return nil, errFormat
			}
			out, rest = append(out, rest[:n+m]...), field[m:]
		case 2:
			length, m := binary.Uvarint(field)
			if m <= 0 || uint64(len(field)-m) < length {
				return nil, errFormat
			}
			text := field[m : m+int(length)]
			rest = field[m+int(length):]
			if key>>3 == stringTable && path.IsAbs(string(text)) {
				text = []byte(path.Base(string(text)))
			}
			out = binary.AppendUvarint(out, key)
			out = append(binary.AppendUvarint(out, uint64(len(text))), text...)
		default:
			return nil, errFormat
		}
	}
	return out, nil
}
