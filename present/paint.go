// Package present shows core results to people and machines. It decides
// nothing.
package present

import (
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/charmbracelet/lipgloss"
	"github.com/mattn/go-runewidth"
	"github.com/muesli/termenv"

	"jollytreaty/core/conflict"
)

// Page is where text goes: a writer, its width in columns, and whether colour
// may be used. Colour never carries meaning alone.
type Page struct {
	W     io.Writer
	Width int
	Color bool

	Terminal bool // somebody reads it there

	style *lipgloss.Renderer
}

func (p *Page) paint(text string, change func(lipgloss.Style) lipgloss.Style) string {
	if !p.Color || text == "" {
		return text
	}
	if p.style == nil {
		p.style = lipgloss.NewRenderer(p.W, termenv.WithProfile(termenv.ANSI), termenv.WithUnsafe())
	}
	return change(p.style.NewStyle()).Render(text)
}

func (p *Page) bold(text string) string {
	return p.paint(text, func(s lipgloss.Style) lipgloss.Style { return s.Bold(true) })
}

func (p *Page) faint(text string) string {
	return p.paint(text, func(s lipgloss.Style) lipgloss.Style { return s.Faint(true) })
}

func (p *Page) severity(s conflict.Severity) string {
	color := map[conflict.Severity]string{conflict.Error: "9", conflict.Warning: "11", conflict.Note: "12"}[s]
	return p.paint(string(s), func(st lipgloss.Style) lipgloss.Style { return st.Foreground(lipgloss.Color(color)) })
}

// pad fills text with blanks to a width in columns, on the right, or on the
// left for a negative width.
func pad(text string, width int) string {
	if width < 0 {
		return strings.Repeat(" ", max(0, -width-lipgloss.Width(text))) + text
	}
	return text + strings.Repeat(" ", max(0, width-lipgloss.Width(text)))
}

// cut shortens text to a width in columns.
func cut(text string, width int) string {
	return runewidth.Truncate(text, max(width, 1), "…")
}

// table lines up rows in columns two blanks apart. Columns listed in right are
// aligned to the right.
func table(rows [][]string, right ...int) []string {
	var widths []int
	for _, row := range rows {
		for i, cell := range row {
			if i == len(widths) {
				widths = append(widths, 0)
			}
			widths[i] = max(widths[i], lipgloss.Width(cell))
		}
	}
	for _, i := range right {
		if i < len(widths) {
			widths[i] = -widths[i]
		}
	}
	lines := make([]string, len(rows))
	for i, row := range rows {
		cells := make([]string, len(row))
		for j, cell := range row {
			cells[j] = pad(cell, widths[j])
		}
		lines[i] = strings.TrimRight(strings.Join(cells, "  "), " ")
	}
	return lines
}

// flow prints rows as a table whose last column is broken over lines where it
// does not fit.
func (p *Page) flow(rows [][]string, right ...int) []string {
	return slices.Concat(p.flowRows(rows, right...)...)
}

// flowRows is flow with the lines of each row apart.
func (p *Page) flowRows(rows [][]string, right ...int) [][]string {
	left, last := make([][]string, len(rows)), make([]string, len(rows))
	widest := 0
	for i, row := range rows {
		left[i], last[i] = row[:len(row)-1], row[len(row)-1]
	}
	lines := table(left, right...)
	for _, line := range lines {
		widest = max(widest, lipgloss.Width(line))
	}
	room := p.Width - widest - 2
	out := make([][]string, len(rows))
	for i, line := range lines {
		tight := room < 24 && lipgloss.Width(last[i]) > p.Width-lipgloss.Width(line)-2
		if tight || room >= 24 && longestWord(last[i]) > room {
			out[i] = append(out[i], line)
			indent := len(line) - len(strings.TrimLeft(line, " ")) + 4
			for _, part := range wrap(last[i], p.Width-indent) {
				out[i] = append(out[i], strings.Repeat(" ", indent)+part)
			}
			continue
		}
		width := widest
		if room < 24 {
			width = lipgloss.Width(line)
		}
		for j, part := range wrap(last[i], p.Width-width-2) {
			if j > 0 {
				line = ""
			}
			out[i] = append(out[i], strings.TrimRight(pad(line, width)+"  "+part, " "))
		}
	}
	return out
}

func longestWord(text string) int {
	longest := 0
	for _, word := range strings.Fields(text) {
		longest = max(longest, lipgloss.Width(word))
	}
	return longest
}

// wrap breaks text at blanks into lines of at most width columns.
func wrap(text string, width int) []string {
	var lines []string
	line := ""
	for _, word := range strings.Fields(text) {
		if line != "" && lipgloss.Width(line)+1+lipgloss.Width(word) > width {
			lines = append(lines, line)
			line = word
			continue
		}
		line = strings.TrimPrefix(line+" "+word, " ")
	}
	return append(lines, line)
}

// Command prints a command as a person would type it.
func (p *Page) Command(text string) {
	fmt.Fprintf(p.W, "%s %s\n", p.faint("$"), p.bold(text))
}

// Line prints a line, cut to the page's width.
func (p *Page) Line(text string) { fmt.Fprintln(p.W, cut(Clean(text), p.Width)) }

// Wrapped prints text wrapped, its later lines further in.
func (p *Page) Wrapped(indent, text string) { indented(p, indent, Clean(text)) }

// Sides prints every side of findings about one question, and what the code does.
func Sides(p *Page, findings []*conflict.Finding) {
	var rows [][]string
	seen := map[string]bool{}
	for _, f := range findings {
		for _, s := range f.Sides {
			row := sideRow(s)
			if row == nil || seen[fmt.Sprint(row)] {
				continue
			}
			seen[fmt.Sprint(row)] = true
			rows = append(rows, row)
		}
	}
	for _, line := range p.flow(rows) {
		fmt.Fprintln(p.W, line)
	}
	for _, t := range topics(findings) {
		if text := weightText(t); text != "" {
			indented(p, "  ", text)
			break
		}
	}
}
