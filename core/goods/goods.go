// Package goods describes what a store sells: products, their variants and
// what is known of them.
package goods

import (
	"time"

	"chrysagon/core/money"
)

// Path begins the addresses of goods on the shopfront.
const Path = "goods/"

// Form says how a product reaches its buyer.
type Form string

// The forms a product can have.
const (
	Physical Form = "physical" // sent by parcel
	Digital  Form = "digital"  // a file to download
	Bookable Form = "bookable" // a place at an hour
)

// Forms lists all forms.
var Forms = []Form{Physical, Digital, Bookable}

// Condition says whether a variant was used before.
type Condition string

// The conditions.
const (
	New      Condition = "new"
	Returned Condition = "returned"
	ExDemo   Condition = "ex-demo"
)

// Conditions lists all conditions.
var Conditions = []Condition{New, Returned, ExDemo}

// Product is one thing that can be bought: a variant, with what it has from
// its product.
type Product struct {
	ID         string           `json:"id"`                   // of the variant
	ProductID  string           `json:"product_id,omitempty"` // what several variants have in common; the ID when empty
	SKU        string           `json:"sku,omitempty"`
	Name       string           `json:"name,omitempty"`
	Price      money.Money      `json:"price"`           // list price of one unit
	Cost       *money.Money     `json:"cost,omitempty"`  // what one unit costs the store; none: not known
	Stock      int              `json:"stock,omitempty"` // units that may still be sold, those reserved left out
	Form       Form             `json:"form,omitempty"`  // physical when empty
	Category   string           `json:"category,omitempty"`
	Tags       []string         `json:"tags,omitempty"`
	Condition  Condition        `json:"condition,omitempty"` // new when empty
	Attributes map[string]Value `json:"attributes,omitempty"`
	Weight     int              `json:"weight_grams,omitempty" jsonschema:"minimum=0,maximum=100000000"` // of one unit, packed
	TaxClass   string           `json:"tax_class,omitempty"`                                             // "standard" when empty
	Perishable bool             `json:"perishable,omitempty"`                                            // its price may fall because it will not keep
	Received   time.Time        `json:"received,omitzero"`                                               // since when it lies in stock; none: not known
	Added      time.Time        `json:"added,omitzero"`                                                  // since when the store lists it
	PictureID  string           `json:"picture_id,omitempty"`
	Archived   bool             `json:"archived,omitempty"` // it is not sold any more
}

// SoldOut tells whether nothing is left to sell. Digital goods do not run out.
func (p Product) SoldOut() bool { return p.Archived || (p.Form != Digital && p.Stock <= 0) }

// Has tells whether so many pieces of it can be sold. Digital goods do not run out.
func (p Product) Has(pieces int) bool { return !p.Archived && (p.Form == Digital || p.Stock >= pieces) }

// Sent tells whether it travels by parcel.
func (p Product) Sent() bool { return p.Form == Physical || p.Form == "" }

// State is its condition, new unless it says otherwise.
func (p Product) State() Condition {
	if p.Condition == "" {
		return New
	}
	return p.Condition
}

// Class is its tax class, standard unless it says otherwise.
func (p Product) Class() string {
	if p.TaxClass == "" {
		return StandardClass
	}
	return p.TaxClass
}

// StandardClass is the tax class of what names none.
const StandardClass = "standard"

// DaysSince counts the midnights of a zone between two moments: 0 on the same
// day, 1 on the next. Nothing is known of a zero moment: ok is false.
func DaysSince(from, moment time.Time, zone *time.Location) (days int, ok bool) {
	if from.IsZero() {
		return 0, false
	}
	return int(day(moment, zone).Sub(day(from, zone)) / (24 * time.Hour)), true
}

// NextDay is the first instant of the next day of a zone after a moment: when
// day counts change. Where clocks skip midnight, or a whole day, it is the instant
// of that change, so it is looked for by the dates and not made of one.
func NextDay(moment time.Time, zone *time.Location) time.Time {
	today := day(moment, zone)
	early, late := moment, moment.Add(48*time.Hour) // no day is that long
	for late.Sub(early) > 1 {
		between := early.Add(late.Sub(early) / 2)
		if day(between, zone).After(today) {
			late = between
		} else {
			early = between
		}
	}
	return late.UTC()
}

func day(at time.Time, zone *time.Location) time.Time {
	y, m, d := at.In(zone).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}
