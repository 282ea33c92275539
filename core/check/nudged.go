package check

import (
	"fmt"
	"strconv"
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/words"
)

// margin is what stands beside the words of a band on a phone, in CSS pixels, as the page's
// own style has it.
const margin = 20

// nudged finds what is nudged over the edge of a phone's screen, where it is cut off.
func nudged(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		by, err := strconv.Atoi(piece.Look["aside"])
		if err != nil || piece.Look["seen"] == "wide" || (by <= margin && by >= -margin) {
			return
		}
		side := "right"
		if by < 0 {
			side, by = "left", -by
		}
		out = append(out, Finding{
			What:    fmt.Sprintf("In “%s” %s is nudged %d pixels to the %s: on a phone it is cut off there.", b.Name, words.A(strings.ToLower(p.Schema[piece.Kind].Title)), by, side),
			Remedy:  fmt.Sprintf("Nudge it by at most %d, or on wider screens only.", margin),
			PieceID: piece.ID, Gravity: Mend, Mend: dressing(piece.ID, map[string]string{"aside": ""}),
		})
	})
	return out
}
