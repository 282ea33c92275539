package ordermail_test

import (
	"context"
	"errors"
	"strings"
	"testing"

	"chrysagon/app/ports"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pouch is a mail service that keeps what it is given, or is out of order.
type pouch struct {
	letters []ports.Letter
	broken  bool
}

func (p *pouch) Send(_ context.Context, l ports.Letter) error {
	if p.broken {
		return errors.New("the post is shut")
	}
	p.letters = append(p.letters, l)
	return nil
}

func TestTheConfirmationSaysWhatWasBoughtAndGoesOnce(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	post := &pouch{broken: true}
	shop.App.Post = post
	require.NotNil(t, shop.Browser().Buy("9200 0000 0000 0017")["go"])
	var id string
	require.NoError(t, shop.Store.Pool.QueryRow(ctx, `SELECT id FROM mails`).Scan(&id))
	require.Error(t, shop.App.OrderMail.Deliver(ctx, id), "the queue tries again")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM mails WHERE sent_at IS NULL`))
	post.broken = false
	for range 3 {
		require.NoError(t, shop.App.OrderMail.Deliver(ctx, id))
	}
	require.Len(t, post.letters, 1)
	l := post.letters[0]
	assert.Equal(t, "ines@example.org", l.To)
	assert.Equal(t, "hello@gustwell.example", l.From)
	assert.Regexp(t, `^Your order \d+ at Gustwell Kiteworks$`, l.Subject)
	for _, body := range []string{l.Text, l.HTML} {
		for _, words := range []string{"Ines Falk", "Ember 180, with lantern and line", "€51.00", "Gustwell Kiteworks, owner Marta Venn", shop.App.Origins.Shop + "/orders/", shop.App.Origins.Shop + "/terms", "Monday 23 November 2026, 12:00", "7 Lee Lane", "1200-109 Lisbon", "Portugal", "write to hello@gustwell.example"} {
			assert.Contains(t, body, words)
		}
		assert.NotContains(t, body, "browser you ordered with")
	}
}

// A name that a buyer typed cannot become a part of the letter's form.
func TestABuyersNameStaysAName(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	post := &pouch{}
	shop.App.Post = post
	b := shop.Browser()
	page := b.Get("/night-flight")
	form := b.Form(page, b.Card("9200 0000 0000 0017"))
	form.Set("name", `Ines <a href="https://elsewhere.example">here</a>`)
	require.NotNil(t, b.Post("/night-flight/checkout", form, "application/json").JSON(t)["go"])
	var id string
	require.NoError(t, shop.Store.Pool.QueryRow(ctx, `SELECT id FROM mails`).Scan(&id))
	require.NoError(t, shop.App.OrderMail.Deliver(ctx, id))
	assert.NotContains(t, post.letters[0].HTML, `<a href="https://elsewhere`)
	assert.False(t, strings.ContainsAny(post.letters[0].Subject, "\r\n"))
}
