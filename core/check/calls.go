package check

import (
	"chrysagon/core/manuscript"
	"chrysagon/core/target"
)

// Call is one call to action of a page: what it says, and where it leads.
type Call struct {
	PieceID string
	Says    string
	Target  target.Target
}

// Calls lists the calls to action of a page, in reading order, as its kinds of piece
// declare them.
func Calls(p Page) []Call {
	var out []Call
	p.Manuscript.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		if calls := p.of(piece).Calls; calls != nil {
			for _, c := range calls(piece.Fields) {
				if c.Target == manuscript.Here {
					c.Target += b.ID
				}
				if to, err := target.Parse(c.Target); err == nil && c.Says != "" {
					out = append(out, Call{piece.ID, c.Says, to})
				}
			}
		}
	})
	return out
}

// Goals counts the different places to which a page's calls to action lead. A
// link to the band of the checkout, or of the form, leads to what stands there.
func Goals(p Page) int {
	goals := map[target.Target]bool{}
	for _, c := range Calls(p) {
		to := c.Target
		if to.Kind == target.Band && p.orders(to.Value) {
			to = target.Target{Kind: target.Checkout}
		}
		goals[to] = true
	}
	return len(goals)
}

// orders tells whether a band takes orders.
func (p Page) orders(band string) bool {
	found := false
	p.Manuscript.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		found = found || (b.ID == band && orders(p.of(piece)))
	})
	return found
}
