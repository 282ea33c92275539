package audience

import (
	"strings"

	"chrysagon/app/audience"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// telling is when the store hears of who joined, in words.
var tellings = []struct {
	Value mailing.Telling
	Label string
}{{mailing.Never, "never"}, {mailing.Each, "each time"}, {mailing.Daily, "once a day"}}

// listForm shows a list to be written, a new one with what suits most.
func (p *Place) listForm(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	row := audience.ListRow{List: mailing.List{Confirmed: true, Tells: mailing.Never}}
	if id != "" {
		var err error
		if row, err = p.Audience.List(c, id); err != nil {
			return err
		}
	}
	return p.showList(c, row, nil, strings.Clone(c.Query("into")))
}

func (p *Place) showList(c fiber.Ctx, row audience.ListRow, faults map[string]string, into string) error {
	var files []struct{ ID, Name string }
	if err := p.Store.On(c).Raw("SELECT id, name FROM handouts ORDER BY name LIMIT 200").Scan(&files).Error; err != nil {
		return err
	}
	var codes, pages []struct{ ID, Name string }
	if err := p.Store.On(c).Raw("SELECT id, name FROM offers WHERE needs_code AND ended_at IS NULL ORDER BY name LIMIT 200").Scan(&codes).Error; err != nil {
		return err
	}
	if err := p.Store.On(c).Raw("SELECT id, name FROM pages WHERE NOT by_mail AND aside_at IS NULL ORDER BY name LIMIT 200").Scan(&pages).Error; err != nil {
		return err
	}
	var people []audience.Person
	var count int
	if row.ID != "" {
		var err error
		if people, count, err = p.Audience.People(c, "", segment.Rule{All: []segment.Clause{{Did: segment.OnList, Of: row.ID}}}); err != nil {
			return err
		}
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	return p.ShowAs(c, mended(len(faults) == 0), "audience-list", "Audience", map[string]any{
		"Title": "A list", "L": row, "Faults": faults, "Into": into, "Files": files, "Codes": codes, "Pages": pages, "People": people, "Count": count, "Store": shop, "Tellings": tellings, "Agreed": row.Agreed(),
	})
}

func (p *Place) saveList(c fiber.Ctx) error {
	l := mailing.List{
		ID: frame.Typed(c, "id"), Name: frame.Typed(c, "name"), FromName: frame.Typed(c, "from_name"), ReplyTo: frame.Typed(c, "reply_to"), Why: frame.Typed(c, "why"),
		Confirmed: frame.Typed(c, "confirmed") != "", Gives: frame.Typed(c, "gives"), Code: frame.Typed(c, "code"), After: frame.Typed(c, "after"), Tells: mailing.Telling(frame.Typed(c, "tells")),
	}
	into := frame.Typed(c, "into")
	id, faults, err := p.Audience.SaveList(c, l)
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return p.showList(c, audience.ListRow{List: l}, faults, into)
	}
	if into != "" { // it was made for a form
		if err := p.Desk.PutInto(c, frame.Who(c).User.ID, into, id); err != nil {
			return err
		}
		page, _, _ := strings.Cut(into, "/")
		return frame.SeeOther(c, "/pages/"+page)
	}
	return frame.SeeOther(c, "/audience/lists/"+id)
}

func (p *Place) removeList(c fiber.Ctx) error {
	if err := p.Audience.RemoveList(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience?said=gone")
}

// mostPeople is the size in bytes of a file of people: some 500,000 lines.
const mostPeople = 60 << 20

// bringIn puts people of a file on a list, or says what would come of it.
func (p *Place) bringIn(c fiber.Ctx) error {
	header, err := c.FormFile("file")
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "Choose a CSV file first.")
	}
	raw, err := frame.ReadPart(header, mostPeople)
	if err != nil {
		return err
	}
	did, err := p.Audience.Import(c, audience.Importing{ListID: strings.Clone(c.Params("id")), Raw: raw, Consent: c.FormValue("consent"), Look: c.FormValue("look") != ""})
	if err != nil {
		return err
	}
	return p.Fragment(c, "brought", did)
}
