package desk_test

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// helped opens a shop in which somebody helps the owner.
func helped(t *testing.T) *testkit.Shop {
	t.Helper()
	shop := testkit.Open(t)
	shop.Exec("INSERT INTO users (id, email, name, password_hash) VALUES ('tomas', 'tomas@gustwell.example', 'Tomás Brae', 'x')")
	return shop
}

func fieldOf(t *testing.T, shop *testkit.Shop, piece string) string {
	t.Helper()
	d, err := shop.App.Drafts.Draft(context.Background(), "night-flight")
	require.NoError(t, err)
	p, _ := d.Tree.Piece(piece)
	return p.Fields.Text("text")
}

// Two sessions write in one field at once, each on what it last saw of it: every
// word of both is there in the end, and each can take their own back.
func TestTwoSessionsWriteInOneFieldAndLoseNothing(t *testing.T) {
	shop := helped(t)
	ctx := context.Background()
	first := fieldOf(t, shop, "headline")
	const changes = 15
	var wait sync.WaitGroup
	for _, who := range []string{"marta", "tomas"} {
		wait.Add(1)
		go func() {
			defer wait.Done()
			seen := first
			for i := range changes {
				next := seen + fmt.Sprintf(" %s%d.", who, i)
				_, err := shop.App.Desk.Edit(ctx, who, "night-flight", manuscript.Command{Op: manuscript.SetField, Piece: "headline", Field: "text", Value: next, Was: seen, Guard: true}, i%2 == 0)
				assert.NoError(t, err)
				seen = next // and never looks at what the other wrote
			}
		}()
	}
	wait.Wait()
	kept := fieldOf(t, shop, "headline")
	for _, who := range []string{"marta", "tomas"} {
		for i := range changes {
			assert.Equal(t, 1, strings.Count(kept, fmt.Sprintf(" %s%d.", who, i)), kept)
		}
	}
	for _, who := range []string{"tomas", "marta"} {
		for {
			if _, err := shop.App.Desk.Undo(ctx, who, "night-flight"); err != nil {
				require.ErrorIs(t, err, refusal.ErrInvalid)
				break
			}
		}
		assert.NotContains(t, fieldOf(t, shop, "headline"), who)
	}
	assert.Equal(t, first, fieldOf(t, shop, "headline"))
}

func TestUndoTakesBackOnesOwn(t *testing.T) {
	shop := helped(t)
	ctx := context.Background()
	edit := func(who string, c manuscript.Command) {
		_, err := shop.App.Desk.Edit(ctx, who, "night-flight", c, false)
		require.NoError(t, err)
	}
	set := func(piece, text string) manuscript.Command {
		return manuscript.Command{Op: manuscript.SetField, Piece: piece, Field: "text", Value: text}
	}
	band := &manuscript.Band{ID: "hers", Name: "Hers", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{{ID: "hers-head", Kind: "heading", Fields: manuscript.Fields{"text": "Hers"}}}}}}
	edit("marta", set("kite-name", "Ember by Marta"))
	edit("marta", manuscript.Command{Op: manuscript.AddBand, Index: 1, Band: band})
	edit("tomas", set("hers-head", "Hers and his"))

	d, err := shop.App.Desk.Undo(ctx, "marta", "night-flight")
	require.NoError(t, err)
	_, _, there := d.Tree.Band("hers")
	assert.True(t, there, "the band in which he wrote stays")
	assert.NotEqual(t, "Ember by Marta", fieldOf(t, shop, "kite-name"), "what she did before is taken back instead")

	_, err = shop.App.Desk.Undo(ctx, "tomas", "night-flight")
	require.NoError(t, err)
	assert.Equal(t, "Hers", fieldOf(t, shop, "hers-head"))
	d, err = shop.App.Desk.Undo(ctx, "marta", "night-flight")
	require.NoError(t, err)
	_, _, there = d.Tree.Band("hers")
	assert.False(t, there, "now that nothing of his is in it")
	for range 2 {
		_, err = shop.App.Desk.Redo(ctx, "marta", "night-flight")
		require.NoError(t, err)
	}
	_, err = shop.App.Desk.Redo(ctx, "tomas", "night-flight")
	require.NoError(t, err)
	assert.Equal(t, "Hers and his", fieldOf(t, shop, "hers-head"))
	_, err = shop.App.Desk.Redo(ctx, "tomas", "night-flight")
	require.ErrorIs(t, err, refusal.ErrInvalid)
}

// What was put into a band meanwhile comes back with it.
func TestRepeatingBringsBackWhatStoodThere(t *testing.T) {
	shop := helped(t)
	ctx := context.Background()
	band := &manuscript.Band{ID: "new", Name: "New", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1}}}
	_, err := shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.AddBand, Index: 1, Band: band}, false)
	require.NoError(t, err)
	_, err = shop.App.Desk.Edit(ctx, "tomas", "night-flight", manuscript.Command{Op: manuscript.MovePiece, Piece: "kite-name", ID: "new"}, false)
	require.NoError(t, err)
	_, err = shop.App.Desk.Undo(ctx, "marta", "night-flight")
	require.ErrorIs(t, err, refusal.ErrInvalid)
	assert.ErrorContains(t, err, "Others have changed since")
	assert.NotEmpty(t, fieldOf(t, shop, "kite-name"))
}

func TestANamingIsUndoneLikeAnything(t *testing.T) {
	shop := helped(t)
	ctx := context.Background()
	name := func(field, value string) error {
		_, err := shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.SetPage, Field: field, Value: value}, true)
		return err
	}
	before, err := shop.App.Drafts.Draft(ctx, "night-flight")
	require.NoError(t, err)
	require.NoError(t, name(manuscript.Title, "A"))
	require.NoError(t, name(manuscript.Title, "A kite"))
	require.NoError(t, name(manuscript.Address, "by-night"))
	err = name(manuscript.Address, "quiver-bag")
	require.ErrorIs(t, err, refusal.ErrConflict)
	assert.ErrorContains(t, err, "Another page already has the address /quiver-bag")
	require.ErrorIs(t, name(manuscript.Address, "By Night!"), refusal.ErrInvalid)
	d, err := shop.App.Drafts.Draft(ctx, "night-flight")
	require.NoError(t, err)
	assert.Equal(t, "by-night", d.Address)
	assert.Equal(t, "A kite", d.Title)
	list, err := shop.App.Desk.History(ctx, d)
	require.NoError(t, err)
	assert.Equal(t, "wrote “by-night” as the page’s address", list[0].What)
	assert.Equal(t, "wrote “A kite” as the page’s title", list[1].What, "a run of typing is one change")
	for range 2 {
		d, err = shop.App.Desk.Undo(ctx, "marta", "night-flight")
		require.NoError(t, err)
	}
	assert.Equal(t, before.Address, d.Address)
	assert.Equal(t, before.Title, d.Title)
	assert.JSONEq(t, string(before.Manuscript), string(d.Manuscript), "and the manuscript is as it was")
}

func TestWhoHasThePageOpenHearsOfItsChanges(t *testing.T) {
	shop := helped(t)
	news := shop.App.News.Subscribe()
	defer news.Close()
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	go shop.App.News.Listen(ctx)
	<-news.Ready() // it listens
	_, err := shop.App.Desk.Edit(context.Background(), "tomas", "night-flight", manuscript.Command{Op: manuscript.SetField, Piece: "headline", Field: "text", Value: "Up"}, false)
	require.NoError(t, err)
	for {
		<-news.Ready()
		for _, n := range news.Take() {
			if id, isPage := n.Topic.Page(); isPage {
				assert.Equal(t, "night-flight", id)
				assert.Equal(t, "1", n.What)
				return
			}
		}
	}
}
