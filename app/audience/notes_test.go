package audience_test

import (
	"bytes"
	"context"
	"testing"
	"time"

	"chrysagon/app/audience"
	"chrysagon/app/offers"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const ana = "ana@readers.example"

// A note stands in the timeline and in what one may ask for; a task until it is done.
func TestNotesAndTasks(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.JoinList("the-guide", ana)
	id := c.Text("SELECT id FROM contacts")
	for _, bad := range []audience.Noting{{ContactID: id}, {ContactID: id, Says: "x", DueOn: "soon"}, {ContactID: id, Says: string(bytes.Repeat([]byte("é"), 2001))}} {
		require.ErrorIs(t, c.Audience.Note(ctx, bad), refusal.ErrInvalid)
	}
	require.ErrorIs(t, c.Audience.Note(ctx, audience.Noting{ContactID: "nobody", Says: "x"}), refusal.ErrNotFound)
	require.NoError(t, c.Audience.Note(ctx, audience.Noting{ContactID: id, Says: "Flies left-handed. <b>", By: "Marta"}))
	require.NoError(t, c.Audience.Note(ctx, audience.Noting{ContactID: id, Says: "Ring about the workshop", DueOn: "2026-11-24", By: "Marta"}))
	tasks, err := c.Audience.Tasks(ctx, "")
	require.NoError(t, err)
	require.Len(t, tasks, 1)
	assert.False(t, tasks[0].Late)
	c.Clock.Advance(48 * time.Hour)
	tasks, err = c.Audience.Tasks(ctx, "")
	require.NoError(t, err)
	assert.True(t, tasks[0].Late)
	known, err := c.Audience.Known(ctx, id)
	require.NoError(t, err)
	require.Len(t, known.Tasks, 1)
	var all bytes.Buffer
	require.NoError(t, c.Audience.ExportOne(ctx, id, &all))
	assert.Contains(t, all.String(), "Flies left-handed.")
	require.NoError(t, c.Audience.Done(ctx, tasks[0].ID, true))
	tasks, err = c.Audience.Tasks(ctx, "")
	require.NoError(t, err)
	assert.Empty(t, tasks)
	require.ErrorIs(t, c.Audience.Done(ctx, "nothing", true), refusal.ErrNotFound)
	require.NoError(t, c.Audience.Erase(ctx, id))
	assert.Zero(t, c.Number("SELECT count(*) FROM notes"), "they go with the person")
}

// A list that gives a code gives each person one of their own, good for one order, and the
// same however often its mail is tried; once the offer has ended, none.
func TestAListGivesACodeOfTheirOwn(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.Exec("DELETE FROM followups")
	id, faults, err := c.Offers.SaveOffer(ctx, offers.OfferInput{Name: "First flight", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", NeedsCode: true, Code: "FIRST"})
	require.NoError(t, err)
	require.Empty(t, faults)
	row, err := c.Audience.List(ctx, "the-guide")
	require.NoError(t, err)
	l := row.List
	l.Gives, l.Code, l.After = "", id, "night-flight"
	_, faults, err = c.Audience.SaveList(ctx, l)
	require.NoError(t, err)
	require.Empty(t, faults)
	c.JoinList("the-guide", ana)
	c.JoinList("the-guide", "bruno@readers.example")
	c.Post.Fails = assert.AnError
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	c.Post.Fails = nil
	c.Clock.Advance(3 * time.Minute)
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	require.Len(t, c.Post.Letters, 2)
	assert.NotEqual(t, c.Post.Letters[0].Text, c.Post.Letters[1].Text)
	for _, p := range c.Post.Letters {
		assert.Contains(t, p.Text, "First flight")
		assert.Regexp(t, `GIFT-\w{4}-\w{4}-\w{4}`, p.Text)
	}
	assert.Equal(t, int64(2), c.Number("SELECT count(*) FROM codes WHERE code LIKE 'GIFT-%' AND max_uses = 1"), "one each, however often it was tried")
	c.Exec("UPDATE offers SET ended_at = $1 WHERE id = $2", c.Clock.Now(), id)
	c.JoinList("the-guide", "clara@readers.example")
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Len(t, c.Post.Letters, 2)
	assert.Equal(t, "what it hands out is gone", c.Text("SELECT dropped FROM postings p JOIN contacts x ON x.id = p.contact_id WHERE x.email LIKE 'clara%'"))
	_, faults, err = c.Audience.SaveList(ctx, mailing.List{Name: "x", Why: "y", Tells: mailing.Never, Code: id, After: "nowhere"})
	require.NoError(t, err)
	assert.Contains(t, faults, "code")
	assert.Contains(t, faults, "after")
}
