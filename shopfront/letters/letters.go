// Package letters is where links in letters lead: confirming a list, ending it, saying how
// many letters one wants.
package letters

import (
	"strconv"
	"strings"

	"chrysagon/app/audience"
	"chrysagon/app/postroom"
	"chrysagon/core/mailing"
	"chrysagon/shopfront/frame"

	"github.com/gofiber/fiber/v3"
)

// Letters answers them.
type Letters struct {
	*frame.Frame
	Audience *audience.Audience
	Postroom *postroom.Room
}

// Part is what the shopfront joins. Whoever merely opens an address changes nothing: mail
// is read by scanners too. Ending letters takes no cookie and no origin, because a mail
// program posts it by itself (RFC 8058, section 3.2).
func (l *Letters) Part(out fiber.Router, limits frame.Limits) {
	out.Get("/letters/seen/:posting", limits.Links, l.seen)
	out.Get("/letters/:pass", limits.Links, l.wishes)
	out.Post("/letters/:pass", limits.Forms, l.SameSite, l.prefer)
	out.Get("/letters/:pass/confirm", limits.Links, l.ask)
	out.Post("/letters/:pass/confirm", limits.Forms, l.SameSite, l.confirm)
	out.Get("/letters/:pass/off", limits.Links, l.wishes)
	out.Post("/letters/:pass/off", l.off)
}

// said is what the page of a link shows.
type said struct {
	audience.Asked
	Pass   string
	Asks   bool // to confirm
	Notice string
	Pauses []pause
}

type pause struct {
	Days  int
	Label string
}

var pauses = []pause{{0, "no pause"}, {14, "for two weeks"}, {30, "for a month"}, {90, "for three months"}}

// Paused tells until when no letter comes, or "".
func (s said) Paused() string {
	if s.Contact.PausedUntil == nil {
		return ""
	}
	return s.Contact.PausedUntil.Format("Monday 2 January 2006")
}

func (l *Letters) show(c fiber.Ctx, title, notice string, asks bool) error {
	pass := strings.Clone(c.Params("pass"))
	who, err := l.Audience.Who(c, pass)
	if err != nil {
		return err
	}
	shop, err := l.Store.Shop(c)
	if err != nil {
		return err
	}
	c.Set("X-Robots-Tag", "noindex")
	return l.Plain(c, fiber.StatusOK, map[string]any{
		"Title": title, "Shop": shop, "Letters": said{Asked: who, Pass: pass, Asks: asks && who.State == mailing.Asked, Notice: notice, Pauses: pauses},
	})
}

func (l *Letters) wishes(c fiber.Ctx) error { return l.show(c, "Your letters", "", false) }

func (l *Letters) ask(c fiber.Ctx) error { return l.show(c, "One press", "", true) }

func (l *Letters) confirm(c fiber.Ctx) error {
	if err := l.Audience.Confirm(c, strings.Clone(c.Params("pass"))); err != nil {
		return err
	}
	who, err := l.Audience.Who(c, strings.Clone(c.Params("pass")))
	if err != nil {
		return err
	}
	if who.State != mailing.On { // they have left it since the mail was sent
		return l.show(c, "Your letters", "You had ended these letters, so nothing was confirmed. To get them again, tick them below.", false)
	}
	if who.Leads != "" {
		return c.Redirect().Status(fiber.StatusSeeOther).To("/" + who.Leads)
	}
	return l.show(c, "Thank you", "It is confirmed.", false)
}

func (l *Letters) off(c fiber.Ctx) error {
	if err := l.Audience.Leave(c, strings.Clone(c.Params("pass"))); err != nil {
		return err
	}
	return l.show(c, "Ended", "It is done: no more of these letters come, not even what was about to be sent.", false)
}

func (l *Letters) prefer(c fiber.Ctx) error {
	typed := frame.Typed(c)
	w := audience.Wishes{On: map[string]bool{}, AllOff: typed["all_off"] != ""}
	w.Pause, _ = strconv.Atoi(typed["pause"])
	for name := range typed {
		if id, is := strings.CutPrefix(name, "list:"); is {
			w.On[id] = true
		}
	}
	if err := l.Audience.Prefer(c, strings.Clone(c.Params("pass")), w); err != nil {
		return err
	}
	return l.show(c, "Your letters", "It is done, and holds at once.", false)
}

// nothing is a picture of one point that is not seen (GIF89a).
var nothing = []byte("GIF89a\x01\x00\x01\x00\x80\x00\x00\x00\x00\x00\x00\x00\x00!\xf9\x04\x01\x00\x00\x00\x00,\x00\x00\x00\x00\x01\x00\x01\x00\x00\x02\x02D\x01\x00;")

// seen notes that the picture of a letter was loaded, where the owner counts that.
func (l *Letters) seen(c fiber.Ctx) error {
	if c.Method() == fiber.MethodGet {
		if err := l.Postroom.Opened(c, strings.Clone(c.Params("posting"))); err != nil {
			return err
		}
	}
	c.Set("Cache-Control", "no-store")
	c.Set("X-Robots-Tag", "noindex")
	return c.Type("gif").Send(nothing)
}
