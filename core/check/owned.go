package check

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"chrysagon/core/own"
)

// elsewhere finds addresses of other sites in styles.
var elsewhere = regexp.MustCompile(`(?i)@import|url\(\s*["']?\s*(https?:)?//`)

// owned names the code that the owner brings along: it is the one thing on a
// page that this program did not write.
func owned(p Page) []Finding {
	code := slices.Concat(p.Facts.Store.Own, p.Manuscript.Own)
	if len(code) == 0 {
		return nil
	}
	out := []Finding{{What: "Code of your own runs on this page: " + strings.Join(code.Names(), ", ") + ".", Remedy: "Look at the page once it is live, on a phone too; proofs leave scripts out.", Gravity: Notice}}
	if origins := code.Origins(); len(origins) > 0 {
		out = append(out, Finding{What: "Measuring tags tell " + strings.Join(origins, ", ") + " of every visitor.", Remedy: "Say so under Privacy; some countries want the visitor asked first.", Gravity: Notice})
	}
	for _, s := range code {
		if s.Kind == own.Styles && elsewhere.MatchString(s.Text) {
			out = append(out, Finding{What: fmt.Sprintf("The styles “%s” name another site, which pages do not load from.", s.Name), Remedy: "Put the picture on the shelf, and the styles here.", Gravity: Mend})
		}
	}
	return out
}
