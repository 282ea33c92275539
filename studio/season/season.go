package season

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/calendar"
	"chrysagon/app/offers"
	"chrysagon/core/deadline"
	"chrysagon/core/refusal"
	"chrysagon/core/season"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// flags places the retail days: retail days first, public holidays where they
// do not bear the same date and there is room.
func (r *yearline) flags(s calendar.Season) {
	ends := make([]int, flagRows)
	seen := map[string]bool{}
	place := func(d season.Day) {
		date := d.Date
		if d.Partly != "" {
			date += ", " + d.Partly
		}
		x := xOf(d.Date, s.Year)
		width := lettersWide(d.Name) + 12
		left := x+width > r.Width
		for row := range ends {
			if from := beside(x, width, left); ends[row] <= from {
				ends[row] = from + width
				r.Flags = append(r.Flags, flag{X: x, Y: flagsTop + row*flagLine, Name: d.Name, Date: date, Holiday: d.Holiday, Left: left})
				return
			}
		}
		r.Flags = append(r.Flags, flag{X: x, Y: -1, Name: d.Name, Date: date, Holiday: d.Holiday}) // a tick only
	}
	for _, d := range s.Days {
		if d.Holiday && seen[d.Date] {
			continue
		}
		seen[d.Date] = true
		place(d)
	}
}

// bars places campaigns in lanes, so that none covers another, and hatches
// their clashes.
func (r *yearline) bars(s calendar.Season) int {
	var ends []int
	at := map[string]bar{}
	for _, c := range s.Campaigns {
		b := bar{ID: c.ID, Name: c.Name, X: xOf(c.Window.From, s.Year), Width: c.Window.Days * dayWidth, Live: c.LiveEditionID != nil,
			Says: fmt.Sprintf("%s: %s, %d days", c.Name, spanWords(c.Window.From, c.Window.To), c.Window.Days)}
		from, to := b.named(r.Width)
		lane := slices.IndexFunc(ends, func(end int) bool { return end <= from })
		if lane < 0 {
			lane = len(ends)
			ends = append(ends, 0)
		}
		ends[lane] = to
		b.Y = laneTop + lane*laneHigh
		at[c.ID] = b
		r.Bars = append(r.Bars, b)
	}
	for _, c := range s.Clashes {
		x, end := xOf(c.From, s.Year), xOf(c.To, s.Year)+dayWidth
		for _, id := range []string{c.A, c.B} {
			r.Hatches = append(r.Hatches, hatch{X: x, Y: at[id].Y, Width: end - x, Height: laneHigh - 8, Says: clashWords(s, c)})
		}
	}
	return len(ends)
}

// pins places deadlines and last order days under the year line.
func (r *yearline) pins(s calendar.Season) {
	ends := []int{-100, -100}
	add := func(date, name, says string, end bool) {
		x := xOf(date, s.Year) + dayWidth/2
		p := pin{X: x, Y: r.Ground, Name: name, Says: says, End: end}
		width := lettersWide(name) + 14
		p.Left = x+width > r.Width
		for row := range ends {
			if from := beside(x, width, p.Left); ends[row] <= from {
				ends[row], p.Label, p.Y = from+width, true, r.Ground+row*20
				break
			}
		}
		r.Pins = append(r.Pins, p)
	}
	type thing struct {
		date, name, says string
		end              bool
	}
	var list []thing
	for _, d := range s.Deadlines {
		list = append(list, thing{d.At.In(zoneOf(s.Zone)).Format(time.DateOnly), d.Name, d.Name + ", " + d.Written(), true})
	}
	for _, l := range s.Last {
		list = append(list, thing{l.Ordered, "Last orders: " + l.Name, "Ordered by " + l.Ordered + ", it is handed over on " + l.Handed + " and arrives on " + l.Arrives + ".", false})
	}
	slices.SortStableFunc(list, func(a, b thing) int { return strings.Compare(a.date, b.date) })
	for _, t := range list {
		add(t.date, t.name, t.says, t.end)
	}
}

func (p *Place) seasonPlace(c fiber.Ctx) error {
	values, err := p.seasonValues(c, p.yearOf(c))
	if err != nil {
		return err
	}
	return p.Show(c, "season", "Season", values)
}

func (p *Place) yearOf(c fiber.Ctx) int {
	year, err := strconv.Atoi(cmp.Or(c.Query("year"), c.FormValue("year")))
	if err != nil || year < season.FirstYear || year > season.LastYear {
		return p.Store.Now().Year()
	}
	return year
}

func (p *Place) seasonValues(c fiber.Ctx, year int) (map[string]any, error) {
	laid, err := p.Calendar.Season(c, year)
	if err != nil {
		return nil, err
	}
	choices, err := p.Offers.Choices(c, offers.Wanted{Goods: true, Shelves: true})
	if err != nil {
		return nil, err
	}
	var clashes []string
	for _, k := range laid.Clashes {
		clashes = append(clashes, clashWords(laid, k))
	}
	var chosen *calendar.SeasonCampaign
	for i := range laid.Campaigns {
		if laid.Campaigns[i].ID == c.Query("campaign") {
			chosen = &laid.Campaigns[i]
		}
	}
	var kept []season.Day
	for _, d := range laid.Days {
		if !d.Holiday && !slices.ContainsFunc(kept, func(k season.Day) bool { return k.ID == d.ID }) {
			kept = append(kept, d)
		}
	}
	goods := []string{}
	if chosen != nil {
		if goods, err = p.Calendar.CampaignGoods(c, chosen.ID); err != nil {
			return nil, err
		}
	}
	return map[string]any{
		"Title": "Season", "S": laid, "R": drawYear(laid, p.Store.Now()), "Clashes": clashes, "Chosen": chosen, "Days": kept, "Shelf": choices, "Goods": goods,
		"Calendar": "/calendar/" + laid.Shop.CalendarKey + ".ics", "Known": season.Countries(), "Studio": p.Origins.Studio, "CSRF": frame.Who(c).CSRF,
	}, nil
}

func (p *Place) seasonSaid(c fiber.Ctx, said string, faults map[string]string) error {
	return p.seasonOf(c, p.yearOf(c), said, faults)
}

// seasonOf shows a year and what was done to it.
func (p *Place) seasonOf(c fiber.Ctx, year int, said string, faults map[string]string) error {
	values, err := p.seasonValues(c, year)
	if err != nil {
		return err
	}
	values["Said"], values["Faults"] = said, faults
	return p.Send(c, fiber.StatusOK, "season-body", values)
}

// dayTyped joins a chosen retail day and its offset, or takes the date.
func dayTyped(c fiber.Ctx, name string) string {
	day, offset := strings.Clone(c.FormValue(name+"_day")), strings.TrimSpace(c.FormValue(name+"_offset"))
	if day == "" {
		return deadline.Entered(frame.Typed(c, name))
	}
	n, err := strconv.Atoi(cmp.Or(offset, "0"))
	if err != nil || n == 0 {
		return day
	}
	return fmt.Sprintf("%s%+d", day, n)
}

func (p *Place) saveCampaign(c fiber.Ctx) error {
	in := calendar.CampaignInput{
		ID: frame.Typed(c, "id"), Name: frame.Typed(c, "name"), From: dayTyped(c, "from"), To: dayTyped(c, "to"),
		Year: p.yearOf(c), ShelfID: frame.Typed(c, "shelf"), Goods: frame.AllTyped(c, "goods"),
	}
	_, faults, err := p.Calendar.SaveCampaign(c, in)
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return p.seasonSaid(c, "", faults)
	}
	return p.seasonSaid(c, in.Name+" is kept.", nil)
}

func (p *Place) shiftCampaign(c fiber.Ctx) error {
	from, _ := strconv.Atoi(c.FormValue("from")) // no number moves nothing
	to, _ := strconv.Atoi(c.FormValue("to"))
	if err := p.Calendar.ShiftCampaign(c, strings.Clone(c.Params("id")), from, to); err != nil {
		return err
	}
	return p.seasonSaid(c, "Moved.", nil)
}

func (p *Place) againCampaign(c fiber.Ctx) error {
	year, err := strconv.Atoi(c.FormValue("to_year"))
	if err != nil || year < season.FirstYear || year > season.LastYear {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose the year to copy it to."}
	}
	_, said, err := p.Calendar.Again(c, strings.Clone(c.Params("id")), year)
	if err != nil {
		return err
	}
	c.Set("HX-Push-Url", fmt.Sprintf("/season?year=%d", year))
	return p.seasonOf(c, year, said, nil)
}

func (p *Place) saveYear(c fiber.Ctx) error {
	handling, err := strconv.Atoi(c.FormValue("handling"))
	transit, failed := strconv.Atoi(c.FormValue("transit"))
	if err != nil || failed != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Write handling and transit as whole working days."}
	}
	if err := p.Calendar.SaveYear(c, frame.AllTyped(c, "country"), handling, transit); err != nil {
		return err
	}
	return p.seasonSaid(c, "Kept.", nil)
}

func (p *Place) calendarIn(c fiber.Ctx) error {
	header, err := c.FormFile("file")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose an iCalendar file (.ics) first."}
	}
	raw, err := frame.ReadPart(header, 2<<20)
	if err != nil {
		return err
	}
	said, err := p.Calendar.BringIn(c, raw)
	if err != nil {
		return err
	}
	return p.seasonSaid(c, said, nil)
}

// calendarOut is the calendar that other programs subscribe to: its address
// holds a key instead of a session.
func (p *Place) calendarOut(c fiber.Ctx) error {
	key, _, _ := strings.Cut(c.Params("file"), ".")
	ok, err := p.Calendar.CalendarKey(c, key)
	if err != nil {
		return err
	}
	if !ok {
		return refusal.Refusal{Kind: refusal.ErrNotFound, Say: "There is no calendar at this address."}
	}
	text, err := p.Calendar.Calendar(c, p.yearOf(c))
	if err != nil {
		return err
	}
	c.Set("Content-Type", "text/calendar; charset=utf-8")
	return c.SendString(text)
}
