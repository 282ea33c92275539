package manuscript

import "slices"

// Back is what takes a change back on a page that others have changed since:
// done is the change as it was made, inverse what would have taken it back
// then, others are the changes that others made since. It is false when
// nothing of the change is left to take back, or when that would take others'
// work along.
func (s Schema) Back(p Page, done, inverse Command, others []Command) (Command, bool) {
	if inverse.Was == nil {
		inverse.Was = done.Value // changes of earlier versions did not note what they came to
	}
	switch inverse.Op {
	case SetField:
		piece, there := p.Piece(inverse.Piece)
		f, _ := s[piece.Kind].Field(inverse.Field)
		inverse.Guard = true
		return inverse, there && (f.Written() || f.Type == List || same(piece.Fields[inverse.Field], inverse.Was))
	case SetBand:
		inverse.Guard = true
		b, _, there := p.Band(inverse.ID)
		return inverse, there && (inverse.Field == "name" || same(b.setting(inverse.Field), inverse.Was))
	case SetPage:
		inverse.Guard = true
		return inverse, inverse.Field == Keywords || inverse.Field == OwnCode || p.naming(inverse.Field) != nil || !slices.ContainsFunc(others, func(c Command) bool { return c.Op == SetPage && c.Field == inverse.Field })
	case Dress:
		inverse.Looks = p.stillWorn(done, inverse)
		return inverse, len(inverse.Looks) > 0
	case RemoveBand:
		b, _, there := p.Band(inverse.ID)
		return inverse, there && !touched(others, within(b)...)
	case RemovePiece:
		return inverse, !touched(others, inverse.Piece)
	case Replace:
		return inverse, len(others) == 0
	case Several:
		return s.backSteps(p, done, inverse, others)
	case AddBand, MoveBand, AddPiece, MovePiece, Arrange:
	}
	return inverse, true
}

// backSteps takes back what is left of several, one after the other.
func (s Schema) backSteps(p Page, done, inverse Command, others []Command) (Command, bool) {
	out := Command{Op: Several}
	p = p.Clone()
	for i, step := range inverse.Steps {
		made := Command{}
		if n := len(done.Steps) - 1 - i; n >= 0 {
			made = done.Steps[n]
		}
		back, left := s.Back(p, made, step, others)
		if !left {
			continue
		}
		if _, err := s.do(&p, back); err == nil { // else what it changed is gone
			out.Steps = append(out.Steps, back)
		}
	}
	return out, len(out.Steps) > 0
}

// setting is a band's value by the name that [SetBand] gives it.
func (b Band) setting(field string) string {
	return map[string]string{"name": b.Name, "beat": string(b.Beat), "tone": string(b.Tone), "manner": b.Manner, "deadline": b.Deadline, "at_zero": string(b.AtZero), "lead_to": b.LeadTo, "only": string(b.Only)}[field]
}

// stillWorn are the values of looks that a change set and that nobody has set
// to anything else since.
func (p Page) stillWorn(done, inverse Command) []LookAt {
	type worn struct{ id, name string }
	set := map[worn]*string{}
	for _, at := range slices.Backward(done.Looks) { // in the order in which they were put on
		for name, value := range at.Set {
			set[worn{at.ID, name}] = value
		}
	}
	var out []LookAt
	for _, at := range inverse.Looks {
		look := p.look(at.ID)
		if look == nil {
			continue
		}
		left := LookAt{ID: at.ID, Set: map[string]*string{}}
		for name, old := range at.Set {
			now, isSet := (*look)[name]
			mine := set[worn{at.ID, name}]
			if isSet == (mine != nil) && (mine == nil || *mine == now) {
				left.Set[name] = old
			}
		}
		if len(left.Set) > 0 {
			out = append(out, left)
		}
	}
	return out
}

// within are the IDs of a band and of all that stands in it.
func within(b Band) []string {
	ids := []string{b.ID}
	for _, c := range b.Columns {
		for _, p := range c.Pieces {
			ids = append(ids, p.ID)
		}
	}
	return ids
}

// touched tells whether a change was made of one of these, or within it.
func touched(changes []Command, ids ...string) bool {
	return slices.ContainsFunc(changes, func(c Command) bool {
		if slices.ContainsFunc(c.Looks, func(at LookAt) bool { return slices.Contains(ids, at.ID) }) {
			return true
		}
		return slices.Contains(ids, c.Piece) || slices.Contains(ids, c.ID) || (c.New != nil && slices.Contains(ids, c.New.ID)) || touched(c.Steps, ids...)
	})
}
