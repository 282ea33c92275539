package demo

import (
	"context"
	"crypto/sha256"
	_ "embed" // the guide
	"encoding/hex"
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/compose"
	"chrysagon/core/fork"
	m "chrysagon/core/manuscript"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Season lays the demo's paths: an opt-in page, two bridges to the offer, a page
// outside and a smaller offer for who declined the first, with a season of walks on
// them. lamps is the address of the page outside. It does nothing where they are laid.
func Season(ctx context.Context, s *store.Store, lamps string, now time.Time) error {
	now = now.UTC().Truncate(time.Microsecond)
	var laid int64
	if err := s.DB.WithContext(ctx).Raw("SELECT count(*) FROM editions WHERE id = 'frost-2'").Scan(&laid).Error; err != nil || laid > 0 {
		return err
	}
	err := s.In(ctx, func(tx *gorm.DB) error {
		for _, step := range []func(*gorm.DB, string, time.Time) error{sleeve, guide, paths, footfalls, allYear, audience} {
			if err := step(tx, lamps, now); err != nil {
				return fmt.Errorf("lay the demo's paths: %w", err)
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	return rollUp(ctx, s)
}

func sleeve(tx *gorm.DB, _ string, now time.Time) error {
	cost, received := int64(420), now.AddDate(0, 0, -40)
	if err := tx.Create(&store.Product{ID: "sleeve", Name: "One-kite sleeve", Form: "physical", Category: "Bags", Tags: store.StringList{}}).Error; err != nil {
		return err
	}
	if err := tx.Create(&store.Variant{ID: "sleeve", ProductID: "sleeve", SKU: "GK-SLV-1", PriceMinor: 1190, NowMinor: 1190, Stock: 140, WeightGrams: 120, Condition: "new", CostMinor: &cost, ReceivedAt: &received, Attributes: store.JSON("{}")}).Error; err != nil {
		return err
	}
	return tx.Create(&store.ProductPicture{ProductID: "sleeve", PictureID: "bag", Position: 0}).Error
}

//go:embed guide.txt
var knots []byte

// guide is what the opt-in page hands out.
func guide(tx *gorm.DB, _ string, now time.Time) error {
	sum := sha256.Sum256(knots)
	return tx.Create(&store.Handout{
		ID: "seven-knots", Name: "Read the wind in seven knots.txt", Mime: "text/plain", Hash: hex.EncodeToString(sum[:12]), Size: len(knots), Bytes: knots, AddedAt: now,
	}).Error
}

func act(id, label, to string) m.Piece {
	return piece(id, "button", m.Fields{"label": label, "target": to})
}

// walked are the pages that lead to the offer, and the one behind it.
func walked() []page {
	head := func(id, text string) m.Piece {
		return piece(id, "heading", m.Fields{"text": text, "level": "1"})
	}
	lead := func(id, text string) m.Piece {
		return piece(id, "text", m.Fields{"text": text, "look": "lead"})
	}
	form := func(id string) m.Piece {
		return piece(id, "form", m.Fields{"asks": "opt_in", "label": "Give me the seven knots", "thanks": "Thank you. Here it is.", "gives": "file:seven-knots", "list": guideList, "consent": "You may keep my address and write to me about kites."})
	}
	return []page{
		{id: "seven-knots", name: "Seven knots", purpose: "opt_in", address: "seven-knots", title: "Read the wind in seven knots", description: "Seven signs that anybody can read off grass, water and smoke before a kite leaves the bag.", tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "k-open", Name: "Opening", Beat: m.Attention, Tone: m.Night, Columns: []m.Column{
				col(7, head("k-head", "Read the wind in seven knots"), lead("k-lead", "Seven signs that anybody can read off grass, water and smoke before a kite leaves the bag."), form("k-form")),
				col(5, piece("k-pic", "picture", m.Fields{"picture": "dunes", "shape": "framed"}))}},
			{ID: "k-what", Name: "What it teaches", Beat: m.Desire, Tone: m.Card, Columns: []m.Column{
				col(1, piece("k-what-head", "heading", m.Fields{"text": "From a breath to a stiff breeze", "level": "2"}),
					piece("k-what-text", "text", m.Fields{"text": "At two knots smoke leans. At four the dune grass bows and a light kite rises. At seven the sea shows its first white, and most kites are glad.", "look": "copy"}))}},
			{ID: "k-again", Name: "Again", Beat: m.Action, Tone: m.Paper, Columns: []m.Column{
				col(1, piece("k-again-head", "heading", m.Fields{"text": "One sheet for the jacket pocket", "level": "2"}), form("k-form-2"))}},
			legal("k-legal"),
		}}},
		{id: "first-gust", name: "The first gust", purpose: "bridge", address: "first-gust", title: "What happens in the first gust", description: "Why most kites are lost in the first ten seconds, and what holds one.", tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "g-open", Name: "Opening", Beat: m.Attention, Tone: m.Card, Columns: []m.Column{
				col(7, head("g-head", "Most kites are lost in the first gust"), lead("g-lead", "Not in the storm, but in the first ten seconds, when nobody has told the line what to do."), act("g-top", "Show me the lantern kite", "yes")),
				col(5, piece("g-pic", "picture", m.Fields{"picture": "gull", "shape": "framed"}))}},
			{ID: "g-what", Name: "What holds", Beat: m.Interest, Tone: m.Paper, Columns: []m.Column{
				col(1, piece("g-text", "text", m.Fields{"text": "A bridle that gives in four knots and stands in eighteen forgives the hand that holds it. That is how we sew ours, and at night it carries a lantern, so that you see what it tells you.", "look": "copy"}))}},
			{ID: "g-on", Name: "On", Beat: m.Action, Tone: m.Night, Columns: []m.Column{
				col(1, piece("g-on-head", "heading", m.Fields{"text": "See the one that flies by night", "level": "2"}), act("g-act", "Show me the lantern kite", "yes"))}},
			legal("g-legal"),
		}}},
		{id: "ask-the-wind", name: "Ask the wind", purpose: "bridge", address: "ask-the-wind", title: "Three questions to ask the wind", description: "Three questions whose answers say which kite to take along.", tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "a-open", Name: "Opening", Beat: m.Attention, Tone: m.Night, Columns: []m.Column{
				col(7, head("a-head", "Three questions to ask the wind"), lead("a-lead", "Where are you from, how long will you stay, and may I fly in the dark?"), act("a-top", "Show me the lantern kite", "yes")),
				col(5, piece("a-pic", "picture", m.Fields{"picture": "ember-night", "shape": "plain"}))}},
			{ID: "a-what", Name: "The answers", Beat: m.Interest, Tone: m.Card, Columns: []m.Column{
				col(1, piece("a-text", "text", m.Fields{"text": "Wind from the sea is even and stays until the tide turns. Wind from the land is gone at sundown. The night wind on our coast answers yes.", "look": "copy"}))}},
			{ID: "a-on", Name: "On", Beat: m.Action, Tone: m.Paper, Columns: []m.Column{
				col(1, piece("a-on-head", "heading", m.Fields{"text": "A kite for the third answer", "level": "2"}),
					piece("a-act", "button", m.Fields{"label": "Show me the lantern kite", "target": "yes", "second": "See our neighbours’ harbour lamps", "second_target": "act:lamps"}))}},
			legal("a-legal"),
		}}},
		{id: "one-kite-sleeve", name: "One-kite sleeve", purpose: "downsell", address: "one-kite-sleeve", title: "Then perhaps the sleeve", tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "s-open", Name: "The small one", Beat: m.Action, Tone: m.Card, Columns: []m.Column{
				col(5, piece("s-pic", "picture", m.Fields{"picture": "bag", "shape": "framed"})),
				col(7, piece("s-thanks", "text", m.Fields{"text": "Then only something to carry the one in:", "look": "lead"}), head("s-head", "A sleeve for one kite"),
					piece("s-text", "text", m.Fields{"text": "Ripstop, a drawstring and a loop for the belt. It goes into the same parcel.", "look": "copy"}),
					piece("s-price", "price", m.Fields{"product": "sleeve"}), piece("s-answer", "answer", m.Fields{"product": "sleeve", "accept": "Yes, add the sleeve", "decline": "No, only my order"}))}},
			legal("s-legal"),
		}}},
	}
}

// map of the demo: who signs up is divided among two bridges, who buys is offered the
// bag, who declines it the sleeve.
func seasonFunnel(lamps string) route.Funnel {
	yes := route.Clicked(route.Yes)
	step := func(id string, k route.Kind, name string) route.Step {
		return route.Step{ID: id, Kind: k, PageID: id, Name: name}
	}
	sleeve := step("one-kite-sleeve", route.DownsellAt, "One-kite sleeve")
	sleeve.Aim = "quiver-bag"
	return route.Funnel{
		Steps: []route.Step{
			step("seven-knots", route.OptIn, "Seven knots"), step("first-gust", route.Bridge, "The first gust"), step("ask-the-wind", route.Bridge, "Ask the wind"),
			step("night-flight", route.Sales, "Night flight"), {ID: "harbour-lamps", Kind: route.Outside, Name: "Harbour lamps", Address: lamps},
			step("quiver-bag", route.UpsellAt, "Quiver bag"), sleeve, step("thank-you", route.ThankYou, "Thank you"),
		},
		Routes: []route.Route{
			{ID: "two-bridges", From: "seven-knots", Outcome: route.Submitted, Fork: []fork.Share{{To: "first-gust", Share: 10}, {To: "ask-the-wind", Share: 5}}},
			{ID: "gust-on", From: "first-gust", Outcome: yes, To: "night-flight"}, {ID: "ask-lamps", From: "ask-the-wind", Outcome: route.Clicked("lamps"), To: "harbour-lamps"}, {ID: "ask-on", From: "ask-the-wind", Outcome: yes, To: "night-flight"},
			{ID: "lamps-back", From: "harbour-lamps", Outcome: yes, To: "night-flight"},
			{ID: "has-a-bag", From: "night-flight", Outcome: route.Bought, When: []route.Condition{{Kind: route.IfOwns, Values: []string{"quiver"}}}, To: "thank-you"}, {ID: "bought", From: "night-flight", Outcome: route.Bought, To: "quiver-bag"},
			{ID: "bag-yes", From: "quiver-bag", Outcome: route.Accepted, To: "thank-you"}, {ID: "bag-no", From: "quiver-bag", Outcome: route.Declined, To: "one-kite-sleeve"},
			{ID: "sleeve-yes", From: "one-kite-sleeve", Outcome: route.Accepted, To: "thank-you"}, {ID: "sleeve-no", From: "one-kite-sleeve", Outcome: route.Declined, To: "thank-you"},
		},
	}
}

func paths(tx *gorm.DB, lamps string, now time.Time) error {
	edition := publishing.Edition{ID: "frost-2", CampaignID: campaignID, Number: 2, Composition: compose.Version, Funnel: seasonFunnel(lamps)}
	fresh := append(walked(), letters()...)
	for _, p := range append(slices.Clone(fresh), pages()...) {
		edition.Pages = append(edition.Pages, publishing.EditionPage{ID: p.id, Name: p.name, Address: p.address, Title: p.title, Description: p.description, Layout: "bare", Purpose: p.purpose, Manuscript: p.tree})
	}
	if err := goLive(tx, edition, now.AddDate(0, 0, -3).Add(time.Hour), fresh); err != nil {
		return err
	}
	for _, l := range []store.Link{
		{ID: "posters", Name: "Posters at the harbour", Slug: "posters-at-the-harbour", Source: "Posters", Medium: "print"},
		{ID: "club-mail", Name: "Letter of the kite club", Slug: "letter-of-the-kite-club", Source: "Kite club", Medium: "email"},
	} {
		to := "seven-knots"
		l.CampaignID, l.ByCampaign, l.StepID, l.CreatedAt = campaignID, "frost-lanterns", &to, now.AddDate(0, 0, -3)
		if err := tx.Create(&l).Error; err != nil {
			return err
		}
	}
	return tx.Exec("UPDATE store SET outside_hosts = ?", "lamps.localhost\nharbour-lamps.example").Error
}

// footfalls are the walks of the last days: those who saw the offer are the visitors
// of the demo's past, and four in ten of them came there by the opt-in page.
func footfalls(tx *gorm.DB, _ string, now time.Time) error {
	var seen []struct {
		At      time.Time
		Visitor string
	}
	err := tx.Raw(`WITH waiting AS (DELETE FROM footprints WHERE visitor LIKE 'past-%' RETURNING at, visitor, step_id, outcome),
			counted AS (DELETE FROM events WHERE visitor LIKE 'past-%' RETURNING at, visitor, step_id, kind)
		SELECT * FROM (SELECT at, visitor FROM waiting WHERE step_id = 'night-flight' AND outcome = ''
			UNION ALL SELECT at, visitor FROM counted WHERE step_id = 'night-flight' AND kind = 'view') seen ORDER BY at, visitor COLLATE "C"`).Scan(&seen).Error
	if err != nil {
		return err
	}
	for _, table := range []string{"walks", "walk_hours"} {
		if err := tx.Exec("DELETE FROM " + table).Error; err != nil {
			return err
		}
	}
	w := strollers{rng: rand.New(rand.NewPCG(15, 10)), bridges: seasonFunnel("").Routes[0].Fork} //nolint:gosec // a story, not a secret
	for _, e := range seen {
		if w.rng.IntN(10) < 4 {
			w.come(e.Visitor, e.At.Add(-time.Duration(5+w.rng.IntN(40))*time.Minute), true)
		} else {
			w.source(e.Visitor, e.At, "night-flight")
		}
		// Of those who came to the offer, some thirteen opt-ins earlier did not.
		for range w.rng.IntN(3) {
			w.others++
			w.come(fmt.Sprintf("stroller-%d", w.others), e.At.Add(-time.Duration(w.rng.IntN(90))*time.Minute), false)
		}
	}
	if err := w.orders(tx, now); err != nil {
		return err
	}
	if err := tx.CreateInBatches(&w.prints, 500).Error; err != nil {
		return err
	}
	// Who came by a link pressed it.
	for link, source := range map[string]string{"posters": "Posters", "club-mail": "Kite club"} {
		err := tx.Exec("INSERT INTO link_clicks (link_id, visitor, at) SELECT ?, visitor, min(at) FROM footprints WHERE source = ? GROUP BY visitor", link, source).Error
		if err == nil {
			err = tx.Exec("UPDATE links SET clicks = (SELECT count(*) FROM link_clicks WHERE link_id = links.id) WHERE id = ?", link).Error
		}
		if err != nil {
			return err
		}
	}
	return nil
}

type strollers struct {
	rng     *rand.Rand
	bridges []fork.Share
	prints  []store.Footprint
	others  int
}

func (w *strollers) print(visitor string, at time.Time, step, outcome, to string) *store.Footprint {
	w.prints = append(w.prints, store.Footprint{At: at, Visitor: visitor, CampaignID: campaignID, EditionID: "frost-2", PageID: step, StepID: step, Outcome: outcome, ToStep: to})
	return &w.prints[len(w.prints)-1]
}

// source is that a visitor comes in, from somewhere.
func (w *strollers) source(visitor string, at time.Time, step string) {
	p := w.print(visitor, at, step, "", "")
	switch n := w.rng.IntN(20); {
	case n < 4:
		p.Source, p.Medium, p.ByCampaign = "Posters", "print", "frost-lanterns"
	case n < 11:
		p.Source, p.Medium, p.ByCampaign = "Kite club", "email", "frost-lanterns"
	case n < 15:
		p.Source = "search.example"
	}
}

// come is a visitor's way from the opt-in page, to the offer or as far as they went.
func (w *strollers) come(visitor string, at time.Time, arrives bool) {
	w.source(visitor, at, "seven-knots")
	if !arrives && w.rng.IntN(100) < 73 {
		return // they left where they came in
	}
	to, _ := fork.Pick("two-bridges", visitor, "", w.bridges)
	at = at.Add(time.Minute)
	w.print(visitor, at, "seven-knots", string(route.Submitted), to)
	w.print(visitor, at.Add(time.Second), to, "", "")
	at = at.Add(2 * time.Minute)
	if !arrives {
		if to == "ask-the-wind" && w.rng.IntN(10) == 0 {
			w.print(visitor, at, to, string(route.Clicked("lamps")), "harbour-lamps")
			w.print(visitor, at.Add(time.Second), "harbour-lamps", "", "")
		}
		return
	}
	w.print(visitor, at, to, string(route.Clicked(route.Yes)), "night-flight")
	w.print(visitor, at.Add(time.Second), "night-flight", "", "")
}

// orders are what came of the offer: the demo's past orders, and for who declined the
// bag, what they said of the sleeve.
func (w *strollers) orders(tx *gorm.DB, now time.Time) error {
	var list []struct {
		ID, Visitor, Outcome string
		PaidAt               time.Time
		Paid, Added          int64
	}
	err := tx.Raw(`SELECT o.id, o.visitor, a.outcome, o.paid_at, (SELECT sum(amount_minor) FROM payments p WHERE p.order_id = o.id AND p.kind = 'checkout') AS paid,
		(SELECT coalesce(sum(amount_minor), 0) FROM payments p WHERE p.order_id = o.id AND p.kind = 'upsell') AS added
		FROM orders o JOIN answers a ON a.order_id = o.id WHERE o.id LIKE 'past-%' ORDER BY o.number`).Scan(&list).Error
	if err != nil {
		return err
	}
	for _, o := range list {
		at := o.PaidAt
		p := w.print(o.Visitor, at, "night-flight", string(route.Bought), "quiver-bag")
		p.Orders, p.MoneyMinor = 1, o.Paid
		w.print(o.Visitor, at.Add(time.Second), "quiver-bag", "", "")
		at, last := at.Add(time.Minute), "thank-you"
		if o.Outcome == "declined" {
			last = "one-kite-sleeve"
		}
		p = w.print(o.Visitor, at, "quiver-bag", o.Outcome, last)
		p.MoneyMinor = o.Added
		if last == "one-kite-sleeve" {
			w.print(o.Visitor, at.Add(time.Second), last, "", "")
			if err := w.sleeve(tx, o.ID, o.Visitor, at.Add(time.Minute)); err != nil {
				return err
			}
		}
		w.print(o.Visitor, at.Add(2*time.Minute), "thank-you", "", "")
	}
	return tx.Exec("UPDATE answers SET at = least(at, ?) WHERE order_id LIKE 'past-%'", now).Error
}

// sleeve is what somebody said of the sleeve.
func (w *strollers) sleeve(tx *gorm.DB, orderID, visitor string, at time.Time) error {
	outcome := route.Declined
	if w.rng.IntN(100) < 28 {
		outcome = route.Accepted
	}
	p := w.print(visitor, at, "one-kite-sleeve", string(outcome), "thank-you")
	if err := tx.Create(&store.Answer{OrderID: orderID, StepID: "one-kite-sleeve", Outcome: string(outcome), At: at}).Error; err != nil {
		return err
	}
	if outcome == route.Declined {
		return nil
	}
	p.MoneyMinor = 1190
	pay := store.Payment{ID: orderID + "-sleeve", OrderID: orderID, Key: orderID + "-sleeve", Kind: "upsell", StepID: "one-kite-sleeve", State: "charged", AskedAt: at, SettledAt: &at, TaxIncluded: true, AmountMinor: 1190}
	if err := tx.Create(&pay).Error; err != nil {
		return err
	}
	line := store.OrderLine{PaymentID: pay.ID, OrderID: orderID, VariantID: "sleeve", Name: "One-kite sleeve", Via: "upsell", Quantity: 1, ListMinor: 1190, PriceMinor: 1190, Trail: store.JSON("[]")}
	if err := tx.Create(&line).Error; err != nil {
		return err
	}
	return tx.Exec("UPDATE orders SET total_minor = total_minor + 1190 WHERE id = ?", orderID).Error
}
