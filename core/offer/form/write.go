package form

import (
	"strconv"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/offer"
)

// Write fills the form from an offer: what would be typed for it. It is the
// inverse of [Read].
func Write(o offer.Offer, b Bound, zone string) Input {
	in := Input{
		ID: o.ID, Name: o.Name, Kind: string(o.Kind), Class: o.Class, Members: map[string]string{}, Covers: OnGoods, Goods: o.Products,
		ShelfID: b.ShelfID, DeadlineID: b.DeadlineID, Code: b.Code, NeedsCode: o.NeedsCode, Only: string(o.Only), FirstOrder: o.FirstOrder, NotReduced: o.NotReduced,
		Alone: o.Alone, Countries: strings.Join(o.Countries, ", "), Link: o.Link, Step: o.Step,
		MinQuantity: number(o.MinQuantity), MaxUses: number(o.MaxUses), MaxUsesEach: number(o.MaxUsesEach),
	}
	for _, m := range o.Kind.Members() {
		in.Members[m.Name] = m.Write(o)
	}
	switch {
	case b.ShelfID != "":
		in.Covers = OnShelf
	case o.General() && !o.Kind.OnParts():
		in.Covers = OnAll
	}
	if o.MinSubtotal.Minor > 0 {
		in.MinSubtotal = o.MinSubtotal.Plain()
	}
	if !o.Starts.IsZero() {
		if loc, err := time.LoadLocation(zone); err == nil {
			in.Starts = o.Starts.In(loc).Format(deadline.LocalLayout)
		}
	}
	return in
}

func number(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}
