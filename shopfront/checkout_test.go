package shopfront_test

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"testing"
	"time"

	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func bumps(ids ...string) []any {
	var out []any
	for _, id := range ids {
		out = append(out, map[string]any{"product": id, "text": "Take it along."})
	}
	return out
}

func options(list ...map[string]any) []any {
	var out []any
	for _, o := range list {
		out = append(out, o)
	}
	return out
}

// checkoutForms are forms that a checkout can take, with what a buyer then writes, what
// is charged and which lines it pays for.
var checkoutForms = map[string]struct {
	fields m.Fields
	typed  map[string]string
	total  int64
	lines  string
	at     string // page; "": night-flight
}{
	"as it is":               {nil, nil, 5100, "1 ember", ""},
	"in two parts":           {m.Fields{"parts": "2"}, map[string]string{"part": "2"}, 5100, "1 ember", ""},
	"three bumps":            {m.Fields{"parts": "3", "bumps": bumps("lantern-cell", "reel", "plans")}, map[string]string{"part": "3", "bump": "1", "bump2": "1", "bump3": "1"}, 5100 + 700 + 2200 + 1200, "1 ember, 1 lantern-cell bump, 1 plans bump, 1 reel bump", ""},
	"second bump":            {m.Fields{"bumps": bumps("lantern-cell", "reel")}, map[string]string{"bump2": "1"}, 5100 + 2200, "1 ember, 1 reel bump", ""},
	"a quantity":             {m.Fields{"quantity": "chosen"}, map[string]string{"quantity": "3"}, 3 * 5100, "3 ember", ""},
	"one of two":             {m.Fields{"options": options(map[string]any{"product": "ember", "count": "1"}, map[string]any{"product": "tern", "count": "2", "with": "reel"})}, map[string]string{"option": "2"}, 2*1900 + 2200, "1 reel, 2 tern", ""},
	"two of a set":           {m.Fields{"quantity": "chosen", "options": options(map[string]any{"product": "ember", "count": "1", "with": "line-30"})}, map[string]string{"quantity": "2"}, 2*5100 + 2*1400, "2 ember, 2 line-30", ""},
	"much is asked":          {m.Fields{"phone": "needed", "company": "shown", "tax": "shown", "note": "shown", "payer": "shown", "extra": "shown", "consent": "Write to me", "questions": []any{map[string]any{"says": "Which hand?", "kind": "choice", "options": "left / right", "asks": "needed"}}}, map[string]string{"phone": "+351 210 000 000", "q1": "left", "apart": "1", "payer_name": "Falk GmbH", "payer_country": "Germany", "payer_street": "Am Wind 4", "payer_postcode": "10117", "payer_town": "Berlin", "note": "Ring twice.\nThank you.", "consent": "1"}, 5100, "1 ember", ""},
	"from lists":             {nil, map[string]string{"put:tern": "3", "put:lantern-cell": "1", "put:plans": "1", "put:repair": "1", "put:spar-kit": "2"}, 3*1900 + 900 + 1200 + 1100 + 2*1600, "1 lantern-cell, 1 plans, 1 repair, 2 spar-kit, 3 tern", "spares"},
	"from lists, with bumps": {m.Fields{"bumps": bumps("quiver", "tern")}, map[string]string{"put:tern": "2", "bump": "1", "bump2": "1"}, 2*1900 + 3400 + 1900, "2 tern, 1 quiver bump, 1 tern bump", "spares"},
	"a kite, and from lists": {m.Fields{"parts": "2", "product": "gull", "quantity": "chosen"}, map[string]string{"part": "2", "quantity": "2", "put:line-30": "2"}, 2*2900 + 2*1400, "2 gull, 2 line-30", "spares"},
}

func linesOf(shop *testkit.Shop) string {
	var lines []string
	shop.Store.DB.Raw(`SELECT l.quantity || ' ' || l.variant_id || CASE l.via WHEN 'bump' THEN ' bump' ELSE '' END AS line FROM order_lines l JOIN orders o ON o.id = l.order_id JOIN payments p ON p.id = l.payment_id AND p.state = 'charged'
		WHERE o.number = (SELECT max(number) FROM orders) ORDER BY (l.via = 'bump'), l.variant_id`).Scan(&lines)
	return strings.Join(lines, ", ")
}

// Whatever form a checkout has: it charges what it showed, once, however often it is
// pressed; a card that is declined charges nothing and reserves nothing; and the order
// holds what was bought.
func TestEveryFormOfACheckout(t *testing.T) {
	for name, form := range checkoutForms {
		t.Run(name, func(t *testing.T) {
			shop, _ := open(t)
			at, page, piece := "/night-flight", "night-flight", "order-form"
			if form.at != "" {
				at, piece = "/"+form.at, lists(t, shop)
				page = pageAt(shop, form.at)
			}
			if form.fields != nil {
				shop.Set(page, piece, form.fields)
			}
			b := shop.Browser()
			fill := func(card string) url.Values {
				typed := b.Form(b.Get(at), b.Card(card))
				for field, value := range form.typed {
					typed.Set(field, value)
				}
				if quoted := b.Post(at+"/quote", typed, asJSON).JSON(t); assert.NotEmpty(t, quoted["seen"], quoted) {
					typed.Set("seen", quoted["seen"].(string))
				}
				return typed
			}
			charges := func() int64 { return shop.Number(`SELECT count(*) FROM till.charges WHERE state = 'charged'`) }
			before := charges()
			declined := b.Post(at+"/checkout", fill(declines), asJSON).JSON(t)
			assert.Contains(t, declined["errors"], "card", declined)
			assert.Zero(t, shop.Number(`SELECT count(*) FROM variants WHERE reserved > 0`))
			typed := fill(approves)
			paid := b.Post(at+"/checkout", typed, asJSON).JSON(t)
			require.Contains(t, paid["go"], "/quiver-bag?order=", paid)
			b.Post(at+"/checkout", typed, asJSON)
			assert.Equal(t, int64(1), charges()-before, "pressed twice, charged once")
			assert.Equal(t, form.total, shop.Number(`SELECT amount_minor FROM payments WHERE state = 'charged' ORDER BY settled_at DESC LIMIT 1`))
			assert.Equal(t, form.lines, linesOf(shop))
		})
	}
}

// What was asked besides stands in the order, in the words in which it was asked.
func TestWhatIsAskedStandsInTheOrder(t *testing.T) {
	shop, _ := open(t)
	form := checkoutForms["much is asked"]
	shop.Set("night-flight", "order-form", form.fields)
	b := shop.Browser()
	typed := b.Form(b.Get("/night-flight"), b.Card(approves))
	for field, value := range form.typed {
		typed.Set(field, value)
	}
	typed.Set("q1", "both")
	assert.Contains(t, b.Post("/night-flight/checkout", typed, asJSON).JSON(t)["errors"], "q1")
	typed.Set("q1", "left")
	require.NotNil(t, b.Post("/night-flight/checkout", typed, asJSON).JSON(t)["go"])
	var said, payer string
	row := shop.Store.DB.Raw(`SELECT said::text, payer::text FROM orders ORDER BY number DESC NULLS LAST LIMIT 1`).Row()
	require.NoError(t, row.Scan(&said, &payer))
	for _, has := range []string{"Phone", "+351 210 000 000", "Which hand?", "left", `Ring twice.\nThank you.`, "Write to me"} {
		assert.Contains(t, said, has)
	}
	assert.NotContains(t, said, "Tax number", "what was not answered is not there")
	assert.Contains(t, payer, "Falk GmbH")
	d := testkit.SignIn(t, shop)
	var id string
	require.NoError(t, shop.Store.DB.Raw(`SELECT id FROM orders ORDER BY number DESC NULLS LAST LIMIT 1`).Scan(&id).Error)
	whole := d.Get(d.At("/orders/" + id)).Body
	for _, has := range []string{"The invoice goes to", "Falk GmbH<br>Am Wind 4<br>10117 Berlin<br>Germany", "Which hand?", "Ring twice."} {
		assert.Contains(t, whole, has)
	}
}

// A checkout in parts without script: who one is comes first and is kept, back loses
// nothing, and whoever comes back the next day goes on where they were.
func TestACheckoutInPartsWithoutScript(t *testing.T) {
	shop, books := open(t)
	shop.Set("night-flight", "order-form", m.Fields{"parts": "3", "note": "shown", "bumps": bumps("lantern-cell")})
	b := shop.Browser()
	first := b.Get("/night-flight")
	assert.Contains(t, first.Body, `data-part="1">`)
	assert.Contains(t, first.Body, `data-part="2" hidden>`)
	assert.Contains(t, first.Body, "Next keeps your name and email address with us")

	form := url.Values{"name": {"Ines Falk"}, "email": {"ines@"}, "part": {"1"}, "next": {"1"}}
	refused := b.Post("/night-flight/checkout/next", form, "")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Body, "This is not an email address")
	assert.Contains(t, refused.Body, `value="Ines Falk"`)
	assert.Zero(t, shop.Number(`SELECT count(*) FROM unfinished`), "nothing is kept of what is no address")

	form.Set("email", "ines@example.org")
	form.Set("bump", "1")
	on := b.Post("/night-flight/checkout/next", form, "")
	require.Equal(t, http.StatusSeeOther, on.Status)
	assert.Equal(t, "/night-flight?part=2#checkout", on.Location)
	second := b.Get(on.Location)
	assert.Contains(t, second.Body, `data-part="1" hidden>`)
	assert.Contains(t, second.Body, `value="ines@example.org"`)
	assert.Contains(t, second.Body, `name="bump" value="1" checked`)

	back := url.Values{"name": {"Ines Falk"}, "email": {"ines@example.org"}, "street": {"7 Lee Lane"}, "note": {"Ring twice"}, "part": {"2"}, "back": {"1"}, "bump": {"1"}}
	before := b.Post("/night-flight/checkout/next", back, "")
	assert.Equal(t, "/night-flight?part=1#checkout", before.Location)
	shop.Clock.Advance(24 * time.Hour)
	tomorrow := b.Get("/night-flight")
	assert.Contains(t, tomorrow.Body, `value="7 Lee Lane"`, "what was typed in a later part is kept too")
	assert.Contains(t, tomorrow.Body, "Ring twice")
	assert.NotContains(t, shop.Browser().Get("/night-flight").Body, "ines@example.org", "nobody else sees it")

	form = b.Form(tomorrow, b.Card(approves))
	form.Set("bump", "1")
	form.Set("part", "3")
	missing := url.Values{}
	for name, v := range form {
		missing[name] = v
	}
	missing.Del("town")
	asked := b.Post("/night-flight/checkout", missing, asJSON).JSON(t)
	assert.EqualValues(t, 2, asked["part"], "the part in which something is missing")
	paid := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
	require.NotNil(t, paid["go"], paid)
	assert.Zero(t, shop.Number(`SELECT count(*) FROM unfinished`), "what is paid for is not unfinished")
	assert.NotContains(t, b.Get("/night-flight").Body, `value="7 Lee Lane"`)
	books.hold(t, 1, 1)
}

func TestWhatNobodyComesBackToIsForgotten(t *testing.T) {
	shop, _ := open(t)
	shop.Set("night-flight", "order-form", m.Fields{"parts": "2"})
	b := shop.Browser()
	b.Get("/night-flight")
	form := url.Values{"name": {"Ines Falk"}, "email": {"ines@example.org"}, "part": {"1"}}
	assert.EqualValues(t, 2, b.Post("/night-flight/checkout/next", form, asJSON).JSON(t)["part"])
	d := testkit.SignIn(t, shop)
	listed := d.Get(d.At("/orders")).Body
	for _, has := range []string{"1 checkout begun and not paid for", "ines@example.org", "Night flight", "part 2"} {
		assert.Contains(t, listed, has)
	}
	shop.Clock.Advance(31 * 24 * time.Hour)
	assert.NotContains(t, b.Get("/night-flight").Body, "ines@example.org")
	require.NoError(t, shop.App.Selling.ForgetUnfinished(t.Context()))
	assert.Zero(t, shop.Number(`SELECT count(*) FROM unfinished`))
}

// A part that asks nothing as the cart stands is stepped over, both ways, and stands
// again once a bump brings a parcel.
func TestAPartThatAsksNothingIsSteppedOver(t *testing.T) {
	shop, _ := open(t)
	shop.Exec(`UPDATE products SET form = 'digital' WHERE id = 'ember'`)
	shop.Set("night-flight", "order-form", m.Fields{"parts": "3", "bumps": bumps("lantern-cell")})
	b := shop.Browser()
	b.Get("/night-flight")
	turn := func(part int, pairs ...string) any {
		form := url.Values{"name": {"Ines Falk"}, "email": {"ines@example.org"}, "part": {strconv.Itoa(part)}}
		for i := 0; i+1 < len(pairs); i += 2 {
			form.Set(pairs[i], pairs[i+1])
		}
		return b.Post("/night-flight/checkout/next", form, asJSON).JSON(t)["part"]
	}
	assert.EqualValues(t, 3, turn(1))
	assert.EqualValues(t, 1, turn(3, "back", "1"))
	assert.EqualValues(t, 2, turn(1, "bump", "1"))
	assert.EqualValues(t, 2, turn(3, "bump", "1", "back", "1"))
	assert.EqualValues(t, 1, turn(0, "back", "1"))
	assert.EqualValues(t, 3, turn(99))
}

// The last piece of one option is gone while somebody chooses it: they are told, nothing
// is charged, and the other stays to be had.
func TestTheLastPieceOfAnOption(t *testing.T) {
	shop, _ := open(t)
	shop.Set("night-flight", "order-form", m.Fields{"options": options(map[string]any{"product": "ember"}, map[string]any{"product": "tern", "count": "2", "words": "Two terns"})})
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card(approves))
	form.Set("option", "2")
	form.Set("seen", b.Post("/night-flight/quote", form, asJSON).JSON(t)["seen"].(string))
	shop.Exec(`UPDATE variants SET stock = 1 WHERE id = 'tern'`)
	shop.Forget()
	told := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
	assert.Contains(t, told["notice"], "“Two terns” is no longer to be had")
	assert.Nil(t, told["go"])
	assert.Contains(t, b.Get("/night-flight").Body, `class="choice gone"`)
	form.Set("option", "1")
	form.Set("seen", told["seen"].(string))
	require.NotNil(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
	assert.Equal(t, "1 ember", linesOf(shop))
}

// What is no number, no option or no bump does not fall over.
func TestChoicesThatAreNone(t *testing.T) {
	shop, books := open(t)
	shop.Set("night-flight", "order-form", m.Fields{"parts": "2", "quantity": "chosen", "options": options(map[string]any{"product": "ember"}, map[string]any{"product": "tern"})})
	b := shop.Browser()
	page := b.Get("/night-flight")
	for _, bad := range []string{"-1", "0", "99999999999999999999", "x", "1e3", "'"} {
		form := b.Form(page, "")
		for _, name := range []string{"option", "quantity", "part", "bump9"} {
			form.Set(name, bad)
		}
		for _, path := range []string{"quote", "checkout/fields", "checkout/next"} {
			assert.Equal(t, http.StatusOK, b.Post("/night-flight/"+path, form, asJSON).Status, "%s %q", path, bad)
		}
	}
	assert.Equal(t, http.StatusSeeOther, b.Get("/night-flight/checkout/next").Status)
	books.hold(t, 0, 0)
}

// The owner forgets at a press what somebody typed and did not pay for.
func TestAnUnfinishedCheckoutIsForgottenAtAPress(t *testing.T) {
	shop, _ := open(t)
	shop.Set("night-flight", "order-form", m.Fields{"parts": "2", "consent": "Write to me"})
	b := shop.Browser()
	b.Get("/night-flight")
	b.Post("/night-flight/checkout/next", url.Values{"name": {"O'Neil <b>"}, "email": {"o'neil@example.org"}, "part": {"1"}, "consent": {"1"}}, asJSON)
	d := testkit.SignIn(t, shop)
	listed := d.Get(d.At("/orders")).Body
	assert.Contains(t, listed, "O&#39;Neil &lt;b&gt;")
	assert.Contains(t, listed, "<td>Write to me</td>")
	shop.Clock.Advance(2 * time.Hour)
	d.Send("/campaign", url.Values{"campaign": {"frost-lanterns"}})
	assert.Contains(t, d.Get(d.At("/routes?days=7&step=night-flight")).Words(), `<b>begins the checkout, agrees to be written to and does not finish</b> is not there to be led: <a href="/orders">1 visitor</a>`)
	gone := d.Send("/orders/begun/forget", url.Values{"email": {"O'NEIL@example.org"}}).Body
	assert.NotContains(t, gone, "begun and not paid")
	assert.Zero(t, shop.Number("SELECT count(*) FROM unfinished"))
	assert.NotContains(t, b.Get("/night-flight").Body, "o&#39;neil@example.org")
}

// What is kept on Next is said as it is asked.
func TestNextSaysWhatItKeeps(t *testing.T) {
	for says, fields := range map[string]m.Fields{
		"keeps your name and email address with us":                        {"parts": "2"},
		"keeps your email address with us":                                 {"parts": "2", "name": "absent", "product": "plans", "bumps": nil},
		"keeps your name, email address, phone number and company with us": {"parts": "2", "phone": "needed", "company": "shown"},
	} {
		shop, _ := open(t)
		shop.Set("night-flight", "order-form", fields)
		assert.Contains(t, shop.Browser().Get("/night-flight").Body, says)
	}
}
