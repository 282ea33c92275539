package manuscript

import (
	"chrysagon/core/rich"
	"chrysagon/core/style"
	"chrysagon/core/target"
)

// Names is what a page refers to: the goods, deadlines, pictures, shelves and
// pages that must be read before it can be drawn.
type Names struct {
	Products, Deadlines, Pictures, Shelves, Groups, Videos, Slots, Mailings []string
	Lists                                                                   []Paged // shelves that are shown in pages
	Described                                                               bool    // what is said of the products is shown
	target.Needs                                                                    // of its links
}

// Names collects the references of a page from what its kinds declare.
func (s Schema) Names(p Page) Names {
	var n Names
	seen := map[string]bool{}
	n.take(Field{Type: Picture}, p.Sharing.Picture, seen)
	for _, b := range p.Bands {
		if b.Deadline != "" && !seen[string(Deadline)+" "+b.Deadline] {
			seen[string(Deadline)+" "+b.Deadline] = true
			n.Deadlines = append(n.Deadlines, b.Deadline)
		}
		if id, is := b.Only.Shelf(); is {
			n.take(Field{Type: Shelf}, id, seen)
		}
		for _, name := range []string{"picture", style.Wide + "picture"} {
			n.take(Field{Type: Picture}, b.Look[name], seen)
		}
	}
	p.Walk(func(_ Band, piece Piece) {
		n.Described = n.Described || s[piece.Kind].Traits.Describes
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
			value := values.Text(f.Name)
			if f.Type == Slots && value == "" {
				value = f.Default
			}
			n.take(f, value, seen)
		})
	})
	n.Lists = s.Paged(p)
	return n
}

// Paged is the list that a page shows in pages, of which there is one at most: its address
// says which of them is seen.
func (s Schema) Paged(p Page) []Paged {
	var out []Paged
	p.Walk(func(_ Band, piece Piece) {
		of := s[piece.Kind].Traits.Pages
		if of == nil || len(out) > 0 {
			return
		}
		if paged, is := of(piece.Fields); is {
			paged.Piece = piece.ID
			out = append(out, paged)
		}
	})
	for i := range out {
		out[i].Alone = s.alone(p, out[i])
	}
	return out
}

// alone tells whether nothing but its piece names the shelf of a list.
func (s Schema) alone(p Page, list Paged) bool {
	alone := true
	for _, b := range p.Bands {
		if id, is := b.Only.Shelf(); is && id == list.Shelf {
			alone = false
		}
	}
	p.Walk(func(_ Band, piece Piece) {
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
			alone = alone && (f.Type != Shelf || piece.ID == list.Piece || values.Text(f.Name) != list.Shelf)
		})
	})
	return alone
}

// take notes what a field refers to, once.
func (n *Names) take(f Field, id string, seen map[string]bool) {
	if f.Type == Rich {
		for _, to := range rich.Targets(id) {
			n.take(Field{Type: Link}, to, seen)
		}
		return
	}
	if f.Type == Link {
		to, err := target.Parse(id)
		if err != nil {
			return
		}
		n.leadTo(to, seen)
		return
	}
	key := string(f.Type) + " " + id
	if id == "" || seen[key] {
		return
	}
	seen[key] = true
	switch f.Type {
	case Product:
		n.Products = append(n.Products, id)
	case Deadline:
		n.Deadlines = append(n.Deadlines, id)
	case Picture:
		n.Pictures = append(n.Pictures, id)
	case Shelf:
		if id == Its { // for which no product stands in yet
			return
		}
		n.Shelves = append(n.Shelves, id)
	case Group:
		n.Groups = append(n.Groups, id)
	case Mailing:
		n.Mailings = append(n.Mailings, id)
	case Slots:
		n.Slots = append(n.Slots, id)
	case Video:
		n.Videos = append(n.Videos, id)
	case Sign:
		if s, ok := SignOf(id); ok && s.Picture != "" {
			n.take(Field{Type: Picture}, s.Picture, seen)
		}
	case Attribute, Line, Prose, Rich, Link, Choice, File, List:
	}
}

// leadTo notes what a link leads to, once.
func (n *Names) leadTo(to target.Target, seen map[string]bool) {
	key := "link " + string(to.Kind) + " " + to.Value
	if seen[key] {
		return
	}
	seen[key] = true
	n.Add(to)
}
