package publish

import "time"

// Plan is from when until when a draft is to be live.
type Plan struct {
	From  time.Time // zero: at once
	Until time.Time // zero: without end
	Back  bool      // afterwards what is live now comes back; otherwise its pages are taken down
}

// Farthest is how far ahead something can be planned.
const Farthest = 2 * 366 * 24 * time.Hour

// Fault says why a plan cannot be kept to, or "" when it can. live tells
// whether anything is live that could come back.
func (p Plan) Fault(now time.Time, live bool) string {
	switch {
	case !p.From.IsZero() && !p.From.After(now):
		return "The moment has passed. Choose a later one, or publish now."
	case !p.Until.IsZero() && !p.Until.After(now):
		return "The end has passed. Choose a later one."
	case !p.Until.IsZero() && !p.Until.After(p.From):
		return "It would end before it begins. Choose a later end."
	case p.From.Sub(now) > Farthest || p.Until.Sub(now) > Farthest:
		return "That is more than two years ahead. Choose an earlier moment."
	case p.Back && !live:
		return "Nothing is live that could come back afterwards. Have the pages taken down instead."
	}
	return ""
}
