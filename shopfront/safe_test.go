package shopfront_test

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"runtime"
	"strings"
	"testing"

	"chrysagon/app/ports"
	"chrysagon/demo"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// raw sends bytes as they are and reads what comes back.
func raw(t *testing.T, shop *testkit.Shop, request string) *http.Response {
	t.Helper()
	origin, err := url.Parse(shop.App.Origins.Shop)
	require.NoError(t, err)
	conn, err := net.Dial("tcp", "127.0.0.1:"+origin.Port())
	require.NoError(t, err)
	t.Cleanup(func() { _ = conn.Close() })
	_, err = io.WriteString(conn, request)
	require.NoError(t, err)
	answer, err := http.ReadResponse(bufio.NewReader(conn), nil)
	require.NoError(t, err)
	return answer
}

// A request that says twice for whom it is, or how long, is refused: another server
// on its way may have read it otherwise (RFC 9112, 3.2 and 6.1).
func TestARequestIsFramedOnce(t *testing.T) {
	shop, _ := open(t)
	host := strings.TrimPrefix(shop.App.Origins.Shop, "http://")
	for what, headers := range map[string]string{
		"two hosts":         "Host: " + host + "\r\nHost: evil.example\r\n",
		"twice the same":    "Host: " + host + "\r\nhost: " + host + "\r\n",
		"length and chunks": "Host: " + host + "\r\nContent-Length: 5\r\nTransfer-Encoding: chunked\r\n",
		"chunks and length": "Host: " + host + "\r\ntransfer-encoding: chunked\r\ncontent-length: 5\r\n",
	} {
		answer := raw(t, shop, "POST /night-flight/quote HTTP/1.1\r\n"+headers+"\r\n0\r\n\r\n")
		assert.Equal(t, http.StatusBadRequest, answer.StatusCode, what)
		assert.True(t, answer.Close, "%s: what follows on this connection is not read", what)
	}
	answer := raw(t, shop, "POST /night-flight/quote HTTP/1.1\r\nHost: "+host+"\r\nOrigin: "+shop.App.Origins.Shop+"\r\nAccept: application/json\r\nContent-Type: application/x-www-form-urlencoded\r\nTransfer-Encoding: chunked\r\n\r\n6\r\nbump=1\r\n0\r\n\r\n")
	assert.Equal(t, http.StatusOK, answer.StatusCode, "chunks alone are in order")
}

// Nobody who is not signed in has anything large read, whatever cookie they bring,
// and whoever is has it read onto the disk.
func TestUploadsAreReadOnlyFromWhoIsSignedIn(t *testing.T) {
	shop, _ := open(t)
	host := strings.TrimPrefix(shop.App.Origins.Studio, "http://")
	const size = 150 << 20
	for _, cookie := range []string{"", "Cookie: session=anything\r\n"} {
		answer := raw(t, shop, fmt.Sprintf("POST /pictures HTTP/1.1\r\nHost: %s\r\n%sContent-Type: multipart/form-data; boundary=x\r\nContent-Length: %d\r\n\r\n--x\r\n", host, cookie, size)+strings.Repeat("a", 9000))
		assert.Equal(t, http.StatusUnauthorized, answer.StatusCode, "answered before the rest has come")
		assert.True(t, answer.Close)
	}
	answer := raw(t, shop, fmt.Sprintf("POST /sign-in HTTP/1.1\r\nHost: %s\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: %d\r\n\r\nemail=", host, size)+strings.Repeat("a", 9000))
	assert.Equal(t, http.StatusRequestEntityTooLarge, answer.StatusCode)

	b := shop.Browser()
	in := b.Post(shop.App.Origins.Studio+"/sign-in", url.Values{"email": {demo.Email}, "password": {demo.Password}}, "")
	require.Equal(t, http.StatusSeeOther, in.Status)
	var form bytes.Buffer
	w := multipart.NewWriter(&form)
	part, err := w.CreateFormFile("other", "large.bin")
	require.NoError(t, err)
	_, err = part.Write(bytes.Repeat([]byte("kite"), 16<<20))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	req, err := http.NewRequest(http.MethodPost, shop.App.Origins.Studio+"/pictures", &form)
	require.NoError(t, err)
	req.Header.Set("Content-Type", w.FormDataContentType())
	page := b.Do(req)
	runtime.ReadMemStats(&after)
	assert.Equal(t, http.StatusForbidden, page.Status, "it was read, and has no token of a form: %s", page.Body)
	assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(32<<20), "64 MB pass without being held")
}

// Told to stop, the program finishes the orders that are being paid for: the till
// still answers them. Who comes later is told to come again.
func TestStoppingFinishesOrdersUnderWay(t *testing.T) {
	shop, books := open(t)
	slow := &waiting{Payments: shop.App.Payments, arrived: make(chan struct{}, 64), goOn: make(chan struct{})}
	shop.App.Payments = slow
	const buyers = 12
	answers := make(chan map[string]any, buyers)
	for range buyers {
		b := shop.Browser()
		form := b.Form(b.Get("/night-flight"), b.Card(approves))
		go func() { answers <- b.Post("/night-flight/checkout", form, asJSON).JSON(t) }()
	}
	for range buyers {
		<-slow.arrived
	}
	drained := make(chan struct{})
	go func() { defer close(drained); shop.Drain(context.Background()) }()
	for shop.Browser().Get("/night-flight").Status != http.StatusServiceUnavailable {
	}
	select {
	case <-drained:
		t.Fatal("orders are under way")
	default:
	}
	close(slow.goOn)
	for range buyers {
		assert.Contains(t, (<-answers)["go"], "?order=", "finished")
	}
	<-drained
	books.hold(t, buyers, buyers)
}

// waiting is a till whose answers are held back until the test lets them go.
type waiting struct {
	ports.Payments
	arrived chan struct{}
	goOn    chan struct{}
}

// Charge waits, then charges.
func (w *waiting) Charge(ctx context.Context, r ports.ChargeRequest) (ports.ChargeAnswer, error) {
	w.arrived <- struct{}{}
	<-w.goOn
	return w.Payments.Charge(ctx, r)
}
