package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestInside(t *testing.T) {
	for _, c := range []struct {
		way          Syntax
		src, key     string
		value        any
		line, column int
	}{
		{Modeline, "x\n// vim: ts=4 sw=2:\n", "ts", int64(4), 2, 9},
		{Modeline, "/* vim: set noet sw=8 : */\n", "expandtab_", nil, 0, 0},
		{Modeline, "/* vim: set noet sw=8 : */\n", "et", false, 1, 13},
		{Modeline, "# vi:sw=3:et\n", "et", true, 1, 11},
		{Modeline, "# vim: set sw=3:ts=4\n", "sw", int64(3), 1, 12},
		{Variables, "# -*- mode: python; fill-column: 72 -*-\n", "fill-column", int64(72), 1, 21},
		{Variables, "#!/bin/sh\n# -*- indent-tabs-mode: nil -*-\n", "indent-tabs-mode", false, 2, 7},
		{Variables, "x\n/* Local Variables: */\n/* tab-width: 4 */\n/* End: */\n", "tab-width", int64(4), 3, 4},
	} {
		d := ParseInside(c.way, "dir/file.c", []byte(c.src))
		require.NotNil(t, d, c.src)
		n := d.Root.Get("file.c").Get(c.key)
		if c.line == 0 {
			assert.Nil(t, n)
			continue
		}
		require.NotNil(t, n, "%s %s", c.src, c.key)
		assert.Equal(t, c.value, n.Value, c.src)
		line, column := d.Position(n.KeyStart)
		assert.Equal(t, [2]int{c.line, c.column}, [2]int{line, column}, c.src)
	}
	for _, src := range []string{"", "x\n", "evim: x\n", "1\n2\n3\n4\n5\n6 vim: sw=2\n7\n8\n9\n10\n11\n12\n13\n"} {
		assert.Nil(t, ParseInside(Modeline, "f", []byte(src)), src)
		assert.Nil(t, ParseInside(Variables, "f", []byte(src)), src)
	}
}

func FuzzInside(f *testing.F) {
	f.Add("modeline", []byte("# vim: set ts=4 noet: x\n"))
	f.Add("variables", []byte("# -*- a: b; c: nil -*-\n# Local Variables:\n# d: 1\n# End:\n"))
	f.Fuzz(func(t *testing.T, way string, src []byte) {
		d := ParseInside(Syntax(way), "f", src)
		if d == nil {
			return
		}
		for _, n := range d.Root.Items[0].Items {
			if n.Start < 0 || n.End > len(src) || n.Start > n.End {
				t.Fatalf("%q: %+v", src, n)
			}
		}
	})
}
