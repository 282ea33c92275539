package offer

import (
	"chrysagon/core/money"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
)

// send prices the parcel and takes shipping offers off.
func (s *sheet) send(o *outcome, c choice) {
	o.sending = shipping.Cost{Price: money.Of(0, s.in.Currency), Why: "included"}
	if s.in.Shipping == nil {
		return
	}
	parcel := s.parcel
	parcel.Total = o.goods
	if parcel.Country == "" {
		if parcel.Goods {
			o.sending.Why = "not known before the country is"
		}
		return
	}
	cost, err := s.in.Shipping.Price(parcel, s.in.Currency)
	if err != nil {
		return // said by deliverable before anything is priced
	}
	o.sending, o.carry = cost, cost.Price.Minor
	best := cost.Price.Minor
	for _, group := range s.alternatives[Carry] {
		price := cost.Price.Minor
		var uses []use
		for _, p := range group {
			if !c.on[p.age] || s.sendRefused(p, o) != "" {
				continue
			}
			does := p.rule.order(p)
			if less := single(price, does); less < price {
				price = less
				uses = append(uses, use{p, does})
			}
		}
		if price < best || (price == best && len(uses) > 0 && len(uses) < len(o.carried)) {
			best, o.carried = price, uses
		}
	}
	o.carry = best
}

// sendRefused says why the goods as they came out keep an offer on shipping
// from holding, or "".
func (s *sheet) sendRefused(p *prepared, o *outcome) string {
	if sum, ok := p.reaches(o); !ok {
		return s.short(p, sum)
	}
	if p.NotReduced && p.meetsReduced(o) {
		return "It is not given where another offer has reduced some of its goods."
	}
	return ""
}

// taxOnTop is the tax that is not in the prices.
func (s *sheet) taxOnTop(o *outcome) int64 {
	if s.in.Tax == nil || s.in.Tax.Included {
		return 0
	}
	sum := int64(0)
	if s.steepest > 0 {
		for i, p := range o.parts {
			sum += tax.OnTop(p.minor()-o.off[i], s.lines[p.line].onTop)
		}
	}
	if s.shippingRate != nil && o.carry > 0 {
		sum += s.in.Tax.Of(money.Of(o.carry, s.in.Currency), *s.shippingRate).Minor
	}
	return sum
}

// addTax writes down the tax of every part after all reductions, rounded on it.
func (s *sheet) addTax(o *outcome) {
	if s.in.Tax == nil {
		return
	}
	o.lineTax = make([]taxed, len(o.parts))
	for i, p := range o.parts {
		t := s.taxOn(p, o.off[i])
		o.lineTax[i] = t
		if t.known {
			o.taxes = tax.Add(o.taxes, t.rate, money.Of(p.minor()-o.off[i], s.in.Currency), money.Of(t.part, s.in.Currency))
		}
	}
	if s.shippingRate != nil && o.carry > 0 {
		paid := money.Of(o.carry, s.in.Currency)
		o.taxes = tax.Add(o.taxes, *s.shippingRate, paid, s.in.Tax.Of(paid, *s.shippingRate))
	}
}

func (s *sheet) taxOn(p part, off int64) taxed {
	r := &s.lines[p.line]
	if !r.taxed {
		return taxed{}
	}
	return taxed{rate: r.rate, part: s.in.Tax.Of(money.Of(p.minor()-off, s.in.Currency), r.rate).Minor, known: true}
}

func (s *sheet) place() tax.Place {
	return tax.Place{Country: s.in.Context.Country, Region: s.in.Context.Region}
}
