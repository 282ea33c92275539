package audience

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"chrysagon/app/audience"
	"chrysagon/app/followups"
	"chrysagon/app/pages"
	"chrysagon/app/postroom"
	"chrysagon/core/deadline"
	"chrysagon/core/followup"
	"chrysagon/core/money"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/pieces/all"
	"chrysagon/store"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// shown is the place: what stands at its side, and the line at hand.
type shown struct {
	Sums    audience.Sums
	Lists   []audience.ListRow
	Lines   []followups.Line
	Picked  []audience.Segment
	AtOnce  []postroom.Broadcast
	Letters []followups.Letter // by name
	Chosen  *followups.Line
	Begins  []group // with what a follow-up can begin
	Forks   []group // on what a letter can hang
	Goods   followups.Beginnings
	Drawn   drawing
	Ends    []store.Deadline
	NoEnd   string // a deadline of their own that no letter begins
	At      string // the moment somebody would begin, as it is typed
	Form    lineForm
	Came    []cameOf
	Sum     string // what came of the whole line
	Unsent  bool   // no mail server is set
	Owed    []owed // the mails of orders
	Tasks   []audience.Task
	names   followups.Beginnings
}

// Who says for whom a line is, in words.
func (s shown) Who(l followups.Line) string {
	if l.Says.Begins.What == followup.Joined {
		return "who joins " + cmp.Or(l.List, "a list that is gone")
	}
	return "who " + does(l.Says.Begins, s.names.Name(l.Says.Begins)) + ", and is on " + cmp.Or(l.List, "a list that is gone")
}

// cameOf is what came of one letter.
type cameOf struct {
	followups.Letter
	Share int    // of the best one's, in percent
	Each  string // money for each letter sent
}

// chosen is what a letter to all chooses from: lists, sentences, letters.
func (p *Place) chosen(c fiber.Ctx) (s shown, letters map[string]followups.Letter, err error) {
	if s.Lists, err = p.Audience.Lists(c); err != nil {
		return s, nil, err
	}
	if s.Picked, err = p.Audience.Segments(c); err != nil {
		return s, nil, err
	}
	if letters, err = p.Followups.Letters(c, frame.AtHand(c)); err != nil {
		return s, nil, err
	}
	s.Letters = slices.SortedFunc(maps.Values(letters), func(a, b followups.Letter) int { return cmp.Compare(a.Name, b.Name) })
	return s, letters, nil
}

// read reads what the place shows, with the line of an ID, or the first.
func (p *Place) read(c fiber.Ctx, id string) (shown, error) {
	s, letters, err := p.chosen(c)
	if err != nil {
		return s, err
	}
	if s.Sums, err = p.Audience.Sums(c); err != nil {
		return s, err
	}
	if s.Lines, err = p.Followups.Lines(c, frame.AtHand(c), letters); err != nil {
		return s, err
	}
	if s.AtOnce, err = p.Postroom.Broadcasts(c, frame.AtHand(c)); err != nil {
		return s, err
	}
	if err := p.Store.On(c).Order("at NULLS LAST, name").Find(&s.Ends).Error; err != nil {
		return s, err
	}
	for i := range s.Lines {
		if id == s.Lines[i].Row.ID || (id == "" && i == 0) {
			s.Chosen = &s.Lines[i]
		}
	}
	if id != "" && id != "new" && s.Chosen == nil {
		return s, refusal.Of(refusal.ErrNotFound, "There is no such follow-up in this campaign.")
	}
	s.Unsent = p.Postroom.Ports.Post == nil
	if s.Owed, err = p.owed(c); err != nil {
		return s, err
	}
	if s.Tasks, err = p.Audience.Tasks(c, ""); err != nil {
		return s, err
	}
	s.names, err = p.Followups.Beginnings(c, frame.AtHand(c))
	s.Begins, s.Goods = grouped(s.names)
	s.Forks = forks(s.names)
	return s, err
}

// place shows the audience and the line at hand.
func (p *Place) place(c fiber.Ctx) error {
	s, err := p.read(c, strings.Clone(c.Query("followup")))
	if err != nil {
		return err
	}
	if s.Chosen != nil {
		s.Form = formOf(*s.Chosen)
	} else if begins := strings.Clone(c.Query("begins")); begins != "" { // a sentence of the map that is to be finished
		s.Form = lineForm{Begins: begins}
		if strings.HasPrefix(begins, string(followup.Unfinished)) {
			s.Form.Steps = []stepForm{{Hours: "1"}}
		}
	}
	return p.show(c, s, nil, strings.Clone(c.Query("said")))
}

func (p *Place) show(c fiber.Ctx, s shown, faults []string, said string) error {
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	zone, err := time.LoadLocation(shop.Zone)
	if err != nil {
		return fmt.Errorf("the store's zone: %w", err)
	}
	at := p.Store.Now()
	if typed := deadline.Entered(c.Query("at")); typed != "" {
		if t, err := deadline.Resolve(typed, shop.Zone); err == nil {
			at = t
		}
	}
	s.At = at.In(zone).Format("2006-01-02T15:04")
	if s.Chosen != nil {
		line, told, err := p.Postroom.Foresee(c, *s.Chosen, at, zone)
		if err != nil {
			return err
		}
		for i := range told {
			if told[i].Outcome == followup.Skipped {
				told[i].Why = forWhom(line.Says.Steps[i].Only, s.names)
			}
		}
		s.Drawn = draw(told, line, at, zone)
		if line.Deadline.Kind == deadline.Span && line.Says.Until.IsZero() && len(told) > 0 {
			s.NoEnd = line.Deadline.Name
		}
		s.Came, s.Sum = came(*s.Chosen, shop.Currency)
	}
	return p.ShowAs(c, mended(len(faults) == 0), "audience", "Audience", map[string]any{"Title": "Audience", "S": s, "Faults": faults, "Said": saids[said], "Zone": shop.Zone, "Templates": all.Letters()})
}

// mended is the status with which a form is shown: as it stands, or again because something
// of it must be mended.
func mended(sound bool) int {
	if sound {
		return fiber.StatusOK
	}
	return fiber.StatusUnprocessableEntity
}

// saids are what is said after a press, by the word that its address carries.
var saids = map[string]string{
	"kept": "It is kept. Whoever is under way gets what it says now.", "begins": "From now on it begins for them.", "stopped": "Nobody begins it any more. Whoever is under way goes on.",
	"gone": "It is gone; nobody gets more of it.", "erased": "They are erased. Their orders stay, as the law of receipts wants, and their address is never written to again.",
	"segment": "It is kept, and picks whoever it fits from now on.",
}

// came is what came of each letter of a line, and of all of it.
func came(l followups.Line, currency string) ([]cameOf, string) {
	var out []cameOf
	best, orders, minor := int64(0), 0, int64(0)
	each := func(one followups.Letter) int64 {
		if one.Sent == 0 {
			return 0
		}
		return one.Minor / int64(one.Sent)
	}
	for _, s := range l.Says.Steps {
		one, known := l.Letters[s.Letter]
		if !known {
			continue
		}
		best, orders, minor = max(best, each(one)), orders+one.Orders, minor+one.Minor
		out = append(out, cameOf{Letter: one, Each: money.Of(each(one), currency).String()})
	}
	for i := range out {
		if best > 0 {
			out[i].Share = int(100 * each(out[i].Letter) / best)
		}
	}
	return out, fmt.Sprintf("%d orders, %s, by this follow-up.", orders, money.Of(minor, currency))
}

// newLetter makes a letter of a template and opens it.
func (p *Place) newLetter(c fiber.Ctx) error {
	name := frame.Typed(c, "name")
	template, writes := frame.Typed(c, "template"), purpose.Letter
	for _, t := range all.OrderMails() {
		if t.Name == template {
			writes = t.Purpose
		}
	}
	d, faults, err := p.Pages.AddPage(c, pages.NewPage{CampaignID: frame.AtHand(c), Purpose: writes, Name: name, Layout: "bare", Template: template})
	if err != nil {
		return err
	}
	for _, fault := range faults {
		s, err := p.read(c, "")
		if err != nil {
			return err
		}
		return p.show(c, s, []string{"The letter was not made: " + fault}, "")
	}
	return frame.SeeOther(c, "/pages/"+d.ID)
}

// trial sends a letter as it is drafted to whoever is signed in.
func (p *Place) trial(c fiber.Ctx) error {
	if err := p.Postroom.Trial(c, strings.Clone(c.Params("id")), frame.Who(c).User.Email); err != nil {
		return err
	}
	return c.SendString("It is on its way to " + frame.Who(c).User.Email + ".")
}
