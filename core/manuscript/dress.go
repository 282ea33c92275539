package manuscript

import (
	"slices"

	"chrysagon/core/style"
)

// LookAt names what a look is put on, and what of it changes.
type LookAt struct {
	ID  string             `json:"id"`            // of a band or piece; empty: the page
	Set map[string]*string `json:"set,omitempty"` // values by property; null takes one away
}

// dress changes looks. What a command does not name stays, so that two people
// can dress one thing.
func dress(p *Page, c Command) (Command, error) {
	inverse := Command{Op: Dress}
	for _, at := range slices.Backward(c.Looks) { // so that the inverse, which is made in this order, undoes it backwards
		look := p.look(at.ID)
		if look == nil {
			return Command{}, fault("command.looks", "what was to be dressed is no longer on the page")
		}
		back := LookAt{ID: at.ID, Set: map[string]*string{}}
		for name, value := range at.Set {
			if old, set := (*look)[name]; set {
				back.Set[name] = &old
			} else {
				back.Set[name] = nil
			}
			if value == nil {
				delete(*look, name)
				continue
			}
			if *look == nil {
				*look = style.Look{}
			}
			(*look)[name] = *value
		}
		if len(*look) == 0 {
			*look = nil
		}
		inverse.Looks = append(inverse.Looks, back)
	}
	return inverse, nil
}

func (p *Page) look(id string) *style.Look {
	if id == "" {
		return &p.Look
	}
	if piece := find(p, id); piece != nil {
		return &piece.Look
	}
	if _, at, ok := p.Band(id); ok {
		return &p.Bands[at].Look
	}
	return nil
}

// LookOf is the look of a band or piece, or of the page when id is empty.
func (p Page) LookOf(id string) style.Look {
	if look := p.look(id); look != nil {
		return *look
	}
	return nil
}

// Alike lists what should look like a band or piece: the bands of its tone, or
// the pieces of its kind; with it itself, in reading order.
func (s Schema) Alike(p Page, id string) []string {
	var of string
	worn := s.Worn(p)
	for _, w := range worn {
		if w.ID == id {
			of = w.Alike
		}
	}
	var out []string
	for _, w := range worn {
		if of != "" && w.Alike == of {
			out = append(out, w.ID)
		}
	}
	return out
}

// Worn lists the looks of all bands and pieces, with what each is alike to.
func (s Schema) Worn(p Page) []style.Worn {
	var out []style.Worn
	for _, b := range p.Bands {
		out = append(out, style.Worn{ID: b.ID, Alike: "bands on " + string(b.Tone), Band: true, Look: b.Look})
		for _, col := range b.Columns {
			for _, piece := range col.Pieces {
				out = append(out, style.Worn{ID: piece.ID, Alike: s.alike(piece), Look: piece.Look})
			}
		}
	}
	return out
}

// alike names what a piece is alike to: others of its kind that make the same
// choices about how they are drawn.
func (s Schema) alike(p Piece) string {
	name := s[p.Kind].Title
	for _, f := range s[p.Kind].Fields {
		if f.Type == Choice && (f.Name == "level" || f.Name == "look") {
			name += ", " + f.Label + " " + p.Fields.Text(f.Name)
		}
	}
	return name
}

// Put is the command by which all of these take the same values; "" takes one
// away.
func Put(values map[string]string, ids ...string) Command {
	c := Command{Op: Dress}
	for _, id := range ids {
		at := LookAt{ID: id, Set: map[string]*string{}}
		for name, value := range values {
			at.Set[name] = nil
			if value != "" {
				at.Set[name] = &value
			}
		}
		c.Looks = append(c.Looks, at)
	}
	return c
}

// Clearing is the command that takes looks back to the house style.
func (p Page) Clearing(ids ...string) Command {
	c := Command{Op: Dress}
	for _, id := range ids {
		at := LookAt{ID: id, Set: map[string]*string{}}
		for name := range p.LookOf(id) {
			at.Set[name] = nil
		}
		c.Looks = append(c.Looks, at)
	}
	return c
}

// Wearing is the command by which all of these come to wear one look, whole.
func (p Page) Wearing(look style.Look, ids ...string) Command {
	c := p.Clearing(ids...)
	for i := range c.Looks {
		for name, value := range look {
			c.Looks[i].Set[name] = &value
		}
	}
	return c
}
