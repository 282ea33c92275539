package audience_test

import (
	"context"
	"errors"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/app/audience"
	"chrysagon/core/followup"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/demo"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// use is the use cases with the demo's lists and its follow-up, and nobody on them.
func use(t *testing.T) *testkit.Cases {
	t.Helper()
	c := testkit.Use(t)
	require.NoError(t, demo.Season(context.Background(), c.Store, "http://lamps.example/", testkit.Start))
	c.Exec("DELETE FROM contacts")
	return c
}

func join(t *testing.T, c *testkit.Cases, list, email string) {
	t.Helper()
	require.NoError(t, c.Store.In(context.Background(), func(tx *gorm.DB) error {
		return c.Audience.Join(tx, audience.Joining{ListID: list, Email: email, Name: "Ines", At: c.Clock.Now()})
	}))
}

// plain makes a list that puts people on it at once, with the follow-up of the demo.
func plain(t *testing.T, c *testkit.Cases) {
	t.Helper()
	c.Exec("UPDATE lists SET confirmed = false WHERE id = 'the-guide'")
}

func sent(c *testkit.Cases, to string) []string {
	var out []string
	for _, l := range c.Post.Letters {
		if l.To == to {
			out = append(out, l.ID)
		}
	}
	return out
}

// Whatever happens between, each letter bears one Message-ID, and goes again only where the
// program was killed before it could say that it had gone.
func TestALetterGoesOnce(t *testing.T) {
	c, ctx := use(t), context.Background()
	plain(t, c)
	for _, name := range []string{"ana", "bruno", "clara", "dario"} {
		join(t, c, "the-guide", name+"@readers.example")
	}
	c.Clock.Advance(24 * time.Hour)
	c.Post.Fails = errors.New("421 the server goes away")
	n, err := c.Audience.SendDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, n)
	n, err = c.Audience.SendDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, n, "it is not asked again at once")
	c.Post.Fails = nil
	c.Clock.Advance(3 * time.Minute)

	var wait sync.WaitGroup
	for range 4 { // four copies of the program
		wait.Go(func() {
			_, err := c.Audience.SendDue(ctx)
			assert.NoError(t, err)
		})
	}
	wait.Wait()
	for _, name := range []string{"ana", "bruno", "clara", "dario"} {
		assert.Len(t, sent(c, name+"@readers.example"), 1, name)
	}

	// Killed after the server took it and before that was written down.
	c.Exec("UPDATE postings SET sent_at = NULL, taken_until = $1 WHERE contact_id = (SELECT id FROM contacts WHERE email LIKE 'ana%') AND letter_id = 'what-the-wind-says'", c.Clock.Now().Add(time.Minute))
	_, err = c.Audience.SendDue(ctx)
	require.NoError(t, err)
	assert.Len(t, sent(c, "ana@readers.example"), 1, "somebody may still be sending it")
	c.Clock.Advance(2 * time.Minute)
	_, err = c.Audience.SendDue(ctx)
	require.NoError(t, err)
	again := sent(c, "ana@readers.example")
	require.Len(t, again, 2)
	assert.Equal(t, again[0], again[1], "under the same Message-ID")
}

// A server that never takes a letter is not asked for ever, and the person is told of.
func TestALetterIsGivenUp(t *testing.T) {
	c, ctx := use(t), context.Background()
	plain(t, c)
	join(t, c, "the-guide", "ana@readers.example")
	c.Post.Fails = errors.New("450 later")
	for range 12 {
		c.Clock.Advance(24 * time.Hour)
		_, err := c.Audience.SendDue(ctx)
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

// What is not published does not go; a letter that is put into a line reaches those who
// have not come past its place, and no one else.
func TestALineThatChangesUnderWay(t *testing.T) {
	c, ctx := use(t), context.Background()
	plain(t, c)
	join(t, c, "the-guide", "ana@readers.example")
	c.Clock.Advance(24 * time.Hour)
	_, err := c.Audience.SendDue(ctx)
	require.NoError(t, err)
	letters, err := c.Audience.Letters(ctx, "frost-lanterns")
	require.NoError(t, err)
	lines, err := c.Audience.Lines(ctx, "frost-lanterns", letters)
	require.NoError(t, err)
	require.Len(t, lines, 1)
	line := lines[0].Says
	line.Steps = append([]followup.Step{{Letter: "until-midnight"}}, line.Steps[:2]...)
	id, faults, err := c.Audience.SaveLine(ctx, audience.Drafted{ID: lines[0].Row.ID, CampaignID: "frost-lanterns", Name: "Seven knots", ListID: "the-guide", Line: line})
	require.NoError(t, err)
	assert.Empty(t, faults)
	assert.Equal(t, lines[0].Row.ID, id)
	for range 3 {
		c.Clock.Advance(24 * time.Hour)
		_, err = c.Audience.SendDue(ctx)
		require.NoError(t, err)
	}
	var subjects []string
	for _, l := range c.Post.Letters {
		subjects = append(subjects, l.Subject)
	}
	assert.Equal(t, []string{"What the wind says before it says it", "Two bridles, one sky: which one lifts yours?"}, subjects)

	require.NoError(t, c.Audience.Begins(ctx, "frost-lanterns", id, true))
	c.Exec("UPDATE campaigns SET live_edition_id = 'frost-1' WHERE id = 'frost-lanterns'")
	require.ErrorIs(t, c.Audience.Begins(ctx, "frost-lanterns", id, true), refusal.ErrConflict, "its letters are not published")
	join(t, c, "the-guide", "bruno@readers.example")
	c.Clock.Advance(48 * time.Hour)
	_, err = c.Audience.SendDue(ctx)
	require.NoError(t, err)
	assert.Empty(t, sent(c, "bruno@readers.example"))
	assert.Equal(t, int64(3), c.Number("SELECT count(*) FROM postings WHERE dropped = 'the letter is not published'"))
}

// Erased is erased: nothing of a person stays but their orders and an HMAC, and whoever
// types their address again puts nobody anywhere.
func TestErasedIsErased(t *testing.T) {
	c, ctx := use(t), context.Background()
	plain(t, c)
	join(t, c, "the-guide", "Ana@readers.example")
	c.Exec("INSERT INTO leads (id, kind, email, page_id, piece_id, at) VALUES ('l', 'opt_in', 'ana@readers.example', 'seven-knots', 'k-form', now())")
	c.Exec("UPDATE orders SET email = 'ana@readers.example' WHERE number = (SELECT min(number) FROM orders)")
	var id string
	require.NoError(t, c.Store.DB.Raw("SELECT id FROM contacts").Scan(&id).Error)
	var out strings.Builder
	require.NoError(t, c.Audience.ExportOne(ctx, id, &out))
	assert.Contains(t, out.String(), "Ana@readers.example")
	assert.Contains(t, out.String(), `"what": "ordered"`)
	require.NoError(t, c.Audience.Erase(ctx, id))
	for _, table := range []string{"contacts", "members", "postings", "followings"} {
		assert.Zero(t, c.Number("SELECT count(*) FROM "+table), table)
	}
	assert.Zero(t, c.Number("SELECT count(*) FROM leads WHERE lower(email) = 'ana@readers.example'"))
	assert.Equal(t, int64(1), c.Number("SELECT count(*) FROM orders WHERE email = 'ana@readers.example'"))
	assert.Zero(t, c.Number("SELECT count(*) FROM hushed WHERE hush LIKE '%ana%'"), "the address cannot be read from what stays")
	join(t, c, "the-guide", "ana@READERS.example")
	assert.Zero(t, c.Number("SELECT count(*) FROM contacts"))
	require.ErrorIs(t, c.Audience.Erase(ctx, id), refusal.ErrNotFound)
}

// A list is kept once by its name, not taken away under people, and the store hears of who
// joined as it wishes: each time, or once in the morning for the day before.
func TestListsAreKeptAndTold(t *testing.T) {
	c, ctx := use(t), context.Background()
	id, faults, err := c.Audience.SaveList(ctx, mailing.List{Name: " Workshop,  spring ", Why: "You asked for seats in spring.", Tells: mailing.Each})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, faults, err = c.Audience.SaveList(ctx, mailing.List{Name: "Workshop, spring", Why: "Again.", Tells: mailing.Each})
	require.NoError(t, err)
	assert.Contains(t, faults["name"], "Another list")
	_, faults, err = c.Audience.SaveList(ctx, mailing.List{Name: "Other", Why: "x", Tells: mailing.Never, Gives: "nothing"})
	require.NoError(t, err)
	assert.Contains(t, faults["gives"], "gone")

	join(t, c, id, "ana@readers.example")
	require.ErrorIs(t, c.Audience.RemoveList(ctx, id), refusal.ErrConflict)
	require.ErrorIs(t, c.Audience.RemoveList(ctx, "the-guide"), refusal.ErrConflict, "a form puts people on it")
	require.NoError(t, c.Audience.Tell(ctx))
	require.NoError(t, c.Audience.Tell(ctx))
	require.Len(t, c.Post.Letters, 1, "once")
	assert.Equal(t, "ana@readers.example joined “Workshop, spring”", c.Post.Letters[0].Subject)

	c.Exec("UPDATE lists SET tells = 'daily' WHERE id = $1", id)
	join(t, c, id, "bruno@readers.example")
	join(t, c, id, "clara@readers.example")
	require.NoError(t, c.Audience.Tell(ctx))
	assert.Len(t, c.Post.Letters, 1, "not on the same day")
	c.Post.Fails = errors.New("away")
	c.Clock.Advance(24 * time.Hour)
	require.Error(t, c.Audience.Tell(ctx))
	c.Post.Fails = nil
	require.NoError(t, c.Audience.Tell(ctx))
	require.Len(t, c.Post.Letters, 2)
	assert.Equal(t, "2 joined “Workshop, spring”", c.Post.Letters[1].Subject)
}

// A list that gives a file hands it out by mail once somebody is on it.
func TestAListGives(t *testing.T) {
	c, ctx := use(t), context.Background()
	plain(t, c)
	c.Exec("UPDATE lists SET gives = 'seven-knots' WHERE id = 'the-guide'")
	join(t, c, "the-guide", "ana@readers.example")
	join(t, c, "the-guide", "ana@readers.example")
	_, err := c.Audience.SendDue(ctx)
	require.NoError(t, err)
	require.Len(t, c.Post.Letters, 1)
	assert.Contains(t, c.Post.Letters[0].Text, "http://shop.example/files/")
	assert.Contains(t, c.Post.Letters[0].Unsubscribe, "/letters/")
}

// A trial is sent to oneself from the draft, without a list and without anybody's link.
func TestATrialIsSentToOneself(t *testing.T) {
	c := use(t)
	require.NoError(t, c.Audience.Trial(context.Background(), "two-bridles", "owner@gustwell.example"))
	require.Len(t, c.Post.Letters, 1)
	assert.Contains(t, c.Post.Letters[0].Text, "This is a trial")
	assert.Zero(t, c.Number("SELECT count(*) FROM postings"))
}

// People are found by a part of their name or address, and by a list.
func TestPeopleAreFound(t *testing.T) {
	c, ctx := use(t), context.Background()
	plain(t, c)
	join(t, c, "the-guide", "ana@readers.example")
	join(t, c, "news-of-the-coast", "bruno@readers.example")
	for find, n := range map[[2]string]int{{"", ""}: 2, {"ana", ""}: 1, {"", "the-guide"}: 1, {"bruno", "the-guide"}: 0, {"%", ""}: 0, {"INES", ""}: 2} {
		var rule segment.Rule
		if find[1] != "" {
			rule.All = []segment.Clause{{Did: segment.OnList, Of: find[1]}}
		}
		rows, count, err := c.Audience.People(ctx, find[0], rule)
		require.NoError(t, err)
		assert.Equal(t, n, count, find)
		assert.Len(t, rows, n)
	}
	var out strings.Builder
	require.NoError(t, c.Audience.Export(ctx, &out))
	assert.Contains(t, out.String(), "ana@readers.example,Ines,The guide,on,")
	sums, err := c.Audience.Sums(ctx)
	require.NoError(t, err)
	assert.Equal(t, audience.Sums{People: 2, On: 1, Today: 1}, sums, "one has yet to confirm it")
}
