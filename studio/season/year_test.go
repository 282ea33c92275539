package season

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/app/calendar"
	"chrysagon/core/season"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// Wherever campaigns and days lie in a year, their names stay within its drawing, and no two
// names of a row lie on each other.
func TestNamesStayWithinTheYear(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := calendar.Season{Year: 2026, Zone: "Europe/Lisbon"}
		day := func(label string) time.Time {
			return time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, rapid.IntRange(0, 364).Draw(t, label))
		}
		for i := range rapid.IntRange(0, 12).Draw(t, "days") {
			s.Days = append(s.Days, season.Day{Name: fmt.Sprintf("A day of some length %d", i), Date: day("day").Format(time.DateOnly)})
		}
		for i := range rapid.IntRange(0, 6).Draw(t, "campaigns") {
			from := day("from")
			days := min(rapid.IntRange(1, 60).Draw(t, "long"), 365-from.YearDay()+1)
			c := calendar.SeasonCampaign{}
			c.ID, c.Name = fmt.Sprint(i), fmt.Sprintf("Campaign of a long name %d", i)
			c.Window.From, c.Window.To, c.Window.Days = from.Format(time.DateOnly), from.AddDate(0, 0, days-1).Format(time.DateOnly), days
			s.Campaigns = append(s.Campaigns, c)
		}
		r := drawYear(s, time.Date(2026, 7, 1, 12, 0, 0, 0, time.UTC))
		taken := map[int][][2]int{}
		free := func(row, from, to int, name string) {
			for _, other := range taken[row] {
				if from < other[1] && other[0] < to {
					t.Fatalf("%s lies on another name", name)
				}
			}
			taken[row] = append(taken[row], [2]int{from, to})
		}
		for _, f := range r.Flags {
			if f.Y < 0 {
				continue
			}
			width := lettersWide(f.Name)
			from := beside(f.X, width, f.Left)
			assert.LessOrEqual(t, from+width, r.Width)
			assert.GreaterOrEqual(t, from, 0)
			free(f.Y, from, from+width, f.Name)
		}
		for _, b := range r.Bars {
			from, to := b.named(r.Width)
			assert.LessOrEqual(t, to, r.Width)
			assert.GreaterOrEqual(t, from, 0)
			free(b.Y, from, to, b.Name)
		}
	})
}
