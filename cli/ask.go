package cli

import (
	"fmt"
	"io"
	"strings"
	"time"

	tea "github.com/charmbracelet/bubbletea"

	"jollytreaty/core/catalog"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
	"jollytreaty/core/treaty"
	"jollytreaty/present"
)

// asking goes through the decisions of a plan on a terminal, one at a time.
type asking struct {
	page      present.Page
	questions []settle.Question
	excerpt   func(q settle.Question, v rule.Value) []string
	answers   []answer
	at        int // the question, or the summary behind the last
	cursor    int
	typing    string // "reason" or "date", while one is typed
	text      string
	wrong     string // with what was typed
	done      bool   // the answers count
}

// answer is what a person says to a question.
type answer struct {
	kind      string // "", "take", "value", "formatter", "leave", "exempt" or "waive"
	value     rule.Value
	formatter *catalog.Entry
	reason    string
	until     time.Time
}

// options are the answers that a question takes, in the order in which they are
// shown, each with its words.
func (a *asking) options() (list []answer, words []string) {
	q := a.questions[a.at]
	add := func(x answer, text string) { list, words = append(list, x), append(words, text) }
	switch {
	case q.Rule != nil && !q.Value.IsZero():
		add(answer{kind: "take"}, "take "+q.Rule.Phrase(q.Value))
	case q.Formatter != nil:
		add(answer{kind: "take"}, "take "+q.Formatter.Name)
	}
	for _, v := range q.Values {
		if v != q.Value {
			add(answer{kind: "value", value: v}, "take "+q.Rule.Phrase(v)+" instead")
		}
	}
	for _, e := range q.Formatters {
		if e != q.Formatter {
			add(answer{kind: "formatter", formatter: e}, "take "+e.Name+" instead")
		}
	}
	add(answer{kind: "leave"}, "leave it open")
	add(answer{kind: "exempt"}, "exempt all "+q.Type.Name+" files, with a reason")
	add(answer{kind: "waive"}, "waive it, with a reason and a date")
	return list, words
}

func (a *asking) Init() tea.Cmd { return nil }

// Update takes a key.
func (a *asking) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	switch msg := msg.(type) {
	case tea.WindowSizeMsg:
		a.page.Width = max(40, min(msg.Width, 100))
	case tea.KeyMsg:
		if msg.Type == tea.KeyCtrlC {
			return a, tea.Quit
		}
		if a.typing != "" {
			a.typed(msg)
			return a, nil
		}
		return a.key(msg.String())
	}
	return a, nil
}

func (a *asking) key(key string) (tea.Model, tea.Cmd) {
	if a.at == len(a.questions) {
		switch key {
		case "enter":
			a.done = true
			return a, tea.Quit
		case "b":
			a.move(-1)
		case "q", "esc":
			return a, tea.Quit
		}
		return a, nil
	}
	list, _ := a.options()
	switch key {
	case "up", "k":
		a.cursor = max(0, a.cursor-1)
	case "down", "j":
		a.cursor = min(len(list)-1, a.cursor+1)
	case "b":
		a.move(-1)
	case "q", "esc":
		return a, tea.Quit
	case "enter":
		chosen := list[a.cursor]
		if chosen.kind == "exempt" || chosen.kind == "waive" {
			a.answers[a.at], a.typing, a.text, a.wrong = chosen, "reason", "", ""
			return a, nil
		}
		a.answers[a.at] = chosen
		a.move(1)
	}
	return a, nil
}

// move goes to another question, with the cursor on what was answered before.
func (a *asking) move(by int) {
	a.at, a.cursor = min(max(a.at+by, 0), len(a.questions)), 0
	if a.at == len(a.questions) {
		return
	}
	list, _ := a.options()
	for i, o := range list {
		had := a.answers[a.at]
		if had.kind == o.kind && had.value == o.value && had.formatter == o.formatter {
			a.cursor = i
		}
	}
}

// typed takes a key while a reason or date is typed.
func (a *asking) typed(msg tea.KeyMsg) {
	switch msg.Type {
	case tea.KeyEsc:
		a.typing, a.answers[a.at] = "", answer{}
	case tea.KeyBackspace:
		if r := []rune(a.text); len(r) > 0 {
			a.text = string(r[:len(r)-1])
		}
	case tea.KeyRunes, tea.KeySpace:
		a.text += string(msg.Runes)
	case tea.KeyEnter:
		a.entered(strings.TrimSpace(a.text))
	}
}

func (a *asking) entered(text string) {
	a.text, a.wrong = "", ""
	x := &a.answers[a.at]
	switch {
	case a.typing == "reason" && text == "":
		a.wrong = "a reason is needed; escape goes back"
		return
	case a.typing == "reason":
		x.reason = text
		if x.kind == "waive" {
			a.typing = "date"
			return
		}
	case text != "": // a date; none is no end
		day, err := time.Parse(time.DateOnly, text)
		if err != nil {
			a.wrong = "write a date as 2027-03-31, or nothing for no end"
			return
		}
		x.until = day
	}
	a.typing = ""
	a.move(1)
}

// View draws the question at hand, or the summary.
func (a *asking) View() string {
	var drawn strings.Builder
	a.draw(&drawn)
	var safe strings.Builder
	fmt.Fprint(present.Safe(&safe, a.page.Color), drawn.String())
	return safe.String()
}

func (a *asking) draw(b *strings.Builder) {
	page := a.page
	page.W = b
	if a.at == len(a.questions) {
		fmt.Fprintf(b, "All %d decisions. Nothing is written yet.\n\n", len(a.questions))
		for i, q := range a.questions {
			page.Line("  " + title(q) + ": " + a.said(i))
		}
		b.WriteString("\nenter  make the plan and show it    b  back    q  quit without writing\n")
		return
	}
	q := a.questions[a.at]
	fmt.Fprintf(b, "%d of %d  %s\n\n", a.at+1, len(a.questions), title(q))
	present.Sides(&page, q.Findings)
	list, words := a.options()
	if a.excerpt != nil && q.Rule != nil {
		value := q.Value
		if o := list[a.cursor]; o.kind == "value" {
			value = o.value
		}
		for _, line := range a.excerpt(q, value) {
			page.Line("  " + line)
		}
	}
	if q.Because != "" {
		b.WriteString("\n")
		page.Wrapped("  ", "proposal: because "+q.Because)
	}
	b.WriteString("\n")
	for i, text := range words {
		mark := "  "
		if i == a.cursor {
			mark = "> "
		}
		page.Line(mark + text)
	}
	if a.typing != "" {
		fmt.Fprintf(b, "\n%s: %s_\n", a.typing, a.text)
	}
	if a.wrong != "" {
		page.Line(a.wrong)
	}
	b.WriteString("\nup and down choose    enter  take    b  back    q  quit without writing\n")
}

func title(q settle.Question) string {
	if q.Rule == nil {
		return "formatter of " + q.Type.Name
	}
	return q.Rule.Title + " of " + q.Type.Name
}

// said is an answer in words.
func (a *asking) said(i int) string {
	q, x := a.questions[i], a.answers[i]
	switch x.kind {
	case "value":
		return q.Rule.Phrase(x.value)
	case "formatter":
		return x.formatter.Name
	case "leave":
		return "left open"
	case "exempt":
		return "exempt (" + x.reason + ")"
	case "waive":
		return "waived (" + x.reason + ")"
	case "take":
		if q.Rule == nil {
			return q.Formatter.Name + ", as proposed"
		}
		return q.Rule.Phrase(q.Value) + ", as proposed"
	}
	return "not answered; as proposed"
}

// choices adds the answers to what was decided before.
func (a *asking) choices(out settle.Choices) settle.Choices {
	for i, q := range a.questions {
		switch x := a.answers[i]; x.kind {
		case "value":
			out.Set = append(out.Set, settle.Value{Type: q.Type.ID, Rule: q.Rule, Value: x.value})
		case "formatter":
			out.Words.Formatters[q.Type.ID] = x.formatter.ID
		case "leave":
			for _, f := range q.Findings {
				out.Leave = append(out.Leave, f.ID)
			}
		case "exempt":
			out.Words.Exempt = append(out.Words.Exempt, treaty.Exemption{Type: q.Type.ID, Reason: x.reason})
		case "waive":
			for _, f := range q.Findings {
				out.Words.Waivers = append(out.Words.Waivers, treaty.Waiver{Finding: f.ID, Reason: x.reason, Until: x.until})
			}
		}
	}
	return out
}

// confirming asks whether what was shown shall be written.
type confirming struct {
	question string
	yes      bool
	done     bool
}

func (c *confirming) Init() tea.Cmd { return nil }

func (c *confirming) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	if key, ok := msg.(tea.KeyMsg); ok {
		c.done, c.yes = true, key.String() == "y"
		return c, tea.Quit
	}
	return c, nil
}

func (c *confirming) View() string {
	switch {
	case !c.done:
		return c.question + " y or n\n"
	case c.yes:
		return c.question + " yes\n"
	}
	return c.question + " no\n"
}

// ask runs a model on the terminal.
func ask(model tea.Model, in io.Reader, out io.Writer) error {
	_, err := tea.NewProgram(model, tea.WithInput(in), tea.WithOutput(out)).Run()
	return err
}
