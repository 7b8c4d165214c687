package document

// grammar is what tells settings in one language from those in another.
type grammar struct {
	// statement reads a statement at the top level.
	statement func(*codeReader)

	keeps []string // functions that return their only argument
	lists []string // functions that return a list of their arguments

	opening  string // behind which the code starts, "" for the start of the file
	local    string // the word before a name that only the file itself uses, "" for none
	sections bool   // an indented block under "with" is a section
	calls    bool   // a call without brackets sets what it names
	spreads  bool   // stars before an element put what it holds in its place
	dotCalls bool   // a dot calls a method, as an arrow does
	indexed  bool   // what a name stands for changes when one of its items is set
	objects  bool   // what stands in braces has keys
	tuples   bool   // braces with nothing in them hold no keys
}

var (
	scriptGrammar = &grammar{keeps: []string{"freeze"}, statement: (*codeReader).scriptStatement, indexed: true, objects: true}
	rubyGrammar   = &grammar{statement: (*codeReader).plainStatement, indexed: true, spreads: true, calls: true}
	phpGrammar    = &grammar{lists: []string{"array"}, statement: (*codeReader).phpStatement, opening: "<?php", dotCalls: true}
	pythonGrammar = &grammar{keeps: []string{"dict", "tuple", "list"}, statement: (*codeReader).plainStatement, indexed: true, spreads: true, sections: true}
	luaGrammar    = &grammar{statement: (*codeReader).plainStatement, local: "local"}
	elixirGrammar = &grammar{statement: (*codeReader).lastValue, indexed: true, tuples: true}
)
