package manuscript

import (
	"reflect"
	"slices"
)

// Op names what a command does.
type Op string

// The operations. Each has an inverse among them.
const (
	SetField   Op = "set"         // a field of a piece takes a value, or none
	SetBand    Op = "set_band"    // a band's name, beat or tone takes a value
	AddBand    Op = "add_band"    // a band comes in at a place
	RemoveBand Op = "remove_band" // a band goes
	MoveBand   Op = "move_band"   // a band changes its place

	AddPiece    Op = "add_piece"    // a piece comes into a band
	RemovePiece Op = "remove_piece" // a piece goes
	MovePiece   Op = "move_piece"   // a piece changes its place, within its band or to another
	Arrange     Op = "arrange"      // a band's columns change, and which piece stands in which
	Replace     Op = "replace"      // all bands give way to others
	SetPage     Op = "set_page"     // something said of the page as a whole takes a value, or none
	Dress       Op = "dress"        // looks of the page, of bands and pieces take values, or lose them
	Several     Op = "several"      // commands that are one step, in their order
)

// Command is one change of a manuscript. It names what it changes by ID, so
// that it still means the same after somebody else's change.
type Command struct {
	Op    Op     `json:"op"`
	Piece string `json:"piece,omitempty"`
	Field string `json:"field,omitempty"`
	Value any    `json:"value,omitempty"` // nil takes the field away
	Was   any    `json:"was,omitempty"`   // the value the writer began from; of an inverse, the one it takes back
	Guard bool   `json:"guard,omitempty"` // Was is given: what others wrote meanwhile is merged with
	ID    string `json:"id,omitempty"`    // of the band
	Index int    `json:"index,omitempty"` // where the band comes to stand
	Band  *Band  `json:"band,omitempty"`

	Column int     `json:"column,omitempty"` // in which a piece comes to stand
	New    *Piece  `json:"new,omitempty"`    // the piece that comes in
	Widths []int   `json:"widths,omitempty"` // of the band's columns
	Places []Place `json:"places,omitempty"` // column by column, top to bottom
	Bands  []Band  `json:"bands,omitzero"`   // all of the page; none at all differs from those of an empty page

	Looks []LookAt `json:"looks,omitempty"` // what they take

	Steps []Command `json:"steps,omitempty"` // of several
}

// Place says in which column a piece stands.
type Place struct {
	Piece  string `json:"piece"`
	Column int    `json:"column"`
}

// Apply carries out a command on a copy of the page and returns the copy and
// the command that takes it back. A page that would not be valid is refused.
func (s Schema) Apply(p Page, c Command) (Page, Command, error) {
	next := p.Clone()
	inverse, err := s.do(&next, c)
	if err == nil {
		err = s.Validate(next)
	}
	if err != nil {
		return p, Command{}, err
	}
	return next, inverse, nil
}

func (s Schema) do(p *Page, c Command) (Command, error) {
	switch c.Op {
	case SetField:
		return s.setField(p, c)
	case SetBand:
		return setBand(p, c)
	case AddBand:
		return addBand(p, c)
	case RemoveBand:
		return removeBand(p, c)
	case MoveBand:
		return moveBand(p, c)
	case AddPiece:
		return addPiece(p, c)
	case RemovePiece:
		return removePiece(p, c)
	case MovePiece:
		return movePiece(p, c)
	case Arrange:
		return arrange(p, c)
	case Replace:
		return replace(p, c)
	case Dress:
		return dress(p, c)
	case SetPage:
		return setPage(p, c)
	case Several:
		return s.several(p, c)
	}
	return Command{}, fault("command.op", "%q is not an operation", c.Op)
}

// Empties tells whether a command takes everything off a page at once, as only the
// undo of a page's beginning does.
func (c Command) Empties() bool {
	return (c.Op == Replace && len(c.Bands) == 0) || slices.ContainsFunc(c.Steps, Command.Empties)
}

func replace(p *Page, c Command) (Command, error) {
	if c.Bands == nil { // not the same as none: a page that was empty is put back by its undo
		return Command{}, fault("command.bands", "the bands to put in place are missing")
	}
	inverse := Command{Op: Replace, Bands: p.Bands}
	if inverse.Bands == nil {
		inverse.Bands = []Band{}
	}
	p.Bands = Page{Bands: c.Bands}.Clone().Bands
	for i := range p.Bands {
		p.Bands[i].fill()
	}
	return inverse, nil
}

func (s Schema) several(p *Page, c Command) (Command, error) {
	inverse := Command{Op: Several}
	for _, step := range c.Steps {
		if step.Op == Several {
			return Command{}, fault("command.steps", "several commands hold no several of their own")
		}
		back, err := s.do(p, step)
		if err != nil {
			return Command{}, err
		}
		inverse.Steps = append(inverse.Steps, back)
	}
	slices.Reverse(inverse.Steps)
	return inverse, nil
}

func (s Schema) setField(p *Page, c Command) (Command, error) {
	piece := find(p, c.Piece)
	if piece == nil {
		return Command{}, fault("command.piece", "that piece is no longer on the page")
	}
	f, ok := s[piece.Kind].Field(c.Field)
	if !ok {
		return Command{}, fault("command.field", "a %s has no field %q", piece.Kind, c.Field)
	}
	old, value := piece.Fields[c.Field], c.Value
	if c.Guard && !same(old, c.Was) {
		value = f.merge(c.Was, value, old)
	}
	if value == nil {
		delete(piece.Fields, c.Field)
	} else {
		piece.Fields[c.Field] = f.Clean(value)
	}
	return Command{Op: SetField, Piece: c.Piece, Field: c.Field, Value: old, Was: piece.Fields[c.Field]}, nil
}

// same treats a field that is not set like one that is empty.
func same(a, b any) bool {
	if a == nil {
		a = ""
	}
	if b == nil {
		b = ""
	}
	return reflect.DeepEqual(a, b)
}

func setBand(p *Page, c Command) (Command, error) {
	_, at, ok := p.Band(c.ID)
	value, isText := c.Value.(string)
	if !ok || !isText {
		return Command{}, fault("command.id", "that band is no longer on the page")
	}
	b, old := &p.Bands[at], ""
	switch c.Field {
	case "name":
		old, b.Name = b.Name, c.merged(b.Name, value)
	case "beat":
		old, b.Beat = string(b.Beat), Beat(value)
	case "tone":
		old, b.Tone = string(b.Tone), Tone(value)
	case "manner":
		old, b.Manner = b.Manner, value
	case "deadline":
		old, b.Deadline = b.Deadline, value
	case "at_zero":
		old, b.AtZero = string(b.AtZero), AtZero(value)
	case "only":
		old, b.Only = string(b.Only), Only(value)
	case "lead_to":
		old, b.LeadTo = b.LeadTo, value
	default:
		return Command{}, fault("command.field", "a band has no field %q", c.Field)
	}
	return Command{Op: SetBand, ID: c.ID, Field: c.Field, Value: old, Was: b.setting(c.Field)}, nil
}

func addBand(p *Page, c Command) (Command, error) {
	if c.Band == nil {
		return Command{}, fault("command.band", "no band was given")
	}
	band := c.Band.clone() // what is done to it next must not change the command
	band.fill()
	p.Bands = slices.Insert(p.Bands, clamp(c.Index, len(p.Bands)), band)
	return Command{Op: RemoveBand, ID: c.Band.ID}, nil
}

func removeBand(p *Page, c Command) (Command, error) {
	band, at, ok := p.Band(c.ID)
	if !ok {
		return Command{}, fault("command.id", "that band is no longer on the page")
	}
	p.Bands = slices.Delete(p.Bands, at, at+1)
	return Command{Op: AddBand, Index: at, Band: &band}, nil
}

func moveBand(p *Page, c Command) (Command, error) {
	band, at, ok := p.Band(c.ID)
	if !ok {
		return Command{}, fault("command.id", "that band is no longer on the page")
	}
	p.Bands = slices.Delete(p.Bands, at, at+1)
	p.Bands = slices.Insert(p.Bands, clamp(c.Index, len(p.Bands)), band)
	return Command{Op: MoveBand, ID: c.ID, Index: at}, nil
}

func clamp(index, most int) int { return min(max(index, 0), most) }

func find(p *Page, id string) *Piece {
	at, ok := p.Seat(id)
	if !ok {
		return nil
	}
	return &p.Bands[at.Band].Columns[at.Column].Pieces[at.Index]
}
