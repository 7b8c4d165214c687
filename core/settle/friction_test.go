package settle_test

import (
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jollytreaty/core/conflict"
)

// What a linter has against the formatter's output is ended where the linter has its
// settings, and by the least change; what stands beside it stays byte for byte.
func TestFrictionsAreEnded(t *testing.T) {
	for _, c := range []struct {
		name, path, before, after string
		more                      fstest.MapFS
	}{
		{
			"a check with an option", ".eslintrc.json",
			"{\n  \"root\": true,\n  \"rules\": {\n    \"eqeqeq\": \"error\",\n    \"array-bracket-newline\": [\"error\", \"always\"] // broken\n  }\n}\n", "\"eqeqeq\": \"error\"",
			fstest.MapFS{".prettierrc": text("{\n  \"tabWidth\": 4\n}\n"), "a.js": text("f();\n"),
				"package.json": text("{\"scripts\": {\"lint\": \"eslint .\", \"format\": \"prettier --write .\"}}\n")},
		},
		{
			"checks that are on by themselves", ".flake8",
			"[flake8]\nmax-line-length = 88\n", "max-line-length = 88",
			fstest.MapFS{"pyproject.toml": text("[tool.black]\nline-length = 88\n"), "a.py": text("a = 1\n"), "Makefile": text("lint:\n\tblack .\n\tflake8 .\n")},
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			files := fstest.MapFS{c.path: text(c.before)}
			for p, f := range c.more {
				files[p] = f
			}
			before, plan := propose(t, files)
			var friction *conflict.Finding
			for _, f := range before.Findings {
				if f.Friction != nil {
					friction = f
				}
			}
			require.NotNil(t, friction, "there is one to end")
			settled := apply(files, plan)
			after, again := propose(t, settled)
			for _, f := range after.Findings {
				assert.Nil(t, f.Friction, f.Message)
			}
			assert.Empty(t, again.Edits, "settling twice")
			assert.Contains(t, string(settled[c.path].Data), c.after, "what nobody asked about stays")
			assert.NotEqual(t, c.before, string(settled[c.path].Data))
			for p, f := range files {
				if p != c.path {
					assert.Equal(t, string(f.Data), string(settled[p].Data), p)
				}
			}
		})
	}
}

// A friction that a newer writer than the pinned one would have is none.
func TestFrictionsOfAVersion(t *testing.T) {
	for version, want := range map[string]bool{"22.3.0": false, "24.2.0": true} {
		r, _ := propose(t, fstest.MapFS{
			"pyproject.toml":   text("[tool.black]\nline-length = 79\n"),
			"requirements.txt": text("black==" + version + "\nflake8==4.0.1\n"),
			"Makefile":         text("lint:\n\tblack .\n\tflake8 .\n"),
			".flake8":          text("[flake8]\nignore = E203,W503\n"),
			"a.py":             text("a = 1\n"),
		})
		told := false
		for _, f := range r.Findings {
			if f.Friction != nil {
				told = true
				assert.True(t, strings.Contains(f.Message, "E701") && !strings.Contains(f.Message, "E203"), f.Message)
			}
		}
		assert.Equal(t, want, told, version)
	}
}
