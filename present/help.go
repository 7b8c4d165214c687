package present

import "jollytreaty/core/conflict"

// help says in a sentence when each code is found.
var help = map[conflict.Code]string{
	conflict.ClashWriters:    "Two programs rewrite the same text differently.",
	conflict.ClashRejected:   "What one program writes, another rejects.",
	conflict.ClashImpossible: "What two programs accept does not overlap.",
	conflict.ClashInternal:   "One settings file contradicts itself.",
	conflict.ClashTyping:     "An editor types what a program rewrites.",
	conflict.ClashSeverity:   "One rule has different severities in different places.",
	conflict.Rivalry:         "More than one formatter is in play for a file type.",
	conflict.RivalryTriggers: "One formatter runs on save, another on commit or in CI.",
	conflict.RivalryImports:  "Two programs order imports.",
	conflict.RivalryOrder:    "A fixer runs after the formatter.",
	conflict.RivalryLayout:   "A linter repeats a layout rule the formatter already owns.",
	conflict.GapNoFormatter:  "Nothing formats the files of a type.",
	conflict.GapPartial:      "The formatter covers a type only in part.",
	conflict.GapExcluded:     "Exclusions take all files of a type from its formatter.",
	conflict.GapNoTrigger:    "Nothing ever runs the formatter.",
	conflict.GapUndeclared:   "The formatter is configured, but no manifest, hook or CI step brings it.",
	conflict.DeadShadowed:    "A setting loses everywhere it could apply.",
	conflict.DeadNoProvider:  "A setting is for a program that nothing else in the repository knows.",
	conflict.DeadNoFiles:     "A pattern matches no file.",
	conflict.DeadDefault:     "A setting restates the program's default.",
	conflict.DriftVersion:    "One program has different versions in different places.",
	conflict.DriftUnpinned:   "A version floats.",
	conflict.DriftPersonal:   "The result depends on personal or machine settings.",
	conflict.DriftExclusions: "Formatter and linter exclude different files of a type.",
	conflict.DriftRegion:     "The same program has another value for the same type in another folder.",
	conflict.DriftMirror:     "Settings that are meant to mirror each other no longer do.",
	conflict.DriftRetired:    "A program or setting is retired.",
	conflict.SlipUnreadable:  "A settings file cannot be parsed.",
	conflict.SlipUnknownKey:  "The program does not know a key.",
	conflict.SlipBadValue:    "A value is outside the domain of its key.",
	conflict.SlipMisplaced:   "A settings file lies where its program does not look.",
	conflict.SlipTwoHomes:    "Of two settings files in one folder one is not read.",
	conflict.SlipMissingBase: "A settings file extends something that is not there.",
	conflict.SlipEmpty:       "A settings file is empty.",
	conflict.SlipDialect:     "A required dialect or version is missing or contradictory.",
	conflict.SlipOpaque:      "Settings are computed by code and are not guessed at.",
	conflict.CodeDisagrees:   "Most of the code does otherwise than the value in effect.",
	conflict.TreatyBreach:    "A settings file departs from the treaty.",
	conflict.TreatyExpired:   "A waiver is past its end date.",
}

// Help says in a sentence when a code is found.
func Help(c conflict.Code) string { return help[c] }
