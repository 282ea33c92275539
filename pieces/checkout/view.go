package checkout

import (
	"html/template"
	"slices"
	"strconv"

	rules "chrysagon/core/checkout"
	"chrysagon/core/facts"
	"chrysagon/core/mailing"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/words"
	"chrysagon/pieces"
)

// field is a field of the form with what stands in it.
type field struct {
	rules.Field
	Value, Error string
	Meant        string // the address that was probably meant
	Ticked       bool
}

// Autofill is its autocomplete attribute.
func (f field) Autofill() string { return pieces.Or(f.Autocomplete, "off") }

// part is a part of the form as it is drawn.
type part struct {
	rules.Part
	Blocks  []block
	Current bool
	First   bool
}

// block is fields that stand together.
type block struct {
	Name   rules.Block
	Fields []field
}

// Of tells whether a block is one of a name.
func (b block) Of(name string) bool { return string(b.Name) == name }

// Apart are the fields of whoever pays, beside the others of the block.
func (b block) Apart() []field {
	return slices.DeleteFunc(slices.Clone(b.Fields), func(f field) bool { return !f.Apart })
}

// Plain are the fields of the block but those of whoever pays.
func (b block) Plain() []field {
	return slices.DeleteFunc(slices.Clone(b.Fields), func(f field) bool { return f.Apart })
}

// choice is an option of what is bought, as it is drawn.
type choice struct {
	Option
	Number  int
	Price   facts.Shown
	Chosen  bool
	Picture *facts.Picture
}

// Former is what it cost before, where that is proved; nil: nothing is saved.
func (c choice) Former() *money.Money {
	if c.Price.Saved.Minor <= 0 {
		return nil
	}
	was := money.Of(c.Price.Subtotal.Minor+c.Price.Saved.Minor, c.Price.Subtotal.Currency)
	return &was
}

// bump is an order bump as it is drawn.
type bump struct {
	Bump
	Line     facts.ShownLine
	Ticked   bool
	Total    string // with it, for readers without script
	Delivery string // what it brings beside its price
}

type link struct {
	Words string
	Href  template.URL
}

// Shown is a checkout as it is drawn.
type Shown struct {
	Sale
	Address, Till, Button, Seen, Above, Guarantee string
	Parts                                         []part
	At                                            int // number of the part at hand
	Choices                                       []choice
	Quantity                                      int
	Bumps                                         []bump
	Totals                                        facts.Shown
	Empty                                         bool              // nothing is put in yet
	Standing                                      map[string]string // what stands chosen, by field
	Code, Link, CodeSay                           string
	AskCode, CodeGood                             bool
	Proof                                         bool
	Sent                                          bool // something in the cart as it stands travels
	Summary                                       string
	Links                                         []link
	Legal                                         bool
	Notice, Again                                 string
	Collected                                     bool  // it is fetched, as the form stands
	Pay                                           []way // where there is more than one
}

// Open tells whether the checkout that is shown takes orders.
func (s Shown) Open() bool { return s.Closed == "" }

// Pieces is how many pieces stand in the order.
func (s Shown) Pieces() int {
	n := 0
	for _, l := range s.Totals.Lines {
		n += l.Quantity
	}
	return n
}

// ByCard tells whether it can be paid by card.
func (s Shown) ByCard() bool { return slices.Contains(s.Ways, order.ByCard) }

// Several tells whether it is in more than one part.
func (s Shown) Several() bool { return len(s.Parts) > 1 }

// Kept says what is kept on Next, in the words of what is asked in the first part.
func (s Shown) Kept() string {
	called := map[string]string{"name": "name", "email": "email address", "phone": "phone number", "company": "company", "street": "address", "tax": "tax number", "note": "note"}
	var said []string
	for _, f := range s.Parts[0].Fields {
		if word := called[f.Name]; word != "" {
			said = append(said, word)
		}
	}
	return "Next keeps your " + words.And(said...) + " with us, so that you can go on later from here. Nothing is charged yet."
}

func view(c *pieces.Context, p m.Piece) any {
	if s, ok := Draw(c, p); ok {
		return s
	}
	return nil
}

// Draw computes what a checkout shows, and signs it. ok is false while it sells nothing,
// or nothing that can be priced.
func Draw(c *pieces.Context, p m.Piece) (shown Shown, ok bool) {
	sale, ok := Resolve(c, p)
	if !ok {
		return Shown{}, false
	}
	typed := c.Form.Values
	s := Shown{
		Sale: sale, Address: c.Place.Address, Till: c.Place.Till, Proof: c.Proof,
		Button: pieces.Or(p.Fields.Text("button"), "Order and pay"), Above: p.Fields.Text("above"), Guarantee: p.Fields.Text("guarantee"),
		Summary: pieces.Or(p.Fields.Text("summary"), "beside"), Legal: p.Fields.Text("legal") == "yes", Notice: c.Form.Notice, Again: c.Form.Again,
	}
	for _, item := range p.Fields.List("links") {
		if href, leads := c.Href(item.Text("target")); leads && item.Text("target") != "" && item.Text("words") != "" {
			s.Links = append(s.Links, link{item.Text("words"), href})
		}
	}
	if sale.Closed != "" {
		return s, true
	}
	chosen, _ := sale.Read(typed)
	s.Quantity, s.Standing = chosen.Quantity, sale.Stands(chosen)
	cart := sale.Cart(chosen)
	s.Empty = len(cart) == 0
	var err error
	if s.Totals, err = c.Show(cart...); err != nil {
		return Shown{}, false
	}
	s.Collected = c.Facts.Collected
	if len(sale.Ways) > 1 || chosen.Way != order.ByCard {
		s.drawWays(c, chosen)
	}
	if !s.drawChoices(c, chosen) || !s.drawBumps(c, chosen) {
		return Shown{}, false
	}
	s.Code, s.Link = typed["code"], c.Facts.Context.Link
	for _, answer := range s.Totals.Codes {
		s.CodeSay, s.CodeGood = answer.Say, answer.Applied
	}
	for _, o := range c.Facts.Offers {
		s.AskCode = s.AskCode || (o.NeedsCode && p.Fields.Text("codes") != "none")
	}
	s.Seen = c.Seal(c, sale.Carts(chosen)...)
	s.Sent = Travels(c.Facts, s.Totals.Quote)
	s.drawParts(c, typed, chosen)
	return s, true
}

// Where is the block of the form in which it says where it goes; false: none is asked.
func (s Shown) Where() (any, bool) {
	for _, p := range s.Parts {
		for _, b := range p.Blocks {
			if b.Name == rules.Where {
				return b, true
			}
		}
	}
	return nil, false
}

// drawChoices prices what can be chosen.
func (s *Shown) drawChoices(c *pieces.Context, chosen Chosen) bool {
	if len(s.Options) < 2 {
		return true
	}
	for i, o := range s.Options {
		at := chosen.With()
		at.Option = i
		q, err := c.Show(s.Cart(at)...)
		if err != nil {
			return false
		}
		one := choice{Option: o, Number: i + 1, Price: q, Chosen: i == chosen.Option}
		if pic, ok := c.Facts.Pictures[o.Product.PictureID]; ok {
			one.Picture = &pic
		}
		s.Choices = append(s.Choices, one)
	}
	return true
}

// drawBumps prices each order bump beside the others that are ticked.
func (s *Shown) drawBumps(c *pieces.Context, chosen Chosen) bool {
	if s.Empty {
		return true
	}
	for _, b := range s.Sale.Bumps {
		if !b.beside(chosen.Puts) {
			continue
		}
		others := slices.DeleteFunc(slices.Clone(chosen.Bumps), func(n int) bool { return n == b.Number })
		without, err := c.Show(s.Cart(chosen.With(others...))...)
		if err != nil {
			return false
		}
		with, err := c.Show(s.Cart(chosen.With(append(others, b.Number)...))...)
		if err != nil {
			return false
		}
		at := slices.IndexFunc(with.Lines, func(l facts.ShownLine) bool { return l.Via == offer.Bump && l.ProductID == b.Product.ID })
		if at < 0 {
			continue
		}
		s.Bumps = append(s.Bumps, bump{Bump: b, Line: with.Lines[at], Ticked: chosen.Took(b.Number), Total: with.Total.String(), Delivery: delivery(c, without, with)})
	}
	return true
}

// delivery says what an order bump brings beside its price: the delivery that is
// not paid without it, or "".
func delivery(c *pieces.Context, without, with facts.Shown) string {
	if Travels(c.Facts, without.Quote) || !Travels(c.Facts, with.Quote) {
		return ""
	}
	if more := with.Shipping.Total.Minor - without.Shipping.Total.Minor; more > 0 {
		return "Delivery of " + with.Shipping.Total.String() + " comes on top, and the parcel needs an address."
	}
	return "It comes by parcel, which needs an address."
}

// drawParts lays the fields out in their parts. Without script nobody can ask for an
// address once a choice brings a parcel, so it is asked wherever one could.
func (s *Shown) drawParts(c *pieces.Context, typed map[string]string, chosen Chosen) {
	may := s.MayTravel(c, chosen)
	parts := s.Form.Split(s.Form.Fields(For(c.Facts, may), typed))
	s.At = rules.PartAt(typed["part"], len(parts))
	for _, p := range parts {
		one := part{Part: p, Current: p.Number == s.At, First: p.Number == 1}
		for _, name := range p.Blocks {
			b := block{Name: name}
			for _, f := range p.Fields {
				if f.Block == name {
					b.Fields = append(b.Fields, s.filled(f, typed, c.Form.Errors, may))
				}
			}
			one.Blocks = append(one.Blocks, b)
		}
		s.Parts = append(s.Parts, one)
	}
}

// filled is a field with what stands in it. What may yet be asked says when.
func (s *Shown) filled(f rules.Field, typed, errors map[string]string, may bool) field {
	out := field{Field: f, Value: typed[f.Name], Error: errors[f.Name]}
	if out.Value == "" && f.Choice() {
		out.Value = f.First
	}
	if f.Name == "email" {
		out.Meant = mailing.Meant(out.Value)
	}
	out.Ticked = f.Tick() && out.Value != ""
	if f.Name == "street" && may && !s.Sent {
		out.Why = "Only if you add what comes by parcel: where it goes."
		if s.Collected {
			out.Why = "Only if you have it sent instead: where it goes."
		}
	}
	return out
}

func tell(c *pieces.Context, p m.Piece) pieces.Telling {
	sale, ok := Resolve(c, p)
	if !ok {
		return pieces.Lack("cash-register", "Checkout", "needs a product to sell")
	}
	t := pieces.Say("cash-register", "Checkout", " sells ")
	add := func(text string, strong bool) { t.Parts = append(t.Parts, pieces.Part{Text: text, Strong: strong}) }
	if len(sale.Options) > 0 {
		add(sale.Options[0].Name(), true)
	}
	if more := len(sale.Options) - 1; more > 0 {
		add(" or "+strconv.Itoa(more)+" more", false)
	}
	if sale.Filled {
		if len(sale.Options) > 0 {
			add(", with ", false)
		}
		add("what is put in", true)
		add(" from the page’s lists, "+words.Count(len(sale.Listed), "product")+" now", false)
	}
	if sale.Closed != "" {
		add(" — "+sale.Closed, false)
		t.Trouble = true
		return t
	}
	chosen, _ := sale.Read(nil)
	if q, err := c.Quote(sale.Cart(chosen)...); err == nil && len(q.Lines) > 0 {
		add(" for ", false)
		add(q.Total.String(), true)
	}
	for i, b := range sale.Bumps {
		add([]string{"; bump ", ", "}[min(i, 1)], false)
		add(b.Product.Name, true)
	}
	if sale.Form.Parts > 1 {
		add("; in "+[]string{"two", "three"}[sale.Form.Parts-2]+" parts", false)
	}
	if l, has := c.Facts.Mailings[sale.List]; has {
		add("; puts who agrees on the list “"+l.Name+"”", false)
	}
	if d, has := c.Deadline(p.Fields.Text("deadline")); has && p.Fields.Text("after") == "close" {
		add("; closes "+d.Short(), false)
	}
	return t
}
