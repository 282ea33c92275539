package season

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/at"
	"github.com/rickar/cal/v2/be"
	"github.com/rickar/cal/v2/br"
	"github.com/rickar/cal/v2/ca"
	"github.com/rickar/cal/v2/ch"
	"github.com/rickar/cal/v2/cz"
	"github.com/rickar/cal/v2/de"
	"github.com/rickar/cal/v2/dk"
	"github.com/rickar/cal/v2/es"
	"github.com/rickar/cal/v2/fr"
	"github.com/rickar/cal/v2/gb"
	"github.com/rickar/cal/v2/gr"
	"github.com/rickar/cal/v2/hr"
	"github.com/rickar/cal/v2/ie"
	"github.com/rickar/cal/v2/it"
	"github.com/rickar/cal/v2/jp"
	"github.com/rickar/cal/v2/nl"
	"github.com/rickar/cal/v2/no"
	"github.com/rickar/cal/v2/nz"
	"github.com/rickar/cal/v2/pl"
	"github.com/rickar/cal/v2/se"
	"github.com/rickar/cal/v2/us"
	"github.com/rickar/cal/v2/za"
)

var holidays = map[string][]*cal.Holiday{
	"AT": at.Holidays, "BE": be.Holidays, "BR": br.Holidays, "CA": ca.Holidays, "CH": ch.Holidays,
	"CZ": cz.Holidays, "DE": de.Holidays, "DK": dk.Holidays, "ES": es.Holidays, "FR": fr.Holidays, "GB": gb.Holidays,
	"GR": gr.Holidays, "HR": hr.Holidays, "IE": ie.Holidays, "IT": it.Holidays, "JP": jp.Holidays, "NL": nl.Holidays,
	"NO": no.Holidays, "NZ": nz.Holidays, "PL": pl.Holidays, "PT": portugal, "SE": se.Holidays, "US": us.Holidays, "ZA": za.Holidays,
}

// Countries lists those whose holidays are known, sorted.
func Countries() []string {
	var list []string
	for c := range holidays {
		list = append(list, c)
	}
	slices.Sort(list)
	return list
}

// Calendar has the working days of a country: Monday to Friday but for its
// public holidays.
func Calendar(country string) (*cal.BusinessCalendar, error) {
	list, ok := holidays[country]
	if !ok {
		return nil, fmt.Errorf("the holidays of %q are not known; known are %s", country, strings.Join(Countries(), ", "))
	}
	c := cal.NewBusinessCalendar()
	c.AddHoliday(list...)
	return c, nil
}

// LastOrder asks until which day an order still arrives.
type LastOrder struct {
	Name     string `json:"name,omitempty"`
	ArriveBy Moment `json:"arrive_by"`
	Handling int    `json:"handling"` // working days until the parcel is handed over, at the store
	Transit  int    `json:"transit"`  // working days on its way, where it goes
	From     string `json:"from"`     // country of the store
	To       string `json:"to"`       // country of the buyer
}

// Arrival is the day an order's parcel arrives, and the last day on which one
// can be placed.
type Arrival struct {
	Name     string `json:"name,omitempty"`
	Ordered  string `json:"last_order_day"`
	Handed   string `json:"handed_over"`
	Arrives  string `json:"arrives"`
	ArriveBy string `json:"arrive_by"`
}

// MaxWorkingDays bounds handling and transit.
const MaxWorkingDays = 90

// step goes n working days on from a day. Zero days stay on a working day and
// go to the next one from any other.
func step(c *cal.BusinessCalendar, from time.Time, n int) time.Time {
	for !c.IsWorkday(from) && n == 0 {
		from = from.AddDate(0, 0, 1)
	}
	for ; n > 0; n-- {
		from = from.AddDate(0, 0, 1)
		for !c.IsWorkday(from) {
			from = from.AddDate(0, 0, 1)
		}
	}
	return from
}

// Compute finds the last day on which an order may be placed so that handling
// and transit, in working days with holidays left out, end by the day wanted.
// Handling counts the working days after the day of the order, at the store;
// transit those after the handing over, where the parcel goes.
func (l LastOrder) Compute(year int, countries []string) (Arrival, error) {
	if l.Handling < 0 || l.Transit < 0 || l.Handling > MaxWorkingDays || l.Transit > MaxWorkingDays {
		return Arrival{}, fmt.Errorf("handling or transit: must be from 0 to %d working days", MaxWorkingDays)
	}
	by, err := l.ArriveBy.Resolve(year, countries)
	if err != nil {
		return Arrival{}, fmt.Errorf("arrive_by: %w", err)
	}
	store, err := Calendar(l.From)
	if err != nil {
		return Arrival{}, fmt.Errorf("from: %w", err)
	}
	there, err := Calendar(l.To)
	if err != nil {
		return Arrival{}, fmt.Errorf("to: %w", err)
	}
	for day := by; by.Sub(day) < 2*366*24*time.Hour; day = day.AddDate(0, 0, -1) {
		handed := step(store, day, l.Handling)
		arrives := step(there, handed, l.Transit)
		if !arrives.After(by) {
			return Arrival{
				Name: l.Name, Ordered: day.Format(time.DateOnly), Handed: handed.Format(time.DateOnly),
				Arrives: arrives.Format(time.DateOnly), ArriveBy: by.Format(time.DateOnly),
			}, nil
		}
	}
	return Arrival{}, errors.New("no day of the two years before is early enough")
}
