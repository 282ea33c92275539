package factbook

import (
	"encoding/json"
	"slices"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/order"
	"chrysagon/core/own"
	"chrysagon/core/style"
	"chrysagon/store"
)

// StoreFacts is the store as pages show it.
func (reader *Reader) StoreFacts(s store.Shop) facts.Store {
	can := func(w order.Way) bool {
		return reader.Ports.Payments != nil && slices.Contains(reader.Ports.Payments.Ways(), w)
	}
	return facts.Store{
		Ways: facts.Ways{
			Account: can(order.ByAccount), Transfer: s.TransferTo, TransferDays: s.TransferDays, Collect: s.CollectAt, CollectDays: s.CollectDays,
		},
		Icon: Deref(s.IconID), Unpaid: !can(order.ByCard), Unmailed: reader.Ports.Post == nil, Country: s.Country,
		House: HouseOf(s.House), Own: OwnOf(s.Own),
		Name: s.Name, Currency: s.Currency, Zone: s.Zone, Grace: time.Duration(s.GraceSeconds) * time.Second,
		LegalName: s.LegalName, LegalAddress: s.LegalAddress, ContactEmail: s.ContactEmail, Phone: s.Phone,
		Menu: LinksOf(s.Menu), Foot: LinksOf(s.Foot),
	}
}

// LinksOf reads a stored menu.
func LinksOf(raw store.JSON) []facts.Link {
	var out []facts.Link
	_ = json.Unmarshal(raw, &out)
	return out
}

// HouseOf reads a stored house. What cannot be read is as the program ships it:
// nothing that was not valid is ever stored.
func HouseOf(raw store.JSON) style.House {
	var h style.House
	_ = json.Unmarshal(raw, &h)
	return h
}

// OwnOf reads stored own code; nothing that was not valid is ever stored.
func OwnOf(raw store.JSON) own.Code {
	var c own.Code
	_ = json.Unmarshal(raw, &c)
	return c
}
