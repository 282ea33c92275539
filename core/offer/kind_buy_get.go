package offer

import (
	"fmt"

	"github.com/shopspring/decimal"
)

// BuyGet is buy N, get M: the cheapest units of the basket.
const BuyGet Kind = "buy_get"

var buyGet = rule{
	kind:    BuyGet,
	label:   "gives the cheapest free: buy some, get some",
	members: []Member{buyMember, getMember, percentMember.or("percent off, empty for free")},
	level:   Group,
	check: func(o Offer, _ string) error {
		if o.Buy < 1 || o.Get < 1 || o.Buy+o.Get > MaxGroup {
			return fault("buy", "%d, and get %d; both must be at least 1, and together at most %d", o.Buy, o.Get, MaxGroup)
		}
		if o.Percent.IsZero() {
			return nil
		}
		return percentage("percent", o.Percent)
	},
	least: func(o Offer) int { return o.Buy + o.Get },
	says: func(o Offer) string {
		if o.Percent.IsZero() || o.Percent.Equal(decimal.NewFromInt(100)) {
			return fmt.Sprintf("buy %d, get %d free", o.Buy, o.Get)
		}
		return fmt.Sprintf("buy %d, get %d at %s%% off", o.Buy, o.Get, o.Percent)
	},
	each: func(o *prepared) change {
		if o.percent == 0 {
			return change{percent: hundred}
		}
		return change{percent: o.percent}
	},
	group: func(_ *sheet, o *prepared, pool []run) []claim {
		total := 0
		for _, r := range pool {
			total += r.units
		}
		groups := total / (o.Buy + o.Get)
		if groups == 0 {
			return nil
		}
		out := make([]claim, 0, len(pool)+1)
		free, paid := groups*o.Get, groups*o.Buy
		for _, r := range pool { // the cheapest first
			if n := min(free, r.units); n > 0 {
				out = append(out, claim{r.line, n, r.less})
				free -= n
				r.units -= n
			}
			if n := min(paid, r.units); n > 0 {
				out = append(out, claim{r.line, n, r.plain})
				paid -= n
			}
		}
		return out
	},
}
