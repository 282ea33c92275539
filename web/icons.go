package web

import (
	_ "embed" // for the set of icons
	"html/template"
	"strings"
	"sync"
)

// set is the whole icon set: name, words, drawing, a line each, by name.
//
//go:embed dist/icons.tsv
var set string

const signOpen = `<svg viewBox="0 0 24 24" width="24" height="24" fill="none" stroke="currentColor" stroke-width="1.75" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true">`

// Sign is one icon of the set.
type Sign struct {
	Name    string
	Words   string
	Drawing template.HTML
}

var signs = sync.OnceValue(func() map[string]Sign {
	out := map[string]Sign{}
	for line := range strings.Lines(set) {
		name, rest, _ := strings.Cut(strings.TrimSuffix(line, "\n"), "\t")
		words, drawing, ok := strings.Cut(rest, "\t")
		if ok {
			out[name] = Sign{Name: name, Words: words, Drawing: template.HTML(signOpen + drawing + "</svg>")} //nolint:gosec // made by our own build from a pinned icon set
		}
	}
	return out
})

// FindSigns lists the icons in whose name or words every word of a question
// begins a word, those whose names match first; at most so many. It tells how
// many there are in all.
func (a *Assets) FindSigns(question string, most int) (found []Sign, all int) {
	asked := strings.Fields(strings.ToLower(question))
	var named, others []Sign
	for line := range strings.Lines(set) {
		name, rest, _ := strings.Cut(line, "\t")
		words, _, _ := strings.Cut(rest, "\t")
		inName, inWords := true, true
		for _, w := range asked {
			inName = inName && begins(name, w)
			inWords = inWords && (begins(name, w) || begins(words, w))
		}
		switch {
		case inName:
			named = append(named, signs()[name])
		case inWords:
			others = append(others, signs()[name])
		}
	}
	found = append(named, others...)
	all = len(found)
	return found[:min(most, all)], all
}

// begins tells whether some word of a text begins with a word.
func begins(text, word string) bool {
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == '-' }) {
		if strings.HasPrefix(part, word) {
			return true
		}
	}
	return false
}
