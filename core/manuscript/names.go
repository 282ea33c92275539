package manuscript

// Names is what a page refers to: the goods, deadlines and pictures that must
// be read before it can be drawn.
type Names struct {
	Products, Deadlines, Pictures []string
}

// Names collects the references of a page from what its kinds declare.
func (s Schema) Names(p Page) Names {
	var n Names
	seen := map[string]bool{}
	p.Walk(func(_ Band, piece Piece) {
		for _, f := range s[piece.Kind].Fields {
			id := piece.Fields.Text(f.Name)
			key := string(f.Type) + " " + id
			if id == "" || seen[key] {
				continue
			}
			seen[key] = true
			switch f.Type {
			case Product:
				n.Products = append(n.Products, id)
			case Deadline:
				n.Deadlines = append(n.Deadlines, id)
			case Picture:
				n.Pictures = append(n.Pictures, id)
			case Line, Prose, Choice, List:
			}
		}
	})
	return n
}
