package factbook

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"maps"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/offer/form"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// OfferRow is an offer with the goods and the shelf it is on.
type OfferRow struct {
	store.Offer
	Goods store.StringList
	Shelf store.JSON
}

// OfferRows selects offers as [OfferRow] reads them.
const OfferRows = `SELECT o.*, s.shelf, (SELECT array_agg(g.variant_id ORDER BY g.variant_id) FROM offer_goods g WHERE g.offer_id = o.id) AS goods
	FROM offers o LEFT JOIN shelves s ON s.id = o.shelf_id`

// TakeOffers puts offers that were read into facts, with the deadlines they are bound to
// and the gifts they give.
func TakeOffers(db *gorm.DB, rows []OfferRow, f *facts.Facts) error {
	list, err := BoundOffers(db, rows, f)
	if err != nil {
		return err
	}
	var gifts []string
	for i, r := range rows {
		o := list[i]
		if _, known := f.Products[o.GiftID]; o.GiftID != "" && !known {
			gifts = append(gifts, o.GiftID)
		}
		r.put(o, f)
	}
	given, err := readProducts(db, gifts, f.Store.Currency)
	if err != nil {
		return err
	}
	if f.Products == nil {
		f.Products = given
	}
	maps.Copy(f.Products, given)
	return nil
}

// BoundOffers makes offers of rows, each bound to its deadline.
func BoundOffers(db *gorm.DB, rows []OfferRow, f *facts.Facts) ([]offer.Offer, error) {
	var ends []string
	for _, r := range rows {
		if r.DeadlineID != nil {
			ends = append(ends, *r.DeadlineID)
		}
	}
	if err := readDeadlines(db, ends, f); err != nil {
		return nil, err
	}
	list, err := rulesOf(rows, f.Store.Currency)
	if err != nil {
		return nil, err
	}
	for i, r := range rows {
		r.bind(&list[i], f)
	}
	return list, nil
}

// rulesOf are the offers of rows as core computes with them, bound to nothing yet.
func rulesOf(rows []OfferRow, currency string) ([]offer.Offer, error) {
	list := make([]offer.Offer, len(rows))
	for i, r := range rows {
		var err error
		if list[i], err = r.Rule(currency); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// bind ends the row's offer by its deadline, where it has one that the facts know.
func (r OfferRow) bind(o *offer.Offer, f *facts.Facts) {
	if r.DeadlineID != nil {
		f.Bind(o, *r.DeadlineID)
	}
}

// put adds the row's offer to facts, with how often it was used where that is limited.
func (r OfferRow) put(o offer.Offer, f *facts.Facts) {
	if r.MaxUses > 0 {
		if f.Context.Uses == nil {
			f.Context.Uses = map[string]int{}
		}
		f.Context.Uses[o.ID] = r.Used
	}
	f.Offers = append(f.Offers, o)
}

// Rule is the offer as core computes with it: what it says of itself, with what
// stands in columns.
func (r OfferRow) Rule(currency string) (offer.Offer, error) {
	var o offer.Offer
	if err := json.Unmarshal(r.Detail, &o); err != nil {
		return o, fmt.Errorf("read offer %s: %w", r.ID, err)
	}
	o.ID, o.Name, o.Kind, o.Class, o.Percent, o.Created = r.ID, r.Name, offer.Kind(r.Kind), r.Class, r.Percent, r.CreatedAt.UTC()
	o.Products, o.NeedsCode, o.Only, o.MaxUses, o.MaxUsesEach = r.Goods, r.NeedsCode, offer.Via(r.OnlyVia), r.MaxUses, r.MaxUsesEach
	if needed, _ := o.Kind.Needs("amount"); needed || r.AmountMinor > 0 {
		o.Amount = money.Of(r.AmountMinor, currency)
	}
	if r.StartsAt != nil {
		o.Starts = r.StartsAt.UTC()
	}
	if r.EndedAt != nil {
		o.Ends = r.EndedAt.UTC()
		o.Windows = endAll(o.Windows, o.Ends)
		if !o.Starts.IsZero() && !o.Starts.Before(o.Ends) {
			o.Starts, o.Ends, o.Windows = time.Time{}, time.Time{}, []offer.Window{{Ends: time.Unix(0, 0).UTC()}} // it never ran
		}
	}
	if r.ShelfID != nil {
		var s shelf.Shelf
		if err := json.Unmarshal(r.Shelf, &s); err != nil {
			return o, fmt.Errorf("read the shelf of offer %s: %w", r.ID, err)
		}
		o.Shelf = &s.Rule
	}
	if o.Kind.OnParts() {
		o.Products, o.Shelf = nil, nil
	} else if !r.General && o.General() {
		o.Products = []string{"-"} // its goods are gone; it is on nothing, not on everything
	}
	return o, nil
}

// RowOf is an offer as it is kept: the inverse of [OfferRow.Rule]. Its goods are
// all that it names, so that whoever looks for offers on one of them finds it.
func RowOf(o offer.Offer, b form.Bound) (OfferRow, error) {
	r := OfferRow{Goods: o.Products}
	r.Offer = store.Offer{
		ID: o.ID, Name: o.Name, Kind: string(o.Kind), Class: o.Class, Percent: o.Percent, AmountMinor: o.Amount.Minor, OnlyVia: string(o.Only),
		CreatedAt: o.Created, NeedsCode: o.NeedsCode, MaxUses: o.MaxUses, MaxUsesEach: o.MaxUsesEach,
	}
	if o.Kind.OnParts() {
		for _, m := range o.Kind.Members() {
			r.Goods = append(r.Goods, m.Goods(o)...)
		}
	} else {
		r.General = o.General() && b.ShelfID == ""
	}
	if !o.Starts.IsZero() {
		r.StartsAt = &o.Starts
	}
	if b.ShelfID != "" {
		r.ShelfID = &b.ShelfID
	}
	if b.DeadlineID != "" {
		r.DeadlineID = &b.DeadlineID
	}
	var err error
	r.Detail, err = detailOf(o)
	return r, err
}

// detailOf is what an offer says of itself beside what has columns.
func detailOf(o offer.Offer) (store.JSON, error) {
	o.Name, o.Class, o.Percent, o.Amount, o.Created = "", "", decimal.Decimal{}, money.Money{}, time.Time{}
	o.Products, o.ProductID, o.Shelf, o.Starts, o.Ends = nil, "", nil, time.Time{}, time.Time{}
	o.NeedsCode, o.Codes, o.Only, o.MaxUses, o.MaxUsesEach = false, nil, "", 0, 0
	return json.Marshal(struct {
		offer.Offer
		// Empty, and nearer than the offer's own: what has columns is left out.
		ID   string `json:"id,omitempty"`
		Kind string `json:"kind,omitempty"`
	}{Offer: o})
}

// endAll ends windows early.
func endAll(list []offer.Window, at time.Time) []offer.Window {
	var out []offer.Window
	for _, w := range list {
		if w.Ends.IsZero() || w.Ends.After(at) {
			w.Ends = at
		}
		if w.Starts.IsZero() || w.Starts.Before(w.Ends) {
			out = append(out, w)
		}
	}
	return out
}

func readDeadlines(db *gorm.DB, ids []string, f *facts.Facts) error {
	if f.Deadlines == nil {
		f.Deadlines = map[string]deadline.Deadline{}
	}
	var missing []string
	for _, id := range ids {
		if _, known := f.Deadlines[id]; !known {
			missing = append(missing, id)
		}
	}
	if len(missing) == 0 {
		return nil
	}
	var rows []store.Deadline
	if err := db.Where("id IN ?", missing).Find(&rows).Error; err != nil {
		return fmt.Errorf("read the deadlines: %w", err)
	}
	for _, r := range rows {
		f.Deadlines[r.ID] = DeadlineOf(r)
	}
	return nil
}

// DeadlineOf is a deadline as core computes with it.
func DeadlineOf(r store.Deadline) deadline.Deadline {
	d := deadline.Deadline{
		ID: r.ID, Name: r.Name, Kind: deadline.Kind(r.Kind), Zone: r.Zone, Day: r.Day, Start: r.StartsLocal, Rule: r.Rule,
		Runs: time.Duration(r.RunsSeconds) * time.Second, Span: time.Duration(r.SpanSeconds) * time.Second, Grace: time.Duration(r.GraceSeconds) * time.Second,
	}
	if r.At != nil {
		d.At = r.At.UTC()
	}
	return d
}

// readBuyer reads what offers and deadlines must know of a buyer: whether they
// bought before, how often they used an offer, and since when they see a
// deadline that counts from its first sight.
func (reader *Reader) readBuyer(db *gorm.DB, who Buyer, f *facts.Facts) error {
	f.Visitor.Zone = who.Zone
	if who.Email != "" {
		if err := readUses(db, who.Email, f); err != nil {
			return err
		}
	}
	var spans []string
	for id, d := range f.Deadlines {
		if d.Kind == deadline.Span {
			spans = append(spans, id)
		}
	}
	if len(spans) == 0 || who.Visitor == "" {
		return nil
	}
	f.Visitor.FirstSeen = map[string]time.Time{}
	for _, id := range spans {
		first, err := firstSight(db, who, id, reader.Store.Now())
		if err != nil {
			return err
		}
		f.Visitor.FirstSeen[id] = first
	}
	return nil
}

func readUses(db *gorm.DB, email string, f *facts.Facts) error {
	limited := false
	for _, o := range f.Offers {
		limited = limited || o.FirstOrder || o.MaxUsesEach > 0
	}
	if !limited {
		return nil
	}
	var before int64
	if err := db.Raw("SELECT count(*) FROM (SELECT 1 FROM orders WHERE lower(email) = lower(?) AND state = 'paid' LIMIT 1) x", email).Scan(&before).Error; err != nil {
		return fmt.Errorf("look for earlier orders: %w", err)
	}
	f.Context.FirstOrder = before == 0
	var uses []struct {
		OfferID string
		Uses    int
	}
	err := db.Raw("SELECT offer_id, count(*) AS uses FROM offer_uses WHERE email = lower(?) AND held GROUP BY offer_id", email).Scan(&uses).Error
	f.Context.BuyerUses = map[string]int{}
	for _, u := range uses {
		f.Context.BuyerUses[u.OfferID] = u.Uses
	}
	return err
}

// firstSight keeps a visitor's first sight of a deadline, once. Where their
// email has seen it earlier, in another browser, that sight counts.
func firstSight(db *gorm.DB, who Buyer, id string, now time.Time) (time.Time, error) {
	var first time.Time
	err := db.Raw(`INSERT INTO sightings (visitor, deadline_id, first_seen, email) VALUES (?, ?, ?, lower(?))
		ON CONFLICT (visitor, deadline_id) DO UPDATE SET email = CASE WHEN EXCLUDED.email <> '' THEN EXCLUDED.email ELSE sightings.email END
		RETURNING first_seen`, who.Visitor, id, now, who.Email).Scan(&first).Error
	if err != nil {
		return first, fmt.Errorf("keep a first sight: %w", err)
	}
	var earlier sql.NullTime
	err = db.Raw(`SELECT min(o.first_seen) FROM sightings m JOIN sightings o ON o.email = m.email AND o.deadline_id = m.deadline_id
		WHERE m.visitor = ? AND m.deadline_id = ? AND m.email <> ''`, who.Visitor, id).Row().Scan(&earlier)
	if err == nil && earlier.Valid && earlier.Time.Before(first) {
		first = earlier.Time
	}
	return first.UTC(), err
}
