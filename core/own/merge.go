package own

import (
	"slices"

	"chrysagon/core/merge"
)

// Merge brings together what two people made of the same code, snippet by
// snippet, which are told apart by their names: neither loses what they wrote.
func Merge(was, mine, theirs Code) Code {
	var out Code
	for _, t := range theirs {
		before, known := was.named(t.Name)
		m, kept := mine.named(t.Name)
		switch {
		case kept:
			out = append(out, joined(before, m, t))
		case !known || before != t: // they wrote it, or wrote in it, meanwhile
			out = append(out, t)
		}
	}
	for _, m := range mine {
		_, there := theirs.named(m.Name)
		before, known := was.named(m.Name)
		if !there && (!known || before != m) {
			out = append(out, m)
		}
	}
	return out
}

func joined(was, mine, theirs Snippet) Snippet {
	out := theirs
	if theirs.Kind == was.Kind {
		out.Kind = mine.Kind
	}
	out.Text = merge.Words(was.Text, mine.Text, theirs.Text)
	return out
}

func (c Code) named(name string) (Snippet, bool) {
	i := slices.IndexFunc(c, func(s Snippet) bool { return s.Name == name })
	if i < 0 {
		return Snippet{}, false
	}
	return c[i], true
}
