package postroom

import (
	"context"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/core/deadline"
	"chrysagon/core/followup"
)

// Foresee tells how a line would reach somebody for whom it begins at a moment, with the line as it
// would end for them. A deadline of their own begins with the first letter that shows it: the line's end is that one then, and
// stays zero where no letter does.
func (r *Room) Foresee(ctx context.Context, l followups.Line, at time.Time, zone *time.Location) (followups.Line, []followup.Told, error) {
	history := []followup.Event{{What: l.Says.Begins.What, Of: l.Says.Begins.Of, At: at}}
	if l.Says.Until.IsZero() {
		var err error
		if l.Says.Until, err = followups.EndFor(l.Deadline, zone, at); err != nil {
			return l, nil, err
		}
	}
	told := l.Says.Tell(history, zone)
	if l.Deadline.Kind != deadline.Span {
		return l, told, nil
	}
	for _, one := range told {
		if one.Outcome != followup.Sent || l.Letters[one.Letter].ID == "" {
			continue
		}
		shows, err := r.shows(ctx, one.Letter, l.Deadline.ID)
		if err != nil {
			return l, nil, err
		}
		if shows {
			i, err := l.Deadline.For(deadline.Visitor{FirstSeen: one.At}, one.At)
			if err != nil {
				return l, nil, err
			}
			l.Says.Until = i.At
			return l, l.Says.Tell(history, zone), nil
		}
	}
	return l, told, nil
}

// shows tells whether a letter as it is drafted shows a deadline, or a price that holds until it.
func (r *Room) shows(ctx context.Context, letterID, deadlineID string) (bool, error) {
	d, err := r.Drafts.Draft(ctx, letterID)
	if err != nil {
		return false, err
	}
	f, err := r.Facts.FactsFor(ctx, r.Render.Registry.Schema().Names(d.Tree), factbook.Buyer{})
	if err != nil {
		return false, err
	}
	_, shown := f.Deadlines[deadlineID]
	return shown, nil
}
