package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"chrysagon/store"

	"gorm.io/gorm"
)

var (
	firsts = []string{"Ana", "Bruno", "Clara", "Dario", "Elsa", "Frida", "Goran", "Hanna", "Ivo", "Jana", "Karim", "Lena", "Milo", "Nora", "Otto", "Petra"}
	lasts  = []string{"Amaro", "Bergvik", "Castell", "Dunmore", "Esteves", "Fjord", "Garvin", "Holt", "Ivarsen", "Kestrel", "Lindqvist", "Marsh"}
)

// past makes the visits and orders of the last days, the same at every load.
func past(tx *gorm.DB, now time.Time) error {
	rng := rand.New(rand.NewPCG(7, 180)) //nolint:gosec // a story, not a secret
	var seen []store.Footprint
	number := int64(0)
	for day := 3; day >= 0; day-- {
		ago := make([]int, 240+rng.IntN(120)) // seconds before the same hour of that day
		for i := range ago {
			ago[i] = rng.IntN(20 * 3600)
		}
		slices.SortFunc(ago, func(a, b int) int { return b - a })
		for i, seconds := range ago {
			at := now.AddDate(0, 0, -day).Add(-time.Duration(seconds) * time.Second)
			visitor := fmt.Sprintf("past-%d-%d", day, i)
			seen = append(seen, store.Footprint{At: at, Visitor: visitor, CampaignID: campaignID, EditionID: "frost-1", PageID: "night-flight", StepID: "night-flight"})
			if rng.IntN(1000) >= 47 {
				continue
			}
			if err := tx.Raw("SELECT nextval('order_numbers')").Scan(&number).Error; err != nil {
				return err
			}
			name := firsts[rng.IntN(len(firsts))] + " " + lasts[rng.IntN(len(lasts))]
			if err := pastOrder(tx, visitor, name, number, at, now, rng.IntN(10) < 4, rng.IntN(10) < 3); err != nil {
				return err
			}
		}
	}
	if err := tx.CreateInBatches(&seen, 500).Error; err != nil {
		return err
	}
	// What came of them, as their orders say.
	return tx.Exec(`INSERT INTO footprints (at, visitor, campaign_id, edition_id, page_id, step_id, outcome, to_step, orders, money_minor)
		SELECT o.paid_at, o.visitor, o.campaign_id, o.edition_id, p.step_id, p.step_id, CASE p.kind WHEN 'checkout' THEN 'bought' ELSE 'accepted' END,
			CASE p.kind WHEN 'checkout' THEN 'quiver-bag' ELSE 'thank-you' END, CASE p.kind WHEN 'checkout' THEN 1 ELSE 0 END, p.amount_minor
		FROM payments p JOIN orders o ON o.id = p.order_id WHERE o.id LIKE 'past-%'
		UNION ALL SELECT a.at, o.visitor, o.campaign_id, o.edition_id, a.step_id, a.step_id, 'declined', 'thank-you', 0, 0
		FROM answers a JOIN orders o ON o.id = a.order_id WHERE o.id LIKE 'past-%' AND a.outcome = 'declined'
		UNION ALL SELECT o.paid_at + interval '2 minutes', o.visitor, o.campaign_id, o.edition_id, 'thank-you', 'thank-you', '', '', 0, 0 FROM orders o WHERE o.id LIKE 'past-%'`).Error
}

// emailOf is an address at a domain that is reserved for examples (RFC 2606).
func emailOf(name string) string { return emailLocal(name) + "@example.org" }

func emailLocal(name string) string { return strings.ToLower(strings.ReplaceAll(name, " ", ".")) }

type pastLine struct {
	product, name, via, offer string
	list, price               int64
}

// streets are where they are sent, in the two countries that the store sends to.
var streets = []struct{ street, postcode, town, country string }{
	{"Rua das Velas 12", "4480-781", "Vila do Conde", "Portugal"}, {"Travessa do Vento 3", "2950-281", "Palmela", "Portugal"}, {"Calle del Faro 41", "36201", "Vigo", "Spain"},
	{"Largo da Praia 7", "3080-847", "Figueira da Foz", "Portugal"}, {"Rua do Farol 58", "8650-317", "Sagres", "Portugal"}, {"Calle Levante 9", "11380", "Tarifa", "Spain"},
}

func pastOrder(tx *gorm.DB, visitor, name string, number int64, at, now time.Time, bump, accepted bool) error {
	at = at.Truncate(time.Microsecond)
	id := fmt.Sprintf("past-%d", number)
	place := streets[number%int64(len(streets))]
	address, err := json.Marshal(map[string]string{"street": place.street, "postcode": place.postcode, "town": place.town, "country": place.country})
	if err != nil {
		return fmt.Errorf("write an address: %w", err)
	}
	handling := "to_pack" // what came in since yesterday; the rest is on its way, or there
	switch age := now.Sub(at); {
	case age > 60*time.Hour:
		handling = "done"
	case age > 30*time.Hour:
		handling = "sent"
	}
	o := store.Order{
		ID: id, Token: id + "-of-the-demo-store", Number: &number, Visitor: visitor, CampaignID: campaignID, StepID: "night-flight", EditionID: "frost-1",
		State: "paid", Name: name, Email: emailOf(name), Address: address, Handling: &handling, Currency: "EUR", CreatedAt: at, PaidAt: &at,
	}
	lines := []pastLine{{"ember", "Ember 180, with lantern and line", "page", "Lantern week", 6800, 5100}}
	if bump {
		lines = append(lines, pastLine{"lantern-cell", "Spare lantern cell", "bump", "Cell with a kite", 900, 700})
	}
	payments := map[string][]pastLine{"checkout": lines}
	if accepted {
		payments["upsell"] = []pastLine{{"quiver", "Quiver bag for three kites", "upsell", "Bag with the order", 3400, 2380}}
	}
	for _, list := range payments {
		for _, l := range list {
			o.TotalMinor += l.price
		}
	}
	if err := tx.Create(&o).Error; err != nil {
		return err
	}
	if handling != "to_pack" {
		parcel := store.Parcel{ID: id + "-parcel", OrderID: id, Carrier: "Coast Parcel", Number: fmt.Sprintf("CP%d7PT", 88100+number), SentAt: at.Add(20 * time.Hour), SentBy: "Marta Venn"}
		if err := tx.Create(&parcel).Error; err != nil {
			return err
		}
	}
	outcome := "declined"
	if accepted {
		outcome = "accepted"
	}
	if err := tx.Create(&store.Answer{OrderID: id, StepID: "quiver-bag", Outcome: outcome, At: at.Add(time.Minute)}).Error; err != nil {
		return err
	}
	for kind, list := range payments {
		if err := pastPayment(tx, id, kind, at, list); err != nil {
			return err
		}
	}
	return nil
}

func pastPayment(tx *gorm.DB, orderID, kind string, at time.Time, list []pastLine) error {
	step := map[string]string{"checkout": "night-flight", "upsell": "quiver-bag"}[kind]
	p := store.Payment{ID: orderID + "-" + kind, OrderID: orderID, Key: orderID + "-" + kind, Kind: kind, StepID: step, State: "charged", AskedAt: at, SettledAt: &at, TaxIncluded: true}
	lines := make([]store.OrderLine, len(list))
	for i, l := range list {
		p.AmountMinor += l.price
		trail, err := json.Marshal([]map[string]any{{"name": l.offer, "off": map[string]any{"minor": l.list - l.price, "currency": "EUR"}}})
		if err != nil {
			return fmt.Errorf("write a line's trail: %w", err)
		}
		lines[i] = store.OrderLine{
			PaymentID: p.ID, Position: i, OrderID: orderID, VariantID: l.product, Name: l.name, Via: l.via, Quantity: 1,
			ListMinor: l.list, PriceMinor: l.price, Trail: trail, // Holds is false: long taken out
		}
	}
	if err := tx.Create(&p).Error; err != nil {
		return err
	}
	return tx.Create(&lines).Error
}

// Charge gives the till the charges of the demo's past orders, so that they can be
// refunded like any other. It does nothing where they are there.
func Charge(ctx context.Context, s *store.Store) error {
	_, err := s.Pool.Exec(ctx, `INSERT INTO till.charges (id, key, fingerprint, state, amount_minor, currency, reference, last_four, created_at)
		SELECT 'charge_' || p.id, p.key, '', 'charged', p.amount_minor, o.currency, 'order ' || o.id, '0001', p.asked_at
		FROM payments p JOIN orders o ON o.id = p.order_id WHERE p.id LIKE 'past-%' ON CONFLICT (key) DO NOTHING`)
	if err != nil {
		return fmt.Errorf("give the till the demo's charges: %w", err)
	}
	return nil
}
