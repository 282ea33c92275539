// Package studio is the owner's side: it shows what app knows and hands on
// what the owner does. It holds no rules.
package studio

import (
	"bytes"
	"context"
	"embed"
	"errors"
	"html/template"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"chrysagon/app"
	"chrysagon/app/account"
	"chrysagon/app/calendar"
	"chrysagon/app/factbook"
	"chrysagon/core/check"
	"chrysagon/core/checkout"
	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/lead"
	"chrysagon/core/money"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/season"
	"chrysagon/core/words"
	"chrysagon/internal/media"
	"chrysagon/store"

	"chrysagon/internal/wire"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Studio is the owner's side of the program.
type Studio struct {
	App      *app.App
	Demo     bool
	Email    string // shown on the sign-in page in demo mode
	Password string // likewise
	pages    *template.Template
	once     sync.Once
	money    string
}

// Handler makes the studio's handler.
func (s *Studio) Handler() *fiber.App {
	s.pages = template.Must(template.New("").Funcs(s.funcs()).ParseFS(views, "views/*.html"))
	f := fiber.New(fiber.Config{BodyLimit: 200 << 20, // the listener allows it only where files are taken
		ErrorHandler: s.fail})
	f.Use(s.guardHeaders)
	f.Get("/robots.txt", s.robots)
	f.Get("/favicon.ico", s.favicon)
	f.Get("/sign-in", s.signInPage)
	f.Post("/sign-in", s.ownOrigin, s.signIn)
	f.Get("/calendar/:file", s.calendarOut)
	in := f.Group("/", s.signedIn, s.csrf)
	in.Post("/sign-out", s.signOut)
	in.Get("/account", s.accountPlace)
	in.Post("/account/password", s.changePassword)
	in.Post("/account/end", s.endSession)
	in.Get("/", func(c fiber.Ctx) error { return seeOther(c, "/pages") })
	in.Get("/pages", s.pagesPlace)
	in.Get("/pages/new", s.newPagePlace)
	in.Post("/pages", s.addPage)
	in.Post("/words", s.findWords)
	in.Post("/words/replace", s.replaceWords)
	in.Get("/templates", s.findTemplates)
	in.Get("/templates/:template/proof", s.templateProof)
	in.Post("/pages/:id/copy", s.copyPage)
	in.Post("/pages/:id/keep", s.keepTemplate)
	in.Post("/pages/:id/dress", s.dressPage)
	in.Post("/pages/:id/retake", s.retakePage)
	in.Post("/pages/:id/aside", s.setAside)
	in.Post("/pages/:id/back", s.bringBack)
	in.Get("/leads.csv", s.exportLeads)
	in.Get("/pages/:id", s.manuscript)
	in.Post("/pages/:id/commands", s.command)
	in.Get("/pages/:id/proof", s.proof)
	in.Get("/pages/:id/proof.json", s.proofParts)
	in.Get("/pages/:id/gauges", s.gaugesPart)
	in.Get("/pages/:id/sheet.json", s.sheetPart)
	in.Get("/pages/:id/slip/:piece", s.slip)
	in.Get("/pages/:id/look/:target", s.look)
	in.Get("/choose/:type", s.choose)
	in.Get("/pages/:id/history", s.history)
	in.Get("/pages/:id/house", s.houseProof)
	in.Get("/pages/:id/package.zip", s.packPage)
	in.Post("/packages", s.takePackage)
	in.Post("/pages/:id/own", s.savePageOwn)
	in.Get("/pages/:id/ran", s.ranProof)
	in.Get("/store", s.storePlace)
	in.Post("/store", s.saveStore)
	in.Post("/store/own", s.saveStoreOwn)
	in.Get("/house", s.housePlace)
	in.Post("/house", s.setHouse)
	in.Get("/pictures", s.picturesPlace)
	in.Get("/pictures/whole/:id", s.wholePicture)
	in.Post("/pictures/:id/describe", s.onPicture(s.describePicture))
	in.Post("/pictures/:id/crop", s.onPicture(s.cropPicture))
	in.Post("/pictures/:id/replace", s.onPicture(s.replacePicture))
	in.Post("/pictures/:id/drop", s.onPicture(s.dropPicture))
	in.Get("/pictures/:file", s.picture)
	in.Get("/find", s.find)
	in.Get("/videos/:file", s.video)
	in.Post("/videos", s.uploadVideo)
	in.Post("/files", s.uploadFile)
	in.Post("/pages/:id/feed/:piece/:field", s.takeFeed)
	in.Post("/pictures", s.uploadPictures)
	in.Get("/shelves", s.shelvesPlace)
	in.Post("/shelves", s.saveShelf)
	in.Post("/shelves/look", s.lookShelf)
	in.Post("/groups", s.saveGroup)
	in.Get("/rates", s.ratesPlace)
	in.Post("/rates/parcel", s.parcel)
	in.Post("/rates/rules", s.saveRules)
	in.Post("/rates/:table", s.saveRates)
	in.Get("/rates/:table", s.exportRates)
	in.Post("/campaign", s.switchCampaign)
	in.Get("/season", s.seasonPlace)
	in.Post("/season/campaigns", s.saveCampaign)
	in.Post("/season/campaigns/:id/shift", s.shiftCampaign)
	in.Post("/season/campaigns/:id/again", s.againCampaign)
	in.Post("/season/year", s.saveYear)
	in.Post("/season/calendar", s.calendarIn)
	in.Get("/goods", s.goodsPlace)
	in.Post("/goods/add", s.addGoods)
	in.Post("/goods/attributes", s.addAttribute)
	in.Post("/goods/preview", s.previewGoods)
	in.Post("/goods/change", s.changeGoods)
	in.Post("/goods/undo/:id", s.undoGoods)
	in.Get("/goods/goods.csv", s.exportGoods)
	in.Get("/goods/goods.json", s.exportGoods)
	in.Post("/goods/import", s.receiveGoods)
	in.Get("/goods/import/:id", s.dryRun)
	in.Post("/goods/import/:id", s.dryRun)
	in.Post("/goods/import/:id/apply", s.applyImport)
	in.Get("/goods/import/:id/progress", s.importProgress)
	in.Post("/goods/:id/cell", s.editGoods)
	in.Get("/goods/:id", s.goodsPage)
	in.Post("/goods/:id/lead", s.leadPicture)
	in.Post("/goods/:id/file", s.keepFile)
	in.Get("/offers", s.offersPlace)
	in.Post("/offers/receipt", s.receipt)
	in.Post("/offers/:id/end", s.endOffer)
	in.Post("/offers/:id/codes", s.makeCodes)
	in.Get("/offers/:id/codes.csv", s.exportCodes)
	in.Post("/offers", s.saveOffer)
	in.Post("/deadlines", s.saveDeadline)
	in.Get("/publish", s.publishPanel)
	in.Post("/publish", s.publish)
	in.Post("/publish/plan", s.plan)
	in.Post("/publish/plan/:id/forget", s.unplan)
	in.Post("/publish/withdraw", s.withdraw)
	in.Post("/publish/home", s.openOn)
	in.Post("/editions/:id/back", s.putBack)
	in.Get("/editions/:id", s.compareEditions)
	in.Get("/editions/:id/pages/:page", s.editionProof)
	in.Get("/live", s.livePart)
	in.Get("/orders", s.ordersPlace)
	in.Get("/orders/orders.csv", s.exportOrders)
	in.Get("/orders/packing", s.packingPlace)
	in.Post("/orders/move", s.moveOrders)
	in.Post("/orders/mail", s.saveOrderMail)
	in.Get("/orders/:id", s.orderPlace)
	in.Post("/orders/:id/send", s.sendOrder)
	in.Post("/orders/:id/move", s.moveOrder)
	in.Post("/orders/:id/note", s.noteOrder)
	in.Get("/orders/:id/refund", s.refundForm)
	in.Post("/orders/:id/refund/plan", s.refundForm)
	in.Post("/orders/:id/refund", s.refundOrder)
	in.Get("/buyers", s.buyersPlace)
	in.Get("/results", s.results)
	in.Get("/results/body", s.resultsBody)
	in.Get("/changes", s.changes)
	return f
}

func (s *Studio) funcs() template.FuncMap {
	return template.FuncMap{
		"icon":  s.App.Render.Assets.Icon,
		"asset": s.App.Render.Assets.Path,
		"json":  written,
		"short": deadline.Short,
		"full":  deadline.Written,
		"local": func(at time.Time, zone string) string {
			loc, err := time.LoadLocation(zone)
			if err != nil {
				loc = time.UTC
			}
			return deadline.Shown(at.In(loc).Format(deadline.LocalLayout))
		},
		"cell": cell, "pathescape": url.PathEscape, "deref": func(p *string) string { return *p },
		"plus":       func(a, b int) int { return a + b },
		"picture":    func(p store.Picture) string { return factbook.PicturePath(p) + "?w=320" },
		"conditions": func() []goods.Condition { return goods.Conditions },
		"sortdown": func(l listing, name string) string {
			if l.Sort == name && !l.Down {
				return "1"
			}
			return ""
		},
		"money": func(minor int64) string { return money.Of(minor, s.currency()).String() },
		"moneyp": func(minor *int64) string {
			if minor == nil {
				return ""
			}
			return money.Of(*minor, s.currency()).String()
		},
		"times": func(a, b int) int { return a * b }, "mod": func(a, b int) int { return a % b },
		"momentof": momentOf, "windowof": windowOf, "strings": func(l store.StringList) []string { return l },
		"orempty": func(p *string) string {
			if p == nil {
				return ""
			}
			return *p
		},
		"daywords": func(date string) string {
			at, err := time.Parse(time.DateOnly, date)
			if err != nil {
				return date
			}
			return at.Format("Mon 2 Jan")
		},
		"leadkind": lead.Words, "shown": deadline.Shown, "gravity": func(g check.Gravity) string {
			return map[check.Gravity]string{check.Stops: "stops", check.Mend: "mend"}[g]
		}, "count": words.Count, "a": words.A,
		"dict": dict, "purpose": func(name string) string { return purpose.Of(name).Title }, "proportion": proportion,
		"has":       slices.Contains[[]string],
		"minus":     func(a, b int) int { return a - b },
		"hours":     func(d time.Duration) int { return int(d / time.Hour) },
		"minutes":   func(d time.Duration) string { return whole(int(d / time.Minute)) },
		"countries": countryChoices, "country": checkout.CountryName,
		"repeats": func() []repeat { return repeats }, "repeated": isRepeat,
	}
}

// currency is the store's, which never changes.
func (s *Studio) currency() string {
	s.once.Do(func() {
		if shop, err := s.App.Store.Shop(context.Background()); err == nil {
			s.money = shop.Currency
		}
	})
	return s.money
}

// momentOf is the first or last day of a campaign as it is kept.
func momentOf(c *calendar.SeasonCampaign, which string) *season.Moment {
	switch {
	case c == nil:
		return nil
	case which == "from":
		return &c.From
	}
	return &c.To
}

// windowOf is the first or last day of a campaign as a date.
func windowOf(c *calendar.SeasonCampaign, which string) string {
	switch {
	case c == nil:
		return ""
	case which == "from":
		return c.Window.From
	}
	return c.Window.To
}

// whole writes a number, and nothing for none.
func whole(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// repeat is a way in which a deadline repeats (RFC 5545, 3.3.10), in words.
type repeat struct{ Rule, Label string }

var repeats = []repeat{
	{"FREQ=DAILY", "every day"}, {"FREQ=WEEKLY", "every week"}, {"FREQ=WEEKLY;INTERVAL=2", "every other week"},
	{"FREQ=MONTHLY", "on that day of every month"}, {"FREQ=MONTHLY;BYDAY=1FR", "on the first Friday of every month"},
	{"FREQ=MONTHLY;BYDAY=-1SU", "on the last Sunday of every month"}, {"FREQ=YEARLY", "every year"},
}

func isRepeat(rule string) bool {
	return slices.ContainsFunc(repeats, func(r repeat) bool { return r.Rule == rule })
}

// countryChoices are the countries a receipt is tried for, the store's first.
func countryChoices() []string {
	return []string{"", "AT", "BE", "CH", "DE", "DK", "ES", "FR", "GB", "IE", "IT", "NL", "PL", "PT", "SE", "US"}
}

// dict joins names and values, to hand several to one template.
func dict(pairs ...any) map[string]any {
	m := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		if name, ok := pairs[i].(string); ok {
			m[name] = pairs[i+1]
		}
	}
	return m
}

func (s *Studio) guardHeaders(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; frame-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	c.Set("Cache-Control", "no-store")
	return c.Next()
}

const campaignCookie = "campaign"

type signedInKey struct{}

// signedIn lets only those pass who have a session.
func (s *Studio) signedIn(c fiber.Ctx) error {
	who, err := s.App.Accounts.Session(c, c.Cookies(sessionCookie))
	if errors.Is(err, refusal.ErrNotFound) {
		if c.Get("HX-Request") != "" {
			c.Set("HX-Redirect", "/sign-in")
			return c.SendStatus(fiber.StatusUnauthorized)
		}
		if c.Method() != fiber.MethodGet {
			return wire.Problem(c, fiber.StatusUnauthorized, "You are signed out. Sign in again in another window, then go on here; nothing is lost.")
		}
		return seeOther(c, "/sign-in")
	}
	if err != nil {
		return err
	}
	campaign, err := s.App.Calendar.CampaignAtHand(c, strings.Clone(c.Cookies(campaignCookie)))
	if err != nil {
		return err
	}
	if c.Cookies(campaignCookie) != campaign { // it stays at hand, whatever goes live or is taken down
		s.keepAtHand(c, campaign)
	}
	c.Locals(signedInKey{}, who)
	c.Locals(atHandKey{}, campaign)
	return c.Next()
}

type atHandKey struct{}

// atHand is the campaign the studio is open on.
func atHand(c fiber.Ctx) string {
	id, _ := c.Locals(atHandKey{}).(string)
	return id
}

// switchCampaign takes another campaign to hand, for this browser.
func (s *Studio) switchCampaign(c fiber.Ctx) error {
	s.keepAtHand(c, typed(c, "campaign"))
	return seeOther(c, "/pages")
}

// keepAtHand remembers a campaign for this browser.
func (s *Studio) keepAtHand(c fiber.Ctx, campaign string) {
	s.keep(c, campaignCookie, campaign, 365*24*3600)
}

func who(c fiber.Ctx) account.SignedIn {
	w, _ := c.Locals(signedInKey{}).(account.SignedIn)
	return w
}

// csrf lets only those forms pass that this session's own pages made.
func (s *Studio) csrf(c fiber.Ctx) error {
	if c.Method() == fiber.MethodGet || c.Method() == fiber.MethodHead {
		return c.Next()
	}
	token := c.Get("X-Csrf-Token")
	if token == "" {
		token = c.FormValue("csrf")
	}
	if token == "" || token != who(c).CSRF {
		return fiber.NewError(fiber.StatusForbidden, "This form is not from this session. Load the page again and send it once more.")
	}
	return c.Next()
}

func seeOther(c fiber.Ctx, to string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// place renders a place of the studio in its frame.
func (s *Studio) place(c fiber.Ctx, view, place string, values map[string]any) error {
	if values["State"] == nil {
		state, err := s.App.Publishing.Changes(c, atHand(c))
		if err != nil {
			return err
		}
		values["State"] = state
	}
	values["Place"], values["CSRF"], values["Who"] = place, who(c).CSRF, who(c).User
	values["Shop"] = s.App.Origins.Shop
	var err error
	if values["Campaigns"], err = s.App.Calendar.Campaigns(c); err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, view, values)
}

func (s *Studio) render(c fiber.Ctx, status int, view string, values map[string]any) error {
	html, err := s.html(view, values)
	if err != nil {
		return err
	}
	return c.Status(status).Type("html", "utf-8").SendString(html)
}

func (s *Studio) html(view string, values any) (string, error) {
	var out bytes.Buffer
	if err := s.pages.ExecuteTemplate(&out, view, values); err != nil {
		return "", err
	}
	return out.String(), nil
}

// statusOf is the status with which a refusal is answered.
func statusOf(r refusal.Refusal) int {
	return map[error]int{refusal.ErrNotFound: 404, refusal.ErrInvalid: 422, refusal.ErrConflict: 409, refusal.ErrRefused: 403, refusal.ErrTooMany: 429}[r.Kind]
}

func asRefusal(err error, r *refusal.Refusal) bool { return errors.As(err, r) }

func (s *Studio) picture(c fiber.Ctx) error { return media.Picture(c, s.App, "private") }

func (s *Studio) video(c fiber.Ctx) error { return media.Video(c, s.App, "private") }

// fail says what went wrong: as a notice to htmx and scripts, as a page else.
func (s *Studio) fail(c fiber.Ctx, err error) error {
	status, say := fiber.StatusInternalServerError, "Something went wrong on our side. Nothing that was saved is lost. Load the page again."
	var refusal refusal.Refusal
	var http *fiber.Error
	switch {
	case errors.As(err, &refusal):
		say = refusal.Say
		status = statusOf(refusal)
	case errors.As(err, &http) && http.Code < 500 && http.Message != fiber.NewError(http.Code).Message: // told in words of our own
		status, say = http.Code, http.Message
	case errors.As(err, &http) && http.Code < 500:
		status, say = http.Code, "There is nothing at this address."
	default:
		s.App.Log.Error("a studio request failed", "path", c.Path(), "error", err)
	}
	if c.Get("HX-Request") != "" || strings.Contains(c.Get("Accept"), "application/json") || strings.HasPrefix(c.Get("Content-Type"), "application/json") {
		return wire.Problem(c, status, say)
	}
	return s.render(c, status, "say", map[string]any{"Title": "Chrysagon", "Say": say})
}
