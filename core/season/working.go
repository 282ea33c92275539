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
	"AT": at.Holidays, "BE": be.Holidays, "BR": with(br.Holidays, since(2024, time.November, 20, "Dia da Consciência Negra")), "CA": ca.Holidays, "CH": ch.Holidays,
	"CZ": cz.Holidays, "DE": de.Holidays, "DK": dk.Holidays, "ES": es.Holidays, "FR": fr.Holidays, "GB": gb.Holidays,
	"GR": gr.Holidays, "HR": hr.Holidays, "IE": ie.Holidays, "IT": it.Holidays, "JP": jp.Holidays, "NL": nl.Holidays,
	"NO": no.Holidays, "NZ": nz.Holidays, "PL": with(pl.Holidays, since(2025, time.December, 24, "Wigilia Bożego Narodzenia")), "PT": portugal, "SE": se.Holidays, "US": us.Holidays, "ZA": za.Holidays,
}

// with adds what the library does not know yet: Brazil's Lei 14.759/2023 and
// Poland's law of 6 December 2024 (both from memory).
func with(list []*cal.Holiday, more *cal.Holiday) []*cal.Holiday {
	return append(slices.Clone(list), more)
}

func since(year int, m time.Month, day int, name string) *cal.Holiday {
	return &cal.Holiday{Name: name, Type: cal.ObservancePublic, StartYear: year, Month: m, Day: day, Func: cal.CalcDayOfMonth}
}

// whole are the holidays of a country of cantons that all of them keep.
var whole = map[string][]string{"CH": {"Neujahrstag", "Auffahrt", "Bundesfeiertag", "Weihnachtstag"}}

// inPart are holidays that are kept in a part of a country, or in some years,
// or by some only (common practice, no source; from memory).
var inPart = map[string]map[string]string{
	"NL": {"Bevrijdingsdag": "a day off in every fifth year (2025, 2030 …), and for some by agreement", "Goede Vrijdag": "a day off for some, by agreement"},
	"CA": {
		"Easter Monday": "kept by federal offices", "Civic/Provincial Day": "kept in some provinces only",
		"National Day for Truth and Reconciliation": "kept in some provinces only", "Remembrance Day": "kept in some provinces only",
	},
}

// partly says where or when a holiday is kept, if it does not close the whole
// country every year; else "".
func partly(country, name string) string {
	if all, parts := whole[country]; parts && !slices.Contains(all, name) {
		return "kept in some cantons only"
	}
	return inPart[country][name]
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
// public holidays. Those that only a part of it keeps close nothing.
func Calendar(country string) (*cal.BusinessCalendar, error) {
	list, ok := holidays[country]
	if !ok {
		return nil, unknown(country)
	}
	c := cal.NewBusinessCalendar()
	for _, h := range list {
		if partly(country, h.Name) == "" {
			c.AddHoliday(h)
		}
	}
	return c, nil
}

func unknown(country string) error {
	return fmt.Errorf("the holidays of %q are not known; known are %s", country, strings.Join(Countries(), ", "))
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
