package offers

import (
	"bytes"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"chrysagon/app/offers"
	"chrysagon/core/deadline"
	"chrysagon/core/offer"
	"chrysagon/core/offer/form"
	"chrysagon/studio/frame"
	"chrysagon/studio/sharing"

	"github.com/gofiber/fiber/v3"
)

func (p *Place) offersPlace(c fiber.Ctx) error {
	chosen := strings.Clone(c.Query("offer"))
	if c.Query("product") != "" {
		chosen = "new"
	}
	values, err := p.offersValues(c, chosen)
	if err != nil {
		return err
	}
	return p.Show(c, "offers", "Offers", values)
}

func (p *Place) offersValues(c fiber.Ctx, chosen string) (map[string]any, error) {
	choices, err := p.Offers.Choices(c, offers.Wanted{Goods: true, Deadlines: true, Offers: true, Shelves: true, Steps: true})
	if err != nil {
		return nil, err
	}
	now := p.Store.Now()
	f := offerForm{OfferInput: offers.OfferInput{Kind: string(offer.Kinds()[0]), Covers: form.OnGoods}}
	names := choices.Names()
	var list, past []sharing.OfferRow
	for _, o := range choices.Offers {
		r := sharing.RowOf(o, choices, names, now)
		if o.ID == chosen || (chosen == "" && f.ID == "") {
			f = formOf(o, choices.Store.Zone)
			f.Status = r.Status
		}
		if strings.HasPrefix(r.Status, "ended") && o.ID != chosen {
			past = append(past, r)
		} else {
			list = append(list, r)
		}
	}
	if product := c.Query("product"); chosen == "new" && names[product] != "" {
		f.Goods = []string{strings.Clone(product)} // a new offer on what somebody came from
	}
	f.fill(choices, names)
	var ends []*sharing.Sharing
	for _, d := range choices.Deadlines {
		ends = append(ends, sharing.Shared(d.ID, choices, now))
	}
	receipt, err := p.receiptOf(c, f)
	return map[string]any{
		"Title": "Offers", "Offers": list, "Past": past, "Form": f, "Shelf": choices, "Names": names, "Deadlines": ends, "Receipt": receipt,
		"Kinds": offer.Kinds(), "Members": members, "OnParts": kindsThat(offer.Kind.OnParts), "NotAlone": kindsThat(func(k offer.Kind) bool { return !k.StandsAlone() }), "CSRF": frame.Who(c).CSRF, "Crowded": crowded(choices, now),
	}, err
}

// crowded warns when so many offers run that not all of them could be weighed
// against each other in one basket.
func crowded(c offers.Choices, now time.Time) string {
	const small, large = 10, 100 // lines of a basket
	n := 0
	for _, o := range c.Offers {
		if o.EndedAt == nil && o.Rule.Weighable() && o.Rule.Holds(now) {
			n++
		}
	}
	if n < offer.MaxWeighed(small)-1 {
		return ""
	}
	return fmt.Sprintf("%d offers on units and groups run now. Of those that meet in one basket at most %d are weighed against each other (%d in a very long basket), those that take most off first; groups and offers that stand alone beyond that do not hold there. End what is not needed.", n, offer.MaxWeighed(small), offer.MaxWeighed(large))
}

// offerForm is an offer as it is typed, with the basket it is tried on.
type offerForm struct {
	offers.OfferInput
	Status  string
	Basket  []basketItem
	TryCode string
	Country string
}

type basketItem struct {
	ID, Name, Via string
	Quantity      int
}

// formOf fills the form from an offer as it is kept.
func formOf(o offers.OfferRecord, zone string) offerForm {
	b := form.Bound{}
	if o.Codes == 1 {
		b.Code = o.Code
	}
	if o.ShelfID != nil {
		b.ShelfID = *o.ShelfID
	}
	if o.DeadlineID != nil {
		b.DeadlineID = *o.DeadlineID
	}
	rule := o.Rule
	rule.Starts = time.Time{}
	if o.StartsAt != nil { // of one that was ended before it began, too
		rule.Starts = *o.StartsAt
	}
	f := offerForm{OfferInput: form.Write(rule, b, zone)}
	if !o.Rule.Kind.OnParts() {
		f.Goods = o.Goods
	}
	return f
}

// fill puts goods of the offer into an empty basket.
func (f *offerForm) fill(c offers.Choices, names map[string]string) {
	if len(f.Basket) > 0 {
		return
	}
	via := "page"
	if f.Only != "" {
		via = f.Only
	}
	add := func(id string, n int) {
		if name := names[id]; name != "" && len(f.Basket) < 4 {
			f.Basket = append(f.Basket, basketItem{ID: id, Name: name, Via: via, Quantity: n})
		}
	}
	counted, least := counted(f.OfferInput), 1
	for _, id := range slices.Sorted(maps.Keys(counted)) {
		add(id, counted[id])
	}
	if steps := read(f.OfferInput, c.Store.Currency).Steps; len(steps) > 0 {
		least = steps[0].From
	}
	if len(counted) == 0 {
		for _, id := range f.Goods {
			add(id, least)
		}
	}
	if len(f.Basket) == 0 && len(c.Products) > 0 {
		add(c.Products[0].ID, 1)
	}
	if f.Code != "" {
		f.TryCode = f.Code
	}
}

// typedOffer reads the form and its basket.
func typedOffer(c fiber.Ctx) offerForm {
	value := func(name string) string { return frame.Typed(c, name) }
	f := offerForm{OfferInput: offers.OfferInput{
		ID: value("id"), Name: value("name"), Kind: value("kind"), Class: value("class"), Covers: value("covers"), Members: typedMembers(c),
		ShelfID: value("shelf"), Only: value("only"),
		Starts: deadline.Entered(value("starts")), DeadlineID: value("deadline"), MinQuantity: value("min_quantity"), MinSubtotal: value("min_subtotal"),
		Code: value("code"), NeedsCode: value("needs_code") != "", MaxUses: value("max_uses"), MaxUsesEach: value("max_uses_each"),
		FirstOrder: value("first_order") != "", NotReduced: value("not_reduced") != "", Alone: value("alone") != "", Countries: value("countries"), Link: value("link"), Step: value("step"),
		Goods: frame.AllTyped(c, "goods"),
	}, TryCode: value("try_code"), Country: value("try_country")}
	quantities, ways := frame.AllTyped(c, "qty"), frame.AllTyped(c, "via")
	for i, id := range frame.AllTyped(c, "item") {
		item := basketItem{ID: id, Quantity: 1, Via: "page"}
		if i < len(quantities) {
			n, err := strconv.Atoi(strings.TrimSpace(quantities[i]))
			if err != nil || n == 0 {
				continue // taken out of the basket
			}
			item.Quantity = n
		}
		if i < len(ways) {
			item.Via = ways[i]
		}
		f.Basket = append(f.Basket, item)
	}
	if id := value("add"); id != "" {
		f.Basket = append(f.Basket, basketItem{ID: id, Quantity: 1, Via: "page"})
	}
	return f
}

// named gives the goods in the basket their names; what is gone is taken out.
func (f *offerForm) named(names map[string]string) {
	kept := f.Basket[:0:0]
	for _, item := range f.Basket {
		if item.Name = names[item.ID]; item.Name != "" {
			kept = append(kept, item)
		}
	}
	f.Basket = kept
}

// receiptView is the till receipt that computes while the offer is written.
type receiptView struct {
	Form   offerForm
	Quote  offer.Quote
	After  *offer.Quote // as of the next change
	Faults map[string]string
	Ends   string
	Effect offers.Effect
	Buyer  string // whom the receipt is written for, where the offer means somebody
	Beside string // what the offer works beside
}

func (p *Place) receiptOf(c fiber.Ctx, f offerForm) (receiptView, error) {
	v := receiptView{Form: f}
	basket := offers.Basket{Code: f.TryCode, Country: f.Country}
	for _, item := range f.Basket {
		basket.Items = append(basket.Items, offer.Item{ProductID: item.ID, Quantity: item.Quantity, Via: offer.Via(item.Via)})
	}
	tried, faults, err := p.Offers.Try(c, f.OfferInput, basket)
	v.Form.named(tried.Names)
	if err != nil || faults != nil {
		v.Faults = faults
		return v, err
	}
	v.Buyer, v.Beside = tried.Buyer, tried.Beside
	if v.Quote, v.Faults = tried.At(p.Store.Now()); v.Faults != nil {
		return v, nil
	}
	if v.Effect, err = p.Offers.Effect(c, tried); err != nil {
		return v, err
	}
	if end := v.Quote.NextChange; !end.IsZero() {
		after, _ := tried.At(end)
		v.After, v.Ends = &after, deadline.Written(end, tried.Zone())
	}
	return v, nil
}

func (p *Place) receipt(c fiber.Ctx) error {
	v, err := p.receiptOf(c, typedOffer(c))
	if err != nil {
		return err
	}
	if c.FormValue("redraw") == "" {
		return p.Send(c, fiber.StatusOK, "receipt-body", map[string]any{"Receipt": v})
	}
	choices, err := p.Offers.Choices(c, offers.Wanted{Goods: true}) // something was put into the basket, which is drawn anew
	if err != nil {
		return err
	}
	return p.Send(c, fiber.StatusOK, "receipt", map[string]any{"Receipt": v, "Shelf": choices})
}

func (p *Place) saveOffer(c fiber.Ctx) error {
	f := typedOffer(c)
	id, faults, err := p.Offers.SaveOffer(c, f.OfferInput)
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		values, err := p.offersValues(c, f.ID)
		if err != nil {
			return err
		}
		if names, ok := values["Names"].(map[string]string); ok {
			f.named(names)
		}
		values["Form"], values["Faults"] = f, faults
		return p.Send(c, fiber.StatusOK, "offers-body", values)
	}
	return p.offersSaid(c, id, "Saved. Every page, price and checkout that shows it follows.")
}

func (p *Place) offersSaid(c fiber.Ctx, id, said string) error {
	values, err := p.offersValues(c, id)
	if err != nil {
		return err
	}
	values["Saved"] = said
	return p.Send(c, fiber.StatusOK, "offers-body", values)
}

// endOffer ends an offer early, by one press.
func (p *Place) endOffer(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := p.Offers.EndOffer(c, id); err != nil {
		return err
	}
	return p.offersSaid(c, id, "Ended. The list prices hold again, everywhere.")
}

func (p *Place) makeCodes(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	n, _ := strconv.Atoi(strings.TrimSpace(c.FormValue("codes")))     // 0 is refused with a sentence
	uses, err := strconv.Atoi(strings.TrimSpace(c.FormValue("uses"))) // likewise below zero
	if err != nil {
		uses = 1
	}
	if err := p.Offers.MakeCodes(c, id, frame.Typed(c, "prefix"), n, uses); err != nil {
		return err
	}
	return p.offersSaid(c, id, fmt.Sprintf("%d codes made. Take them as CSV to send them out.", n))
}

func (p *Place) exportCodes(c fiber.Ctx) error {
	var out bytes.Buffer
	if err := p.Offers.ExportCodes(c, c.Params("id"), &out); err != nil {
		return err
	}
	return frame.SendFile(c, "codes.csv", "text/csv; charset=utf-8", out.Bytes())
}
