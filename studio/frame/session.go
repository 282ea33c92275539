package frame

import (
	"errors"
	"strings"
	"sync"

	"chrysagon/app/account"
	"chrysagon/core/refusal"
	"chrysagon/internal/wire"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// SessionCookie holds the session of who is signed in.
const SessionCookie = "session"

// Keep gives a browser a cookie that only this host is sent, and no script reads.
func (f *Frame) Keep(c fiber.Ctx, name, value string, seconds int) {
	c.Cookie(&fiber.Cookie{
		Name: name, Value: value, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: seconds, Secure: strings.HasPrefix(f.Origins.Studio, "https:"),
	})
}

const campaignCookie = "campaign"

type signedInKey struct{}

// signedIn lets only those pass who have a session.
func (f *Frame) signedIn(c fiber.Ctx) error {
	who, err := f.Accounts.Session(c, c.Cookies(SessionCookie))
	if errors.Is(err, refusal.ErrNotFound) {
		if c.Get("HX-Request") != "" {
			c.Set("HX-Redirect", "/sign-in")
			return c.SendStatus(fiber.StatusUnauthorized)
		}
		if c.Method() != fiber.MethodGet {
			return wire.Problem(c, fiber.StatusUnauthorized, "You are signed out. Sign in again in another window, then go on here; nothing is lost.")
		}
		return SeeOther(c, "/sign-in")
	}
	if err != nil {
		return err
	}
	c.Locals(signedInKey{}, who)
	c.Locals(campaignsKey{}, &campaigns{read: func() ([]store.Campaign, string) { return f.readCampaigns(c) }})
	return c.Next()
}

// campaigns are those of the store, and the one at hand, read once a request, and only
// where they are asked for: a key typed needs none.
type campaigns struct {
	read func() ([]store.Campaign, string)
	once sync.Once
	list []store.Campaign
	id   string
}

func (c *campaigns) known() *campaigns {
	c.once.Do(func() { c.list, c.id = c.read() })
	return c
}

type campaignsKey struct{}

func campaignsOf(c fiber.Ctx) *campaigns {
	if of, ok := c.Locals(campaignsKey{}).(*campaigns); ok {
		return of.known()
	}
	return &campaigns{}
}

// AtHand is the campaign the studio is open on; "" where there is none.
func AtHand(c fiber.Ctx) string { return campaignsOf(c).id }

// Campaigns are all of the store, the newest year first.
func Campaigns(c fiber.Ctx) []store.Campaign { return campaignsOf(c).list }

// readCampaigns looks for the campaigns, and the one at hand.
func (f *Frame) readCampaigns(c fiber.Ctx) ([]store.Campaign, string) {
	list, id, err := f.Calendar.Campaigns(c, strings.Clone(c.Cookies(campaignCookie)))
	if err != nil {
		f.Log.Warn("no campaign is at hand", "error", err)
		return nil, ""
	}
	if c.Cookies(campaignCookie) != id { // it stays at hand, whatever goes live or is taken down
		f.keepAtHand(c, id)
	}
	return list, id
}

// Take takes the campaign to hand whose page is opened, so that what is published and
// counted is what stands there.
func (f *Frame) Take(c fiber.Ctx, campaign string) {
	if of, ok := c.Locals(campaignsKey{}).(*campaigns); ok && campaign != "" && of.known().id != campaign {
		of.id = campaign
		f.keepAtHand(c, campaign)
	}
}

// switchCampaign takes another campaign to hand, for this browser.
func (f *Frame) switchCampaign(c fiber.Ctx) error {
	f.keepAtHand(c, Typed(c, "campaign"))
	return SeeOther(c, "/pages")
}

// keepAtHand remembers a campaign for this browser.
func (f *Frame) keepAtHand(c fiber.Ctx, campaign string) {
	f.Keep(c, campaignCookie, campaign, 365*24*3600)
}

// Who is signed in.
func Who(c fiber.Ctx) account.SignedIn {
	w, _ := c.Locals(signedInKey{}).(account.SignedIn)
	return w
}

// csrf lets only those forms pass that this session's own pages made.
func (f *Frame) csrf(c fiber.Ctx) error {
	if c.Method() == fiber.MethodGet || c.Method() == fiber.MethodHead {
		return c.Next()
	}
	token := c.Get("X-Csrf-Token")
	if token == "" {
		token = c.FormValue("csrf")
	}
	if token == "" || token != Who(c).CSRF {
		return fiber.NewError(fiber.StatusForbidden, "This form is not from this session. Load the page again and send it once more.")
	}
	return c.Next()
}
