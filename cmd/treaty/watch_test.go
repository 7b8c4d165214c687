package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// watching starts a watch and returns a function that waits for its next line with
// the event, and one that ends it.
func watching(t *testing.T, dir string) (next func(event string) map[string]any, end func() error) {
	cmd := exec.Command(treaty, "watch", "--format", "json")
	cmd.Dir = dir
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	lines := make(chan map[string]any, 10_000)
	go func() {
		scanner := bufio.NewScanner(out)
		for scanner.Scan() {
			var line map[string]any
			if json.Unmarshal(scanner.Bytes(), &line) == nil {
				lines <- line
			}
		}
		close(lines)
	}()
	t.Cleanup(func() { cmd.Process.Kill() })
	next = func(event string) map[string]any {
		for {
			select {
			case line, ok := <-lines:
				require.True(t, ok, "it ended")
				if line["event"] == event {
					return line
				}
			case <-time.After(20 * time.Second):
				require.Fail(t, "nothing came", event)
			}
		}
	}
	return next, func() error {
		cmd.Process.Signal(os.Interrupt)
		for range lines {
		}
		return cmd.Wait()
	}
}

func TestWatch(t *testing.T) {
	dir := quay(t, true)
	next, end := watching(t, dir)
	next("start")
	write(t, dir, map[string]string{"rustfmt.toml": "hard_tabs = 7\n"})
	assert.Equal(t, "slip/bad-value", next("new")["code"])
	next("open")
	// as editors do that write a new file and rename it
	write(t, dir, map[string]string{"rustfmt.toml.tmp": "tab_spaces = 4\n"})
	require.NoError(t, os.Rename(filepath.Join(dir, "rustfmt.toml.tmp"), filepath.Join(dir, "rustfmt.toml")))
	assert.Equal(t, "slip/bad-value", next("gone")["code"])
	next("open")
	write(t, dir, map[string]string{"new/folder/rustfmt.toml": "hard_tabs = 7\n", "new/folder/a.rs": ""})
	assert.Equal(t, "new/folder/rustfmt.toml", next("new")["path"])
	next("open")
	write(t, dir, map[string]string{"treaty.toml": "treaty = \n"})
	assert.Contains(t, next("trouble")["message"], "treaty.toml:1")
	require.NoError(t, os.Remove(filepath.Join(dir, "treaty.toml")))
	require.NoError(t, os.RemoveAll(filepath.Join(dir, "new")))
	assert.Equal(t, "new/folder/rustfmt.toml", next("gone")["path"])
	assert.NoError(t, end(), "an interrupt ends it cleanly")
}

func TestWatchSeesABurst(t *testing.T) {
	dir := quay(t, true)
	next, end := watching(t, dir)
	next("start")
	for i := range 1000 {
		write(t, dir, map[string]string{fmt.Sprintf("part%03d/rustfmt.toml", i): "hard_tabs = 7\n", fmt.Sprintf("part%03d/a.rs", i): ""})
	}
	fresh := func() int {
		var o struct {
			Summary struct{ Errors, Warnings, Notes int }
		}
		require.NoError(t, json.Unmarshal([]byte(run(t, dir, "audit", "--quick", "--format", "json").out), &o))
		return o.Summary.Errors + o.Summary.Warnings + o.Summary.Notes
	}
	want := fresh()
	for int(next("open")["open"].(float64)) != want {
	}
	assert.NoError(t, end())
}
