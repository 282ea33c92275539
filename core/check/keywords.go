package check

import (
	"strings"

	"chrysagon/core/manuscript"
)

// keywords finds keywords that are parted by another sign than the comma, by which
// whoever reads them tells them apart.
func keywords(p Page) []Finding {
	text := p.Manuscript.Sharing.Keywords
	parted := strings.NewReplacer(";", ",", "|", ",", "\n", ",", "/", ",", "·", ",", "•", ",").Replace(text)
	if parted == text {
		return nil
	}
	var list []string
	for word := range strings.SplitSeq(parted, ",") {
		if word = strings.TrimSpace(word); word != "" {
			list = append(list, word)
		}
	}
	return []Finding{{
		What: "The keywords are not parted by commas, so they count as one.", Remedy: "Part them by commas: “" + strings.Join(list, ", ") + "”.", Gravity: Mend,
		Mend: &manuscript.Command{Op: manuscript.SetPage, Field: manuscript.Keywords, Value: strings.Join(list, ", ")},
	}}
}
