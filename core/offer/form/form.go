// Package form is an offer as its owner types it: reading what the fields of the form say, and writing them for an offer that is kept.
package form

import (
	"errors"
	"strconv"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/refusal"
)

// What an offer is on, as it is chosen.
const (
	OnGoods = "goods"
	OnShelf = "shelf"
	OnAll   = "all"
)

// MaxName is how many characters an offer's name may have.
const MaxName = 80

// Input is an offer as it is typed. What a kind does not have is not looked at.
type Input struct {
	ID, Name, Kind, Class    string
	Members                  map[string]string // what the kind asks, by the name of the member
	Covers                   string            // one of the constants; empty: goods
	Goods                    []string
	ShelfID                  string
	Only, Starts, DeadlineID string // Starts as deadline.LocalLayout, in the store's zone
	MinQuantity, MinSubtotal string
	Code                     string // one code; empty: none, or those made in bulk
	NeedsCode                bool
	MaxUses, MaxUsesEach     string
	FirstOrder, NotReduced   bool
	Alone                    bool // it shares no unit with another offer
	Countries, Link, Step    string
}

// Bound is what an offer is bound to outside itself: whose rule and moment it
// follows.
type Bound struct{ ShelfID, DeadlineID, Code string }

// Known is what there is of what an offer being typed speaks of.
type Known struct {
	Currency, Zone string
	Products       map[string]goods.Product
	Shelves        map[string]bool
	Deadlines      map[string]time.Time // when they end; zero: not at one moment
	Steps          map[string]bool
}

// Named are the goods that an offer being typed names.
func (in Input) Named() []string {
	ids := append([]string{}, in.Goods...)
	for _, m := range offer.Kind(in.Kind).Members() {
		var o offer.Offer
		if m.Read(&o, in.Members[m.Name], "EUR") == "" {
			ids = append(ids, m.Goods(o)...)
		}
	}
	return ids
}

// Read reads an offer as it is typed. Its shelf and deadline are given by name,
// in [Bound]; what is wrong comes back by field, as sentences.
func Read(in Input, k Known) (offer.Offer, Bound, map[string]string) {
	r := reading{in: in, known: k, faults: map[string]string{}}
	r.offer = offer.Offer{ID: in.ID, Name: in.Name, Kind: offer.Kind(in.Kind), Class: strings.TrimSpace(in.Class)}
	r.offer.Alone = in.Alone && r.offer.Kind.StandsAlone()
	if in.Name == "" || len([]rune(in.Name)) > MaxName {
		r.wrong("name", "Give the offer a name of at most 80 characters.")
	}
	r.members()
	r.conditions()
	r.covers()
	if len(r.faults) > 0 {
		return r.offer, r.bound, r.faults
	}
	var f offer.Fault
	switch err := r.offer.Validate(k.Currency); {
	case errors.As(err, &f):
		r.wrong(f.Place, strings.ToUpper(f.Say[:1])+f.Say[1:]+".")
	case err != nil:
		r.wrong("kind", refusal.Sentence(err))
	}
	return r.offer, r.bound, r.faults
}

// reading is an offer that is being read.
type reading struct {
	in     Input
	known  Known
	offer  offer.Offer
	bound  Bound
	faults map[string]string
}

func (r *reading) wrong(field, say string) { r.faults[field] = say }

// members reads what the kind asks.
func (r *reading) members() {
	list := r.offer.Kind.Members()
	if list == nil {
		r.wrong("kind", "Choose what the offer does.")
	}
	for _, m := range list {
		if say := m.Read(&r.offer, r.in.Members[m.Name], r.known.Currency); say != "" {
			r.wrong(m.Name, say)
			continue
		}
		named := m.Goods(r.offer)
		if !r.there(named) || m.None() != "" && len(named) == 0 {
			r.wrong(m.Name, m.None())
		}
	}
}

// there tells whether there are all those goods.
func (r *reading) there(ids []string) bool {
	for _, id := range ids {
		if r.known.Products[id].Name == "" {
			return false
		}
	}
	return true
}

// covers reads what the offer is on.
func (r *reading) covers() {
	if r.offer.Kind.OnParts() {
		return
	}
	switch r.in.Covers {
	case OnAll:
	case OnShelf:
		if r.bound.ShelfID = r.in.ShelfID; !r.known.Shelves[r.in.ShelfID] {
			r.wrong("shelf", "Choose the shelf this offer is on.")
		}
	default:
		r.offer.Products = r.in.Goods
		if !r.there(r.in.Goods) {
			r.wrong("goods", "Choose goods from the list.")
		}
		if len(r.in.Goods) == 0 {
			r.wrong("goods", "Choose what the offer is on: some goods, a shelf, or everything.")
		}
	}
}

// whole reads a number of zero or more; empty is zero.
func (r *reading) whole(field, typed string) int {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return 0
	}
	n, err := strconv.Atoi(typed)
	if err != nil || n < 0 || n > 1_000_000 {
		r.wrong(field, "Write a whole number, or leave it empty.")
	}
	return n
}

// sum reads an amount, or nothing.
func (r *reading) sum(field, typed string) money.Money {
	if strings.TrimSpace(typed) == "" {
		return money.Money{}
	}
	m, err := money.Parse(typed, r.known.Currency)
	if err != nil {
		r.wrong(field, "Write an amount, such as "+money.Of(5000, r.known.Currency).Plain()+", or leave it empty.")
	}
	if m.Minor == 0 {
		return money.Money{}
	}
	return m
}
