// Package season knows the days of the retail year, movable ones too, and
// computes from them when campaigns run, where they clash, and until when an
// order still arrives.
package season

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/aa"
)

// Day is one day of the retail year.
type Day struct {
	ID        string   `json:"id"`
	Name      string   `json:"name"`
	Date      string   `json:"date"`                // 2026-11-27
	Countries []string `json:"countries,omitempty"` // where it is kept; none: everywhere
	Holiday   bool     `json:"holiday,omitempty"`   // a public holiday, from the calendar of the country
	Partly    string   `json:"partly,omitempty"`    // where or when it is kept, if not in the whole country and every year: it closes nothing
}

// rule says on which date of a year a day falls.
type rule struct {
	id, name  string
	countries string // two letters each; empty: everywhere
	date      func(year int) time.Time
}

func fixed(m time.Month, d int) func(int) time.Time {
	return func(y int) time.Time { return date(y, m, d) }
}

// nth is the nth weekday of a month; negative n counts from its end.
func nth(m time.Month, w time.Weekday, n int) func(int) time.Time {
	return func(y int) time.Time {
		at := cal.WeekdayN(y, m, w, n)
		return date(at.Year(), at.Month(), at.Day())
	}
}

func easter(offset int) func(int) time.Time {
	return func(y int) time.Time { return Easter(y).AddDate(0, 0, offset) }
}

// orthodox is Easter as the eastern churches keep it, by the Julian calendar.
func orthodox(offset int) func(int) time.Time {
	return func(y int) time.Time {
		at := cal.CalcEasterOffset(&cal.Holiday{Julian: true, Offset: offset}, y)
		return date(at.Year(), at.Month(), at.Day())
	}
}

// after shifts another day.
func after(of func(int) time.Time, days int) func(int) time.Time {
	return func(y int) time.Time { return of(y).AddDate(0, 0, days) }
}

func date(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 0, 0, 0, 0, time.UTC) }

// Easter is Easter Sunday of the Gregorian calendar.
func Easter(year int) time.Time {
	at := cal.CalcEasterOffset(&cal.Holiday{}, year)
	return date(at.Year(), at.Month(), at.Day())
}

// advent is the nth of the four Sundays before Christmas Day.
func advent(n int) func(int) time.Time {
	return func(y int) time.Time {
		eve := date(y, time.December, 24)
		return eve.AddDate(0, 0, -int(eve.Weekday())-7*(4-n))
	}
}

var thanksgiving = nth(time.November, time.Thursday, 4)

// frenchMothers is the last Sunday of May, or the first of June when that is
// Pentecost (Code de l'action sociale et des familles, D215-1; from memory).
func frenchMothers(y int) time.Time {
	last := nth(time.May, time.Sunday, -1)(y)
	if last.Equal(Easter(y).AddDate(0, 0, 49)) {
		return nth(time.June, time.Sunday, 1)(y)
	}
	return last
}

// eastern are the countries that keep Easter by the Julian calendar.
const eastern = "GR CY RO BG UA RS"

// rules are the days of the retail year (common practice, no source, where no
// other is named), in the order of the year.
var rules = []rule{
	{"new_year", "New Year’s Day", "", fixed(time.January, 1)},
	{"epiphany", "Epiphany", "ES IT PT AT DE PL SE FI GR HR SK", fixed(time.January, 6)},
	{"valentines", "Valentine’s Day", "", fixed(time.February, 14)},
	{"mothers_day", "Mother’s Day", "NO", nth(time.February, time.Sunday, 2)},
	{"carnival", "Carnival Tuesday", "PT ES IT BR DE FR BE CH AT", easter(-47)},
	{"womens_day", "Women’s Day", "", fixed(time.March, 8)},
	{"mothers_day", "Mothering Sunday", "GB IE", easter(-21)},
	{"fathers_day", "Father’s Day", "PT ES IT HR", fixed(time.March, 19)},
	{"good_friday", "Good Friday", "", easter(-2)},
	{"easter", "Easter Sunday", "", easter(0)},
	{"easter_monday", "Easter Monday", "", easter(1)},
	{"good_friday", "Good Friday", eastern, orthodox(-2)},
	{"easter", "Easter Sunday", eastern, orthodox(0)},
	{"easter_monday", "Easter Monday", eastern, orthodox(1)},
	{"mothers_day", "Mother’s Day", "PT ES LT", nth(time.May, time.Sunday, 1)},
	{"mothers_day", "Mother’s Day", "US CA AU NZ DE AT CH IT NL BE DK BR JP ZA FI GR HR CZ SK EE LV UA", nth(time.May, time.Sunday, 2)},
	{"mothers_day", "Mother’s Day", "PL", fixed(time.May, 26)},
	{"mothers_day", "Mother’s Day", "FR", frenchMothers},
	{"mothers_day", "Mother’s Day", "SE", nth(time.May, time.Sunday, -1)},
	{"fathers_day", "Father’s Day", "DE", easter(39)},
	{"pentecost", "Pentecost", "", easter(49)},
	{"pentecost", "Pentecost", eastern, orthodox(49)},
	{"childrens_day", "Children’s Day", "PT PL CZ SK RO BG LT LV EE", fixed(time.June, 1)},
	{"fathers_day", "Father’s Day", "DK", fixed(time.June, 5)},
	{"fathers_day", "Father’s Day", "AT BE", nth(time.June, time.Sunday, 2)},
	{"fathers_day", "Father’s Day", "US GB IE CA FR NL JP CH CZ SK ZA GR UA", nth(time.June, time.Sunday, 3)},
	{"fathers_day", "Father’s Day", "PL", fixed(time.June, 23)},
	{"fathers_day", "Father’s Day", "BR", nth(time.August, time.Sunday, 2)},
	{"fathers_day", "Father’s Day", "AU NZ", nth(time.September, time.Sunday, 1)},
	{"thanksgiving", "Thanksgiving", "CA", nth(time.October, time.Monday, 2)},
	{"halloween", "Halloween", "", fixed(time.October, 31)},
	{"fathers_day", "Father’s Day", "SE NO FI EE", nth(time.November, time.Sunday, 2)},
	{"singles_day", "Singles’ Day", "", fixed(time.November, 11)},
	{"thanksgiving", "Thanksgiving", "US", thanksgiving},
	{"black_friday", "Black Friday", "", after(thanksgiving, 1)},
	{"small_business_saturday", "Small Business Saturday", "US GB", after(thanksgiving, 2)},
	{"cyber_monday", "Cyber Monday", "", after(thanksgiving, 4)},
	{"giving_tuesday", "Giving Tuesday", "", after(thanksgiving, 5)},
	{"advent_1", "First Sunday of Advent", "", advent(1)},
	{"advent_2", "Second Sunday of Advent", "", advent(2)},
	{"advent_3", "Third Sunday of Advent", "", advent(3)},
	{"advent_4", "Fourth Sunday of Advent", "", advent(4)},
	{"st_nicholas", "Saint Nicholas", "DE AT BE NL LU CZ SK PL HU", fixed(time.December, 6)},
	{"christmas_eve", "Christmas Eve", "", fixed(time.December, 24)},
	{"christmas", "Christmas Day", "", fixed(time.December, 25)},
	{"boxing_day", "Boxing Day", "GB CA AU NZ IE ZA", fixed(time.December, 26)},
	{"new_years_eve", "New Year’s Eve", "", fixed(time.December, 31)},
}

// The years for which days are computed.
const (
	FirstYear = 1900
	LastYear  = 2199
)

// Days lists the retail days and public holidays of a year in these
// countries, by date.
func Days(year int, countries []string) ([]Day, error) {
	if year < FirstYear || year > LastYear {
		return nil, fmt.Errorf("year: %d; it must be from %d to %d", year, FirstYear, LastYear)
	}
	var out []Day
	for _, r := range rules {
		kept, anywhere := r.in(countries)
		if !anywhere {
			continue
		}
		out = append(out, Day{ID: r.id, Name: r.name, Date: r.date(year).Format(time.DateOnly), Countries: kept})
	}
	for i, c := range countries {
		list, ok := holidays[c]
		if !ok {
			return nil, fmt.Errorf("countries[%d]: %w", i, unknown(c))
		}
		for _, h := range list {
			feast, observed := h.Calc(year)
			if feast.IsZero() {
				continue
			}
			d := Day{ID: "holiday_" + strings.ToLower(c), Name: h.Name, Date: feast.Format(time.DateOnly), Countries: []string{c}, Holiday: true, Partly: partly(c, h.Name)}
			out = append(out, d)
			if !observed.Equal(feast) {
				d.Name, d.Date = h.Name+" (observed)", observed.Format(time.DateOnly)
				out = append(out, d)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Day) int { return cmp.Compare(a.Date, b.Date) })
	return out, nil
}

// in says in which of the countries a day is kept by this rule; none means
// everywhere. Where a country has a rule of its own for the day, that counts.
func (r rule) in(countries []string) (kept []string, anywhere bool) {
	own := false
	for _, c := range countries {
		switch {
		case r.keptIn(c), r.countries == "" && !hasOwn(r.id, c):
			kept = append(kept, c)
		case r.countries == "":
			own = true
		}
	}
	if r.countries == "" && !own {
		return nil, true
	}
	return kept, len(kept) > 0
}

func (r rule) keptIn(country string) bool {
	return slices.Contains(strings.Fields(r.countries), country)
}

// hasOwn tells whether a country has a rule of its own for a day.
func hasOwn(id, country string) bool {
	return slices.ContainsFunc(rules, func(r rule) bool { return r.id == id && r.keptIn(country) })
}

// find is the date of a retail day in a year, for the first of the countries
// that keeps it.
func find(id string, year int, countries []string) (time.Time, error) {
	known := false
	var everywhere *rule
	for i, r := range rules {
		if r.id == id {
			known = true
			if r.countries == "" {
				everywhere = &rules[i]
			}
		}
	}
	for _, c := range countries {
		for _, r := range rules {
			if r.id == id && (r.keptIn(c) || (r.countries == "" && !hasOwn(id, c))) {
				return r.date(year), nil
			}
		}
	}
	switch {
	case everywhere != nil:
		return everywhere.date(year), nil
	case known:
		return time.Time{}, fmt.Errorf("day: %q is not kept in %s", id, strings.Join(countries, ", "))
	}
	return time.Time{}, fmt.Errorf("day: %q is not a day of the retail year, such as black_friday", id)
}

// portugal has the public holidays of Portugal (Código do Trabalho, art. 234).
var portugal = []*cal.Holiday{
	aa.NewYear.Clone(&cal.Holiday{Name: "Ano Novo"}),
	aa.GoodFriday.Clone(&cal.Holiday{Name: "Sexta-Feira Santa"}),
	aa.Easter.Clone(&cal.Holiday{Name: "Páscoa"}),
	{Name: "Dia da Liberdade", Type: cal.ObservancePublic, Month: time.April, Day: 25, Func: cal.CalcDayOfMonth},
	aa.WorkersDay.Clone(&cal.Holiday{Name: "Dia do Trabalhador"}),
	aa.CorpusChristi.Clone(&cal.Holiday{Name: "Corpo de Deus"}),
	{Name: "Dia de Portugal", Type: cal.ObservancePublic, Month: time.June, Day: 10, Func: cal.CalcDayOfMonth},
	aa.AssumptionOfMary.Clone(&cal.Holiday{Name: "Assunção de Nossa Senhora"}),
	{Name: "Implantação da República", Type: cal.ObservancePublic, Month: time.October, Day: 5, Func: cal.CalcDayOfMonth},
	aa.AllSaintsDay.Clone(&cal.Holiday{Name: "Dia de Todos os Santos"}),
	{Name: "Restauração da Independência", Type: cal.ObservancePublic, Month: time.December, Day: 1, Func: cal.CalcDayOfMonth},
	aa.ImmaculateConception.Clone(&cal.Holiday{Name: "Imaculada Conceição"}),
	aa.ChristmasDay.Clone(&cal.Holiday{Name: "Natal"}),
}
