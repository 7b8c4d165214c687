package conflict

import (
	"cmp"
	"slices"
	"strings"
)

// Code names a kind of finding. What is known of each stands in one table, in this
// file; views, reports, the proof of a plan and the reference read it.
type Code string

// The codes.
const (
	TreatyBreach    Code = "treaty/breach"
	TreatyExpired   Code = "treaty/expired"
	Rivalry         Code = "rivalry/formatters"
	RivalryTriggers Code = "rivalry/triggers"
	RivalryImports  Code = "rivalry/imports"
	RivalryOrder    Code = "rivalry/order"
	RivalryLayout   Code = "rivalry/layout"
	ClashWriters    Code = "clash/writers"
	ClashRejected   Code = "clash/rejected"
	ClashImpossible Code = "clash/impossible"
	ClashInternal   Code = "clash/internal"
	ClashTyping     Code = "clash/typing"
	ClashSeverity   Code = "clash/severity"
	SlipUnreadable  Code = "slip/unreadable"
	SlipUnknownKey  Code = "slip/unknown-key"
	SlipBadValue    Code = "slip/bad-value"
	SlipMisplaced   Code = "slip/misplaced"
	SlipTwoHomes    Code = "slip/two-homes"
	SlipMissingBase Code = "slip/missing-base"
	SlipEmpty       Code = "slip/empty"
	SlipDialect     Code = "slip/dialect"
	SlipOpaque      Code = "slip/opaque"
	CodeDisagrees   Code = "code/disagrees"
	GapNoFormatter  Code = "gap/no-formatter"
	GapPartial      Code = "gap/partial"
	GapExcluded     Code = "gap/excluded"
	GapNoTrigger    Code = "gap/no-trigger"
	GapUndeclared   Code = "gap/undeclared"
	DriftVersion    Code = "drift/version"
	DriftUnpinned   Code = "drift/unpinned"
	DriftPersonal   Code = "drift/personal"
	DriftExclusions Code = "drift/exclusions"
	DriftRegion     Code = "drift/region"
	DriftMirror     Code = "drift/mirror"
	DriftRetired    Code = "drift/retired"
	DeadShadowed    Code = "dead/shadowed"
	DeadNoProvider  Code = "dead/no-provider"
	DeadNoFiles     Code = "dead/no-files"
	DeadDefault     Code = "dead/default"
)

// Severity says how bad a finding is.
type Severity string

// The severities. An error means that no text satisfies everyone, or that a
// type has no single formatter; a warning, that people or machines will produce
// different text; a note, that something has no effect or is worth knowing.
const (
	Error   Severity = "error"
	Warning Severity = "warning"
	Note    Severity = "note"
)

// Rank orders severities, worst highest; 0 for what is none.
func (s Severity) Rank() int {
	return slices.Index([]Severity{Note, Warning, Error}, s) + 1
}

// Sort says what findings with a code are about, which decides where they are told and
// when they are looked for. One may be of two sorts.
type Sort uint8

// The sorts.
const (
	// Values: what is asked for by different voices does not go together.
	Values Sort = 1 << iota
	// Turns: programs work on the same files, one after the other.
	Turns
	// Word: settings depart from what was agreed on.
	Word
	// Place: something is the matter with what stands in one place.
	Place
	// State: something is the matter with what the repository has as a whole.
	State
	// Owner: files have no formatter, or none that does what is expected of it.
	Owner
	// Text: the code itself does otherwise.
	Text
)

// Contest is the sorts where programs contradict each other.
const Contest = Values | Turns

// Meaning is what is known of a code. Sentences that are told by themselves end in a full
// stop; those that are put behind something do not.
type Meaning struct {
	Code     Code
	Severity Severity
	Sort     Sort

	// Title says in a few words what findings are about that concern no rule. Suffix
	// follows the title of a rule, where one is concerned.
	Title, Suffix string

	// Help says when it is found, and Settled what takes it away.
	Help, Settled string

	// Proved says that a plan must neither leave such a finding, where it decides the
	// question, nor bring one up.
	Proved bool

	// ByHand says why a plan always leaves it to a person, and what to do; Open why it
	// stays where nothing more is known of the reason. Each is "" for none.
	ByHand, Open string
}

// meanings is what is known of every code: kinds in the order in which people should
// see to them, what stops people before what merely misleads them.
var meanings = []Meaning{
	{
		Code: TreatyBreach, Severity: Error, Sort: Word, Proved: true,
		Help: "A settings file departs from the treaty.", Settled: "The settings file gets the treaty's value.",
	},
	{
		Code: TreatyExpired, Severity: Warning, Sort: Word,
		Help: "A waiver is past its end date.", Settled: "A new date in the treaty, or the waiver taken out.",
		Open: "set a new date in treaty.toml, or take the waiver out",
	},
	{
		Code: Rivalry, Severity: Error, Sort: Turns, Title: "two formatters", Proved: true,
		Help: "More than one formatter is in play for a file type.", Settled: "One keeps the files, for the strongest reason or by choice; the others leave them.",
	},
	{
		Code: RivalryTriggers, Severity: Warning, Sort: Turns, Title: "two formatters at different times", Proved: true,
		Help: "One formatter runs on save, another on commit or in CI.", Settled: "One of the two gone from where it is run.",
		ByHand: "one of the two has to go, from the editor's save or from the hook or CI step",
	},
	{
		Code: RivalryImports, Severity: Error, Sort: Turns, Title: "imports ordered", Suffix: " by two programs", Proved: true,
		Help: "Two programs order imports.", Settled: "Ordering imports switched off in one of them.",
		ByHand: "which of them shall order imports is up to you; switch it off in the other",
	},
	{
		Code: RivalryOrder, Severity: Warning, Sort: Turns, Title: "a fixer after the formatter", Proved: true,
		Help: "A fixer runs after the formatter.", Settled: "The formatter run last.",
		ByHand: "let the formatter run last; hooks and scripts are changed by hand",
	},
	{
		Code: RivalryLayout, Severity: Note, Sort: Turns, Title: "layout checked twice",
		Help: "A linter repeats a layout rule the formatter already owns.", Settled: "The checks switched off in the linter.",
		ByHand: "the two agree; the checks can be switched off in the linter, as the formatter sees to it",
	},
	{
		Code: ClashWriters, Severity: Error, Sort: Values, Proved: true, Title: "programs that undo each other",
		Help: "Two programs rewrite the same text differently.", Settled: "Both get one value.",
	},
	{
		Code: ClashRejected, Severity: Error, Sort: Values, Proved: true, Title: "checks that fail what is written",
		Help: "What one program writes, another rejects.", Settled: "A value that the one writes and the other accepts.",
	},
	{
		Code: ClashImpossible, Severity: Error, Sort: Values, Proved: true,
		Help: "What two programs accept does not overlap.", Settled: "A value that both accept.",
	},
	{
		Code: ClashInternal, Severity: Error, Sort: Values | Place, Title: "contradiction in a settings file", Proved: true,
		Help: "One settings file contradicts itself.", Settled: "One of the two taken out.",
		Open: "only you know which of the two was meant; take the other one out",
	},
	{
		Code: ClashTyping, Severity: Warning, Sort: Values, Proved: true,
		Help: "An editor types what a program rewrites.", Settled: "The editor gets the value that is written.",
	},
	{
		Code: ClashSeverity, Severity: Note, Sort: Values, Title: "check", Suffix: ", how bad it is,",
		Help: "One rule has different severities in different places.", Settled: "The same severity in both places.",
		ByHand: "say the same in both places, if it is not meant so",
	},
	{
		Code: SlipUnreadable, Severity: Error, Sort: Place, Title: "settings file that cannot be read", Proved: true,
		Help: "A settings file cannot be parsed.", Settled: "The file mended.",
		Open: "a file that cannot be read is left exactly as it is; mend it by hand",
	},
	{
		Code: SlipUnknownKey, Severity: Warning, Sort: Place, Title: "unknown key", Proved: true,
		Help: "The program does not know a key.", Settled: "The key mended, or taken out.",
	},
	{
		Code: SlipBadValue, Severity: Error, Sort: Place, Title: "bad value", Proved: true,
		Help: "A value is outside the domain of its key.", Settled: "A value that the key takes.",
	},
	{
		Code: SlipMisplaced, Severity: Warning, Sort: Place, Title: "settings file in the wrong place", Proved: true,
		Help: "A settings file lies where its program does not look.", Settled: "The file moved to where its program looks.",
	},
	{
		Code: SlipTwoHomes, Severity: Warning, Sort: Place, Title: "two settings files for one program", Proved: true,
		Help: "Of two settings files in one folder one is not read.", Settled: "One file for the program's settings.",
	},
	{
		Code: SlipMissingBase, Severity: Error, Sort: Place, Title: "missing base", Proved: true,
		Help: "A settings file extends something that is not there.", Settled: "The base brought, or no longer named.",
	},
	{
		Code: SlipEmpty, Severity: Note, Sort: Place, Title: "empty settings file", Proved: true,
		Help: "A settings file is empty.", Settled: "Settings in it, or the file gone.",
		Open: "whether it is meant to be empty is up to you",
	},
	{
		Code: SlipDialect, Severity: Warning, Sort: Place, Title: "dialect not said", Proved: true,
		Help: "A required dialect or version is missing or contradictory.", Settled: "The dialect said, the same everywhere.",
	},
	{
		Code: SlipOpaque, Severity: Note, Sort: Place, Title: "settings that are not read", Proved: true,
		Help: "Settings are computed by code and are not guessed at.", Settled: "Settings written down as values.",
		Open: "settings that are not read are not touched",
	},
	{
		Code: CodeDisagrees, Severity: Warning, Sort: Text,
		Help: "Most of the code does otherwise than the value in effect.", Settled: "The formatter run on the code, or its value taken from the code.",
	},
	{
		Code: GapNoFormatter, Severity: Note, Sort: Owner, Title: "no formatter",
		Help: "Nothing formats the files of a type.", Settled: "A formatter chosen, or the type exempt in the treaty.",
	},
	{
		Code: GapPartial, Severity: Warning, Sort: Owner, Title: "formatted in part",
		Help: "The formatter covers a type only in part.", Settled: "A formatter that covers all of it.",
		ByHand: "another formatter may do for the rest, or it stays as it is written",
	},
	{
		Code: GapExcluded, Severity: Warning, Sort: Owner, Title: "all files left out",
		Help: "Exclusions take all files of a type from its formatter.", Settled: "The exclusion taken out, or the type exempt in the treaty.",
		Open: "whether the exclusion is meant is up to you; if it is, exempt the type in treaty.toml",
	},
	{
		Code: GapNoTrigger, Severity: Note, Sort: Owner, Title: "formatter that nothing runs",
		Help: "Nothing ever runs the formatter.", Settled: "A hook, CI step or editor setting that runs it.",
		ByHand: "run it in a hook or CI step",
	},
	{
		Code: GapUndeclared, Severity: Warning, Sort: State, Title: "formatter that nothing brings",
		Help: "The formatter is configured, but no manifest, hook or CI step brings it.", Settled: "The formatter declared, or its settings taken out.",
		ByHand: "declare it in a manifest, or run it in a hook or CI step; else take its settings out",
	},
	{
		Code: DriftVersion, Severity: Warning, Sort: State, Title: "several versions",
		Help: "One program has different versions in different places.", Settled: "One version in all of them.",
		ByHand: "name the same version in all of them",
	},
	{
		Code: DriftUnpinned, Severity: Note, Sort: State, Title: "version not pinned",
		Help: "A version floats.", Settled: "One version named, or a lockfile.",
		ByHand: "name one version in the manifest, or keep a lockfile",
	},
	{
		Code: DriftPersonal, Severity: Warning, Sort: State, Title: "depends on the person",
		Help: "The result depends on personal or machine settings.", Settled: "The setting in the repository.",
		ByHand: "say it in the repository's settings",
	},
	{
		Code: DriftExclusions, Severity: Note, Sort: State, Title: "different files left out",
		Help: "Formatter and linter exclude different files of a type.", Settled: "The same files left out in both.",
		ByHand: "leave the same files out in both, if it is not meant so",
	},
	{
		Code: DriftRegion, Severity: Note, Sort: State, Title: "setting", Suffix: " by folder",
		Help: "The same program has another value for the same type in another folder.", Settled: "An article with paths in the treaty, or one value.",
		ByHand: "if it is meant, say so in an article with paths; otherwise take one of them out",
	},
	{
		Code: DriftMirror, Severity: Warning, Sort: State, Title: "setting", Suffix: " no longer the same",
		Help: "Settings that are meant to mirror each other no longer do.", Settled: "The same value in both places.",
		ByHand: "say the same in both places",
	},
	{
		Code: DriftRetired, Severity: Warning, Sort: Place, Title: "retired",
		Help: "A program or setting is retired.", Settled: "Its successor in its place.",
	},
	{
		Code: DeadShadowed, Severity: Note, Sort: Place, Title: "setting", Suffix: " without effect",
		Help: "A setting loses everywhere it could apply.", Settled: "The setting taken out, as by treaty settle --prune.",
		Open: "treaty settle --prune takes it out",
	},
	{
		Code: DeadNoProvider, Severity: Warning, Sort: Place, Title: "settings of a program nothing brings",
		Help: "A setting is for a program that nothing else in the repository knows.", Settled: "The program declared, or the settings taken out.",
		ByHand: "take the settings out, or declare the program in a manifest",
	},
	{
		Code: DeadNoFiles, Severity: Note, Sort: Place, Title: "pattern without files",
		Help: "A pattern matches no file.", Settled: "The pattern mended, or taken out.",
		ByHand: "mend the pattern, or take it out",
	},
	{
		Code: DeadDefault, Severity: Note, Sort: Place, Title: "setting", Suffix: " that holds anyway",
		Help: "A setting restates the program's default.", Settled: "The setting taken out.",
	},
}

// byCode and order are the table by code, and the order of its kinds.
var byCode, order = func() (map[Code]*Meaning, map[string]int) {
	by, order := map[Code]*Meaning{}, map[string]int{}
	for i := range meanings {
		by[meanings[i].Code] = &meanings[i]
		if _, had := order[meanings[i].Code.Kind()]; !had {
			order[meanings[i].Code.Kind()] = len(order)
		}
	}
	return by, order
}()

// Meaning returns what is known of the code, which must be one of the table's.
func (c Code) Meaning() *Meaning { return byCode[c] }

// Is reports whether findings with the code are of one of the sorts.
func (c Code) Is(sorts Sort) bool { return byCode[c].Sort&sorts != 0 }

// Kind returns the part of a code before the slash, which says why findings with
// it matter.
func (c Code) Kind() string {
	kind, _, _ := strings.Cut(string(c), "/")
	return kind
}

// Severity returns the severity of findings with the code.
func (c Code) Severity() Severity { return byCode[c].Severity }

// Codes returns every code, in name order.
func Codes() []Code {
	var codes []Code
	for i := range meanings {
		codes = append(codes, meanings[i].Code)
	}
	slices.Sort(codes)
	return codes
}

// Table returns what is known of every code, in the order in which people should see
// to findings.
func Table() []Meaning { return slices.Clone(meanings) }

// compareKinds orders codes by their kinds.
func compareKinds(a, b Code) int { return cmp.Compare(order[a.Kind()], order[b.Kind()]) }
