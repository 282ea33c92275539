package shopfront_test

import (
	"bufio"
	"fmt"
	"io"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Bytes that are not UTF-8, and NUL, are refused at the edge wherever they stand,
// with a sentence; what is UTF-8 is not.
func TestBytesThatAreNoText(t *testing.T) {
	shop, _ := open(t)
	origin, err := url.Parse(shop.App.Origins.Shop)
	require.NoError(t, err)
	multi := func(value string) (string, string) {
		var b strings.Builder
		w := multipart.NewWriter(&b)
		require.NoError(t, w.WriteField("name", value))
		require.NoError(t, w.Close())
		return w.FormDataContentType(), b.String()
	}
	ask := func(method, path string, headers map[string]string, body string) (int, string) {
		conn, err := net.Dial("tcp", "127.0.0.1:"+origin.Port())
		require.NoError(t, err)
		defer func() { _ = conn.Close() }()
		request := fmt.Sprintf("%s %s HTTP/1.1\r\nHost: %s\r\nConnection: close\r\nContent-Length: %d\r\n", method, path, origin.Host, len(body))
		for name, value := range headers {
			request += name + ": " + value + "\r\n"
		}
		_, err = io.WriteString(conn, request+"\r\n"+body)
		require.NoError(t, err)
		answer, err := http.ReadResponse(bufio.NewReader(conn), nil)
		require.NoError(t, err)
		defer func() { _ = answer.Body.Close() }()
		said, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		return answer.StatusCode, string(said)
	}
	form := map[string]string{"Content-Type": "application/x-www-form-urlencoded", "Origin": shop.App.Origins.Shop}
	for _, bad := range []string{"\xff", "a\xc3(", "\xed\xa0\x80", "a\x00b"} {
		escaped := url.QueryEscape(bad)
		kind, body := multi(bad)
		for what, do := range map[string]func() (int, string){
			"query":     func() (int, string) { return ask("GET", "/night-flight?via="+escaped, nil, "") },
			"form":      func() (int, string) { return ask("POST", "/night-flight/quote", form, "code="+escaped) },
			"form name": func() (int, string) { return ask("POST", "/night-flight/checkout", form, escaped+"=1") },
			"multipart": func() (int, string) {
				return ask("POST", "/night-flight/checkout", map[string]string{"Content-Type": kind}, body)
			},
		} {
			status, said := do()
			assert.Equal(t, http.StatusBadRequest, status, "%s %q", what, bad)
			assert.Contains(t, said, "not UTF-8", what)
		}
		if strings.Contains(bad, "\x00") {
			continue // no header may carry it (RFC 9110, section 5.5): the connection is ended
		}
		for _, name := range []string{"Cookie", "User-Agent", "Referer"} {
			status, _ := ask("GET", "/night-flight", map[string]string{name: "visitor=" + bad}, "")
			assert.Equal(t, http.StatusBadRequest, status, "%s %q", name, bad)
		}
	}
	for _, path := range []string{`/\evil.example/checkout`, `/%5Cevil.example/checkout`, `//evil.example/checkout`, `/%2F%2Fevil.example/checkout`, `/\/evil.example/checkout`} {
		b := shop.Browser()
		answer := b.Get(shop.App.Origins.Shop + path)
		to, err := url.Parse(answer.Location)
		require.NoError(t, err, path)
		assert.True(t, to.Host == "" && !strings.HasPrefix(answer.Location, "//") && !strings.HasPrefix(answer.Location, `/\`), "%s leads to %q", path, answer.Location)
	}
	status, _ := ask("GET", "/night-flight?via=%C5%81%C3%B3dka", map[string]string{"User-Agent": "Łódka"}, "")
	assert.Equal(t, http.StatusOK, status)
}
