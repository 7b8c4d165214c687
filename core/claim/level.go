package claim

import (
	"strings"

	"jollytreaty/core/catalog"
)

// level finds how bad the program takes departures to be, as its settings say.
func (s *stack) level(e *catalog.Entry, q *catalog.Question) (string, Where) {
	if len(e.Levels) == 0 || q.On == nil {
		return "", Where{}
	}
	keys := q.On.Keys
	if q.On.Name != "" {
		keys = append([]string{q.On.Name}, keys...)
	}
	for i := len(s.layers) - 1; i >= 0; i-- {
		l := s.layers[i]
		if l.node == nil || l.file == nil {
			continue
		}
		for _, key := range keys {
			for _, under := range e.LevelAt {
				n := l.node.Find(strings.TrimSuffix(key+"/"+under, "/"))
				if n == nil {
					continue
				}
				if level, ok := e.Levels[n.Text()]; ok {
					return level, Where{File: l.file, Node: n, Scope: l.scope}
				}
			}
		}
	}
	return "", Where{}
}
