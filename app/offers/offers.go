// Package offers saves offers, their codes and deadlines, and tries them out before they count.
package offers

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/repricing"
	"chrysagon/core/country"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// Offers is the use cases of offers.
type Offers struct {
	Facts  *factbook.Reader
	News   *news.Hub
	Prices *repricing.Keeper
	Store  *store.Store
}

// OfferRecord is an offer as it is kept, and as core computes with it.
type OfferRecord struct {
	store.Offer
	Rule      offer.Offer
	Goods     []string
	ShelfName string
	Codes     int    // how many it has
	Code      string // the one, when it has one
}

// OfferRecords lists all offers, the older first.
func (offers *Offers) OfferRecords(ctx context.Context) ([]OfferRecord, error) {
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		store.Offer
		Goods     store.StringList
		Shelf     store.JSON
		ShelfName string
		Codes     int
		Code      string
	}
	err = offers.Store.On(ctx).Raw(`SELECT x.*, coalesce(h.name, '') AS shelf_name, coalesce(c.codes, 0) AS codes, coalesce(c.code, '') AS code FROM (` + factbook.OfferRows + `) x
		LEFT JOIN shelves h ON h.id = x.shelf_id
		LEFT JOIN (SELECT offer_id, count(*) AS codes, min(code) AS code FROM codes GROUP BY offer_id) c ON c.offer_id = x.id
		ORDER BY x.created_at, x.id`).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the offers: %w", err)
	}
	full := make([]factbook.OfferRow, len(rows))
	for i, r := range rows {
		full[i] = factbook.OfferRow{Offer: r.Offer, Goods: r.Goods, Shelf: r.Shelf}
	}
	f := facts.Facts{Store: offers.Facts.StoreFacts(shop)}
	rules, err := factbook.BoundOffers(offers.Store.On(ctx), full, &f)
	if err != nil {
		return nil, err
	}
	out := make([]OfferRecord, len(rows))
	for i, r := range rows {
		out[i] = OfferRecord{Offer: r.Offer, Rule: rules[i], Goods: r.Goods, ShelfName: r.ShelfName, Codes: r.Codes, Code: r.Code}
	}
	return out, nil
}

// OfferInput is an offer as it is typed. What a kind does not have is left
// empty and not looked at.
type OfferInput struct {
	ID, Name, Kind, Value, Class string
	Covers                       string // all, goods or shelf
	Goods                        []string
	ShelfID                      string
	Steps                        string // 3: 10%, 6: 20%
	Buy, Get, Gift               string
	Parts                        string // product×quantity, separated by commas
	Only, Starts, DeadlineID     string
	MinQuantity, MinSubtotal     string
	Code                         string // one code; empty: none, or those made in bulk
	NeedsCode                    bool
	MaxUses, MaxUsesEach         string
	FirstOrder, NotReduced       bool
	Alone                        bool // it shares no unit with another offer
	Countries, Link, Step        string
}

// readOffer reads what was typed. Faults are by field.
func (offers *Offers) readOffer(in OfferInput, c known) (factbook.OfferRow, map[string]string) {
	faults := map[string]string{}
	row := store.Offer{ID: in.ID, Name: in.Name, Kind: in.Kind, Class: strings.TrimSpace(in.Class), OnlyVia: in.Only, CreatedAt: offers.Store.Now()}
	if in.ID == "" {
		row.ID = store.NewID()
	}
	if in.Name == "" || len([]rune(in.Name)) > 80 {
		faults["name"] = "Give the offer a name of at most 80 characters."
	}
	d := factbook.OfferDetail{Link: strings.TrimSpace(in.Link), Step: in.Step, FirstOrder: in.FirstOrder, NotReduced: in.NotReduced}
	d.Alone = in.Alone && in.Kind != string(offer.Gift) && in.Kind != string(offer.Shipping)
	offers.readValue(in, c, &row, &d, faults)
	readConditions(in, c, &row, &d, faults)
	full := factbook.OfferRow{}
	switch in.Covers {
	case "all":
		row.General = true
	case "shelf":
		for _, s := range c.Shelves {
			if s.ID == in.ShelfID {
				row.ShelfID, full.Shelf = &s.ID, s.Shelf
			}
		}
		if row.ShelfID == nil {
			faults["shelf"] = "Choose the shelf this offer is on."
		}
	default:
		full.Goods = in.Goods
		for _, p := range d.Parts {
			full.Goods = append(full.Goods, p.ProductID)
		}
		for _, id := range full.Goods {
			if c.Products[id].Name == "" {
				faults["goods"] = "Choose goods from the list."
			}
		}
		if len(full.Goods) == 0 {
			faults["goods"] = "Choose what the offer is on: some goods, a shelf, or everything."
		}
	}
	var err error
	if row.Detail, err = json.Marshal(d); err != nil {
		faults["name"] = err.Error()
	}
	full.Offer = row
	if rule, err := full.Rule(c.Store.Currency); len(faults) == 0 && err == nil {
		var f offer.Fault
		switch err := rule.Validate(c.Store.Currency); {
		case errors.As(err, &f):
			faults[f.Place] = strings.ToUpper(f.Say[:1]) + f.Say[1:] + "."
		case err != nil:
			faults["value"] = refusal.Sentence(err)
		}
	}
	return full, faults
}

// readValue reads what the kind does: its percentage, amount or parts.
func (offers *Offers) readValue(in OfferInput, c known, row *store.Offer, d *factbook.OfferDetail, faults map[string]string) {
	percent := func() {
		p, err := decimal.NewFromString(strings.Replace(strings.TrimSpace(strings.TrimSuffix(in.Value, "%")), ",", ".", 1))
		if err != nil || !p.IsPositive() || p.GreaterThan(decimal.NewFromInt(100)) || p.Exponent() < -4 {
			faults["value"] = "Write a percentage above 0 and at most 100, such as 25."
		}
		row.Percent = p
	}
	sum := func(least int64) {
		m, err := money.Parse(in.Value, c.Store.Currency)
		if err != nil || m.Minor < least {
			faults["value"] = "Write an amount above zero, such as " + money.Of(500, c.Store.Currency).Plain() + "."
		}
		row.AmountMinor = m.Minor
	}
	switch offer.Kind(in.Kind) {
	case offer.PercentOff, offer.OrderPercent:
		percent()
	case offer.AmountOff, offer.OrderAmount:
		sum(1)
	case offer.SetPrice:
		sum(0)
	case offer.Steps:
		var fault string
		if d.Steps, fault = readSteps(in.Steps, c.Store.Currency); fault != "" {
			faults["steps"] = fault
		}
	case offer.BuyGet:
		d.Buy, d.Get = number(in.Buy, faults, "buy"), number(in.Get, faults, "get")
		if strings.TrimSpace(in.Value) != "" {
			percent()
		}
	case offer.Set:
		sum(0)
		d.Parts = readParts(in.Parts, faults)
	case offer.Gift:
		if d.GiftID = in.Gift; c.Products[in.Gift].Name == "" {
			faults["gift"] = "Choose what is given."
		}
	case offer.Shipping:
		switch v := strings.TrimSpace(in.Value); {
		case v == "": // free
		case strings.HasSuffix(v, "%"):
			percent()
		default:
			sum(1)
		}
	default:
		faults["kind"] = "Choose what the offer does."
	}
}

func number(text string, faults map[string]string, field string) int {
	text = strings.TrimSpace(text)
	if text == "" {
		return 0
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 0 || n > 1_000_000 {
		faults[field] = "Write a whole number, or leave it empty."
	}
	return n
}

// readSteps reads “3: 10%, 6: 20%” or “3: 12.60 each”.
func readSteps(text, currency string) ([]offer.Step, string) {
	const say = "Write steps like 3: 10%, 6: 20% — or 3: 12.60, 6: 11.90 for a price each."
	var out []offer.Step
	for part := range strings.SplitSeq(strings.ReplaceAll(text, ";", ","), ",") {
		if strings.TrimSpace(part) == "" {
			continue
		}
		from, value, ok := strings.Cut(part, ":")
		n, err := strconv.Atoi(strings.TrimSpace(from))
		if !ok || err != nil {
			return nil, say
		}
		s := offer.Step{From: n}
		value = strings.TrimSpace(value)
		if p, isPercent := strings.CutSuffix(value, "%"); isPercent {
			if s.Percent, err = decimal.NewFromString(strings.TrimSpace(p)); err != nil {
				return nil, say
			}
		} else {
			m, err := money.Parse(strings.TrimSuffix(value, " each"), currency)
			if err != nil {
				return nil, say
			}
			s.Amount = &m
		}
		out = append(out, s)
	}
	if len(out) == 0 {
		return nil, say
	}
	return out, ""
}

// readParts reads “ember×1, line-30×2”.
func readParts(text string, faults map[string]string) []offer.Part {
	var out []offer.Part
	for part := range strings.SplitSeq(text, ",") {
		id, n, _ := strings.Cut(strings.TrimSpace(part), "×")
		if id == "" {
			continue
		}
		quantity, err := strconv.Atoi(strings.TrimSpace(n))
		if err != nil {
			quantity = 1
		}
		out = append(out, offer.Part{ProductID: strings.TrimSpace(id), Quantity: quantity})
	}
	if len(out) == 0 {
		faults["parts"] = "Choose the goods of the set."
	}
	return out
}

func readConditions(in OfferInput, c known, row *store.Offer, d *factbook.OfferDetail, faults map[string]string) {
	if in.Only != "" && in.Only != string(offer.Bump) && in.Only != string(offer.Upsell) && in.Only != string(offer.Page) {
		faults["only"] = "Choose where the offer holds."
	}
	if in.Step != "" && !slices.ContainsFunc(c.Steps, func(s StepChoice) bool { return s.ID == in.Step }) {
		faults["step"] = "Choose one of the steps, or any."
	}
	d.MinQuantity = number(in.MinQuantity, faults, "min_quantity")
	row.MaxUses, row.MaxUsesEach = number(in.MaxUses, faults, "max_uses"), number(in.MaxUsesEach, faults, "max_uses_each")
	row.NeedsCode = in.NeedsCode || strings.TrimSpace(in.Code) != ""
	if strings.TrimSpace(in.MinSubtotal) != "" {
		m, err := money.Parse(in.MinSubtotal, c.Store.Currency)
		if err != nil {
			faults["min_subtotal"] = "Write an amount, such as " + money.Of(5000, c.Store.Currency).Plain() + ", or leave it empty."
		}
		d.MinSubtotal = m.Minor
	}
	for code := range strings.FieldsFuncSeq(strings.ToUpper(in.Countries), func(r rune) bool { return r == ',' || r == ' ' }) {
		if !country.Known(code) {
			faults["countries"] = "Write countries by their two letters, such as PT, ES; “" + code + "” is none."
		}
		d.Countries = append(d.Countries, code)
	}
	var ends time.Time
	if in.DeadlineID != "" {
		found := false
		for _, e := range c.Deadlines {
			if e.ID == in.DeadlineID {
				row.DeadlineID, ends, found = &in.DeadlineID, e.At, true
			}
		}
		if !found {
			faults["deadline"] = "Choose one of the deadlines."
		}
	}
	if in.Starts == "" {
		return
	}
	starts, err := deadline.Resolve(in.Starts, c.Store.Zone)
	if err != nil {
		faults["starts"] = "Write the day and time it begins."
	} else if !ends.IsZero() && !starts.Before(ends) {
		faults["starts"] = "It would begin after its deadline, " + deadline.Written(ends, c.Store.Zone) + ". Begin it earlier, or choose a later deadline."
	}
	row.StartsAt = &starts
}

// SaveOffer writes an offer, new or changed. Faults are by field.
func (offers *Offers) SaveOffer(ctx context.Context, in OfferInput) (string, map[string]string, error) {
	choices, _, err := offers.about(ctx, in, "", nil)
	if err != nil {
		return "", nil, err
	}
	full, faults := offers.readOffer(in, choices)
	if len(faults) > 0 {
		return "", faults, nil
	}
	err = offers.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		return "offer " + in.Name, nil, writeOffer(tx, in, full)
	})
	if taken := refusal.As(err); taken != "" {
		return "", map[string]string{"code": taken}, nil
	}
	if err != nil {
		return "", nil, fmt.Errorf("keep the offer: %w", err)
	}
	return full.ID, nil, nil
}

// writeOffer writes an offer as typed. One that is there already keeps its age
// and its uses.
func writeOffer(tx *gorm.DB, in OfferInput, full factbook.OfferRow) error {
	row := full.Offer
	if in.ID != "" {
		var old store.Offer
		if err := tx.Raw("SELECT * FROM offers WHERE id = ? FOR UPDATE", in.ID).Scan(&old).Error; err != nil {
			return err
		}
		if old.ID == "" {
			return refusal.Of(refusal.ErrNotFound, "There is no such offer.")
		}
		if old.MaxUses == 0 && row.MaxUses > 0 {
			if err := tx.Raw("SELECT count_uses(?)", in.ID).Scan(&old.Used).Error; err != nil {
				return err
			}
		}
		row.CreatedAt, row.Used, row.EndedAt = old.CreatedAt, old.Used, old.EndedAt // an ended one stays ended
		if row.MaxUses > 0 && row.MaxUses < row.Used {
			return refusal.Of(refusal.ErrConflict, "The offer has been used %d times already; allow at least that many, or end it.", row.Used)
		}
	}
	if err := tx.Save(&row).Error; err != nil {
		return err
	}
	if err := writeOfferGoods(tx, row.ID, full.Goods); err != nil {
		return err
	}
	return writeCode(tx, row.ID, in.Code)
}

func writeOfferGoods(tx *gorm.DB, id string, list []string) error {
	if err := tx.Exec("DELETE FROM offer_goods WHERE offer_id = ?", id).Error; err != nil {
		return err
	}
	return tx.Exec("INSERT INTO offer_goods SELECT DISTINCT ?, g FROM unnest(?::text[]) g", id, store.TextArray(list)).Error
}

// EndOffer ends an offer now, early and for good. Whoever has seen its price
// keeps it for the store's grace time.
func (offers *Offers) EndOffer(ctx context.Context, id string) error {
	err := offers.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		o, err := store.One[store.Offer](tx.Where("id = ?", id), "There is no such offer.")
		if err != nil {
			return "", nil, err
		}
		return o.Name + " ended", nil, tx.Exec("UPDATE offers SET ended_at = ? WHERE id = ? AND ended_at IS NULL", offers.Store.Now(), id).Error
	})
	if err != nil {
		return fmt.Errorf("end an offer: %w", err)
	}
	return nil
}
