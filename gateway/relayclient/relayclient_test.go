package relayclient_test

import (
	"context"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/gateway/relayclient"

	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const secret = "whsec_C2FVsBQIhrscChlQIMV+b5sSYspob7oD"

// The library of the specification takes the message for its sender's, and no other.
func TestMessagesAreVerifiedByTheReferenceLibrary(t *testing.T) {
	var head http.Header
	var body []byte
	there := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		head = r.Header
		body, _ = io.ReadAll(r.Body)
		if r.URL.Path == "/on" {
			http.Redirect(w, r, "/", http.StatusFound)
			return
		}
		w.WriteHeader(http.StatusAccepted)
		_, _ = w.Write([]byte("taken\xff" + strings.Repeat("a", 10_000)))
	}))
	defer there.Close()
	u, err := url.Parse(there.URL)
	require.NoError(t, err)
	c := relayclient.New("receiver.localhost")
	to := "http://" + net.JoinHostPort("receiver.localhost", u.Port())
	message := ports.Dispatch{ID: "msg_1", URL: to + "/in", Secret: secret, Kind: "application/json", Body: []byte(`{"type":"lead.created"}`), At: time.Now()}
	got, err := c.Tell(context.Background(), message)
	require.NoError(t, err)
	assert.Equal(t, http.StatusAccepted, got.Status)
	assert.LessOrEqual(t, len(got.Says), 2<<10)
	verifier, err := webhooks.NewWebhook(secret)
	require.NoError(t, err)
	require.NoError(t, verifier.Verify(body, head))
	require.Error(t, verifier.Verify(append(body, ' '), head))
	other, err := webhooks.NewWebhook("whsec_AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA")
	require.NoError(t, err)
	require.Error(t, other.Verify(body, head))

	message.URL = to + "/on"
	got, err = c.Tell(context.Background(), message)
	require.NoError(t, err)
	assert.Equal(t, http.StatusFound, got.Status, "redirects are not followed")
}

// What is typed as an address opens nothing that is shut to others.
func TestNothingInsideIsReached(t *testing.T) {
	there := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { t.Error("it was reached") }))
	defer there.Close()
	u, err := url.Parse(there.URL)
	require.NoError(t, err)
	c := relayclient.New("receiver.localhost")
	for _, host := range []string{"127.0.0.1", "localhost", "[::1]", "0.0.0.0", "[::ffff:127.0.0.1]", "169.254.169.254", "10.0.0.1", "192.168.1.1", "172.16.0.1", "100.64.0.1", "[fe80::1]", "[fd00::1]", "2130706433"} {
		_, err := c.Tell(context.Background(), ports.Dispatch{ID: "msg_1", URL: "http://" + host + ":" + u.Port() + "/", Secret: secret, Kind: "text/plain", At: time.Now()})
		require.Error(t, err, host)
	}
}
