package desk

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"

	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/store"
	"chrysagon/studio/frame"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

// change is what the sheet's script sends: a command, or undo or redo.
type change struct {
	Command     *manuscript.Command `json:"command"`
	Arrangement string              `json:"arrangement"` // with Command add_band: the band to make
	Line        string              `json:"line"`        // with Command add_band: the line of a plan that becomes it
	Piece       string              `json:"piece"`       // with Command add_piece: the kind of piece to make
	Letter      *pasted             `json:"letter"`      // what was pasted whole, instead of a command
	Dressing    *desk.Dressing      `json:"dressing"`    // a whole look for one thing, or for all alike
	Joins       bool                `json:"joins"`
	Undo        bool                `json:"undo"`
	Redo        bool                `json:"redo"`
	Revision    int64               `json:"revision"` // on which the sheet stands
	Has         []string            `json:"has"`      // tags of what the browser has drawn already
}

// changed is what the script is told.
type changed struct {
	Revision int64   `json:"revision"`
	Sheet    string  `json:"sheet,omitempty"` // whole, when more than the typed words changed
	Telling  []drawn `json:"telling"`         // the lines of pieces that changed
	*gauged
	Proof  proofParts `json:"proof"`
	Added  string     `json:"added,omitempty"`  // ID of a new band or piece
	Taken  any        `json:"taken,omitempty"`  // the value of a field as it is kept
	Merged bool       `json:"merged,omitempty"` // with what others wrote in it
	Said   string     `json:"said,omitempty"`   // what became of what was pasted
	Plain  bool       `json:"plain,omitempty"`  // what was pasted is no more than copy: it goes in where the caret is
}

// gauged is what is told of the page as a whole. While words are typed, it is
// asked for once the hand rests.
type gauged struct {
	Gauges string `json:"gauges"`
	Live   string `json:"live"`
}

func (place *Place) command(c fiber.Ctx) error {
	var ch change
	if err := json.Unmarshal(c.Body(), &ch); err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "This change cannot be read: "+jsonFault(err, len(c.Body()))+". Nothing was changed.")
	}
	id, user := c.Params("id"), frame.Who(c).User.ID
	var draft drafts.Draft
	var err error
	added, letterSaid := "", ""
	switch {
	case ch.Undo:
		draft, err = place.Desk.Undo(c, user, id)
	case ch.Redo:
		draft, err = place.Desk.Redo(c, user, id)
	case ch.Dressing != nil:
		draft, err = place.Desk.Wear(c, user, id, *ch.Dressing)
	case ch.Letter != nil:
		var said string
		draft, said, err = place.paste(c, user, id, *ch.Letter)
		if err == nil && said == "" {
			return c.JSON(changed{Revision: ch.Revision, Plain: true})
		}
		letterSaid = said
	case ch.Command == nil:
		return fiber.NewError(fiber.StatusBadRequest, "This change says nothing to do: a command, undo or redo is missing. Nothing was changed.")
	default:
		if ch.Line != "" {
			band := all.Planned(ch.Line, place.Render.Registry.Schema(), store.NewID)
			ch.Command.Band, added = &band, band.ID
		}
		if ch.Piece != "" {
			if ch.Command.New, err = place.newPiece(ch.Piece); err != nil {
				return err
			}
		}
		if ch.Arrangement != "" {
			if ch.Command.Band, err = place.arranged(ch.Arrangement); err != nil {
				return err
			}
			added = ch.Command.Band.ID
		}
		draft, err = place.Desk.Edit(c, user, id, *ch.Command, ch.Joins)
	}
	if err != nil {
		return err
	}
	// Typed words stand in the sheet already. Anything else, and anybody
	// else's change in between, needs the sheet anew.
	whole := ch.Undo || ch.Redo || ch.Command == nil || ch.Command.Op != manuscript.SetField || !isText(ch.Command.Value) || draft.Revision != ch.Revision+1
	has := known{}
	for _, tag := range ch.Has {
		has[tag] = true
	}
	answer, err := place.changed(c, draft, whole, has)
	if err != nil {
		return err
	}
	if c := ch.Command; c != nil && c.Op == manuscript.SetField {
		if p, ok := draft.Tree.Piece(c.Piece); ok {
			f, _ := place.Render.Registry.Schema()[p.Kind].Field(c.Field)
			answer.Taken = p.Fields[c.Field]
			answer.Merged = !reflect.DeepEqual(answer.Taken, f.Clean(c.Value))
		}
	}
	answer.Said = letterSaid
	if answer.Added = added; ch.Command != nil && ch.Command.New != nil {
		answer.Added = ch.Command.New.ID
	}
	return c.JSON(answer)
}

// jsonFault says where JSON cannot be read.
func jsonFault(err error, length int) string {
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax) && syntax.Offset < int64(length):
		return fmt.Sprintf("its JSON is broken at byte %d", syntax.Offset)
	case errors.As(err, &kind):
		return fmt.Sprintf("“%s” is a %s there", kind.Field, kind.Value)
	}
	return "its JSON ends too soon"
}

func isText(value any) bool { _, ok := value.(string); return ok }

func (place *Place) arranged(name string) (*manuscript.Band, error) {
	for _, a := range all.Arrangements() {
		if a.Name == name {
			band := a.Band(place.Render.Registry.Schema(), store.NewID)
			return &band, nil
		}
	}
	return nil, fiber.ErrBadRequest
}

func (place *Place) changed(c fiber.Ctx, draft drafts.Draft, whole bool, has known) (changed, error) {
	draw := place.Proof.DrawTyped
	if whole {
		draw = place.Proof.Draw
	}
	d, err := draw(c, draft, place.Proof.AsOf(c))
	if err != nil {
		return changed{}, err
	}
	answer := changed{Revision: draft.Revision, Telling: []drawn{}}
	if whole {
		err = place.whole(c, d, &answer)
	} else {
		answer.Telling, err = place.tellings(d, has)
	}
	if err != nil {
		return answer, err
	}
	answer.Proof, err = place.parts(d, has)
	return answer, err
}

// whole tells the sheet and what is said of the page as a whole.
func (place *Place) whole(c fiber.Ctx, d proof.Draw, answer *changed) error {
	sh, err := place.sheet(c, d)
	if err != nil {
		return err
	}
	if answer.Sheet, err = place.HTML("sheet", sh); err != nil {
		return err
	}
	answer.gauged, err = place.gauged(c, d, sh)
	return err
}

// tellings are the lines of the pieces that are summed up in one, as far as the browser
// has them otherwise. While words are typed they are all of the sheet that can change.
func (place *Place) tellings(d proof.Draw, has known) ([]drawn, error) {
	out := []drawn{}
	var err error
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		telling := place.telling(d, p)
		if telling == nil || err != nil {
			return
		}
		var html string
		html, err = place.HTML("telling", telling)
		if line := has.part(p.ID, html); line.HTML != nil {
			out = append(out, line)
		}
	})
	return out, err
}

// telling is a piece in one line; nil when it is text.
func (place *Place) telling(d proof.Draw, p manuscript.Piece) *pieces.Telling {
	kind, _ := place.Render.Registry.Kind(p.Kind)
	if kind.Tell == nil {
		return nil
	}
	t := kind.Tell(d.Context, d.Follows[p.ID])
	return &t
}

// newPiece makes a piece of a kind, its choices at their defaults.
func (place *Place) newPiece(name string) (*manuscript.Piece, error) {
	kind, ok := place.Render.Registry.Kind(name)
	if !ok {
		return nil, fiber.ErrBadRequest
	}
	piece := all.Piece(kind.Kind, store.NewID)
	return &piece, nil
}
