package cli

import (
	"bytes"
	"strings"
	"testing"

	tea "github.com/charmbracelet/bubbletea"
	"github.com/stretchr/testify/assert"

	"jollytreaty/core/catalog"
	"jollytreaty/core/conflict"
	"jollytreaty/core/filetype"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
	"jollytreaty/core/treaty"
	"jollytreaty/present"
)

// twoQuestions are about a length with a proposal, and a formatter without one.
func twoQuestions() *asking {
	kotlin := filetype.ByID("kotlin")
	length := rule.ByID("max_line_length")
	return &asking{
		page: present.Page{Width: 80},
		questions: []settle.Question{
			{Type: kotlin, Rule: length, Value: rule.Number(100), Values: []rule.Value{rule.Number(100), rule.Number(120)}, Because: "it is written",
				Findings: []*conflict.Finding{{ID: "a1b2c3d4", Code: conflict.ClashWriters, Rule: length, Type: kotlin, Sides: []conflict.Side{{Program: "one", Name: "One", Path: "one.toml", Line: 3, Phrase: "100 columns"}}}}},
			{Type: kotlin, Formatters: []*catalog.Entry{{ID: "one", Name: "One"}, {ID: "two", Name: "Two"}},
				Findings: []*conflict.Finding{{ID: "e5f6a7b8", Code: conflict.Rivalry, Type: kotlin}}},
		},
		answers: make([]answer, 2),
	}
}

// press sends keys: names in angle brackets, and everything else as it is typed.
func press(a *asking, keys ...string) {
	named := map[string]tea.KeyType{"<enter>": tea.KeyEnter, "<down>": tea.KeyDown, "<up>": tea.KeyUp, "<esc>": tea.KeyEsc, "<back>": tea.KeyBackspace}
	for _, key := range keys {
		if t, ok := named[key]; ok {
			a.Update(tea.KeyMsg{Type: t})
			continue
		}
		for _, r := range key {
			a.Update(tea.KeyMsg{Type: tea.KeyRunes, Runes: []rune{r}})
		}
	}
}

func chosen(a *asking) settle.Choices {
	return a.choices(settle.Choices{Words: treaty.Words{Formatters: map[string]string{}}})
}

func TestAskedOneAtATime(t *testing.T) {
	a := twoQuestions()
	view := a.View()
	for _, part := range []string{"1 of 2  line length of Kotlin", "100 columns", "one.toml:3", "proposal: because it is written", "> take 100 columns", "  take 120 columns instead", "leave it open"} {
		assert.Contains(t, view, part)
	}
	for line := range strings.Lines(view) {
		assert.LessOrEqual(t, len([]rune(line)), 81, line)
	}
	press(a, "<down>", "<enter>")
	assert.Contains(t, a.View(), "2 of 2  formatter of Kotlin")
	press(a, "<down>", "<enter>")
	assert.Contains(t, a.View(), "line length of Kotlin: 120 columns\n  formatter of Kotlin: Two")
	assert.False(t, a.done, "not before the summary is confirmed")
	press(a, "b", "b")
	assert.Contains(t, a.View(), "> take 120 columns instead", "what was answered is remembered")
	press(a, "<up>", "<enter>", "<enter>", "<enter>")
	assert.True(t, a.done)
	c := chosen(a)
	assert.Empty(t, c.Set, "the proposal needs no word of one's own")
	assert.Equal(t, map[string]string{"kotlin": "two"}, c.Words.Formatters)
}

func TestReasonsAndDatesAreTyped(t *testing.T) {
	a := twoQuestions()
	down := []string{"<down>", "<down>", "<down>", "<down>"}
	press(a, append(down, "<enter>", "<enter>")...)
	assert.Contains(t, a.View(), "a reason is needed")
	press(a, "until spring x", "<back>", "<back>", "<enter>", "soon", "<enter>")
	assert.Contains(t, a.View(), "write a date as 2027-03-31")
	press(a, "2027-03-31", "<enter>")
	press(a, "<down>", "<down>", "<down>", "<enter>", "all drawn", "<enter>", "<enter>")
	c := chosen(a)
	assert.Equal(t, "until spring", c.Words.Waivers[0].Reason)
	assert.Equal(t, "a1b2c3d4", c.Words.Waivers[0].Finding)
	assert.Equal(t, 2027, c.Words.Waivers[0].Until.Year())
	assert.Equal(t, []treaty.Exemption{{Type: "kotlin", Reason: "all drawn"}}, c.Words.Exempt)
}

func TestAskingEndsWithoutWriting(t *testing.T) {
	a := twoQuestions()
	var out bytes.Buffer
	assert.NoError(t, ask(a, strings.NewReader("q"), &out))
	assert.False(t, a.done)
	c := &confirming{question: "Write?"}
	assert.NoError(t, ask(c, strings.NewReader("n"), &out))
	assert.False(t, c.yes)
	yes := &confirming{question: "Write?"}
	assert.NoError(t, ask(yes, strings.NewReader("y"), &out))
	assert.True(t, yes.yes)
}
