package season

import (
	"fmt"
	"slices"
	"time"

	"chrysagon/core/deadline"
)

// Moment is a day: a date, or so many days from a day of the retail year.
type Moment struct {
	Date   string `json:"date,omitempty"`   // 2026-11-27
	Day    string `json:"day,omitempty"`    // such as black_friday
	Offset int    `json:"offset,omitempty"` // days after it, negative before it
}

// MaxOffset bounds how far from its day a moment may stand.
const MaxOffset = 366

// Resolve finds the date in a year.
func (m Moment) Resolve(year int, countries []string) (time.Time, error) {
	if m.Offset < -MaxOffset || m.Offset > MaxOffset {
		return time.Time{}, fmt.Errorf("offset: must be from -%d to %d days", MaxOffset, MaxOffset)
	}
	switch {
	case m.Date != "" && m.Day != "":
		return time.Time{}, fmt.Errorf("date: a moment has a date or a day, not both")
	case m.Date != "":
		at, err := time.Parse(time.DateOnly, m.Date)
		if err != nil {
			return at, fmt.Errorf("date: %q is not a date; write it like 2026-11-27", m.Date)
		}
		return at.AddDate(0, 0, m.Offset), nil
	}
	at, err := find(m.Day, year, countries)
	return at.AddDate(0, 0, m.Offset), err
}

// Campaign is what runs from one day to another, both included.
type Campaign struct {
	ID    string   `json:"id"`
	Name  string   `json:"name,omitempty"`
	From  Moment   `json:"from"`
	To    Moment   `json:"to"`
	Goods []string `json:"goods,omitempty"` // what it is on
}

// Window is a campaign with its dates.
type Window struct {
	ID     string    `json:"id"`
	Name   string    `json:"name,omitempty"`
	From   string    `json:"from"` // first day
	To     string    `json:"to"`   // last day
	Days   int       `json:"days"`
	Starts time.Time `json:"starts"` // first instant of the first day, in the zone
	Ends   time.Time `json:"ends"`   // first instant after the last day
}

// Clash is two campaigns on the same goods at the same time.
type Clash struct {
	A     string   `json:"a"`
	B     string   `json:"b"`
	From  string   `json:"from"`
	To    string   `json:"to"`
	Goods []string `json:"goods"`
}

// Input is a season to be computed.
type Input struct {
	Year       int         `json:"year"`
	Zone       string      `json:"zone"`
	Countries  []string    `json:"countries"` // ISO 3166-1, two letters; the first decides where a day differs
	Campaigns  []Campaign  `json:"campaigns,omitempty"`
	LastOrders []LastOrder `json:"last_orders,omitempty"`
	MoveTo     int         `json:"move_to,omitempty"` // another year: the campaigns as they would stand there
}

// Output is a season computed.
type Output struct {
	Days       []Day     `json:"days"`
	Windows    []Window  `json:"windows"`
	Clashes    []Clash   `json:"clashes"`
	LastOrders []Arrival `json:"last_orders"`
	Moved      []Window  `json:"moved,omitempty"`
}

// The most that one season may hold.
const (
	MaxCampaigns = 500
	MaxCountries = 25
)

// Compute resolves a season: its days, the campaigns' windows, their clashes,
// and the last order days.
func Compute(in Input) (Output, error) {
	out := Output{Windows: []Window{}, Clashes: []Clash{}, LastOrders: []Arrival{}}
	if len(in.Campaigns) > MaxCampaigns || len(in.LastOrders) > MaxCampaigns || len(in.Countries) > MaxCountries {
		return out, fmt.Errorf("campaigns, last_orders: at most %d each; countries: at most %d", MaxCampaigns, MaxCountries)
	}
	var err error
	if out.Days, err = Days(in.Year, in.Countries); err != nil {
		return out, err
	}
	ids := map[string]bool{}
	for i, c := range in.Campaigns {
		if c.ID == "" || ids[c.ID] {
			return out, fmt.Errorf("campaigns[%d].id: %q is empty or used twice", i, c.ID)
		}
		ids[c.ID] = true
		w, err := c.Window(in.Year, in.Zone, in.Countries)
		if err != nil {
			return out, fmt.Errorf("campaigns[%d].%w", i, err)
		}
		out.Windows = append(out.Windows, w)
		if in.MoveTo == 0 {
			continue
		}
		moved, err := c.Move(in.Year, in.MoveTo, in.Countries)
		if err == nil {
			w, err = moved.Window(in.MoveTo, in.Zone, in.Countries)
		}
		if err != nil {
			return out, fmt.Errorf("campaigns[%d]: move_to: %w", i, err)
		}
		out.Moved = append(out.Moved, w)
	}
	out.Clashes = clashes(in.Campaigns, out.Windows)
	for i, l := range in.LastOrders {
		a, err := l.Compute(in.Year, in.Countries)
		if err != nil {
			return out, fmt.Errorf("last_orders[%d].%w", i, err)
		}
		out.LastOrders = append(out.LastOrders, a)
	}
	return out, nil
}

// Window resolves a campaign's days in a year and zone.
func (c Campaign) Window(year int, zone string, countries []string) (Window, error) {
	w := Window{ID: c.ID, Name: c.Name}
	from, err := c.From.Resolve(year, countries)
	if err != nil {
		return w, fmt.Errorf("from.%w", err)
	}
	to, err := c.To.Resolve(year, countries)
	if err != nil {
		return w, fmt.Errorf("to.%w", err)
	}
	if to.Before(from) {
		return w, fmt.Errorf("to: %s is before %s, where it begins", to.Format(time.DateOnly), from.Format(time.DateOnly))
	}
	w.From, w.To, w.Days = from.Format(time.DateOnly), to.Format(time.DateOnly), int(to.Sub(from).Hours()/24)+1
	if w.Starts, err = deadline.Resolve(w.From+"T00:00", zone); err != nil {
		return w, fmt.Errorf("zone: %w", err)
	}
	w.Ends, err = deadline.Resolve(to.AddDate(0, 0, 1).Format(time.DateOnly)+"T00:00", zone)
	return w, err
}

func clashes(list []Campaign, windows []Window) []Clash {
	out := []Clash{}
	for i := range list {
		for j := i + 1; j < len(list); j++ {
			a, b := windows[i], windows[j]
			if a.From > b.To || b.From > a.To {
				continue
			}
			var both []string
			for _, g := range list[i].Goods {
				if slices.Contains(list[j].Goods, g) && !slices.Contains(both, g) {
					both = append(both, g)
				}
			}
			if len(both) == 0 {
				continue
			}
			slices.Sort(both)
			out = append(out, Clash{A: a.ID, B: b.ID, From: max(a.From, b.From), To: min(a.To, b.To), Goods: both})
		}
	}
	return out
}

// near is how many days a date may stand from a retail day and still be meant
// by it.
const near = 21

// Move carries a campaign over to another year. What hangs on a retail day
// follows that day. A date near a movable or kept day, within 21 days, keeps
// its distance from the nearest; any other keeps its weekday, 52 or 53 weeks on.
func (c Campaign) Move(from, to int, countries []string) (Campaign, error) {
	if c.From.Date == "" && c.To.Date == "" {
		return c, nil
	}
	end, err := c.To.Resolve(from, countries)
	if err != nil {
		return c, fmt.Errorf("to.%w", err)
	}
	start, err := c.From.Resolve(from, countries)
	if err != nil {
		return c, fmt.Errorf("from.%w", err)
	}
	shift, err := shiftOf(end, from, to, countries)
	if err != nil {
		return c, err
	}
	if c.From.Date != "" {
		c.From = Moment{Date: start.AddDate(0, 0, shift).Format(time.DateOnly)}
	}
	if c.To.Date != "" {
		c.To = Moment{Date: end.AddDate(0, 0, shift).Format(time.DateOnly)}
	}
	return c, nil
}

// MoveDate carries one date over to another year by the same rule.
func MoveDate(at time.Time, from, to int, countries []string) (time.Time, error) {
	shift, err := shiftOf(at, from, to, countries)
	return at.AddDate(0, 0, shift), err
}

func shiftOf(end time.Time, from, to int, countries []string) (int, error) {
	days, err := Days(end.Year(), countries)
	if err != nil {
		return 0, err
	}
	best, id := near+1, ""
	for _, d := range days {
		if d.Holiday {
			continue
		}
		at, err := find(d.ID, end.Year(), countries)
		if err != nil {
			continue
		}
		if gap := abs(int(end.Sub(at).Hours() / 24)); gap < best {
			best, id = gap, d.ID
		}
	}
	year := end.Year() + to - from
	if id != "" {
		was, err := find(id, end.Year(), countries)
		if err != nil {
			return 0, err
		}
		is, err := find(id, year, countries)
		return int(is.Sub(was).Hours() / 24), err
	}
	same := date(year, end.Month(), end.Day())
	weeks := int(same.Sub(end).Hours()/24+3.5*float64(sign(to-from))) / 7
	return weeks * 7, nil
}

func abs(n int) int { return max(n, -n) }

func sign(n int) int {
	if n < 0 {
		return -1
	}
	return 1
}
