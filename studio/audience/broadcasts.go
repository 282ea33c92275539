package audience

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/postroom"
	"chrysagon/core/deadline"
	"chrysagon/core/refusal"
	"chrysagon/store"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// first is how many of those whom a broadcast reaches are shown by name.
const first = 10

// broadcast shows one letter to many: whom it reaches now, how long it takes, and what came
// of it.
func (p *Place) broadcast(c fiber.Ctx) error {
	b := postroom.Broadcast{Broadcast: store.Broadcast{CampaignID: frame.AtHand(c), State: postroom.Draft, Pace: 5}}
	if id := strings.Clone(c.Params("id")); id != "" {
		var err error
		if b, err = p.Postroom.OneBroadcast(c, frame.AtHand(c), id); err != nil {
			return err
		}
	}
	return p.showBroadcast(c, b, "")
}

func (p *Place) showBroadcast(c fiber.Ctx, b postroom.Broadcast, fault string) error {
	s, _, err := p.chosen(c)
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	values := map[string]any{"Title": "To all at once", "B": b, "S": s, "Store": shop, "Fault": fault, "Said": saids[c.Query("said")]}
	if b.ID != "" {
		count, people, err := p.Postroom.Reach(c, b.Broadcast, first)
		if err != nil {
			return err
		}
		values["Count"], values["First"], values["Takes"] = count, people, lasts(postroom.Takes(count, b.Pace))
	}
	return p.ShowAs(c, mended(fault == ""), "broadcast", "Audience", values)
}

// lasts writes how long something takes.
func lasts(d time.Duration) string {
	switch {
	case d < 2*time.Minute:
		return fmt.Sprintf("%d seconds", int(d.Seconds()))
	case d < 2*time.Hour:
		return fmt.Sprintf("%d minutes", int(d.Minutes()))
	}
	return fmt.Sprintf("%.1f hours", d.Hours())
}

func (p *Place) saveBroadcast(c fiber.Ctx) error {
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	b := store.Broadcast{ID: frame.Typed(c, "id"), CampaignID: frame.AtHand(c), LetterID: frame.Typed(c, "letter"), ListID: frame.Typed(c, "list")}
	if s := frame.Typed(c, "segment"); s != "" {
		b.SegmentID = &s
	}
	fault := ""
	if b.Pace, err = strconv.Atoi(frame.Typed(c, "pace")); err != nil {
		fault = "Write the pace as a whole number."
	}
	if typed := deadline.Entered(frame.Typed(c, "at")); typed != "" {
		at, err := deadline.Resolve(typed, shop.Zone)
		if err != nil {
			fault = "Write the moment as 27.11.2026, 17:00."
		}
		b.At = &at
	}
	id := b.ID
	if fault == "" {
		var refused refusal.Refusal
		id, err = p.Postroom.SaveBroadcast(c, b)
		if err != nil && !frame.AsRefusal(err, &refused) {
			return err
		}
		fault = refused.Say
	}
	if fault != "" {
		shown := postroom.Broadcast{Broadcast: b}
		shown.State, shown.ID = postroom.Draft, ""
		return p.showBroadcast(c, shown, fault)
	}
	return frame.SeeOther(c, "/audience/broadcasts/"+id)
}

// moveBroadcast sends one off, stops it, takes it up again, or lets it go.
func (p *Place) moveBroadcast(c fiber.Ctx) error {
	id, campaign := strings.Clone(c.Params("id")), frame.AtHand(c)
	var err error
	switch frame.Typed(c, "do") {
	case "send":
		err = p.Postroom.SendOff(c, campaign, id)
	case "stop":
		err = p.Postroom.Stop(c, campaign, id)
	case "go_on":
		err = p.Postroom.GoOn(c, campaign, id)
	case "remove":
		if err = p.Postroom.RemoveBroadcast(c, campaign, id); err == nil {
			return frame.SeeOther(c, "/audience?said=gone")
		}
	}
	var refused refusal.Refusal
	if frame.AsRefusal(err, &refused) {
		b, err := p.Postroom.OneBroadcast(c, campaign, id)
		if err != nil {
			return err
		}
		return p.showBroadcast(c, b, refused.Say)
	}
	if err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/broadcasts/"+id)
}
