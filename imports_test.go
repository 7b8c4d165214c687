package jollytreaty

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// order is the packages of core in the order of the job. A package imports only
// what stands before it. The first three know nothing of style.
var order = []string{
	"pattern", "nearest", "memory", "sign", "scan", "filetype", "tree", "document", "rule", "catalog", "treaty", "presence", "claim", "evidence", "assign", "conflict", "audit", "settle",
}

// outside is what core must not touch: it prints nothing, reads no flags and no
// environment, starts no process.
var outside = []string{"os", "os/exec", "flag", "log", "net", "net/http", "github.com/spf13/cobra"}

func TestImportOrder(t *testing.T) {
	rank := map[string]int{}
	for i, name := range order {
		rank["jollytreaty/core/"+name] = i + 1
	}
	seen := map[string]bool{}
	err := filepath.WalkDir("core", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || filepath.Ext(path) != ".go" || strings.HasSuffix(path, "_test.go") {
			return err
		}
		pkg := "jollytreaty/" + filepath.ToSlash(filepath.Dir(path))
		seen[pkg] = true
		require.Positive(t, rank[pkg], "%s has no place in the order", pkg)
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, spec := range file.Imports {
			imported, _ := strconv.Unquote(spec.Path.Value)
			assert.NotContains(t, outside, imported, path)
			if strings.HasPrefix(imported, "jollytreaty/") {
				assert.Positive(t, rank[imported], "%s imports %s", path, imported)
				assert.Less(t, rank[imported], rank[pkg], "%s imports %s", path, imported)
			}
		}
		return nil
	})
	require.NoError(t, err)
	assert.Len(t, seen, len(order))
}
