package merge

import (
	"reflect"
	"strings"
)

// Items merges two changes of a list whose items have fields. Items have no
// names: one that was changed is known by what it kept.
func Items(base, mine, theirs []any, field func(name string, base, mine, theirs any) any) []any {
	r := rules[any]{
		alike: likeItems,
		same:  func(a, b any) bool { return reflect.DeepEqual(a, b) },
		both: func(base, mine, theirs any) any {
			switch {
			case reflect.DeepEqual(base, mine), reflect.DeepEqual(mine, theirs):
				return theirs
			case reflect.DeepEqual(base, theirs):
				return mine
			}
			b, _ := base.(map[string]any)
			m, _ := mine.(map[string]any)
			t, _ := theirs.(map[string]any)
			return fields(b, m, t, field)
		},
	}
	return r.merged(base, mine, theirs)
}

func fields(base, mine, theirs map[string]any, field func(string, any, any, any) any) map[string]any {
	out := map[string]any{}
	for _, side := range []map[string]any{theirs, mine} {
		for name := range side {
			if _, done := out[name]; !done {
				out[name] = field(name, base[name], mine[name], theirs[name])
			}
		}
	}
	return out
}

// likeItems says how much two items have in common: what they say alike, as a
// share of all that they say. Where nothing came and nothing went, one that
// says something else altogether can still be the one in its place.
func likeItems(base, side []any, i, j int) float64 {
	a, b := base[i], side[j]
	if reflect.DeepEqual(a, b) {
		return 1
	}
	share := shared(a, b)
	if share == 0 && i == j && len(base) == len(side) {
		return 0.01
	}
	return share
}

func shared(a, b any) float64 {
	x, _ := a.(map[string]any)
	y, _ := b.(map[string]any)
	alike, all := 0.0, 0.0
	for name, one := range x {
		s, _ := one.(string)
		o, _ := y[name].(string)
		if s == "" && o == "" {
			continue
		}
		all++
		alike += likeTexts(s, o)
	}
	if all == 0 {
		return 0
	}
	return 0.9 * alike / all
}

// likeTexts is the share of words that two texts have in common.
func likeTexts(a, b string) float64 {
	if a == b {
		return 1
	}
	count := map[string]int{}
	wa, wb := strings.Fields(a), strings.Fields(b)
	for _, w := range wa {
		count[w]++
	}
	common := 0
	for _, w := range wb {
		if count[w] > 0 {
			count[w]--
			common++
		}
	}
	if len(wa) == 1 && len(wb) == 1 {
		return nearly(a, b)
	}
	return float64(common) / float64(max(len(wa), len(wb), 1))
}
