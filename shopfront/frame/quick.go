package frame

import (
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
)

// cameCookie says when a browser came that was never here before, for an hour. Pages are the
// same for all and kept, so that the moment stands beside them.
const cameCookie = "came"

// Came is the name of the hidden field that says the same where a browser keeps no cookies.
const Came = "came"

// How soon nobody has read and filled in a form (common practice, no source), and for how
// long a browser counts as new.
const (
	tooSoon = 2 * time.Second
	newFor  = time.Hour
)

func (f *Frame) came(c fiber.Ctx) {
	c.Cookie(&fiber.Cookie{
		Name: cameCookie, Value: f.Moment(), Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: int(newFor / time.Second), Secure: strings.HasPrefix(f.Origins.Shop, "https:"),
	})
}

// Moment is now, as the hidden field and the cookie have it.
func (f *Frame) Moment() string { return strconv.FormatInt(f.Store.Now().UnixMilli(), 10) }

// Quick tells whether a form was sent sooner than anybody could have filled it in, or by who
// was given no page of this shop: a program then, most likely, and it is asked to press once
// more. It proves nothing, and holds up nobody for longer than that press; what follows from a
// form is guarded by its own means.
func (f *Frame) Quick(c fiber.Ctx, values map[string]string) bool {
	if since, known := f.since(c.Cookies(cameCookie)); known {
		return since < tooSoon
	}
	if Secret(c.Cookies(VisitorCookie)) {
		return false // here for longer than a browser counts as new
	}
	since, known := f.since(values[Came])
	return !known || since < tooSoon
}

// since is how long ago a moment was; false: it is none, or none that can be.
func (f *Frame) since(moment string) (time.Duration, bool) {
	at, err := strconv.ParseInt(moment, 10, 64)
	since := f.Store.Now().Sub(time.UnixMilli(at))
	return since, err == nil && since >= 0 && since <= 24*time.Hour
}
