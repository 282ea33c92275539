package tillclient_test

import (
	"context"
	"encoding/base64"
	"net/http"
	"net/http/httptest"
	"strconv"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/gateway/tillclient"

	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var secret = "whsec_" + base64.StdEncoding.EncodeToString([]byte("a secret of the till and the shop"))

// What the till tells is taken only with its signature (Standard Webhooks: HMAC-SHA-256 of
// ID, time and body), and only if it speaks of a state there is.
func TestOnlyTheTillIsBelieved(t *testing.T) {
	c := &tillclient.Client{Secret: secret}
	signer, err := webhooks.NewWebhook(secret)
	require.NoError(t, err)
	told := func(body, signed string, at time.Time) (ports.ChargeAnswer, error) {
		mark, err := signer.Sign("msg_1", at, []byte(signed))
		require.NoError(t, err)
		head := http.Header{}
		head.Set("webhook-id", "msg_1")
		head.Set("webhook-timestamp", strconv.FormatInt(at.Unix(), 10))
		head.Set("webhook-signature", mark)
		return c.Told(head, []byte(body))
	}
	const good = `{"type":"charge.charged","data":{"key":"k1","id":"ch_1","state":"charged"}}`
	now := time.Now()
	answer, err := told(good, good, now)
	require.NoError(t, err)
	assert.Equal(t, ports.ChargeAnswer{Key: "k1", TillID: "ch_1", State: order.Charged}, answer)
	_, err = told(good+" ", good, now)
	require.ErrorIs(t, err, ports.ErrForged, "another body")
	_, err = told(good, good, now.Add(-time.Hour))
	require.ErrorIs(t, err, ports.ErrForged, "an old one, sent again")
	_, err = c.Told(http.Header{}, []byte(good))
	require.ErrorIs(t, err, ports.ErrForged)
	for _, bad := range []string{"{", `{"type":"x","data":{"key":"k1","state":"perhaps"}}`} {
		_, err = told(bad, bad, now)
		require.Error(t, err, bad)
		require.NotErrorIs(t, err, ports.ErrForged, bad)
	}
}

// A call names its key, so that the same key is the same request, and proves who calls. An
// answer that is none is an error: what happened is not known.
func TestACallNamesItsKey(t *testing.T) {
	status, said := http.StatusOK, `{"key":"k1","id":"ch_1","state":"charged","kept_token":"tok"}`
	var asked *http.Request
	till := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked = r
		w.WriteHeader(status)
		_, _ = w.Write([]byte(said))
	}))
	defer till.Close()
	c := &tillclient.Client{Origin: till.URL, Key: "the shop's", HTTP: till.Client()}
	answer, err := c.Charge(context.Background(), ports.ChargeRequest{Key: "k1", Amount: money.Of(5100, "EUR")})
	require.NoError(t, err)
	assert.Equal(t, order.Charged, answer.State)
	assert.Equal(t, "k1", asked.Header.Get("Idempotency-Key"))
	assert.Equal(t, "Bearer the shop's", asked.Header.Get("Authorization"))
	for _, bad := range []struct {
		status int
		said   string
	}{{500, "{}"}, {200, "<html>"}, {200, `{"state":"perhaps"}`}} {
		status, said = bad.status, bad.said
		_, err := c.Charge(context.Background(), ports.ChargeRequest{Key: "k1", Amount: money.Of(5100, "EUR")})
		require.Error(t, err, bad.said)
	}
	status, said = http.StatusNotFound, "{}"
	back, err := c.Refund(context.Background(), ports.RefundRequest{Key: "r1", ChargeKey: "none", Amount: money.Of(1, "EUR")})
	require.NoError(t, err)
	assert.Equal(t, order.RefundRefused, back.State, "a payment that the till does not know cannot go back")
}
