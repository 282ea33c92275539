package manuscript

import "slices"

// Proportions are the column widths a band is offered: one column, or two to
// four in set shares.
var Proportions = [][]int{{1}, {1, 1}, {7, 5}, {5, 7}, {2, 1}, {1, 2}, {3, 1}, {1, 3}, {1, 1, 1}, {2, 1, 1}, {1, 2, 1}, {1, 1, 2}, {1, 1, 1, 1}}

func goneBand() error  { return fault("command.id", "that band is no longer on the page") }
func gonePiece() error { return fault("command.piece", "that piece is no longer on the page") }

// Seat is where a piece stands: in which band, column, and at which place there, each from 0.
type Seat struct{ Band, Column, Index int }

// Seat is where the piece of an ID stands; false where it is on the page no longer.
func (p *Page) Seat(id string) (Seat, bool) {
	for i, b := range p.Bands {
		for j, c := range b.Columns {
			for k, piece := range c.Pieces {
				if piece.ID == id {
					return Seat{i, j, k}, true
				}
			}
		}
	}
	return Seat{}, false
}

// take takes a piece out. A column without pieces is kept as nothing, so that
// taking the only piece out and putting it back leaves the same bytes.
func (p *Page) take(at Seat) Piece {
	column := &p.Bands[at.Band].Columns[at.Column]
	piece := column.Pieces[at.Index]
	column.Pieces = slices.Delete(column.Pieces, at.Index, at.Index+1)
	if len(column.Pieces) == 0 {
		column.Pieces = nil
	}
	return piece
}

func (p *Page) put(piece Piece, band int, c Command) {
	b := &p.Bands[band]
	column := &b.Columns[clamp(c.Column, len(b.Columns)-1)]
	column.Pieces = slices.Insert(column.Pieces, clamp(c.Index, len(column.Pieces)), piece)
}

func addPiece(p *Page, c Command) (Command, error) {
	_, at, ok := p.Band(c.ID)
	if !ok || len(p.Bands[at].Columns) == 0 {
		return Command{}, goneBand()
	}
	if c.New == nil {
		return Command{}, fault("command.new", "no piece was given")
	}
	piece := c.New.clone()
	if piece.Fields == nil {
		piece.Fields = Fields{}
	}
	p.put(piece, at, c)
	return Command{Op: RemovePiece, Piece: c.New.ID}, nil
}

func removePiece(p *Page, c Command) (Command, error) {
	at, ok := p.Seat(c.Piece)
	if !ok {
		return Command{}, gonePiece()
	}
	piece := p.take(at)
	return Command{Op: AddPiece, ID: p.Bands[at.Band].ID, Column: at.Column, Index: at.Index, New: &piece}, nil
}

func movePiece(p *Page, c Command) (Command, error) {
	at, ok := p.Seat(c.Piece)
	if !ok {
		return Command{}, gonePiece()
	}
	_, to, known := p.Band(c.ID)
	if !known || len(p.Bands[to].Columns) == 0 {
		return Command{}, goneBand()
	}
	from := p.Bands[at.Band].ID
	p.put(p.take(at), to, c)
	return Command{Op: MovePiece, Piece: c.Piece, ID: from, Column: at.Column, Index: at.Index}, nil
}

// arrange gives a band other columns. Pieces stand where the command says, the
// rest at the end of the column they were in, or of the last one left.
func arrange(p *Page, c Command) (Command, error) {
	_, at, ok := p.Band(c.ID)
	if !ok {
		return Command{}, goneBand()
	}
	if len(c.Widths) < 1 || len(c.Widths) > 4 {
		return Command{}, fault("command.widths", "a band has 1 to 4 columns, not %d", len(c.Widths))
	}
	b := &p.Bands[at]
	back := Command{Op: Arrange, ID: c.ID}
	columns := make([]Column, len(c.Widths))
	for i, w := range c.Widths {
		columns[i].Width = w
	}
	left := map[string]Piece{}
	for i, col := range b.Columns {
		back.Widths = append(back.Widths, col.Width)
		for _, piece := range col.Pieces {
			left[piece.ID] = piece
			back.Places = append(back.Places, Place{piece.ID, i})
		}
	}
	seated := map[string]bool{}
	sit := func(id string, column int) {
		if piece, ok := left[id]; ok && !seated[id] {
			seated[id] = true
			to := &columns[clamp(column, len(columns)-1)]
			to.Pieces = append(to.Pieces, piece)
		}
	}
	for _, place := range c.Places {
		sit(place.Piece, place.Column)
	}
	for _, place := range back.Places {
		sit(place.Piece, place.Column)
	}
	b.Columns = columns
	return back, nil
}
