package postroom_test

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestALetterGoesOnce(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	for _, name := range []string{"ana", "bruno", "clara", "dario"} {
		c.JoinList("the-guide", name+"@readers.example")
	}
	c.Clock.Advance(24 * time.Hour)
	c.Post.Fails = errors.New("421 the server goes away")
	n, err := c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, n)
	n, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, n, "it is not asked again at once")
	c.Post.Fails = nil
	c.Clock.Advance(3 * time.Minute)

	var wait sync.WaitGroup
	for range 4 { // four copies of the program
		wait.Go(func() {
			_, err := c.Postroom.SendDue(ctx)
			assert.NoError(t, err)
		})
	}
	wait.Wait()
	for _, name := range []string{"ana", "bruno", "clara", "dario"} {
		assert.Len(t, c.Post.SentTo(name+"@readers.example"), 1, name)
	}

	// Killed after the server took it and before that was written down.
	c.Exec("UPDATE postings SET sent_at = NULL, taken_until = $1 WHERE contact_id = (SELECT id FROM contacts WHERE email LIKE 'ana%') AND letter_id = 'what-the-wind-says'", c.Clock.Now().Add(time.Minute))
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	assert.Len(t, c.Post.SentTo("ana@readers.example"), 1, "somebody may still be sending it")
	c.Clock.Advance(2 * time.Minute)
	_, err = c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	again := c.Post.SentTo("ana@readers.example")
	require.Len(t, again, 2)
	assert.Equal(t, again[0], again[1], "under the same Message-ID")
}

func TestALetterIsGivenUp(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.JoinList("the-guide", "ana@readers.example")
	c.Post.Fails = errors.New("450 later")
	for range 12 {
		c.Clock.Advance(24 * time.Hour)
		_, err := c.Postroom.SendDue(ctx)
		require.NoError(t, err)
	}
	var dropped []string
	require.NoError(t, c.Store.DB.Raw("SELECT dropped FROM postings ORDER BY due_at").Scan(&dropped).Error)
	assert.Equal(t, []string{"it could not be sent in 8 tries", "it would come after the end", "it would come after the end"}[0], dropped[0])
	var id string
	require.NoError(t, c.Store.DB.Raw("SELECT id FROM contacts").Scan(&id).Error)
	known, err := c.Audience.Known(ctx, id)
	require.NoError(t, err)
	said := ""
	for _, d := range known.Deeds {
		said += d.What + " " + d.Of + " " + d.More + "\n"
	}
	assert.Contains(t, said, "is not sent What the wind says it could not be sent in 8 tries")
}

func TestATrialIsSentToOneself(t *testing.T) {
	c := testkit.UseLists(t)
	require.NoError(t, c.Postroom.Trial(context.Background(), "two-bridles", "owner@gustwell.example"))
	require.Len(t, c.Post.Letters, 1)
	assert.Contains(t, c.Post.Letters[0].Text, "This is a trial")
	assert.Zero(t, c.Number("SELECT count(*) FROM postings"))
}
