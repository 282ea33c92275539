// Package relays is a place of the studio: other programs that are told of what happens.
package relays

import (
	"embed"
	"slices"
	"strings"

	"chrysagon/app/relays"
	"chrysagon/core/refusal"
	"chrysagon/core/relay"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Relays *relays.Keeper
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Views: views, SignedIn: p.signedIn,
		Doings: []frame.Doing{frame.GoTo("Other programs: what they are told of", "webhooks news other programs integration api form post leads team message crm", "/relays")},
	}
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/relays", p.place)
	in.Post("/relays", p.save)
	in.Get("/relays/:id", p.place)
	in.Post("/relays/:id/remove", p.remove)
	in.Post("/relays/told/:id/again", p.again)
}

// eventChoice is something that can be told of, and whether it is.
type eventChoice struct {
	relay.Event
	Says string
	On   bool
}

// choices are lists or pages, to choose from.
type choices []struct{ ID, Name string }

// place shows them, and the one at hand with what it was told.
func (p *Place) place(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	row := relays.Row{ID: id, Relay: relay.Relay{Shape: relay.JSON, Events: []relay.Event{relay.Lead}}}
	return p.show(c, row, nil, strings.Clone(c.Query("said")))
}

func (p *Place) show(c fiber.Ctx, row relays.Row, faults map[string]string, said string) error {
	all, err := p.Relays.List(c)
	if err != nil {
		return err
	}
	var told []relays.Told
	if row.ID != "" {
		i := slices.IndexFunc(all, func(r relays.Row) bool { return r.ID == row.ID })
		if i < 0 {
			return refusal.Of(refusal.ErrNotFound, "There is no such program in your list.")
		}
		if row.Secret = all[i].Secret; faults == nil {
			row = all[i]
		}
		if told, err = p.Relays.Told(c, row.ID); err != nil {
			return err
		}
	}
	var lists, pages choices
	if err := p.Store.On(c).Raw("SELECT id, name FROM lists ORDER BY name LIMIT 200").Scan(&lists).Error; err != nil {
		return err
	}
	err = p.Store.On(c).Raw("SELECT id, name FROM pages WHERE aside_at IS NULL AND NOT by_mail AND purpose <> 'legal' ORDER BY name LIMIT 200").Scan(&pages).Error
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	var events []eventChoice
	for _, e := range relay.Events {
		events = append(events, eventChoice{e.Event, e.Says, slices.Contains(row.Events, e.Event)})
	}
	status := fiber.StatusOK
	if len(faults) > 0 {
		status = fiber.StatusUnprocessableEntity
	}
	row.Fields = append(slices.Clone(row.Fields), relay.Field{}, relay.Field{}) // lines to be filled in
	return p.ShowAs(c, status, "relays", "Audience", map[string]any{
		"Title": "Other programs", "All": all, "R": row, "Told": told, "Faults": faults, "Said": saids[said], "Lists": lists, "Pages": pages, "Events": events, "Ours": relay.Ours, "Zone": shop.Zone, "Off": p.Relays.Ports.Relays == nil,
	})
}

// saids are what is said after a press.
var saids = map[string]string{"kept": "It is kept, and told of what happens from now on.", "gone": "It is told of nothing any more.", "again": "It is sent once more, as it was."}

// typed reads the form.
func typed(c fiber.Ctx) relays.Row {
	r := relays.Row{ID: frame.Typed(c, "id"), ListID: frame.Typed(c, "list"), PageID: frame.Typed(c, "page"), Relay: relay.Relay{Name: frame.Typed(c, "name"), URL: frame.Typed(c, "url"), Shape: relay.Shape(frame.Typed(c, "shape"))}}
	for _, e := range frame.AllTyped(c, "event") {
		r.Events = append(r.Events, relay.Event(e))
	}
	ours, words := frame.AllTyped(c, "ours"), frame.AllTyped(c, "words")
	for i, theirs := range frame.AllTyped(c, "theirs") {
		if f := (relay.Field{Theirs: strings.TrimSpace(theirs)}); i < len(ours) && i < len(words) {
			if f.Ours = ours[i]; f.Ours == "" {
				f.Words = words[i]
			}
			if f.Theirs != "" || f.Ours != "" || f.Words != "" {
				r.Fields = append(r.Fields, f)
			}
		}
	}
	if r.Shape != relay.Form {
		r.Fields = nil
	}
	return r
}

func (p *Place) save(c fiber.Ctx) error {
	row := typed(c)
	id, faults, err := p.Relays.Save(c, row)
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return p.show(c, row, faults, "")
	}
	return frame.SeeOther(c, "/relays/"+id+"?said=kept")
}

func (p *Place) remove(c fiber.Ctx) error {
	if err := p.Relays.Remove(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/relays?said=gone")
}

func (p *Place) again(c fiber.Ctx) error {
	if err := p.Relays.Again(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/relays/"+frame.Typed(c, "relay")+"?said=again")
}
