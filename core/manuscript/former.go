package manuscript

// former are kinds of piece by names they had before: page packages that were made
// then are still read.
var former = map[string]string{"strip": "announcement"}

// gone are fields that kinds had before, by the name of the kind now.
var gone = map[string][]string{"shelf": {"seen", "moved", "gap", "peek"}}

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
				for _, name := range gone[piece.Kind] {
					delete(piece.Fields, name)
				}
			}
		}
	}
}
