package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"testing"
	"time"

	"chrysagon/app/offers"
	"chrysagon/core/followup"
	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A checkout puts who ticks on its list, in the words that stood beside the tick: at once
// where they order, an hour later where they leave it, and never without the tick.
func TestACheckoutPutsWhoAgreesOnItsList(t *testing.T) {
	shop := openMailed(t)
	ctx := context.Background()
	shop.Exec("UPDATE lists SET confirmed = false, why = 'You get this because you wanted to hear from us.' WHERE id = 'the-guide'")
	shop.Set("night-flight", "order-form", m.Fields{"list": "the-guide", "parts": "2"})
	consent := func(email string) string {
		require.NoError(t, shop.App.Audience.TakeUp(ctx))
		return shop.Text("SELECT coalesce((SELECT m.state || ': ' || m.consent FROM members m JOIN contacts c ON c.id = m.contact_id WHERE c.email = $1), '')", email)
	}
	b := shop.Browser()
	page := b.Get("/night-flight")
	assert.Contains(t, page.Words(), "Write to me. You get this because you wanted to hear from us. You can end it in every letter.")

	// Left unfinished, with the tick and without; the tick taken back.
	next := func(email, tick string) {
		v := url.Values{"name": {"Ines Falk"}, "email": {email}, "part": {"1"}, "next": {"1"}}
		if tick != "" {
			v.Set("consent", tick)
		}
		require.Equal(t, http.StatusSeeOther, b.Post("/night-flight/checkout/next", v, "").Status)
	}
	next("left@readers.example", "1")
	assert.Empty(t, consent("left@readers.example"), "they may still be typing")
	next("left@readers.example", "")
	shop.Clock.Advance(2 * time.Hour)
	assert.Empty(t, consent("left@readers.example"), "the tick was taken back")
	next("left@readers.example", "1")
	shop.Clock.Advance(time.Hour + time.Second)
	assert.Equal(t, "on: Write to me. You get this because you wanted to hear from us. You can end it in every letter.", consent("left@readers.example"))
	assert.Zero(t, shop.Number("SELECT count(*) FROM agreed"))

	// Ordered, by a buyer who ticks and one who does not.
	for email, tick := range map[string]string{"yes@readers.example": "1", "no@readers.example": ""} {
		b := shop.Browser()
		form := b.Form(b.Get("/night-flight"), b.Card("9200 0000 0000 0017"))
		form.Set("email", email)
		form.Set("part", "2")
		if tick != "" {
			form.Set("consent", tick)
		}
		require.NotNil(t, b.Post("/night-flight/checkout", form, "application/json").JSON(t)["go"])
		assert.Equal(t, tick != "", consent(email) != "", email)
	}
	assert.Equal(t, "night-flight", shop.Text("SELECT m.page_id FROM members m JOIN contacts c ON c.id = m.contact_id WHERE c.email = 'yes@readers.example'"))
	assert.NotEmpty(t, shop.Text("SELECT m.edition_id FROM members m JOIN contacts c ON c.id = m.contact_id WHERE c.email = 'yes@readers.example'"))
}

// A deadline of one's own begins with the letter, and is the same in the letter, on the page
// that its link leads to, in the timer and in the price.
func TestOnesOwnDeadlineBeginsWithTheLetter(t *testing.T) {
	shop := openMailed(t)
	ctx := context.Background()
	shop.Exec("UPDATE lists SET confirmed = false")
	span, faults, err := shop.App.Offers.SaveDeadline(ctx, offers.DeadlineInput{Name: "Two days", Kind: "span", SpanMinutes: 2 * 24 * 60})
	require.NoError(t, err)
	require.Empty(t, faults)
	offered(t, shop.Shop, offers.OfferInput{Name: "Quick", Kind: "order_amount_off", Members: map[string]string{"amount": "6.00"}, Covers: "all", DeadlineID: span})
	shop.Set("what-the-wind-says", "lw-b", m.Fields{"label": "See it"})
	shop.Set("until-midnight", "lu-t", m.Fields{"deadline": span})
	shop.Set("night-flight", "order-form", m.Fields{"deadline": span, "after": "close"})

	foreseen := func() (time.Time, []followup.Told) {
		letters, err := shop.App.Followups.Letters(ctx, "frost-lanterns")
		require.NoError(t, err)
		lines, err := shop.App.Followups.Lines(ctx, "frost-lanterns", letters)
		require.NoError(t, err)
		line, told, err := shop.App.Postroom.Foresee(ctx, lines[0], shop.Clock.Now(), time.UTC)
		require.NoError(t, err)
		return line.Says.Until, told
	}
	steps := `[{"letter": "until-midnight", "minutes": 60}, {"letter": "two-bridles", "days": 3}]`
	shop.Exec("UPDATE followups SET deadline_id = $1, line = jsonb_set(line, '{steps}', $2)", span, steps)
	until, told := foreseen()
	assert.Equal(t, told[0].At.Add(48*time.Hour), until, "it is drawn from the letter on")
	assert.Equal(t, followup.TooLate, told[1].Outcome)
	shop.Exec(`UPDATE followups SET line = jsonb_set(line, '{steps}', '[{"letter": "what-the-wind-says"}]')`)
	until, told = foreseen()
	assert.Zero(t, until, "no letter shows it")
	assert.Equal(t, followup.Sent, told[0].Outcome)
	shop.Exec(`UPDATE followups SET deadline_id = NULL, line = jsonb_set(line, '{steps}', '[{"letter": "until-midnight", "minutes": 60}]')`)

	b := shop.Browser()
	require.Equal(t, http.StatusSeeOther, b.SignUp(ines).Status)
	shop.Clock.Advance(time.Hour + time.Second)
	began := shop.Clock.Now()
	letters := shop.due(ines)
	require.Len(t, letters, 1)
	ends := "Wednesday 25 November 2026, 13:00"
	assert.Contains(t, letters[0].Text, ends, "two days after it was sent")
	link := regexp.MustCompile(`http://[^\s"<>)]+letter=[^\s"<>)&]+`).FindString(letters[0].Text)
	require.NotEmpty(t, link)

	shop.Clock.Advance(20 * time.Hour)
	phone := shop.Browser()
	page := phone.Get(link)
	require.Equal(t, http.StatusOK, page.Status)
	assert.Contains(t, page.Body, began.Add(48*time.Hour).Format("2006-01-02T15:04"), "the page counts from the letter")
	other := shop.Browser().Get("/night-flight")
	assert.NotContains(t, other.Body, began.Add(48*time.Hour).Format("2006-01-02T15:04"), "others begin when they come")
	shop.Clock.Advance(28 * time.Hour)
	assert.NotContains(t, phone.Get("/night-flight").Body, "Order and pay", "it is over for them")
	shop.Clock.Advance(-time.Minute)
	assert.Contains(t, phone.Get("/night-flight").Body, "Order and pay")
}
