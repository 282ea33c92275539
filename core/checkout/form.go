// Package checkout holds the rules of the form in which a buyer orders: what it asks and
// why, in which parts, and what may stand in it.
package checkout

import (
	"cmp"
	"slices"
	"strconv"

	"chrysagon/core/address"
)

// Asks is how a form asks for something.
type Asks string

// The ways to ask.
const (
	Absent Asks = "absent" // not at all
	Shown  Asks = "shown"  // whoever likes to, answers
	Needed Asks = "needed" // no order without it
)

// Block is a group of fields that stand together.
type Block string

// The blocks. Pay stands last.
const (
	Who   Block = "who"   // buys
	Where Block = "where" // it goes, and who pays
	More  Block = "more"  // a tax number, a note, questions
	Pay   Block = "pay"
)

// Blocks are all of them, in the order that a form has by itself.
var Blocks = []Block{Who, Where, More, Pay}

// MostParts is in how many parts a checkout can be.
const MostParts = 3

// MostQuestions is how many questions of their own a store can ask.
const MostQuestions = 8

// Form is what the owner of a checkout lets it ask, and in which parts. The zero Form
// asks for what a sale needs, in one part.
type Form struct {
	Parts int // 1 to [MostParts]; 0: one
	// Before is the order of the blocks before the payment; nil: that of [Blocks].
	// In more than one part who buys comes first whatever it says.
	Before []Block

	Name Asks // "": needed
	// Address is asked wherever something travels: no parcel goes without. Needed asks
	// for it in any sale.
	Address   Asks
	Phone     Asks
	Company   Asks
	Extra     Asks // a second line of the address
	Payer     Asks // an address of its own for whoever pays
	Tax       Asks // their tax number
	Note      Asks
	Questions []Question
	Consent   string // what a buyer may agree to with a tick, besides buying; "": nothing is asked
}

// Kind is what a question is answered with.
type Kind string

// The kinds of question.
const (
	Words  Kind = "words"
	Choice Kind = "choice"
	Tick   Kind = "tick"
)

// Question is one of the store's own.
type Question struct {
	Says    string
	Kind    Kind
	Options []string // of a choice
	Asks    Asks
}

// Sale is what a form is filled in for.
type Sale struct {
	Sent     bool   // something in it goes by parcel
	Sends    Sends  // to which countries
	Home     string // the store's own country, by its two letters
	Unmailed bool   // no mail goes out
}

// Sends tells whether the store sends to a country, by its two letters. Nil means
// everywhere.
type Sends func(code string) bool

// asks is how a form asks for something it is silent of.
func asks(set, silent Asks) Asks { return cmp.Or(set, silent) }

// PartOf is the part in which a block stands, of those that the form is set to, from 1.
func (f Form) PartOf(b Block) int {
	switch {
	case f.Parts <= 1 || b == Who:
		return 1
	case f.Parts == 2 || b != Pay:
		return 2
	}
	return 3
}

// Order is the order in which the blocks stand.
func (f Form) Order() []Block {
	order := []Block{}
	if f.Parts > 1 {
		order = append(order, Who)
	}
	for _, b := range slices.Concat(f.Before, Blocks[:3]) {
		if b != Pay && !slices.Contains(order, b) {
			order = append(order, b)
		}
	}
	return append(order, Pay)
}

// Part is one part of a form: what is asked in it, before the buttons that lead on and
// back.
type Part struct {
	Number int // from 1
	Title  string
	Blocks []Block
	Fields []Field
}

// Faults are those of the fields that stand in it.
func (p Part) Faults(faults map[string]string) map[string]string {
	mine := map[string]string{}
	for _, f := range p.Fields {
		if what := faults[f.Name]; what != "" {
			mine[f.Name] = what
		}
	}
	return mine
}

// Last tells whether it is the one in which one pays.
func (p Part) Last() bool { return slices.Contains(p.Blocks, Pay) }

// PartAt is the number of the part that a form names as its own, of so many: the first
// where it names none.
func PartAt(text string, parts int) int {
	n, err := strconv.Atoi(text)
	if err != nil {
		n = 1
	}
	return min(max(n, 1), max(parts, 1))
}

// titles are what parts are called by the first of their blocks.
var titles = map[Block]string{Who: "Who you are", Where: "Delivery", More: "A few questions", Pay: "Payment"}

// Split is the form in its parts: a part in which a sale asks nothing falls away.
func (f Form) Split(fields []Field) []Part {
	var parts []Part
	for n := 1; n <= max(f.Parts, 1); n++ {
		p := Part{Number: len(parts) + 1}
		for _, b := range f.Order() {
			if f.PartOf(b) != n {
				continue
			}
			at := len(p.Fields)
			for _, field := range fields {
				if field.Block == b {
					p.Fields = append(p.Fields, field)
				}
			}
			if len(p.Fields) > at || b == Pay {
				p.Blocks = append(p.Blocks, b)
			}
		}
		if len(p.Blocks) == 0 {
			continue
		}
		if p.Title = titles[p.Blocks[0]]; p.Last() && len(p.Blocks) > 1 {
			p.Title += " and payment"
		}
		parts = append(parts, p)
	}
	return parts
}

// Fields lists what a sale is asked, block by block in the order of the form. typed is
// what stands in it already: a country has the fields of its addresses, and a payer of
// their own those of theirs.
func (f Form) Fields(s Sale, typed map[string]string) []Field {
	of := map[Block][]Field{Who: f.who(s), Where: f.where(s, typed), More: f.more()}
	var out []Field
	for _, b := range f.Order() {
		out = append(out, of[b]...)
	}
	return out
}

func (f Form) who(s Sale) []Field {
	email := "Your confirmation goes here."
	if s.Unmailed {
		email = "So that the store can write to you."
	}
	phone := "If the carrier does not find you."
	if !s.Sent {
		phone = "If we have to ask something."
	}
	agrees := Absent
	if f.Consent != "" {
		agrees = Shown
	}
	return slices.Concat(
		field(asks(f.Name, Needed), Field{Name: "name", Label: "Your name", Why: "Goes on the order.", Autocomplete: "name", Type: "text", Most: 120}),
		field(Needed, Field{Name: "email", Label: "Email", Why: email, Autocomplete: "email", Type: "email", Mode: "email", Most: 254}),
		field(f.Phone, Field{Name: "phone", Label: "Phone", Why: phone, Autocomplete: "tel", Type: "tel", Mode: "tel", Most: 24}),
		field(f.Company, Field{Name: "company", Label: "Company", Why: "Stands on the invoice.", Autocomplete: "organization", Type: "text", Most: 120}),
		field(agrees, Field{Name: "consent", Label: f.Consent, Type: string(Tick)}), // kept with who they are, whether they pay or not
	)
}

func (f Form) where(s Sale, typed map[string]string) []Field {
	var out []Field
	if s.Sent || f.Address == Needed || f.Address == Shown {
		// In a sale that sends nothing, the country says which tax holds, and any will do.
		sends, why, goes := s.Sends, "Where the parcel goes.", "the parcel should go to"
		if !s.Sent {
			sends, why, goes = nil, "Stands on the invoice.", "that should stand on the invoice"
		}
		whole := Needed
		if !s.Sent && f.Address == Shown {
			whole = Shown
		}
		out = f.address("", "shipping", why, goes, s.Home, whole, sends, typed)
	}
	switch f.Payer {
	case Shown:
		out = append(out, Field{Block: Where, Name: "apart", Label: "The invoice goes to another address", Type: string(Tick), Asks: Shown, Opens: "payer"})
	case Needed:
	case Absent, "":
		return out
	}
	return append(out, f.payer(s, typed, f.Payer == Shown && typed["apart"] == "")...)
}

// payer are the fields of whoever pays. Those that are folded away are asked only once
// the buyer says that they are somebody else.
func (f Form) payer(s Sale, typed map[string]string, folded bool) []Field {
	fields := slices.Concat(
		field(Needed, Field{Name: "payer_name", Label: "Name on the invoice", Why: "Who pays.", Autocomplete: "billing name", Type: "text", Most: 120}),
		f.address("payer_", "billing", "Where the invoice goes.", "the invoice should go to", s.Home, Needed, nil, typed),
	)
	for i := range fields {
		fields[i].Block, fields[i].Apart = Where, true
		if folded {
			fields[i].Asks, fields[i].Folded = Shown, true
		}
	}
	return fields
}

// anyLand stands for a country that is not chosen yet: it has the fields that most have.
const anyLand = "ZZ"

// address are the fields of one address, the country first: it says which others there
// are.
func (f Form) address(before, autofill, why, goes, home string, whole Asks, sends Sends, typed map[string]string) []Field {
	var out []Field
	parcel := before == "" && (f.Address == "" || f.Address == Absent) // asked for a parcel's sake only
	var lands []string
	for _, l := range address.Lands(sends) {
		lands = append(lands, l.Name)
	}
	code := cmp.Or(address.Code(typed[before+string(address.Country)]), home)
	first := address.NameOf(code)
	if !slices.Contains(lands, first) {
		code, first = anyLand, ""
	}
	out = append(out, Field{
		Name: before + string(address.Country), Label: "Country", Why: why, Autocomplete: autofill + " country-name", Type: string(Choice),
		Asks: whole, Most: 60, Options: lands, First: first, goes: goes, Of: before, Redraws: true, Parcel: parcel,
	})
	for _, a := range address.Of(code).Fields {
		if a.Name == address.Extra && (f.Extra == "" || f.Extra == Absent) {
			continue
		}
		one := Field{
			Name: before + string(a.Name), Label: a.Label, Autocomplete: autofill + " " + a.Autocomplete, Type: "text", Asks: whole, Most: a.Most,
			Options: a.Options, goes: goes, Of: before, Parcel: parcel, in: code,
		}
		if a.Autocomplete == "off" {
			one.Autocomplete = "off"
		}
		if !a.Needed {
			one.Asks = Shown
		}
		if a.Name == address.Extra && f.Extra == Needed {
			one.Asks = whole
		}
		if len(a.Options) > 0 {
			one.Type = string(Choice)
		}
		if a.Digits {
			one.Mode = "numeric"
		}
		out = append(out, one)
	}
	for i := range out {
		out[i].Block = Where
	}
	return out
}

func (f Form) more() []Field {
	out := slices.Concat(
		field(f.Tax, Field{Block: More, Name: "tax", Label: "Tax number", Why: "Stands on the invoice.", Autocomplete: "off", Type: "text", Most: 40}),
		field(f.Note, Field{Block: More, Name: "note", Label: "Note to the store", Why: "What we should know of this order.", Autocomplete: "off", Type: "text", Most: 1000, Long: true}),
	)
	for i, q := range f.Questions {
		one := Field{Block: More, Name: "q" + strconv.Itoa(i+1), Label: q.Says, Autocomplete: "off", Type: "text", Most: 400}
		if q.Kind == Choice || q.Kind == Tick {
			one.Type = string(q.Kind)
		}
		if q.Kind == Choice {
			one.Options = q.Options
		}
		out = append(out, field(asks(q.Asks, Shown), one)...)
	}
	return out
}

// field is a field in a list of one, or none where it is not asked.
func field(a Asks, f Field) []Field {
	if a == Absent || a == "" {
		return nil
	}
	f.Asks = a
	f.Block = cmp.Or(f.Block, Who)
	return []Field{f}
}
