// Package facts holds what a page names but does not contain: goods, offers,
// deadlines, pictures and, after a payment, the order at hand.
//
// A page is a function of its manuscript, its facts and the moment.
package facts

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/mailing"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/own"
	"chrysagon/core/shelf"
	"chrysagon/core/shipping"
	"chrysagon/core/style"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
)

// Store is what a page says about the store itself.
type Store struct {
	Name         string
	Currency     string
	Zone         string        // IANA name
	Grace        time.Duration // how long after its end a price that was seen is honoured
	LegalName    string
	LegalAddress string
	ContactEmail string
	Phone        string
	House        style.House
	Own          own.Code // on every page
	Icon         string   // ID of the picture in tabs; empty: the program's sign
	Unpaid       bool     // no payment gateway is connected: nobody can pay by card
	Ways         Ways     // to pay beside the card
	Unmailed     bool     // no mail server is set: no mail goes out
	Country      string   // its own, by its two letters
	Menu         []Link   // of its header, by hand; none: the header fills itself
	Foot         []Link   // of its footer, by hand
}

// Link is one that was put into a menu or a footer by hand.
type Link struct {
	Text   string `json:"text"`
	Target string `json:"target"` // see package target
}

// Ways are what the store has set up to be paid by beside the card.
type Ways struct {
	Account      bool   // the gateway takes it on its own page
	Transfer     string // the account to which transfers go, line by line; "": none are taken
	TransferDays int    // for which goods are held until one comes
	Collect      string // where and when goods are fetched and paid for; "": nowhere
	CollectDays  int
}

// Has tells whether a way to pay beside the card is set up.
func (w Ways) Has(way order.Way) bool {
	switch way { //nolint:exhaustive // the card is asked for elsewhere
	case order.ByAccount:
		return w.Account
	case order.ByTransfer:
		return w.Transfer != ""
	case order.OnCollection:
		return w.Collect != ""
	}
	return false
}

// Picture is one picture of the store's shelf.
type Picture struct {
	ID     string
	Name   string
	Alt    string
	Path   string // address on the shopfront, with its content's hash
	Width  int
	Height int
	Sizes  []int // widths in which it can be had; none: it is drawn, and fits any
	Pixels style.Pixels
	Focus  Focus
	Weight int // bytes of the size that a phone is sent; 0: not known
}

// Judged says in plain words what is to be known of it before it is put on a page.
func (p Picture) Judged() []style.Judgement { return p.Pixels.Judged(p.Width, len(p.Sizes) == 0) }

// Focus is the place of a picture that stays in view where it is cut, in
// percent from the left and from the top.
type Focus struct{ X, Y int }

// Class names the style that keeps the focus in view; empty: the middle, as
// every browser has it.
func (f Focus) Class() string {
	if f.X == 50 && f.Y == 50 {
		return ""
	}
	return fmt.Sprintf("f%d-%d", f.X, f.Y)
}

// Shareable is its address as those who show cards can read it: few of them draw
// SVG, so a drawn picture can be had as pixels.
func (p Picture) Shareable() string {
	if len(p.Sizes) > 0 {
		return p.At(1280)
	}
	return strings.TrimSuffix(p.Path, ".svg") + ".png"
}

// At is its address at the least width that is not below that, in pixels.
func (p Picture) At(width int) string {
	if len(p.Sizes) == 0 {
		return p.Path
	}
	best := p.Sizes[len(p.Sizes)-1]
	for _, w := range p.Sizes {
		if w >= width {
			best = w
			break
		}
	}
	return fmt.Sprintf("%s?w=%d", p.Path, best)
}

// Srcset lists its sizes as the HTML standard's srcset attribute does, or "".
func (p Picture) Srcset() string {
	var parts []string
	for _, w := range p.Sizes {
		parts = append(parts, fmt.Sprintf("%s?w=%d %dw", p.Path, w, w))
	}
	return strings.Join(parts, ", ")
}

// File is one file that pages hand out.
type File struct{ ID, Name, Path string }

// Video is one video of the store's shelf.
type Video struct{ ID, Name, Path, Mime string }

// Mail is a message an order causes, as the thank-you page announces it.
type Mail struct {
	From    string
	Subject string
	Sent    bool
}

// Bought is one line of a placed order.
type Bought struct {
	Name     string
	Quantity int
	Price    money.Money
	Total    money.Money
	Via      offer.Via
	Gift     bool
	Download string // path of what can be downloaded, or ""
	Taken    string // how often it still can be, and until when; or why it cannot
}

// Order is the order that an upsell or a thank-you page is about.
type Order struct {
	Token  string
	Number int64
	Name   string
	Email  string
	Lines  []Bought
	Sums   []Row // between the goods and the total
	Total  money.Money
	Back   *money.Money // what of it went back; nil: nothing did
	PaidAt time.Time
	Mails  []Mail
	Awaits *Awaits // nil: it is paid
	Holds  Holding
	Told   *Told // what a mail of the order says; nil: it is shown on a page
}

// Told is what is computed of one mail of an order, whatever words stand around it.
type Told struct {
	Rows  []ToldRow // what was bought, and what it comes to
	Words []string  // what else must be said, a paragraph each
	Links []ToldRow // where it leads
}

// ToldRow is one row of it, or one link.
type ToldRow struct {
	Label, Value string
	Strong       bool
	Href         string // empty: none
}

// Holding is what an order holds. It can be several at once.
type Holding struct {
	Sent       bool // something goes by parcel
	Collected  bool // it is fetched
	Downloaded bool
	Booked     bool // there is a seat in it
}

// Awaits is how an order is to be paid that waits for it.
type Awaits struct {
	Way       order.Way
	Amount    money.Money
	Reference string    // that a transfer bears, in fours
	To        []string  // the account, or where and when it is fetched
	Until     time.Time // to which its goods are held
	Day       string    // of that, where the store is
}

// Transfer tells whether it is paid by a transfer.
func (a Awaits) Transfer() bool { return a.Way == order.ByTransfer }

// Visitor is what is known of whom a page is shown to, as far as deadlines and
// offers need it. The zero Visitor is somebody of whom nothing is known.
type Visitor struct {
	Zone      string               // IANA name; empty: not known
	FirstSeen map[string]time.Time // first sight of a deadline, by its ID
}

// Facts is everything a page may refer to, at the time it was read.
type Facts struct {
	Store     Store
	Products  map[string]goods.Product
	Offers    []offer.Offer
	Ends      map[string]string // which deadline is an offer's, by the offer's ID
	Bound     map[string]string // which deadline ends an offer, by the offer's ID
	Deadlines map[string]deadline.Deadline
	Pictures  map[string]Picture
	Shelves   map[string]Shelf
	Ledgers   map[string][]ledger.Entry // by product, oldest first
	Setting   ledger.Setting
	Tax       *tax.Table
	View      shelf.View // of the list that is shown in pages
	Collected bool       // what is ordered is fetched: nothing is sent, and no delivery paid for
	Shipping  *shipping.Table
	Floor     decimal.Decimal // least margin the store wants, in percent
	Visitor   Visitor
	Context   offer.Context
	Codes     []string // typed by the buyer
	Order     *Order
	Groups    map[string]Group
	Pages     map[string]Page      // that links lead to, by ID
	Menu      []Page               // to which the store's menus lead
	Legal     []Page               // to which its footers lead, beside privacy, terms and contact
	Described map[string]Described // what is said of goods, by their ID, where a page shows it
	Sold      map[string]Page      // the live page that sells one of the goods, by the goods' ID
	Booked    Page                 // a live page that gives appointments
	Files     map[string]File      // that links lead to
	Videos    map[string]Video
	Mailings  map[string]mailing.List       // that its forms put people on
	Slots     map[string][]appointment.Slot // free times by the minutes they take; a length that is missing: the book does not answer
}

// Described is what is said of one of the goods: its description, and its attributes in the
// order of their names.
type Described struct {
	Text string // copy with structure, or plain lines
	Has  []Has
}

// Has is an attribute as it is read.
type Has struct{ Label, Words string }

// Group is goods that a card leads to.
type Group struct {
	ID, Name, Address string // of the live page that shows them; empty: none does
	Picture           Picture
}

// Page is a page of the store as a link to it needs it.
type Page struct {
	ID, Name, Address string
	Live              bool // visitors find something there now
	Aside             bool // it was set aside, and goes out no more
}

// Shelf is goods shown together, as they stood when the facts were read.
type Shelf struct {
	ID, Name string
	Goods    []string  // IDs, in order
	List     *List     // the page of it that is looked at; nil: it is not shown in pages
	Named    []string  // of the goods that a page names those that its rule picks, shown or not
	Changes  time.Time // when it can change by itself; zero: never
}

// Deadline is a deadline as it stands for this visitor at a moment.
func (f Facts) Deadline(id string, moment time.Time) (deadline.Instance, bool) {
	d, ok := f.Deadlines[id]
	if !ok {
		return deadline.Instance{}, false
	}
	i, err := d.For(deadline.Visitor{Zone: f.Visitor.Zone, FirstSeen: f.Visitor.FirstSeen[id]}, moment)
	return i, err == nil
}

// Bind ends an offer by a deadline: a fixed one is its end, any other is
// resolved for the visitor when prices are computed.
func (f *Facts) Bind(o *offer.Offer, id string) {
	d, ok := f.Deadlines[id]
	if !ok {
		return
	}
	if f.Ends == nil {
		f.Ends = map[string]string{}
	}
	f.Ends[o.ID] = id
	if d.Kind == deadline.Fixed || d.Kind == "" {
		if o.Ends.IsZero() || d.At.Before(o.Ends) {
			o.Ends = d.At
		}
		if !o.Starts.IsZero() && !o.Starts.Before(o.Ends) {
			o.Windows = []offer.Window{{Ends: time.Unix(0, 0).UTC()}} // it never runs
		}
		return
	}
	if f.Bound == nil {
		f.Bound = map[string]string{}
	}
	f.Bound[o.ID] = id
}

// Quote prices a cart by these facts.
func (f Facts) Quote(cart []offer.Item, moment time.Time) (offer.Quote, error) {
	list := make([]goods.Product, 0, len(cart))
	listed := map[string]bool{}
	add := func(id string) {
		if p, ok := f.Products[id]; ok && !listed[id] {
			list, listed[id] = append(list, p), true
		}
	}
	for _, item := range cart {
		add(item.ProductID)
	}
	for _, o := range f.Offers {
		add(o.GiftID)
	}
	q, err := offer.Compute(offer.Input{
		Currency: f.Store.Currency, Zone: f.Store.Zone, Goods: list, Offers: f.offers(moment), Cart: cart, Moment: moment,
		Codes: f.Codes, Context: f.Context, Tax: f.Tax, Shipping: f.Shipping, Floor: f.Floor,
	})
	if f.Collected && err == nil {
		q.Shipping.Why = collected
	}
	return q, err
}

// collected is why no delivery is paid for what is fetched.
const collected = "collected"

// offers gives every offer that a deadline ends the window of that deadline,
// as it stands for this visitor at the moment.
func (f Facts) offers(moment time.Time) []offer.Offer {
	if len(f.Bound) == 0 {
		return f.Offers
	}
	out := slices.Clone(f.Offers)
	for i := range out {
		end, ok := f.Deadline(f.Bound[out[i].ID], moment)
		if !ok {
			continue
		}
		w := offer.Window{Starts: out[i].Starts, Ends: end.At}
		if end.Opens.After(w.Starts) {
			w.Starts = end.Opens
		}
		if early := out[i].Ends; !early.IsZero() && early.Before(w.Ends) {
			w.Ends = early // ended by hand
		}
		if !w.Starts.IsZero() && !w.Starts.Before(w.Ends) {
			w = offer.Window{Ends: time.Unix(0, 0)} // it never runs
		}
		out[i].Windows = []offer.Window{w}
	}
	return out
}

// Struck is the former price that may stand beside a price of one of the
// goods, and why.
func (f Facts) Struck(productID string, price money.Money, moment time.Time) ledger.Struck {
	p := f.Products[productID]
	s, err := ledger.Compute(ledger.Input{
		Currency: f.Store.Currency, Zone: f.Store.Zone, Entries: f.Ledgers[productID], Moment: moment, Price: &price.Minor,
		OnSale: p.Added, Perishable: p.Perishable, Setting: f.Setting,
	})
	if err != nil {
		return ledger.Struck{Price: price, Reason: "The price ledger cannot be read: " + err.Error() + "."}
	}
	return s
}

// PublicPrice is what everybody is asked for one unit of one of the goods, in
// minor units, by the offers at hand.
func (f Facts) PublicPrice(p goods.Product, moment time.Time) (int64, error) {
	p.Cost = nil
	q, err := offer.Compute(offer.Input{
		Currency: f.Store.Currency, Zone: f.Store.Zone, Goods: []goods.Product{p}, Offers: f.offers(moment),
		Cart: []offer.Item{{ProductID: p.ID, Quantity: 1, Via: offer.Page}}, Moment: moment,
	})
	if err != nil {
		return 0, err
	}
	return q.Goods.Minor, nil
}
