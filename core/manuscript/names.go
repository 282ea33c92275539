package manuscript

import (
	"chrysagon/core/rich"
	"chrysagon/core/style"
)

// Names is what a page refers to: the goods, deadlines, pictures, shelves and
// pages that must be read before it can be drawn.
type Names struct {
	Products, Deadlines, Pictures, Shelves, Pages, Groups []string
}

// Names collects the references of a page from what its kinds declare.
func (s Schema) Names(p Page) Names {
	var n Names
	seen := map[string]bool{}
	for _, b := range p.Bands {
		if b.Deadline != "" && !seen[string(Deadline)+" "+b.Deadline] {
			seen[string(Deadline)+" "+b.Deadline] = true
			n.Deadlines = append(n.Deadlines, b.Deadline)
		}
		for _, name := range []string{"picture", style.Wide + "picture"} {
			n.take(Field{Type: Picture}, b.Look[name], seen)
		}
	}
	p.Walk(func(_ Band, piece Piece) {
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) { n.take(f, values.Text(f.Name), seen) })
	})
	return n
}

// take notes what a field refers to, once.
func (n *Names) take(f Field, id string, seen map[string]bool) {
	if f.Type == Rich {
		for _, target := range rich.Targets(id) {
			n.take(Field{Type: Link}, target, seen)
		}
		return
	}
	if f.Type == Link {
		to, err := ParseTarget(id)
		if err != nil || to.Kind != ToPage {
			return
		}
		id = to.Value
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
		n.Shelves = append(n.Shelves, id)
	case Link:
		n.Pages = append(n.Pages, id)
	case Group:
		n.Groups = append(n.Groups, id)
	case Line, Prose, Rich, Choice, List:
	}
}
