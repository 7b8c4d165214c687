package presence

import (
	"fmt"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strings"

	"jollytreaty/core/catalog"
	"jollytreaty/core/document"
	"jollytreaty/core/pattern"
	"jollytreaty/core/sign"
)

// runner is where a command line was found.
type runner struct {
	as     sign.Kind
	when   sign.Moment
	folder string
	line   int
	only   *Only
	by     string // the command that runs it, where something has to call that
	turn   string // commands that run one after another; "" for those of one text alone
}

// runIn reads a hook, CI step or script with structure.
func (r *reading) runIn(run *catalog.Run, d *document.Document, folder string) {
	w := walker{reading: r, run: run, doc: d, base: runner{as: run.As, when: run.When, folder: folder}}
	if run.Hooks != nil {
		w.hooks()
	}
	for _, part := range run.Parts {
		in := w.base
		if part.As != 0 {
			in.as, in.when = part.As, part.When
		}
		in.by = part.By
		for _, n := range at(d.Root, part.At) {
			if part.Keys {
				in.only = matching(pattern.Names, folder, []string{n.Key})
				in.turn = r.path + "#" + n.Key
			}
			w.texts(n, in)
		}
	}
	if run.Commands != nil || run.Uses != nil || run.Images != nil {
		w.walk(d.Root, 0)
	}
}

type walker struct {
	*reading
	run  *catalog.Run
	doc  *document.Document
	base runner
}

func (w *walker) lineOf(n *document.Node) int {
	line, _ := w.doc.Position(n.Start)
	return line
}

// texts reads every text at or below n as a command line.
func (w *walker) texts(n *document.Node, in runner) {
	if n.Kind == document.Scalar {
		if text, ok := n.Value.(string); ok {
			in.line = w.lineOf(n)
			if strings.Contains(text, "\n") && n.Start < len(w.doc.Src) && strings.IndexByte("|>", w.doc.Src[n.Start]) >= 0 {
				in.line++ // a block of text starts behind its sign
			}
			w.commandLine(text, in)
		}
		return
	}
	for _, item := range n.Items {
		w.texts(item, in)
	}
}

// maxWalk bounds the nesting of what is walked.
const maxWalk = 100

func (w *walker) walk(n *document.Node, depth int) {
	if depth > maxWalk {
		return
	}
	for _, item := range n.Items {
		in := w.base
		if dir := textOf(n, w.run.Folders...); dir != "" && item.Kind == document.Scalar {
			in.folder = w.below(in.folder, dir)
		}
		if w.run.Globs != "" && n.Get(w.run.Globs) != nil {
			var globs []string
			for _, glob := range n.Get(w.run.Globs).Words() {
				globs = append(globs, glob.Text())
			}
			in.only = matching(pattern.Loose, in.folder, globs)
		}
		switch {
		case slices.Contains(w.run.Commands, item.Key):
			if item.Kind == document.Map {
				w.walk(item, depth+1)
			} else {
				w.texts(item, in)
			}
			continue
		case slices.Contains(w.run.Uses, item.Key) && item.Kind == document.Scalar:
			w.action(item, n, in)
		case slices.Contains(w.run.Elsewhere, item.Key):
			w.Anything = true
		case slices.Contains(w.run.Images, item.Key) && item.Kind == document.Scalar:
			w.image(item.Text(), nil, in, w.lineOf(item))
		}
		w.walk(item, depth+1)
	}
}

// action adds the programs that a step's action runs or sets up; beside are the
// step's own keys.
func (w *walker) action(item, beside *document.Node, in runner) {
	name, ref, _ := strings.Cut(item.Text(), "@")
	in.line = w.lineOf(item)
	if image, ok := strings.CutPrefix(item.Text(), "docker://"); ok {
		w.image(image, nil, in, in.line)
		return
	}
	if !strings.HasPrefix(name, "./") && (strings.HasSuffix(name, ".yml") || strings.HasSuffix(name, ".yaml")) {
		w.Anything = true // steps that are kept elsewhere
	}
	for _, known := range w.catalog.Places.Everything {
		if name == known || strings.HasPrefix(name, known+"/") {
			w.Anything = true
		}
	}
	version := first(beside, w.run.Versions)
	for _, b := range w.named("action", name) {
		said := version
		if said == "" && b.tagged && !isHash(ref) {
			said = ref
		}
		var args []string
		for _, c := range split(first(beside, w.run.Args)) {
			args = append(args, c.words...)
		}
		if args == nil {
			args = b.program.Runs.Checks[:min(1, len(b.program.Runs.Checks))]
		}
		w.start(b, nil, args, said, in)
	}
	for _, b := range w.named("setup", name) {
		w.add(Sign{Program: b.program, Seen: Seen{As: in.as, Line: in.line, Folder: in.folder, Version: version}})
	}
}

// first returns the text at the first of the paths that has one.
func first(n *document.Node, paths []string) string {
	for _, p := range paths {
		if v := n.Find(p); v != nil && v.Kind == document.Scalar {
			return v.Text()
		}
	}
	return ""
}

// below returns dir within folder, or folder where dir is not plain.
func (w *walker) below(folder, dir string) string {
	if joined := path.Join(folder, dir); !strings.ContainsAny(dir, "$*{") && fs.ValidPath(joined) {
		return joined
	}
	return folder
}

// image adds the programs that a container image brings, and reads what is run
// in it.
func (r *reading) image(image string, args []string, in runner, line int) {
	name, version := image, ""
	if i := strings.LastIndexByte(image, ':'); i > strings.LastIndexByte(image, '/') {
		name, version = image[:i], image[i+1:]
	}
	name, _, _ = strings.Cut(name, "@")
	for _, host := range []string{"docker.io/", "ghcr.io/", "registry.gitlab.com/", "quay.io/"} {
		name = strings.TrimPrefix(name, host)
	}
	in.line = line
	for _, b := range r.named("image", name) {
		r.start(b, nil, args, version, in)
	}
}

// hooks reads a list of repositories with hooks.
func (w *walker) hooks() {
	h := w.run.Hooks
	list := w.doc.Root.Get(h.List)
	if list == nil {
		return
	}
	for _, repo := range list.Items {
		name, version := textOf(repo, h.Name), textOf(repo, h.Version)
		name = strings.TrimSuffix(strings.TrimPrefix(strings.TrimPrefix(name, "https://"), "git@"), ".git")
		name = strings.Replace(name, "github.com:", "github.com/", 1)
		items := repo.Get(h.Items)
		if items == nil {
			continue
		}
		for _, hook := range items.Items {
			in := w.base
			in.turn = w.path
			in.line = w.lineOf(hook)
			if id := hook.Get(h.ID); id != nil {
				in.line = w.lineOf(id)
			}
			in.only = onlyHooked(w.doc.Root, h.Tags).and(onlyHooked(hook, h.Tags))
			var args []string
			for _, a := range hook.Get(h.Args).Words() {
				args = append(args, a.Text())
			}
			id := textOf(hook, h.ID)
			known := w.named("hook", name+"#"+id)
			if known == nil {
				known = w.named("hook", name)
			}
			for _, b := range known {
				w.start(b, []string{"#" + id}, args, version, in)
			}
			if entry := textOf(hook, h.Entry); entry != "" {
				w.commandLine(strings.Join(append([]string{entry}, args...), " "), in)
			}
		}
	}
}

// makeVariable is a line that gives a variable a value, makeUse where one is used, in
// task files as well.
var (
	makeVariable = regexp.MustCompile(`^\s*(?:export\s+)?([A-Za-z_][A-Za-z0-9_-]*)\s*[:?]?:?=\s*(.*)$`)
	makeUse      = regexp.MustCompile(`\$\(([A-Za-z_][A-Za-z0-9_-]*)\)|\$\{([A-Za-z_][A-Za-z0-9_-]*)\}|\{\{ ?([A-Za-z_][A-Za-z0-9_-]*) ?\}\}`)
)

// makeUnset is a variable of which nothing is known, written as a shell would.
var makeUnset = regexp.MustCompile(`\$\(([A-Z][A-Z0-9_]*)\)`)

// shellUse is a variable of a shell without braces.
var shellUse = regexp.MustCompile(`\$([A-Z][A-Z0-9_]*)\b`)

// variablesIn returns the variables to which lines of a text give values, with the first
// value of each.
func variablesIn(text string) map[string]string {
	variables := map[string]string{}
	for line := range strings.Lines(text) {
		if m := makeVariable.FindStringSubmatch(strings.TrimRight(line, "\r\n")); m != nil && line[0] != '\t' {
			if _, had := variables[m[1]]; !had {
				variables[m[1]] = strings.Trim(m[2], `"'`)
			}
		}
	}
	return variables
}

// longestRecipe bounds a line of a task file with its variables put in, in bytes.
const longestRecipe = 1 << 14

// filled puts the values of variables into a text, as far as it does not grow too
// long.
func filled(text string, variables map[string]string) string {
	if len(variables) == 0 || !strings.ContainsAny(text, "${") {
		return text
	}
	var b strings.Builder
	end := 0
	for _, at := range makeUse.FindAllStringSubmatchIndex(text[:min(len(text), longestRecipe)], -1) {
		var name string
		for i := 2; i < len(at); i += 2 {
			if at[i] >= 0 {
				name = text[at[i]:at[i+1]]
			}
		}
		if value, known := variables[name]; known && b.Len()+len(value) < longestRecipe {
			b.WriteString(text[end:at[0]] + value)
			end = at[1]
		}
	}
	return b.String() + text[end:]
}

// runInLines reads a hook, CI step or script line by line.
func (r *reading) runInLines(run *catalog.Run, folder string) {
	in := runner{as: run.As, when: run.When, folder: folder, line: 1}
	switch run.Lines {
	case "shell":
		in.turn = r.path
		r.commandLine(filled(shellUse.ReplaceAllString(r.text, "$${$1}"), variablesIn(r.text)), in)
	case "calls":
		number := 0
		for line := range strings.Lines(r.text) {
			number++
			if words := quotedTexts(withoutComment(line)); len(words) > 0 {
				in.line = number
				r.commandLine(strings.Join(words, " "), in)
			}
		}
	case "recipes":
		r.recipes(in)
	}
}

// recipes reads indented lines as command lines, with the file's variables put
// in.
func (r *reading) recipes(in runner) {
	variables := variablesIn(r.text)
	number, goesOn := 0, ""
	for line := range strings.Lines(r.text) {
		number++
		text := strings.TrimRight(line, "\r\n")
		if goesOn == "" && (text == "" || text[0] != '\t' && text[0] != ' ') {
			in.turn = fmt.Sprintf("%s:%d", r.path, number)
			continue
		}
		text = goesOn + text
		if goesOn = ""; strings.HasSuffix(text, `\`) {
			goesOn = strings.TrimSuffix(text, `\`) + " "
			continue
		}
		in.line = number
		text = filled(filled(strings.TrimSpace(text), variables), variables)
		r.commandLine(strings.TrimLeft(makeUnset.ReplaceAllString(text, "$${$1}"), "@-+"), in)
	}
}

var quotedText = regexp.MustCompile(`"([^"]*)"|'([^']*)'`)

func quotedTexts(line string) []string {
	var out []string
	for _, m := range quotedText.FindAllStringSubmatch(line, -1) {
		out = append(out, m[1]+m[2])
	}
	return out
}

// commandLine reads a shell text.
func (r *reading) commandLine(text string, in runner) {
	r.commandLines(text, in, 0)
}

// maxWrappers bounds how many commands may run one another on one line.
const maxWrappers = 8

func (r *reading) commandLines(text string, in runner, depth int) {
	if depth > maxWrappers {
		return
	}
	folder := in.folder
	for _, c := range split(text) {
		at := in
		at.line += c.line
		at.folder = folder
		if c.words[0] == "cd" && len(c.words) == 2 {
			if joined := path.Join(folder, c.words[1]); !strings.ContainsAny(c.words[1], "$*~") && fs.ValidPath(joined) {
				folder = joined
			}
			continue
		}
		r.command(c.words, at, depth)
	}
}

// command finds the program that a command starts.
func (r *reading) command(words []string, in runner, depth int) {
	version := ""
	for range maxWrappers {
		for len(words) > 0 && assignment(words[0]) {
			words = words[1:]
		}
		if len(words) == 0 {
			return
		}
		words[0] = executable(named(words[0]))
		if name, v, ok := strings.Cut(words[0], "@"); ok && name != "" {
			words[0], version = name, v
		}
		if e, n := r.starts(words); e != nil {
			r.start(bringer{program: e}, words[:n], words[n:], version, in)
			return
		}
		if slices.Contains(r.callers, words[0]) {
			r.Called = append(r.Called, words[0])
			return
		}
		w, rest := r.wrapper(words)
		switch {
		case w == nil:
			return
		case w.Text:
			for _, text := range rest {
				if strings.Contains(text, " ") {
					r.commandLines(text, in, depth+1)
				}
			}
			return
		case w.Each:
			for _, task := range rest {
				name := task[strings.LastIndexByte(task, ':')+1:]
				for _, word := range []string{task, name} {
					if e, _ := r.starts([]string{word}); e != nil {
						r.start(bringer{program: e}, []string{word}, nil, "", in)
						break
					}
				}
			}
			return
		case w.Package == "image":
			if len(rest) > 0 {
				r.image(rest[0], rest[1:], in, in.line)
			}
			return
		case w.Package != "" && len(rest) > 0:
			name, v, _ := strings.Cut(rest[0], "@")
			if known := r.named(w.Package, name); known != nil {
				r.start(known[0], nil, rest[1:], v, in)
				return
			}
			rest = slices.Clone(rest)
			rest[0] = path.Base(name)
		}
		words = slices.Clone(rest)
	}
}

func assignment(word string) bool {
	name, _, ok := strings.Cut(word, "=")
	return ok && name != "" && strings.Trim(name, "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789_") == ""
}

// programVariable is a variable, of a task file or a shell, that by custom holds the
// command of that name.
var programVariable = regexp.MustCompile(`^\$(?:\(([A-Z][A-Z0-9_]*)\)|\{([A-Z][A-Z0-9_]*)\}|([A-Z][A-Z0-9_]*))$`)

// named returns the command that a word stands for: that which a variable, of which
// nothing else is known, is called after.
func named(word string) string {
	if m := programVariable.FindStringSubmatch(word); m != nil {
		return strings.ToLower(strings.ReplaceAll(m[1]+m[2]+m[3], "_", "-"))
	}
	return word
}

// executable is the name of a program without its folder and ending.
func executable(word string) string {
	if i := strings.LastIndexAny(word, `/\`); i >= 0 && i+1 < len(word) && !strings.HasPrefix(word, "@") {
		word = word[i+1:]
	}
	for _, ending := range []string{".exe", ".cmd", ".bat", ".phar"} {
		word = strings.TrimSuffix(word, ending)
	}
	return word
}

// starts returns the program whose command the words start with, and how many
// of them name it.
func (f *Finder) starts(words []string) (*catalog.Entry, int) {
	var best *catalog.Entry
	length := 0
	for _, e := range f.commands[words[0]] {
		for _, command := range e.Commands {
			parts := strings.Split(command, " ")
			if len(parts) > length && len(parts) <= len(words) && slices.Equal(parts[1:], words[1:len(parts)]) && parts[0] == words[0] {
				best, length = e, len(parts)
			}
		}
	}
	return best, length
}

// wrapper returns the wrapper that the words start with, and what it runs.
func (f *Finder) wrapper(words []string) (*catalog.Wrapper, []string) {
	for _, w := range f.wrappers[words[0]] {
		parts := strings.Split(w.Words, " ")
		if len(parts) > len(words) || !slices.Equal(parts, words[:len(parts)]) {
			continue
		}
		rest := words[len(parts):]
		if w.After != "" {
			i := slices.Index(rest, w.After)
			if i < 0 {
				return nil, nil
			}
			return w, rest[i+1:]
		}
		for len(rest) > 0 && strings.HasPrefix(rest[0], "-") {
			skip := 1
			if slices.Contains(w.Values, rest[0]) {
				skip = 2
			}
			rest = rest[min(skip, len(rest)):]
		}
		return w, rest
	}
	return nil, nil
}

// Bounds of what is read of one file that runs programs: how many it starts, and how
// many files and folders one command names.
const (
	maxStarts = 2000
	maxNames  = 500
)

// leastOption is the length of the shortest option that is compared with known ones;
// shorter ones resemble each other by chance.
const leastOption = 7

// start adds the sign that a command starts a program with some arguments; the
// command may itself say what the program does.
func (r *reading) start(b bringer, command, args []string, version string, in runner) {
	e := b.program
	if r.order == maxStarts {
		if r.Cut == nil {
			r.Cut = []Cut{{r.path, in.line, maxStarts}}
		}
		return
	}
	if in.turn == "" {
		in.turn = fmt.Sprintf("%s:%d", r.path, in.line)
	}
	r.order++
	f := Sign{Program: e, Seen: Seen{Turn: in.turn, Order: r.order, As: in.as, When: in.when, Line: in.line, Folder: in.folder, Version: version, Foreign: b.foreign, Only: in.only, by: in.by, Started: in.folder}}
	does := func(list []string) bool {
		return slices.ContainsFunc(command, func(w string) bool { return slices.Contains(list, w) })
	}
	writes, checks, lints := does(e.Runs.Writes), does(e.Runs.Checks), does(e.Runs.Lints)
	var files []string
	keys := map[string]string{}
	for i := 0; i < len(args); i++ {
		option, value, joined := strings.Cut(args[i], "=")
		if strings.HasPrefix(option, "--") && len(option) >= leastOption {
			if near, known := e.Option(option); !known && near != "" {
				r.Mistyped = append(r.Mistyped, Mistyped{e, r.path, in.line, option, near})
			}
		}
		writes = writes || slices.Contains(e.Runs.Writes, option)
		checks = checks || slices.Contains(e.Runs.Checks, option)
		lints = lints || slices.Contains(e.Runs.Lints, option)
		if slices.Contains(e.Flags, option) && !slices.Contains(e.Runs.Plain, option+"="+valueOf(value, joined, args[i+1:])) {
			f.Styled = true
		}
		if i == 0 && !strings.HasPrefix(option, "-") && (slices.Contains(e.Runs.Writes, option) || slices.Contains(e.Runs.Checks, option) || slices.Contains(e.Runs.Lints, option)) {
			continue // a subcommand, no file
		}
		if name, on := optionOf(e, option); name != "" {
			key, fixed, isFixed := strings.Cut(e.Options[name], "=")
			switch {
			case isFixed && !joined:
				value = fixed
			case isFixed:
			case on != "":
				value = on
			case !joined && i+1 < len(args):
				i++
				value = args[i]
			}
			if strings.ContainsAny(value, "$`{<") {
				f.Styled = true // what it stands for is not known here
			}
			set(keys, key, value)
			continue
		}
		switch {
		case slices.Contains(e.Runs.Settings, option):
			if !joined && i+1 < len(args) {
				i++
				value = args[i]
			}
			if f.Settings = r.settings(value, in.folder); f.Settings == "" {
				f.Styled = true // what it names is not to be found here
			}
		case !strings.HasPrefix(option, "-") && option != "" && !strings.ContainsAny(args[i], "<>"):
			files = append(files, args[i])
		}
	}
	switch f.Seen.Does = e.Runs.Does; {
	case e.Runs.Does == sign.Writes && checks:
		f.Seen.Does = sign.Checks
	case writes:
		f.Seen.Does = sign.Writes
	case checks:
		f.Seen.Does = sign.Checks
	case lints:
		f.Seen.Does = sign.Lints
	case f.Seen.Does == sign.Prints:
		f.Seen.Does = sign.Unsaid // what becomes of it is up to whoever reads it
	}
	f.Seen.Files = strings.Join(files, " ")
	f.Seen.Told = told(keys)
	f.Seen.Only = in.only.and(r.onlyNamed(files, in.folder))
	if folders := r.folders(files, in.folder); folders != nil {
		for _, folder := range folders {
			one := f
			one.Seen.Folder = folder
			r.add(one)
		}
		return
	}
	r.add(f)
}

// valueOf is the value of an option, joined on or the word behind.
func valueOf(value string, joined bool, rest []string) string {
	if joined || len(rest) == 0 {
		return value
	}
	return rest[0]
}

// set keeps what an option sets.
func set(keys map[string]string, key, value string) {
	prefix, several := strings.CutSuffix(key, "*")
	if !several {
		keys[key] = value
		return
	}
	for part := range strings.SplitSeq(value, ",") {
		if name, value, ok := strings.Cut(part, "="); ok {
			keys[prefix+strings.ReplaceAll(name, ".", "/")] = strings.Trim(value, `"'`)
		}
	}
}

// optionOf returns the name of an option that sets a key, and its value if that
// is joined on, as in -i4.
func optionOf(e *catalog.Entry, option string) (name, value string) {
	if _, sets := e.Options[option]; sets {
		return option, ""
	}
	if len(option) > 2 && option[0] == '-' && option[1] != '-' && strings.Trim(option[2:], "0123456789") == "" {
		if _, sets := e.Options[option[:2]]; sets {
			return option[:2], option[2:]
		}
	}
	return "", ""
}

// settings returns the path of a settings file that a command line names, or ""
// if it is not there.
func (r *reading) settings(name, folder string) string {
	name = strings.TrimPrefix(name, "file://")
	for _, base := range []string{folder, "."} {
		p := path.Join(base, name)
		if fs.ValidPath(p) && !strings.ContainsAny(name, "$*{") {
			if info, err := fs.Stat(r.fsys, p); err == nil && info.Mode().IsRegular() {
				return p
			}
		}
	}
	return ""
}

// folders returns the folders that the arguments of a command line name, by
// themselves or at the start of a pattern, if they name nothing else.
func (r *reading) folders(files []string, folder string) []string {
	var out []string
	if len(files) > maxNames {
		return nil
	}
	for _, name := range files {
		name = strings.Trim(name, `"'`)
		if i := strings.IndexAny(name, "*{["); i >= 0 {
			name = name[:strings.LastIndexByte(name[:i], '/')+1]
		}
		p := path.Join(folder, name)
		if name == "" || strings.ContainsAny(name, "$") || !fs.ValidPath(p) {
			return nil
		}
		info, err := fs.Stat(r.fsys, p)
		if err != nil || !info.IsDir() {
			return nil
		}
		if !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	return out
}
