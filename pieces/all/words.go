package all

import (
	"slices"
	"strings"
	"sync"

	"chrysagon/core/check"
)

// Words are the words of the shipped templates, as [check.Plain] writes them: what
// stands for content until somebody changes it. Labels and short headings that
// say what a band is are no content and not among them.
var Words = sync.OnceValue(func() map[string]bool {
	words := map[string]bool{}
	for _, t := range slices.Concat(Templates(), Letters(), OrderMails()) {
		for _, b := range t.Bands {
			for _, c := range b.Columns {
				for _, p := range c.Pieces {
					take(words, p)
				}
			}
		}
	}
	return words
})

// labels are fields whose words are those of a button or a mark.
var labels = map[string]bool{"label": true, "accept": true, "decline": true, "icon": true, "target": true, "look": true, "consent": true, "thanks": true, "button": true, "first": true, "second": true, "days": true, "opens": true, "closes": true, "caption": true, "empty": true}

func take(words map[string]bool, p ArrangedPiece) {
	least := 4
	if schema()[p.Kind].Traits.Heads && p.Fields.Text("level") == "1" {
		least = 3
	}
	p.Fields.EachText(func(field, text string) {
		if plain := check.Plain(text); !labels[field] && len(strings.Fields(plain)) >= least {
			words[plain] = true
		}
	})
}
