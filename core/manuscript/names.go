package manuscript

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
	}
	p.Walk(func(_ Band, piece Piece) { n.take(s[piece.Kind].Fields, piece.Fields, seen) })
	return n
}

func (n *Names) take(declared []Field, values Fields, seen map[string]bool) {
	for _, f := range declared {
		if f.Type == List {
			for _, item := range values.List(f.Name) {
				n.take(f.Items, item, seen)
			}
			continue
		}
		id := values.Text(f.Name)
		if f.Type == Link {
			to, err := ParseTarget(id)
			if err != nil || to.Kind != ToPage {
				continue
			}
			id = to.Value
		}
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
		case Link:
			n.Pages = append(n.Pages, id)
		case Group:
			n.Groups = append(n.Groups, id)
		case Line, Prose, Choice, List:
		}
	}
}
