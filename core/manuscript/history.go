package manuscript

import (
	"fmt"
	"strings"

	"chrysagon/core/rich"
	"chrysagon/core/words"
)

// Tell says in words what a command did, for the history of a page that stands
// as p now.
func (s Schema) Tell(p Page, c Command) string {
	switch c.Op {
	case SetField:
		return s.tellField(p, c)
	case SetBand:
		return fmt.Sprintf("set %s of %s to “%v”", strings.ReplaceAll(c.Field, "_", " "), bandName(p, c.ID), c.Value)
	case AddBand:
		if c.Band != nil {
			return "added the band “" + c.Band.Name + "”"
		}
		return "added a band"
	case RemoveBand:
		return "removed a band"
	case MoveBand:
		return "moved " + bandName(p, c.ID)
	case AddPiece:
		if c.New != nil {
			return fmt.Sprintf("added a piece (%s) to %s", s[c.New.Kind].Title, bandName(p, c.ID))
		}
		return "added a piece"
	case RemovePiece:
		return "removed a piece"
	case MovePiece:
		return "moved " + s.pieceName(p, c.Piece)
	case Arrange:
		return "arranged the columns of " + bandName(p, c.ID)
	case Replace:
		return "took other bands for all of the page"
	case Dress:
		return s.tellLooks(p, c)
	case Several:
		if len(c.Steps) == 1 {
			return s.Tell(p, c.Steps[0])
		}
		return fmt.Sprintf("changed %d texts at once", len(c.Steps))
	case SetPage:
		if p.naming(c.Field) != nil {
			return fmt.Sprintf("wrote “%v” as the page’s %s", c.Value, c.Field)
		}
		return map[string]string{Keywords: "wrote the page’s keywords", Shared: "chose the picture of the page’s shared card", OwnCode: "changed the page’s own code"}[c.Field]
	}
	return "changed the page"
}

func (s Schema) tellField(p Page, c Command) string {
	what := s.pieceName(p, c.Piece)
	piece, ok := p.Piece(c.Piece)
	if !ok {
		return "changed a piece that is gone"
	}
	f, _ := s[piece.Kind].Field(c.Field)
	text, isText := c.Value.(string)
	if !f.Written() || !isText {
		return "changed " + strings.ToLower(f.Label) + " of " + what
	}
	text = words.Tidy(rich.Text(text))
	if text == "" {
		return "emptied " + what
	}
	if runes := []rune(text); len(runes) > 60 {
		text = string(runes[:60]) + "…"
	}
	return "wrote “" + text + "” in " + what
}

func (s Schema) tellLooks(p Page, c Command) string {
	if len(c.Looks) != 1 {
		return fmt.Sprintf("dressed %d bands and pieces", len(c.Looks))
	}
	switch id := c.Looks[0].ID; {
	case id == "":
		return "dressed the page"
	case find(&p, id) != nil:
		return "dressed " + s.pieceName(p, id)
	default:
		return "dressed " + bandName(p, id)
	}
}

func (s Schema) pieceName(p Page, id string) string {
	at, ok := p.Seat(id)
	if !ok {
		return "a piece that is gone"
	}
	b := p.Bands[at.Band]
	return s[b.Columns[at.Column].Pieces[at.Index].Kind].Title + " in “" + b.Name + "”"
}

func bandName(p Page, id string) string {
	if b, _, ok := p.Band(id); ok {
		return "“" + b.Name + "”"
	}
	return "a band that is gone"
}
