package followups_test

import (
	"context"
	"testing"
	"time"

	"chrysagon/app/followups"
	"chrysagon/app/offers"
	"chrysagon/core/followup"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every kind of deadline ends a line, for whoever is on it: what comes in time is sent, what
// would come later is not, and so it is drawn. It begins on Monday, 23 November 2026, at noon,
// in Lisbon.
func TestEveryKindOfDeadlineEndsALine(t *testing.T) {
	for _, one := range []struct {
		name string
		in   offers.DeadlineInput
		zone string
		ends string // where the reader is
	}{
		{"one for all", offers.DeadlineInput{Name: "End", Kind: "fixed", At: "2026-11-24T20:00"}, "", "2026-11-24T20:00"},
		{"a midnight, at home", offers.DeadlineInput{Name: "End", Kind: "visitor_midnight", Day: "2026-11-24"}, "", "2026-11-25T00:00"},
		{"a midnight, far away", offers.DeadlineInput{Name: "End", Kind: "visitor_midnight", Day: "2026-11-24"}, "Pacific/Auckland", "2026-11-25T00:00"},
		{"each midnight", offers.DeadlineInput{Name: "End", Kind: "visitor_midnight"}, "America/New_York", "2026-11-24T00:00"},
		{"a rule", offers.DeadlineInput{Name: "End", Kind: "repeating", Start: "2026-11-03T18:00", Rule: "FREQ=WEEKLY"}, "", "2026-11-24T18:00"},
		{"a span from the first letter", offers.DeadlineInput{Name: "End", Kind: "span", SpanMinutes: 24 * 60}, "", "2026-11-24T12:10"},
	} {
		t.Run(one.name, func(t *testing.T) {
			c, ctx := testkit.UseLists(t), context.Background()
			c.AtOnce()
			c.Exec("DELETE FROM followups")
			one.in.ID = c.Text("SELECT id FROM deadlines WHERE name = 'Lantern Friday'") // to which the first letter counts
			id, faults, err := c.Offers.SaveDeadline(ctx, one.in)
			require.NoError(t, err)
			require.Empty(t, faults)
			zone := followups.Zone(one.zone, "Europe/Lisbon")
			ends, err := time.ParseInLocation("2006-01-02T15:04", one.ends, zone)
			require.NoError(t, err)
			until := int(ends.Sub(c.Clock.Now()).Minutes())
			line, wrong, err := c.Followups.SaveLine(ctx, followups.Drafted{CampaignID: "frost-lanterns", Name: "Ending", ListID: "the-guide", DeadlineID: id, Line: followup.Followup{
				Begins: followup.Begin{What: followup.Joined}, Steps: []followup.Step{{Letter: "until-midnight", Minutes: 10}, span("two-bridles", until-11), span("what-the-wind-says", 2)},
			}})
			require.NoError(t, err)
			require.Empty(t, wrong)
			require.NoError(t, c.Followups.Begins(ctx, "frost-lanterns", line, true))

			letters, err := c.Followups.Letters(ctx, "frost-lanterns")
			require.NoError(t, err)
			lines, err := c.Followups.Lines(ctx, "frost-lanterns", letters)
			require.NoError(t, err)
			drawn, told, err := c.Postroom.Foresee(ctx, lines[0], c.Clock.Now(), zone)
			require.NoError(t, err)
			assert.Equal(t, ends.UTC(), drawn.Says.Until.UTC())
			assert.Equal(t, []followup.Outcome{followup.Sent, followup.Sent, followup.TooLate}, []followup.Outcome{told[0].Outcome, told[1].Outcome, told[2].Outcome})

			c.JoinList("the-guide", ana)
			c.Exec("UPDATE contacts SET zone = $1 WHERE email = $2", one.zone, ana)
			for range 2 * 24 * 60 / 10 {
				c.Clock.Advance(10 * time.Minute)
				_, err = c.Postroom.SendDue(ctx)
				require.NoError(t, err)
			}
			assert.Len(t, c.Post.SentTo(ana), 2)
			assert.Equal(t, "it would come after the end", c.Text("SELECT dropped FROM postings WHERE letter_id = 'what-the-wind-says' AND followup_id = $1", line))
		})
	}
}

// span is a letter so many minutes after the one before.
func span(letter string, minutes int) followup.Step {
	return followup.Step{Letter: letter, Days: minutes / (24 * 60), Minutes: minutes % (24 * 60)}
}
