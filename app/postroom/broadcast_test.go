package postroom_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"chrysagon/app/postroom"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// crowdOn puts some people on the list of the guide, who get no follow-up.
func crowdOn(t *testing.T, c *testkit.Cases, n int) {
	t.Helper()
	c.AtOnce()
	c.Exec("UPDATE followups SET begins = false")
	c.Exec("UPDATE lists SET confirmed = false")
	for i := range n {
		c.JoinList("the-guide", fmt.Sprintf("reader%02d@readers.example", i))
	}
}

func received(c *testkit.Cases) map[string]int {
	out := map[string]int{}
	for _, l := range c.Post.Letters {
		out[l.To]++
	}
	return out
}

// A broadcast goes at its pace to each who is on the list and whom the sentence picks, once,
// also when it is stopped and taken up again, and to nobody who has left meanwhile.
func TestABroadcastGoesOnceToEach(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	crowdOn(t, c, 30)
	c.JoinList("news-of-the-coast", "elsewhere@readers.example")
	id, err := c.Postroom.SaveBroadcast(ctx, store.Broadcast{CampaignID: "frost-lanterns", LetterID: "two-bridles", ListID: "the-guide", Pace: 2})
	require.NoError(t, err)
	b, err := c.Postroom.OneBroadcast(ctx, "frost-lanterns", id)
	require.NoError(t, err)
	n, first, err := c.Postroom.Reach(ctx, b.Broadcast, 10)
	require.NoError(t, err)
	assert.Equal(t, 30, n)
	assert.Len(t, first, 10)
	assert.Equal(t, 15*time.Second, postroom.Takes(n, b.Pace))

	require.NoError(t, c.Postroom.SendOff(ctx, "frost-lanterns", id))
	require.NoError(t, c.Postroom.SendOff(ctx, "frost-lanterns", id), "pressed twice")
	send := func() {
		_, err := c.Postroom.SendDue(ctx)
		require.NoError(t, err)
	}
	send()
	assert.Len(t, received(c), 1, "one after another")
	c.Clock.Advance(5 * time.Second)
	send()
	assert.Len(t, received(c), 11, "two a second")
	require.NoError(t, c.Postroom.Stop(ctx, "frost-lanterns", id))
	c.Clock.Advance(time.Hour)
	send()
	assert.Len(t, received(c), 11, "stopped")
	c.Exec("UPDATE members SET state = 'off', off_at = now() WHERE contact_id = (SELECT contact_id FROM postings WHERE sent_at IS NULL AND broadcast_id IS NOT NULL ORDER BY contact_id LIMIT 1)")
	require.NoError(t, c.Postroom.GoOn(ctx, "frost-lanterns", id))
	require.NoError(t, c.Postroom.GoOn(ctx, "frost-lanterns", id))
	for range 20 {
		c.Clock.Advance(time.Second)
		send()
	}
	got := received(c)
	assert.Len(t, got, 29, "all but the one who has left")
	for to, n := range got {
		assert.Equal(t, 1, n, to)
	}
	assert.Zero(t, got["elsewhere@readers.example"])
	b, err = c.Postroom.OneBroadcast(ctx, "frost-lanterns", id)
	require.NoError(t, err)
	assert.Equal(t, []int{29, 0, 1}, []int{b.Sent, b.Waits, b.Dropped})
	require.ErrorIs(t, c.Postroom.RemoveBroadcast(ctx, "frost-lanterns", id), refusal.ErrConflict)
	assert.Contains(t, c.Post.Letters[0].Unsubscribe, "/letters/")
}

// One that is planned goes at its moment, to whom the sentence picks then; before that it
// can be taken back.
func TestABroadcastThatIsPlanned(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	crowdOn(t, c, 3)
	picks, err := c.Audience.SaveSegment(ctx, "Not the bag", segment.Rule{All: []segment.Clause{{Not: true, Did: segment.Bought, Of: "quiver"}}})
	require.NoError(t, err)
	at := c.Clock.Now().Add(2 * time.Hour)
	in := store.Broadcast{CampaignID: "frost-lanterns", LetterID: "two-bridles", ListID: "the-guide", SegmentID: &picks, At: &at, Pace: 100}
	id, err := c.Postroom.SaveBroadcast(ctx, in)
	require.NoError(t, err)
	require.NoError(t, c.Postroom.SendOff(ctx, "frost-lanterns", id))
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Empty(t, c.Post.Letters)
	in.ID = id
	_, err = c.Postroom.SaveBroadcast(ctx, in)
	require.ErrorIs(t, err, refusal.ErrConflict, "what is sent off is not changed")
	require.NoError(t, c.Postroom.Stop(ctx, "frost-lanterns", id), "taken back before its moment")
	_, err = c.Postroom.SaveBroadcast(ctx, in)
	require.NoError(t, err)
	require.NoError(t, c.Postroom.SendOff(ctx, "frost-lanterns", id))
	c.JoinList("the-guide", "late@readers.example")
	c.Clock.Advance(2*time.Hour + time.Second)
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Len(t, received(c), 4, "who has joined until then too")

	for _, bad := range []store.Broadcast{{}, {CampaignID: "frost-lanterns", Pace: 5}, {CampaignID: "frost-lanterns", Pace: 5, LetterID: "two-bridles"}, {CampaignID: "frost-lanterns", Pace: 500, LetterID: "two-bridles", ListID: "the-guide"}} {
		_, err := c.Postroom.SaveBroadcast(ctx, bad)
		require.ErrorIs(t, err, refusal.ErrInvalid)
	}
	c.Exec("UPDATE campaigns SET live_edition_id = 'frost-1' WHERE id = 'frost-lanterns'")
	draft, err := c.Postroom.SaveBroadcast(ctx, store.Broadcast{CampaignID: "frost-lanterns", LetterID: "two-bridles", ListID: "the-guide", Pace: 5})
	require.NoError(t, err)
	require.ErrorIs(t, c.Postroom.SendOff(ctx, "frost-lanterns", draft), refusal.ErrConflict, "its letter is not published")
	require.NoError(t, c.Postroom.RemoveBroadcast(ctx, "frost-lanterns", draft))
}
