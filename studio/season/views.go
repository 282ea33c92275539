package season

import (
	"chrysagon/app/calendar"
	"chrysagon/core/season"
)

// momentOf is the first or last day of a campaign as it is kept.
func momentOf(c *calendar.SeasonCampaign, which string) *season.Moment {
	switch {
	case c == nil:
		return nil
	case which == "from":
		return &c.From
	}
	return &c.To
}

// windowOf is the first or last day of a campaign as a date.
func windowOf(c *calendar.SeasonCampaign, which string) string {
	switch {
	case c == nil:
		return ""
	case which == "from":
		return c.Window.From
	}
	return c.Window.To
}
