package till_test

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/internal/testkit"
	"chrysagon/standin/till"

	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// 79927398713 is the worked example with which the algorithm of ISO/IEC 7812-1,
// annex B is usually taught (from memory).
func TestLuhn(t *testing.T) {
	valid := func(s string) bool { return till.Luhn("0" + s) } // the example is shorter than a card number
	assert.True(t, valid("79927398713"))
	for _, last := range "012456789" {
		assert.False(t, valid("7992739871"+string(last)))
	}
	for _, c := range till.Cards {
		assert.True(t, till.Luhn(strings.ReplaceAll(c.Number, " ", "")), c.Number)
	}
	assert.False(t, till.Luhn("abc"))
	assert.False(t, till.Luhn("0000000000000000000000"), "too long")
	// A single wrong digit, and a swap of neighbours other than 0 and 9, is caught.
	rapid.Check(t, func(t *rapid.T) {
		digits := []byte("9200000000000017")
		i := rapid.IntRange(0, 15).Draw(t, "at")
		digits[i] = '0' + (digits[i]-'0'+byte(rapid.IntRange(1, 9).Draw(t, "by")))%10
		if till.Luhn(string(digits)) {
			t.Fatalf("%s passes", digits)
		}
	})
}

// The test vector of the Standard Webhooks libraries (from memory).
func TestSignaturesFollowTheSpecification(t *testing.T) {
	signer, err := webhooks.NewWebhook("whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw")
	require.NoError(t, err)
	signature, err := signer.Sign("msg_p5jXN8AQM9LWM0D4loKWxJek", time.Unix(1614265330, 0), []byte(`{"test": 2432232314}`))
	require.NoError(t, err)
	assert.Equal(t, "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=", signature)
}

func request(shop *testkit.Shop, key, token string) ports.ChargeRequest {
	return ports.ChargeRequest{Key: key, Amount: money.Of(5100, "EUR"), Token: token, Reference: "order x", ReturnURL: shop.App.Origins.Shop + "/orders/x"}
}

func TestTheSameKeyChargesOnce(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	token := shop.Browser().Card("9200 0000 0000 0017")
	var wait sync.WaitGroup
	answers := make([]ports.ChargeAnswer, 12)
	for i := range answers {
		wait.Add(1)
		go func() {
			defer wait.Done()
			answers[i], _ = shop.App.Payments.Charge(ctx, request(shop, "key-1", token))
		}()
	}
	wait.Wait()
	charged := 0
	for _, a := range answers {
		if a.State == order.Charged {
			charged++
			assert.Equal(t, answers[0].TillID, a.TillID, "the first answer again")
		}
	}
	assert.Equal(t, len(answers), charged)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM till.charges WHERE key = 'key-1'`))

	other := request(shop, "key-1", token)
	other.Amount.Minor = 1
	_, err := shop.App.Payments.Charge(ctx, other)
	require.ErrorContains(t, err, "409", "a key is not good for another amount")
	spent, err := shop.App.Payments.Charge(ctx, request(shop, "key-2", token))
	require.NoError(t, err)
	assert.Equal(t, order.Refused, spent.State, "a card's token is good once")
}

// However a charge and its conclusion meet, the key ends charged or cancelled,
// and both callers are told the same.
func TestAConcludedKeyIsNeverChargedLater(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	for i := range 12 {
		key := "race-" + string(rune('a'+i))
		token := shop.Browser().Card("9200 0000 0000 0017")
		var wait sync.WaitGroup
		var asked, concluded ports.ChargeAnswer
		wait.Add(2)
		go func() { defer wait.Done(); asked, _ = shop.App.Payments.Charge(ctx, request(shop, key, token)) }()
		go func() { defer wait.Done(); concluded, _ = shop.App.Payments.Conclude(ctx, key) }()
		wait.Wait()
		assert.Equal(t, asked.State, concluded.State)
		assert.Contains(t, []order.PaymentState{order.Charged, order.Cancelled}, asked.State)
	}
	again, err := shop.App.Payments.Conclude(ctx, "never-seen")
	require.NoError(t, err)
	assert.Equal(t, order.Cancelled, again.State)
	late, err := shop.App.Payments.Charge(ctx, request(shop, "never-seen", shop.Browser().Card("9200 0000 0000 0017")))
	require.NoError(t, err)
	assert.Equal(t, order.Cancelled, late.State)
}

func TestTheCardFormSaysWhatIsWrong(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	good := url.Values{"number": {"9200 0000 0000 0017"}, "expiry": {"11/26"}, "code": {"123"}}
	for field, cases := range map[string]map[string]string{
		"number": {"": "Write the card number", "1234": "not right", "9200 0000 0000 0018": "not right", "4000 0000 0000 0002": "only its test cards"},
		"expiry": {"": "Write the expiry", "13/30": "Write the expiry", "10/26": "has expired", "1/30": "Write the expiry"},
		"code":   {"": "security code", "12": "security code", "12345": "security code", "abc": "security code"},
	} {
		for value, says := range cases {
			form := url.Values{}
			for k, v := range good {
				form[k] = v
			}
			form.Set(field, value)
			assert.Contains(t, b.Post(shop.App.Origins.Till+"/tokens", form, "").JSON(t)["error"], says, "%s %q", field, value)
		}
	}
	assert.NotEmpty(t, b.Post(shop.App.Origins.Till+"/tokens", good, "").JSON(t)["token"], "a card is good to the end of its month")
	assert.Zero(t, shop.Number(`SELECT count(*) FROM till.cards WHERE last_four ~ '[0-9]{5}' OR token ~ '9200'`), "no number is kept")
}

func TestTheTillSendsBuyersNowhereElse(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	good := url.Values{"number": {"9200 0000 0000 0017"}, "expiry": {"08/31"}, "code": {"123"}}
	for _, away := range []string{"https://elsewhere.example/", "//elsewhere.example", "javascript:alert(1)", shop.App.Origins.Shop + "@elsewhere.example/", ""} {
		assert.Equal(t, http.StatusBadRequest, b.Get(shop.App.Origins.Till+"/card?return="+url.QueryEscape(away)).Status, away)
		good.Set("return", away)
		assert.GreaterOrEqual(t, b.Post(shop.App.Origins.Till+"/card", good, "").Status, 400, away)
	}
	r := request(shop, "away", b.Card("9200 0000 0000 0017"))
	r.ReturnURL = "https://elsewhere.example/"
	_, err := shop.App.Payments.Charge(context.Background(), r)
	require.ErrorContains(t, err, "return address is not the shop's")
}

func TestTheAPINeedsItsKey(t *testing.T) {
	shop := testkit.Open(t)
	answer := shop.Browser().Post(shop.App.Origins.Till+"/api/charges", url.Values{}, "")
	assert.Equal(t, http.StatusUnauthorized, answer.Status)
	assert.Equal(t, "application/problem+json", answer.Header.Get("Content-Type"))
	assert.Equal(t, int64(0), shop.Number(`SELECT count(*) FROM till.charges`))
}

// The same key gives back once, also when asked for by many at once, and together
// no more goes back than was charged.
func TestTheSameKeyGivesBackOnce(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	token, err := shop.Till.Tokenize(ctx, till.Approves, "0017")
	require.NoError(t, err)
	_, err = shop.App.Payments.Charge(ctx, request(shop, "charge-1", token))
	require.NoError(t, err)
	back := func(key string, minor int64) ports.RefundAnswer {
		answer, err := shop.App.Payments.Refund(ctx, ports.RefundRequest{Key: key, ChargeKey: "charge-1", Amount: money.Of(minor, "EUR")})
		assert.NoError(t, err)
		return answer
	}
	var wait sync.WaitGroup
	for range 12 {
		wait.Go(func() { assert.Equal(t, order.Refunded, back("refund-1", 3000).State) })
	}
	wait.Wait()
	assert.Equal(t, int64(3000), shop.Number("SELECT sum(amount_minor) FROM till.refunds"))
	assert.Equal(t, order.RefundRefused, back("refund-2", 2101).State)
	assert.Equal(t, order.Refunded, back("refund-3", 2100).State)
	assert.Equal(t, order.RefundRefused, back("refund-4", 1).State)
	_, err = shop.App.Payments.Refund(ctx, ports.RefundRequest{Key: "refund-1", ChargeKey: "charge-1", Amount: money.Of(1, "EUR")})
	require.Error(t, err, "a key that was used for another amount")
	unknown, err := shop.App.Payments.Refund(ctx, ports.RefundRequest{Key: "refund-5", ChargeKey: "nothing", Amount: money.Of(1, "EUR")})
	require.NoError(t, err)
	assert.Equal(t, order.RefundRefused, unknown.State)
}
