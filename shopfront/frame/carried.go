package frame

import (
	"net/url"
	"strings"

	"chrysagon/internal/media"

	"github.com/gofiber/fiber/v3"
)

// CarriedCookie holds what a link brought along, for all pages of the shop.
const CarriedCookie = "carried"

// carriedFor is for how many seconds it is: as long as somebody thinks a mail or an advert
// over.
const carriedFor = 7 * 24 * 3600

// Carried is what a link from a mail or an advert brought along: a code, the name of
// the link, which can have offers of its own, and which letter it stood in.
type Carried struct{ Code, Link, Letter string }

// None tells whether nothing was.
func (k Carried) None() bool { return k == Carried{} }

// Same tells whether a page shows the same as without it: a letter alone changes nothing.
func (k Carried) Same() bool { return k.Code == "" && k.Link == "" }

// Letter is the letter by whose link this browser came last, or "".
func (f *Frame) Letter(c fiber.Ctx) string { return carriedIn(c.Cookies(CarriedCookie)).Letter }

// Values are the fields of a checkout's form that it fills in.
func (k Carried) Values() map[string]string {
	return map[string]string{"code": k.Code, "link": k.Link}
}

// Carried is what this browser brought along, by this address or by one before. It goes
// along to whichever page is opened next; robots carry nothing further.
func (f *Frame) Carried(c fiber.Ctx) Carried {
	now := carriedIn(c.Cookies(CarriedCookie))
	asked := bounded(Carried{Code: c.Query("code"), Link: c.Query("via"), Letter: c.Query("letter")})
	if asked.None() {
		return now
	}
	if asked.Code == "" {
		asked.Code = now.Code
	}
	if asked.Link == "" {
		asked.Link = now.Link
	}
	if asked.Letter == "" {
		asked.Letter = now.Letter
	}
	if asked != now && !f.Passing(c) {
		f.Carry(c, asked)
	}
	return asked
}

// Changed notes what a buyer made of the code that came along: another one, or none.
func (f *Frame) Changed(c fiber.Ctx, code string) {
	now := carriedIn(c.Cookies(CarriedCookie))
	if next := bounded(Carried{Code: code, Link: now.Link, Letter: now.Letter}); !now.None() && next != now {
		f.Carry(c, next)
	}
}

// Carry keeps it for this browser; nothing lets it go.
func (f *Frame) Carry(c fiber.Ctx, k Carried) {
	cookie := &fiber.Cookie{
		Name: CarriedCookie, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode, MaxAge: carriedFor, Secure: strings.HasPrefix(f.Origins.Shop, "https:"),
	}
	if k.None() {
		cookie.MaxAge = -1
	} else {
		cookie.Value = url.Values{"code": {k.Code}, "via": {k.Link}, "letter": {k.Letter}}.Encode()
	}
	c.Cookie(cookie)
}

func carriedIn(cookie string) Carried {
	query, err := url.ParseQuery(cookie)
	if err != nil {
		return Carried{}
	}
	return bounded(Carried{Code: query.Get("code"), Link: query.Get("via"), Letter: query.Get("letter")})
}

// bounded leaves out what is no code and no name of a link.
func bounded(k Carried) Carried {
	for _, text := range []*string{&k.Code, &k.Link, &k.Letter} {
		if *text = strings.Clone(media.Readable(strings.TrimSpace(*text))); len(*text) > 60 {
			*text = ""
		}
	}
	return k
}
