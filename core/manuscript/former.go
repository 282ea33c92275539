package manuscript

// former are kinds of piece by names they had before: page packages that were made
// then are still read.
var former = map[string]string{"strip": "announcement"}

// gone are fields that kinds had before, by the name of the kind now.
var gone = map[string][]string{"shelf": {"seen", "moved", "gap", "peek"}}

// listed are single fields that became the items of a list, by the name of the kind: the
// list, and the field that each became in its one item.
var listed = map[string]struct {
	list string
	in   map[string]string
}{"checkout": {"bumps", map[string]string{"bump": "product", "bumptext": "text"}}}

// list makes the single fields that a kind had before the first item of the list that
// it has now.
func (p *Piece) list() {
	to, was := listed[p.Kind]
	if !was {
		return
	}
	item := map[string]any{}
	for before, now := range to.in {
		if text := p.Fields.Text(before); text != "" {
			item[now] = text
		}
		delete(p.Fields, before)
	}
	if len(item) > 0 {
		items, _ := p.Fields[to.list].([]any)
		p.Fields[to.list] = append([]any{item}, items...)
	}
}

// renamed gives pieces the names that their kinds have now, and takes away what
// they no longer have.
func (p *Page) renamed() {
	for i := range p.Bands {
		for j := range p.Bands[i].Columns {
			for k := range p.Bands[i].Columns[j].Pieces {
				piece := &p.Bands[i].Columns[j].Pieces[k]
				if now, was := former[piece.Kind]; was {
					piece.Kind = now
				}
				piece.list()
				for _, name := range gone[piece.Kind] {
					delete(piece.Fields, name)
				}
			}
		}
	}
}
