package selling

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/app/walks"
	"chrysagon/core/address"
	rules "chrysagon/core/checkout"
	"chrysagon/core/facts"
	"chrysagon/core/mailing"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/seal"
	"chrysagon/pieces"
	"chrysagon/pieces/checkout"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// PayInput is what a buyer sends from a checkout.
type PayInput struct {
	Live    publishing.Live
	Visitor string            // secret of the browser
	Values  map[string]string // fields, what is chosen, seen, token, again
	Letter  string            // ID of the posting by whose link they came last; empty: by none

	at walks.Place // in the funnel that led them here
}

// PayOutcome is what the buyer is told. Exactly one of Go and the rest speaks.
type PayOutcome struct {
	Go     string // where the buyer goes next
	Errors map[string]string
	Notice string
	Shown  *checkout.Shown // what now holds, to be shown again; nil: nothing is
	Again  string          // token of the order already placed here
	Part   int             // in which something must be mended; 0: none
}

// Checkout is a page's checkout with the facts it is computed from.
type Checkout struct {
	Sale   checkout.Sale
	Chosen checkout.Chosen
	Gone   string // what of the choice is no longer to be had, said to the buyer
	Facts  facts.Facts
	drawn  *pieces.Context
	piece  manuscript.Piece
	shop   store.Shop
	at     seal.Place
}

// BuyerOf is what a checkout's form says of its buyer.
func BuyerOf(visitor string, values map[string]string) factbook.Buyer {
	return factbook.Buyer{
		Visitor: visitor, Email: strings.TrimSpace(values["email"]), Country: address.Code(strings.TrimSpace(values["country"])),
		Code: strings.TrimSpace(values["code"]), Link: values["link"], Zone: values["zone"],
	}
}

// Sends tells whether anything in a priced cart travels by parcel.
func (c Checkout) Sends(q offer.Quote) bool { return checkout.Travels(c.Facts, q) }

// NothingPut is said to whoever orders before anything is put in.
const NothingPut = "Nothing is in your order yet. Say in the list how many you would like, then press the button again."

// Price prices the cart as it stands.
func (c Checkout) Price(now time.Time) (offer.Quote, error) {
	q, err := c.Facts.Quote(c.Sale.Cart(c.Chosen), now)
	if err != nil {
		return q, refusal.Of(refusal.ErrInvalid, "This cannot be sent there: %s.", err)
	}
	return q, nil
}

// Faults says what must be mended in a checkout's form, for the whole priced cart. An
// address that looks mistyped is asked about once: whoever says that they are sure of it is
// not asked again.
func (c Checkout) Faults(q offer.Quote, typed map[string]string) (values, faults map[string]string) {
	sale := checkout.For(c.Facts, c.Sends(q))
	values = c.Sale.Form.Clean(sale, typed)
	faults = c.Sale.Form.Faults(sale, values)
	if faults["email"] == "" && mailing.Doubted(values["email"], typed["sure"]) != "" {
		faults["email"] = "Look at this once more. If it is right as it stands, press the button again."
	}
	return values, faults
}

// fields are those of the form for a priced cart.
func (c Checkout) fields(q offer.Quote, values map[string]string) []rules.Field {
	return c.Sale.Form.Fields(checkout.For(c.Facts, c.Sends(q)), values)
}

// parts are those of the form as it is drawn, where a part for what may yet travel has
// its number too.
func (c Checkout) parts(values map[string]string) []rules.Part {
	sale := checkout.For(c.Facts, c.Sale.MayTravel(c.drawn, c.Chosen))
	return c.Sale.Form.Split(c.Sale.Form.Fields(sale, values))
}

// PartOf is the first part of the form in which something must be mended.
func (c Checkout) PartOf(values, faults map[string]string) int {
	for _, p := range c.parts(values) {
		if len(p.Faults(faults)) > 0 {
			return p.Number
		}
	}
	return 1
}

// Checkout reads the checkout of a live page as of now, for a buyer and what they have
// chosen.
func (counter *Counter) Checkout(ctx context.Context, in PayInput) (Checkout, error) {
	live, who := in.Live, BuyerOf(in.Visitor, in.Values)
	who.Step = live.Step.ID
	schema := counter.Render.Registry.Schema()
	names := schema.Names(live.Page.Manuscript)
	if !schema.Filled(live.Page.Manuscript) { // what stands beside a product cannot be ordered with it
		names.Shelves = slices.DeleteFunc(names.Shelves, func(id string) bool { _, is := manuscript.Beside(id); return is })
	}
	names.Products = append(names.Products, pieces.PutsIn(in.Values)...)
	f, shop, err := counter.Facts.Prices(ctx, names, who)
	if err != nil {
		return Checkout{}, err
	}
	var found Checkout
	ok := false
	drawn := render.Input{
		Page: live.Page.Manuscript, Facts: f, Moment: counter.Store.Now(), Form: pieces.Form{Values: in.Values}, Place: pieces.Place{Address: live.Page.Address, Till: counter.Origins.Till},
		Seal: sealer(shop.SealKey, placeOf(live, who.Visitor)),
	}
	drawn.Page.Walk(func(b manuscript.Band, p manuscript.Piece) {
		if p.Kind == checkout.Kind.Name && !ok {
			c := counter.Render.Context(drawn)
			if !c.Enter(b) {
				return
			}
			if found.Sale, ok = checkout.Resolve(c, p); ok {
				found.Chosen, found.Gone = found.Sale.Read(in.Values)
			}
			found.drawn, found.piece = c, p
			found.Facts, found.shop, found.at = c.Facts, shop, placeOf(live, who.Visitor)
		}
	})
	if !ok {
		return Checkout{}, refusal.Of(refusal.ErrNotFound, "This page has no checkout.")
	}
	return found, nil
}

// Quote prices a checkout for a buyer who is changing it.
func (counter *Counter) Quote(ctx context.Context, in PayInput) (PayOutcome, error) {
	c, err := counter.Checkout(ctx, in)
	if err != nil {
		return PayOutcome{}, err
	}
	if c.Sale.Closed != "" {
		return PayOutcome{Notice: c.Sale.Closed}, nil
	}
	outcome, err := c.show()
	outcome.Notice = c.Gone
	return outcome, err
}

// show computes what a checkout shows now, and signs it.
func (c Checkout) show() (PayOutcome, error) {
	if _, err := c.Price(c.drawn.Moment); err != nil {
		return PayOutcome{}, err
	}
	s, ok := checkout.Draw(c.drawn, c.piece)
	if !ok {
		return PayOutcome{}, refusal.Of(refusal.ErrNotFound, "This page has no checkout.")
	}
	return PayOutcome{Shown: &s}, nil
}

// Pay takes an order: it checks what was typed, settles which price holds,
// reserves the goods, stores the charge about to be asked for, asks the till,
// and acts on its answer. A card is charged at most once whatever happens.
func (counter *Counter) Pay(ctx context.Context, in PayInput) (PayOutcome, error) {
	var err error
	if in.at, err = counter.Guide.Stand(ctx, in.Live, in.Visitor); err != nil {
		return PayOutcome{}, err
	}
	c, err := counter.Checkout(ctx, in)
	if err != nil {
		return PayOutcome{}, err
	}
	if c.Sale.Closed != "" {
		// The last piece may be the one this very browser is paying for.
		if done, outcome, err := counter.underway(ctx, in); done || err != nil {
			return outcome, err
		}
		return PayOutcome{Notice: c.Sale.Closed + " Nothing was charged."}, nil
	}
	q, err := c.Price(counter.Store.Now())
	if err != nil {
		return PayOutcome{}, err
	}
	if len(q.Lines) == 0 && c.Gone == "" {
		return c.told(NothingPut)
	}
	values, faults := c.Faults(q, in.Values)
	if len(faults) > 0 {
		return PayOutcome{Errors: faults, Part: c.PartOf(values, faults)}, nil
	}
	if c.Gone != "" {
		return c.told(c.Gone + " Look at the new total, then press the button again. Nothing was charged.")
	}
	q, notice, err := counter.agreed(ctx, c, q, in.Values["seen"])
	if err != nil {
		return PayOutcome{}, err
	}
	if notice != "" {
		return c.told(notice)
	}
	p, err := counter.begin(ctx, in, c, values, q)
	var already alreadyOrdered
	switch {
	case errors.As(err, &already):
		return counter.alreadyBought(c, already.order)
	case errors.Is(err, errUnderway):
		done, outcome, err := counter.underway(ctx, in)
		if err == nil && !done {
			return c.told("That took too long, so it was given up. Nothing was charged. Press the button to try again.")
		}
		return outcome, err
	case err != nil:
		return counter.unsold(ctx, in, err)
	}
	if c.Chosen.Way.ByHand() && p.payment.AmountMinor > 0 {
		return counter.await(ctx, p)
	}
	return counter.charge(ctx, in, p)
}

// told shows the checkout again with something to read first.
func (c Checkout) told(notice string) (PayOutcome, error) {
	outcome, err := c.show()
	outcome.Notice, outcome.Errors = notice, map[string]string{}
	return outcome, err
}

// agreed settles at which prices the buyer pays: those of the quote, or those that
// they saw. A notice means that they must be told of another price first.
func (counter *Counter) agreed(ctx context.Context, c Checkout, q offer.Quote, token string) (offer.Quote, string, error) {
	const again = "Please look at the total once more, then press the button again. Nothing was charged."
	saw, ok := seal.Read(c.shop.SealKey, token)
	if !ok {
		return q, again, nil
	}
	back := seal.Return{Facts: c.Facts, Cart: c.Sale.Cart(c.Chosen), Now: q, At: c.at}
	if saw.Known(c.at, q.Moment) {
		var err error
		if back.ByHand, err = firstChange(counter.Store.On(ctx), back.Cart, saw.Moment()); err != nil {
			return q, "", err
		}
	}
	answer, proves, err := saw.Honoured(back)
	switch {
	case err != nil:
		return q, "", err
	case !proves:
		return q, again, nil
	case answer.Verdict == offer.TellFirst:
		return q, fmt.Sprintf("The price has changed since you opened this page: the total is now %s. Nothing was charged. Press the button again if you agree.", q.Total), nil
	}
	return answer.Quote, "", nil
}

var errUnderway = errors.New("an order of this browser is being paid for")

type alreadyOrdered struct{ order store.Order }

func (alreadyOrdered) Error() string { return "this browser has already bought this" }

// soldOut says what is no longer to be had: goods, or the uses of an offer.
type soldOut struct {
	name  string
	offer bool
}

func (e soldOut) Error() string { return e.name + " is sold out" }

// said tells a buyer that somebody else was quicker.
func (e soldOut) said() string {
	if e.offer {
		return fmt.Sprintf("“%s” has just been used for the last time it allows.", e.name)
	}
	return fmt.Sprintf("Somebody else has just bought the last %s.", e.name)
}

// started is an order whose charge has been stored and may now be asked for.
type started struct {
	order   store.Order
	payment store.Payment
}

// begin stores the order and its charge in one transaction, then reserves the
// goods. A lock on browser and step makes a second press meet the first. Should
// the program die in between, the payment is unsettled and holds nothing: the
// reconciling job closes it.
func (counter *Counter) begin(ctx context.Context, in PayInput, c Checkout, values map[string]string, q offer.Quote) (started, error) {
	var s started
	now := counter.Store.Now()
	err := counter.Store.InAgain(ctx, func(tx *gorm.DB) error {
		lock := in.Visitor + " " + in.at.Step.ID
		if err := tx.Exec("SELECT pg_advisory_xact_lock(hashtextextended(?, 0))", lock).Error; err != nil {
			return err
		}
		o, paid, err := before(tx, in, q, now)
		if err != nil {
			return err
		}
		if o, err = supersede(tx, o, now); err != nil {
			return err
		}
		if o.State == string(order.Paying) {
			return errUnderway
		}
		if paid.ID != "" && in.Values["again"] != paid.Token {
			return alreadyOrdered{paid}
		}
		if s.order, err = writeOrder(tx, in, c, o, values, q, now); err != nil {
			return err
		}
		if s.payment, err = ask(tx, s.order, route.Sales, c.Chosen.Way, in.at.Step.ID, q, now); err != nil {
			return err
		}
		if err := walks.Known(tx, in.Visitor, s.order.Email, now); err != nil {
			return err
		}
		if err := agree(tx, in, c, values, now, now); err != nil {
			return err
		}
		return noteUses(tx, s, c.Facts.Offers, in.Values["code"], q)
	})
	if err != nil {
		return s, err
	}
	return s, counter.reserve(ctx, s)
}

// before finds what this browser did on this step before: an order it has not
// finished, and the newest that it has paid for, or is about to by hand, within the window and that has any of
// the same goods, its bumps left aside.
func before(tx *gorm.DB, in PayInput, q offer.Quote, now time.Time) (unfinished, paid store.Order, err error) {
	var goods []string
	for _, l := range q.Lines {
		if l.Via == offer.Page {
			goods = append(goods, l.ProductID)
		}
	}
	var found []store.Order
	err = tx.Raw(`SELECT * FROM orders o WHERE visitor = ? AND step_id = ? AND (state IN ('open', 'paying') OR (state IN ('paid', 'awaited') AND coalesce(paid_at, created_at) > ?
		AND EXISTS (SELECT FROM order_lines l WHERE l.order_id = o.id AND l.via = 'page' AND l.variant_id = ANY(?::text[]))))
		ORDER BY coalesce(paid_at, created_at) FOR UPDATE`, in.Visitor, in.at.Step.ID, now.Add(-order.AgainWindow), store.TextArray(goods)).Scan(&found).Error
	for _, o := range found {
		if s := order.State(o.State); s == order.Paid || s == order.Awaited {
			paid = o
		} else {
			unfinished = o
		}
	}
	return unfinished, paid, err
}

// supersede gives up a payment whose buyer went to type the card on the till's
// own page and came back to the checkout instead: nothing has been sent yet.
func supersede(tx *gorm.DB, o store.Order, now time.Time) (store.Order, error) {
	if o.State != string(order.Paying) {
		return o, nil
	}
	var p store.Payment
	err := tx.Raw(`UPDATE payments SET state = ?, settled_at = ? WHERE order_id = ? AND state = ? AND awaits_card RETURNING *`,
		order.Cancelled, now, o.ID, order.Asked).Scan(&p).Error
	if err != nil || p.ID == "" {
		return o, err
	}
	if err := giveBack(tx, o, p); err != nil {
		return o, err
	}
	o.State = string(order.Open)
	return o, nil
}

func writeOrder(tx *gorm.DB, in PayInput, c Checkout, o store.Order, values map[string]string, q offer.Quote, now time.Time) (store.Order, error) {
	from, fresh := order.Open, o.ID == ""
	if fresh {
		o = store.Order{ID: store.NewID(), Token: store.NewSecret(), Visitor: in.Visitor, CreatedAt: now}
	} else {
		from = order.State(o.State)
	}
	state, err := order.Next(from, order.Pay)
	if err != nil {
		return o, err
	}
	if err := wrote(&o, c.fields(q, values), values); err != nil {
		return o, fmt.Errorf("write what the buyer wrote: %w", err)
	}
	o.CampaignID, o.StepID, o.EditionID = in.at.Edition.CampaignID, in.at.Step.ID, in.at.Edition.ID
	o.State, o.Currency = string(state), q.Total.Currency
	if in.Letter != "" {
		if err := tx.Raw("SELECT id FROM postings WHERE id = ? AND sent_at IS NOT NULL", in.Letter).Scan(&o.PostingID).Error; err != nil {
			return o, fmt.Errorf("look for the letter of an order: %w", err)
		}
	}
	if fresh {
		return o, tx.Create(&o).Error
	}
	return o, tx.Save(&o).Error
}

// ask stores the payment that will be asked for, with what it pays for.
func ask(tx *gorm.DB, o store.Order, kind route.Kind, way order.Way, stepID string, q offer.Quote, now time.Time) (store.Payment, error) {
	name := order.AtCheckout
	if kind.Offers() {
		name = order.AsUpsell
	}
	p := store.Payment{
		ID: store.NewID(), OrderID: o.ID, Key: store.NewSecret(), Kind: name, StepID: stepID, Way: string(way),
		State: string(order.Asked), AmountMinor: q.Total.Minor, AskedAt: now, TaxIncluded: q.TaxIncluded, TaxMinor: q.Tax.Minor,
	}
	var err error
	if p.Summary, err = json.Marshal(summaryOf(q)); err != nil {
		return p, fmt.Errorf("write the payment's summary: %w", err)
	}
	if err := tx.Create(&p).Error; err != nil {
		return p, err
	}
	lines := make([]store.OrderLine, len(q.Lines))
	for i, l := range q.Lines {
		trail, err := json.Marshal(l.Trail)
		if err != nil {
			return p, fmt.Errorf("write a line's trail: %w", err)
		}
		lines[i] = store.OrderLine{
			PaymentID: p.ID, Position: i, OrderID: o.ID, VariantID: l.ProductID, Name: l.Name, Via: string(l.Via),
			Quantity: l.Quantity, ListMinor: l.List.Minor, PriceMinor: l.Price.Minor, Trail: trail, OffMinor: l.Off.Minor,
		}
		if l.Gift {
			lines[i].Via = "gift"
		}
		if l.Tax != nil {
			lines[i].TaxMinor = l.Tax.Minor
		}
	}
	return p, tx.Create(&lines).Error
}
