package followups_test

import (
	"context"
	"testing"
	"time"

	"chrysagon/app/followups"
	"chrysagon/core/followup"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestALineThatChangesUnderWay(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.JoinList("the-guide", "ana@readers.example")
	c.Clock.Advance(24 * time.Hour)
	_, err := c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	letters, err := c.Followups.Letters(ctx, "frost-lanterns")
	require.NoError(t, err)
	lines, err := c.Followups.Lines(ctx, "frost-lanterns", letters)
	require.NoError(t, err)
	require.Len(t, lines, 1)
	line := lines[0].Says
	line.Steps = append([]followup.Step{{Letter: "until-midnight"}}, line.Steps[:2]...)
	id, faults, err := c.Followups.SaveLine(ctx, followups.Drafted{ID: lines[0].Row.ID, CampaignID: "frost-lanterns", Name: "Seven knots", ListID: "the-guide", Line: line})
	require.NoError(t, err)
	assert.Empty(t, faults)
	assert.Equal(t, lines[0].Row.ID, id)
	for range 3 {
		c.Clock.Advance(24 * time.Hour)
		_, err = c.Postroom.SendDue(ctx)
		require.NoError(t, err)
	}
	var subjects []string
	for _, l := range c.Post.Letters {
		subjects = append(subjects, l.Subject)
	}
	assert.Equal(t, []string{"What the wind says before it says it", "Two bridles, one sky: which one lifts yours?"}, subjects)

	require.NoError(t, c.Followups.Begins(ctx, "frost-lanterns", id, true))
	c.Exec("UPDATE campaigns SET live_edition_id = 'frost-1' WHERE id = 'frost-lanterns'")
	require.ErrorIs(t, c.Followups.Begins(ctx, "frost-lanterns", id, true), refusal.ErrConflict, "its letters are not published")
	c.JoinList("the-guide", "bruno@readers.example")
	c.Clock.Advance(48 * time.Hour)
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Empty(t, c.Post.SentTo("bruno@readers.example"))
	assert.Equal(t, int64(3), c.Number("SELECT count(*) FROM postings WHERE dropped = 'the letter is not published'"))
}
