package audience_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"chrysagon/app/audience"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestErasedIsErased(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.JoinList("the-guide", "Ana@readers.example")
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
	c.JoinList("the-guide", "ana@READERS.example")
	assert.Zero(t, c.Number("SELECT count(*) FROM contacts"))
	require.ErrorIs(t, c.Audience.Erase(ctx, id), refusal.ErrNotFound)
}

func TestListsAreKeptAndTold(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	id, faults, err := c.Audience.SaveList(ctx, mailing.List{Name: " Workshop,  spring ", Why: "You asked for seats in spring.", Tells: mailing.Each})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, faults, err = c.Audience.SaveList(ctx, mailing.List{Name: "Workshop, spring", Why: "Again.", Tells: mailing.Each})
	require.NoError(t, err)
	assert.Contains(t, faults["name"], "Another list")
	_, faults, err = c.Audience.SaveList(ctx, mailing.List{Name: "Other", Why: "x", Tells: mailing.Never, Gives: "nothing"})
	require.NoError(t, err)
	assert.Contains(t, faults["gives"], "gone")

	c.JoinList(id, "ana@readers.example")
	require.ErrorIs(t, c.Audience.RemoveList(ctx, id), refusal.ErrConflict)
	require.ErrorIs(t, c.Audience.RemoveList(ctx, "the-guide"), refusal.ErrConflict, "a form puts people on it")
	require.NoError(t, c.Audience.Tell(ctx))
	require.NoError(t, c.Audience.Tell(ctx))
	require.Len(t, c.Post.Letters, 1, "once")
	assert.Equal(t, "ana@readers.example joined “Workshop, spring”", c.Post.Letters[0].Subject)

	c.Exec("UPDATE lists SET tells = 'daily' WHERE id = $1", id)
	c.JoinList(id, "bruno@readers.example")
	c.JoinList(id, "clara@readers.example")
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

func TestAListGives(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.Exec("UPDATE lists SET gives = 'seven-knots' WHERE id = 'the-guide'")
	c.JoinList("the-guide", "ana@readers.example")
	c.JoinList("the-guide", "ana@readers.example")
	_, err := c.Postroom.SendDue(ctx)
	require.NoError(t, err)
	require.Len(t, c.Post.Letters, 1)
	assert.Contains(t, c.Post.Letters[0].Text, "http://shop.example/files/")
	assert.Contains(t, c.Post.Letters[0].Unsubscribe, "/letters/")
}

func TestPeopleAreFound(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.JoinList("the-guide", "ana@readers.example")
	c.JoinList("news-of-the-coast", "bruno@readers.example")
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
