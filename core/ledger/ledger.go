// Package ledger decides from the prices a variant has had which former price
// may be struck out beside the present one, and proves it.
package ledger

import (
	"errors"
	"fmt"
	"slices"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/money"
)

// Entry is one price that was asked of everybody, from a moment on.
type Entry struct {
	Since time.Time `json:"since"`
	Price int64     `json:"price"` // minor units
	// List is the list price at that time: where the price was below it, it was
	// a reduction. Left out, a price is a reduction when it is below the one
	// before it.
	List *int64 `json:"list,omitempty"`
	Why  string `json:"why,omitempty"` // what changed it
}

// Regime is the law whose former price is shown.
type Regime string

// The regimes.
const (
	// LowestOf30 is Directive 98/6/EC, Art. 6a, in the text of Directive (EU)
	// 2019/2161: the lowest price in the 30 days before the reduction.
	LowestOf30 Regime = "eu_lowest_of_30_days"
	// Former is 16 CFR 233.1: a price at which the goods were openly offered on
	// a regular basis, for a reasonably substantial time, recently.
	Former Regime = "us_former_price"
)

// Young says what is done with goods that have been on sale for less than 30
// days, which the directive leaves to the states (Art. 6a (4)).
type Young string

// What can be done with them.
const (
	YoungNone  Young = "none"        // no struck price
	YoungWhole Young = "since_start" // the lowest price since they went on sale
)

// Perishable says what is done with goods whose price falls because they will
// not keep (Art. 6a (3)).
type Perishable string

// What can be done with them.
const (
	PerishableSame Perishable = "same"   // as with all others
	PerishableNone Perishable = "none"   // no struck price
	PerishableLast Perishable = "before" // the price just before the reduction
)

// Setting is the store's choice.
type Setting struct {
	Regime     Regime     `json:"regime,omitempty"`      // eu_lowest_of_30_days when empty
	Young      Young      `json:"young,omitempty"`       // none when empty
	Perishable Perishable `json:"perishable,omitempty"`  // same when empty
	Days       int        `json:"days,omitempty"`        // us_former_price: days for which the former price was asked; 28 when 0
	RecentDays int        `json:"recent_days,omitempty"` // us_former_price: out of so many days before the reduction; 90 when 0
}

// Window is the length, in days, of the period that the directive looks at.
const Window = 30

// MaxEntries is how many entries one ledger may have.
const MaxEntries = 10_000

// Input is all that a struck price depends on.
type Input struct {
	Currency   string    `json:"currency"`
	Zone       string    `json:"zone,omitempty"` // in which days are counted; UTC when empty
	Entries    []Entry   `json:"entries"`
	Moment     time.Time `json:"moment"`
	Price      *int64    `json:"price,omitempty"`  // asked now, when it is not the ledger's, such as with a code
	OnSale     time.Time `json:"on_sale,omitzero"` // since when the goods are on sale; left out: since the first entry
	Perishable bool      `json:"perishable,omitempty"`
	Setting    Setting   `json:"setting,omitzero"`
}

// Struck is the former price that may be shown, or why there is none.
type Struck struct {
	Price         money.Money  `json:"price"`                 // asked now
	Struck        *money.Money `json:"struck"`                // null: none may be shown
	Saving        *money.Money `json:"saving,omitempty"`      // struck less price
	SavingPercent int          `json:"saving_percent"`        // of the struck price, rounded down
	Began         time.Time    `json:"began,omitzero"`        // when the reduction began; in a series of growing ones, the first
	From          time.Time    `json:"window_from,omitzero"`  // what was looked at: closed at its start
	Until         time.Time    `json:"window_until,omitzero"` // and open at its end
	Reason        string       `json:"reason"`                // in words
	ProvableFrom  time.Time    `json:"provable_from,omitzero"`
}

// Compute finds the former price that may be struck out.
//
// Under Directive 98/6/EC, Art. 6a it is the lowest price asked in the 30 days
// before the reduction began. In an unbroken series of growing reductions it is
// the one before the first (Art. 6a (5)), and percentages are computed from it
// (Court of Justice, C-330/23). The 30 days are closed at their start and open
// at their end: a price that ended in the instant they begin does not count.
func Compute(in Input) (Struck, error) {
	loc, err := in.check()
	if err != nil {
		return Struck{}, err
	}
	steps := in.steps()
	if len(steps) == 0 {
		s := Struck{Reason: "Nothing is recorded before this moment, so no former price can be proved."}
		if in.Price != nil {
			s.Price = money.Of(*in.Price, in.Currency)
		}
		return s, nil
	}
	now := steps[len(steps)-1]
	out := Struck{Price: money.Of(now.Price, in.Currency)}
	if !reduced(steps, len(steps)-1) {
		out.Reason = "The price is not reduced."
		return out, nil
	}
	first := seriesStart(steps)
	out.Began = steps[first].Since
	if first == 0 {
		out.Reason = "What was asked before the reduction is not recorded, so no former price can be proved."
		out.ProvableFrom = steps[0].Since.In(loc).AddDate(0, 0, Window).UTC()
		return out, nil
	}
	if in.Setting.Regime == Former {
		return in.former(out, steps, first, loc), nil
	}
	return in.lowest(out, steps, first, loc), nil
}

func (in Input) check() (*time.Location, error) {
	if _, err := money.Digits(in.Currency); err != nil {
		return nil, fmt.Errorf("currency: %w", err)
	}
	if in.Moment.IsZero() {
		return nil, errors.New("moment: missing; write it like 2026-11-27T23:59:00Z")
	}
	loc, err := time.LoadLocation(in.Zone)
	if err != nil || in.Zone == "Local" {
		return nil, fmt.Errorf("zone: %q is not a time zone; write it like Europe/Lisbon", in.Zone)
	}
	if len(in.Entries) > MaxEntries {
		return nil, fmt.Errorf("entries: more than %d", MaxEntries)
	}
	for i, e := range in.Entries {
		if e.Since.IsZero() {
			return nil, fmt.Errorf("entries[%d].since: missing", i)
		}
		if e.Price < 0 || e.Price > money.Limit || (e.List != nil && (*e.List < 0 || *e.List > money.Limit)) {
			return nil, fmt.Errorf("entries[%d].price: must be from 0 to %d minor units", i, money.Limit)
		}
		if i > 0 && !in.Entries[i-1].Since.Before(e.Since) {
			return nil, fmt.Errorf("entries[%d].since: must be later than the entry before it", i)
		}
	}
	if in.Price != nil && (*in.Price < 0 || *in.Price > money.Limit) {
		return nil, fmt.Errorf("price: must be from 0 to %d minor units", money.Limit)
	}
	return loc, in.Setting.Validate()
}

// Validate refuses a setting that is not known.
func (s Setting) Validate() error {
	switch {
	case !slices.Contains([]Regime{"", LowestOf30, Former}, s.Regime):
		return fmt.Errorf("setting.regime: %q; it must be %s or %s", s.Regime, LowestOf30, Former)
	case !slices.Contains([]Young{"", YoungNone, YoungWhole}, s.Young):
		return fmt.Errorf("setting.young: %q; it must be %s or %s", s.Young, YoungNone, YoungWhole)
	case !slices.Contains([]Perishable{"", PerishableSame, PerishableNone, PerishableLast}, s.Perishable):
		return fmt.Errorf("setting.perishable: %q; it must be %s, %s or %s", s.Perishable, PerishableSame, PerishableNone, PerishableLast)
	case s.Days < 0 || s.RecentDays < 0 || s.Days > 3660 || s.RecentDays > 3660:
		return errors.New("setting.days or recent_days: must be from 0 to 3660")
	}
	return nil
}

// steps are the entries up to the moment, equal neighbours joined, and the
// price asked now where that is a lower one.
func (in Input) steps() []Entry {
	var out []Entry
	for _, e := range in.Entries {
		if e.Since.After(in.Moment) {
			break
		}
		if n := len(out); n > 0 && out[n-1].Price == e.Price {
			// The price stood; what the list price became matters only where
			// it makes a price a reduction that was not one.
			if was := out[n-1].List; was != nil && e.List != nil && *was == e.Price && *e.List > e.Price {
				out = append(out, e)
			}
			continue
		}
		out = append(out, e)
	}
	if in.Price != nil && len(out) > 0 && *in.Price != out[len(out)-1].Price {
		last := out[len(out)-1]
		list := last.Price
		if last.List != nil {
			list = *last.List
		}
		out = append(out, Entry{Since: in.Moment, Price: *in.Price, List: &list})
		if last.List == nil {
			out[len(out)-1].List = nil
		}
	}
	return out
}

// reduced tells whether the price of a step was a reduction.
func reduced(steps []Entry, i int) bool {
	if steps[i].List != nil {
		return steps[i].Price < *steps[i].List
	}
	return i > 0 && steps[i].Price < steps[i-1].Price
}

// seriesStart is the first step of the unbroken series of growing reductions
// that the last step belongs to.
func seriesStart(steps []Entry) int {
	i := len(steps) - 1
	for i > 0 && reduced(steps, i-1) && steps[i-1].Price >= steps[i].Price {
		i--
	}
	return i
}

func (in Input) lowest(out Struck, steps []Entry, first int, loc *time.Location) Struck {
	out.From, out.Until = out.Began.In(loc).AddDate(0, 0, -Window).UTC(), out.Began
	begins := steps[0].Since
	if in.Perishable && in.Setting.Perishable == PerishableNone {
		out.Reason = "The goods will not keep, and the store shows no former price for such."
		return out
	}
	if in.Perishable && in.Setting.Perishable == PerishableLast {
		return out.strike(steps[first-1].Price, in.Currency, "The goods will not keep: the price just before the reduction.")
	}
	reason := fmt.Sprintf("The lowest price in the %d days before the reduction began on %s.", Window, deadline.Written(out.Began, in.Zone))
	if begins.After(out.From) {
		onSale := in.OnSale
		if onSale.IsZero() {
			onSale = begins
		}
		switch {
		case onSale.Before(begins):
			out.Reason = fmt.Sprintf("Prices are recorded only since %s, so the %d days before the reduction cannot be proved.", deadline.Written(begins, in.Zone), Window)
			out.ProvableFrom = begins.In(loc).AddDate(0, 0, Window).UTC()
			return out
		case in.Setting.Young != YoungWhole:
			out.Reason = fmt.Sprintf("The goods had been on sale for less than %d days when the reduction began, and the store shows no former price for such.", Window)
			out.ProvableFrom = begins.In(loc).AddDate(0, 0, Window).UTC()
			return out
		}
		reason = "The lowest price since the goods went on sale, less than 30 days before the reduction."
	}
	lowest := steps[first-1].Price
	for i := range first {
		if ends := steps[i+1].Since; ends.After(out.From) {
			lowest = min(lowest, steps[i].Price)
		}
	}
	return out.strike(lowest, in.Currency, reason)
}

// former follows 16 CFR 233.1 (a) and (b). The rule names no number of days;
// 28 of the last 90 are ours (common practice, no source).
func (in Input) former(out Struck, steps []Entry, first int, loc *time.Location) Struck {
	days, recent := in.Setting.Days, in.Setting.RecentDays
	if days == 0 {
		days = 28
	}
	if recent == 0 {
		recent = 90
	}
	out.From, out.Until = out.Began.In(loc).AddDate(0, 0, -recent).UTC(), out.Began
	price := steps[first-1].Price
	var asked time.Duration
	for i := range first {
		if steps[i].Price < price {
			continue // offered for less: not at this price
		}
		from, until := steps[i].Since, steps[i+1].Since
		if from.Before(out.From) {
			from = out.From
		}
		if until.After(from) {
			asked += until.Sub(from)
		}
	}
	if asked < time.Duration(days)*24*time.Hour {
		out.Reason = fmt.Sprintf("%s was asked for %d of the %d days before the reduction; the store wants %d to call it a former price.",
			money.Of(price, in.Currency), int(asked/(24*time.Hour)), recent, days)
		out.ProvableFrom = out.Began.Add(time.Duration(days)*24*time.Hour - asked)
		return out
	}
	return out.strike(price, in.Currency, fmt.Sprintf("The price asked before the reduction, for %d of the last %d days.", int(asked/(24*time.Hour)), recent))
}

func (s Struck) strike(price int64, currency, reason string) Struck {
	former := money.Of(price, currency)
	if price <= s.Price.Minor {
		s.Reason = fmt.Sprintf("The former price that may be shown is %s, which is not above today's.", former)
		return s
	}
	saving := money.Of(price-s.Price.Minor, currency)
	s.Struck, s.Saving, s.SavingPercent, s.Reason = &former, &saving, money.SavingPercent(former, s.Price), reason
	return s
}
