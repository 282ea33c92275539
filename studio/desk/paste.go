package desk

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"chrysagon/app/drafts"
	"chrysagon/core/letter"
	"chrysagon/core/manuscript"
	"chrysagon/core/rich"
	"chrysagon/core/target"
	"chrysagon/core/words"
	"chrysagon/pieces/all"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// pasted is what came from the clipboard, and where the caret was.
type pasted struct {
	Text  string `json:"text"`  // HTML or plain
	Piece string `json:"piece"` // in which it was pasted; "": at the end of the page
}

// whole is how many words are a letter of their own: with headings, it becomes bands.
const whole = 150

// paste makes of what was pasted what it is, in one step: a letter becomes bands with beats
// proposed; a title, a quotation or a box becomes a piece of its own after the one in which
// it was pasted. said is empty where it is no more than copy.
func (place *Place) paste(c fiber.Ctx, user, id string, in pasted) (draft drafts.Draft, said string, err error) {
	schema := place.Render.Registry.Schema()
	if draft, err = place.Drafts.Draft(c, id); err != nil {
		return draft, "", err
	}
	at, known := draft.Tree.Seat(in.Piece)
	parts := place.titled(draft.Tree, letter.Read(in.Text, target.Leads))
	own := slices.ContainsFunc(parts, func(p letter.Part) bool {
		return p.Kind == letter.Title || p.Kind == letter.Teaser || p.Kind == letter.Quote || p.Kind == letter.Aside
	})
	long := len(letter.Sections(parts)) > 1 && letter.Words(parts) >= whole
	if len(parts) == 0 || (known && !own && !long) {
		return draft, "", nil
	}
	step := manuscript.Command{Op: manuscript.Several}
	if plan := planned(parts); in.Piece == "" && plan != nil {
		for i, line := range plan {
			band := all.Planned(line, schema, store.NewID)
			step.Steps = append(step.Steps, manuscript.Command{Op: manuscript.AddBand, Index: len(draft.Tree.Bands) + i, Band: &band})
		}
		said = fmt.Sprintf("The plan became %s, one for each line. Undo takes them out again.", words.Count(len(plan), "band"))
	} else if long || !known {
		bands := all.Lettered(parts, schema, store.NewID)
		next := len(draft.Tree.Bands)
		if known {
			next = at.Band + 1
		}
		for i := range bands {
			step.Steps = append(step.Steps, manuscript.Command{Op: manuscript.AddBand, Index: next + i, Band: &bands[i]})
		}
		said = fmt.Sprintf("The letter of %s became %s, with beats proposed for its headings. Undo takes it out again.", words.Count(letter.Words(parts), "word"), words.Count(len(bands), "band"))
	} else {
		step.Steps = place.amid(draft.Tree, at, parts)
		said = "What was pasted is in pieces of its own: titles, quotations and boxes stay what they are. Undo takes it out again."
	}
	draft, err = place.Desk.Edit(c, user, id, step, false)
	return draft, said, err
}

// titled lets a title be a heading as any other where the page has its headline already.
func (place *Place) titled(page manuscript.Page, parts []letter.Part) []letter.Part {
	has := false
	page.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		has = has || (place.Render.Registry.Schema().Headline(p) && p.Fields.Text("text") != "")
	})
	for i := range parts {
		if has && parts[i].Kind == letter.Title {
			parts[i].Kind = letter.Heading
		}
	}
	return parts
}

// planned are the lines of a plan that was pasted: short ones, and nothing else.
func planned(parts []letter.Part) []string {
	var lines []string
	for _, p := range parts {
		switch p.Kind {
		case letter.Points:
			lines = append(lines, p.Items...)
		case letter.Copy:
			lines = append(lines, strings.Split(rich.Text(p.Rich), "\n")...)
		default:
			return nil
		}
	}
	if slices.ContainsFunc(lines, func(l string) bool { return utf8.RuneCountInString(l) > 80 }) {
		return nil
	}
	return lines
}

// amid puts parts of a letter after a piece, in its column. Where the piece is a text that
// says nothing yet, it gives way.
func (place *Place) amid(page manuscript.Page, at manuscript.Seat, parts []letter.Part) []manuscript.Command {
	band := page.Bands[at.Band]
	piece := band.Columns[at.Column].Pieces[at.Index]
	var steps []manuscript.Command
	next := at.Index + 1
	if piece.Fields.Text("text") == "" {
		steps, next = append(steps, manuscript.Command{Op: manuscript.RemovePiece, Piece: piece.ID}), at.Index
	}
	for i, fresh := range all.Parted(parts, place.Render.Registry.Schema(), store.NewID) {
		steps = append(steps, manuscript.Command{Op: manuscript.AddPiece, ID: band.ID, Column: at.Column, Index: next + i, New: &fresh})
	}
	return steps
}
