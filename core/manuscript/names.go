package manuscript

// Names is what a page refers to: the goods, deadlines, pictures and shelves that must
// be read before it can be drawn.
type Names struct {
	Products, Deadlines, Pictures, Shelves []string
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
	}
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
			case Shelf:
				n.Shelves = append(n.Shelves, id)
			case Line, Prose, Choice, List:
			}
		}
	})
	return n
}
