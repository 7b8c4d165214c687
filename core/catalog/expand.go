package catalog

import (
	"maps"
	"slices"
	"strings"
)

// expand writes out what an entry says in short: the two spellings of its keys, and the
// names under which plugins bear its rules.
func (e *Entry) expand() {
	for _, v := range e.Variants {
		var rules []*Question
		for _, q := range e.Rules {
			rules = append(rules, v.questions(q)...)
		}
		e.Rules = rules
	}
	for name, base := range e.Bases {
		e.Bases[name] = written(base)
	}
	for name, like := range e.BasesLike {
		e.Bases[name] = over(e.Bases[like], e.Bases[name])
	}
	if e.Hyphens {
		for _, q := range e.Rules {
			q.From = spelledWays(q.From)
			if q.On != nil {
				for _, keys := range []*[]string{&q.On.Keys, &q.On.Gates, &q.On.Enabled, &q.On.Disabled, &q.On.Spared, &q.On.Only} {
					*keys = spelled(*keys)
				}
			}
		}
		if e.Checks != nil {
			e.Checks.On.Disabled, e.Checks.On.Enabled, e.Checks.On.Only = spelled(e.Checks.On.Disabled), spelled(e.Checks.On.Enabled), spelled(e.Checks.On.Only)
			e.Checks.Lifted = spelled(e.Checks.Lifted)
		}
		for _, p := range e.Settings {
			p.Excludes, p.Includes = spelled(p.Excludes), spelled(p.Includes)
			for _, s := range slices.Clone(p.Spares) {
				for _, key := range spelled([]string{s.Key}) {
					if key != s.Key {
						s.Key = key
						p.Spares = append(p.Spares, s)
					}
				}
			}
		}
	}
}

// OtherSpelling returns a key with the other of the signs "-" and "_", which is the same
// where it has neither.
func OtherSpelling(key string) string {
	up, name := "", key
	if i := strings.LastIndexByte(key, '/'); i >= 0 {
		up, name = key[:i+1], key[i+1:]
	}
	if strings.Contains(name, "_") {
		return up + strings.ReplaceAll(name, "_", "-")
	}
	return up + strings.ReplaceAll(name, "-", "_")
}

// spelled returns the keys in both spellings.
func spelled(keys []string) []string {
	out := slices.Clone(keys)
	for _, key := range keys {
		if o := OtherSpelling(key); !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
}

func spelledWays(ways []*Way) []*Way {
	out := slices.Clone(ways)
	for _, w := range ways {
		o := *w
		o.Key = OtherSpelling(w.Key)
		if !slices.ContainsFunc(out, func(had *Way) bool { return had.Place == o.Place && had.Key == o.Key }) {
			out = append(out, &o)
		}
	}
	return out
}

// questions returns a question once for each variant of the rule it asks about.
func (v Variants) questions(q *Question) []*Question {
	asks := func(key string) bool { return strings.HasPrefix(key, v.Prefix) }
	if !slices.ContainsFunc(q.From, func(w *Way) bool { return asks(w.Key) }) && (q.On == nil || !slices.ContainsFunc(q.On.Keys, asks)) {
		return []*Question{q}
	}
	var out []*Question
	for i, name := range v.Names {
		named := func(key string) string {
			if rest, ok := strings.CutPrefix(key, v.Prefix); ok {
				return v.Prefix + name + rest
			}
			return key
		}
		n := *q
		n.Variant = i
		n.From = nil
		for _, w := range q.From {
			way := *w
			way.Key = named(w.Key)
			n.From = append(n.From, &way)
		}
		if q.On != nil {
			on := *q.On
			on.Keys = nil
			for _, key := range q.On.Keys {
				on.Keys = append(on.Keys, named(key))
			}
			n.On = &on
		}
		out = append(out, &n)
	}
	return out
}

// written returns the settings of a base with every key that its alternatives in braces
// stand for.
func written(base map[string]any) map[string]any {
	out := map[string]any{}
	for key, value := range base {
		if below, ok := value.(map[string]any); ok {
			value = written(below)
		}
		for _, key := range braces(key) {
			out[key] = value
		}
	}
	return out
}

// over returns settings with others over them.
func over(base, top map[string]any) map[string]any {
	out := maps.Clone(base)
	if out == nil {
		out = map[string]any{}
	}
	for key, value := range top {
		below, isMap := out[key].(map[string]any)
		if above, ok := value.(map[string]any); ok && isMap {
			value = over(below, above)
		}
		out[key] = value
	}
	return out
}
