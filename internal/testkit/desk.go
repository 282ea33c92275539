package testkit

import (
	"bytes"
	"encoding/json"
	"mime/multipart"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/demo"

	"github.com/stretchr/testify/require"
)

// Desk is a signed-in owner's browser.
type Desk struct {
	*Browser
	Shop *Shop
	CSRF string // the session's token
	t    testing.TB
}

var csrfIn = regexp.MustCompile(`data-csrf="([^"]+)"`)

// SignIn opens the studio as the demo's owner does.
func SignIn(t testing.TB, shop *Shop) Desk {
	t.Helper()
	return SignInAs(t, shop, " Owner@Gustwell.example ", demo.Password)
}

// SignInAs opens it as somebody else.
func SignInAs(t testing.TB, shop *Shop, email, password string) Desk {
	t.Helper()
	b := shop.Browser()
	in := b.Post(shop.App.Origins.Studio+"/sign-in", url.Values{"email": {email}, "password": {password}}, "")
	require.Equal(t, http.StatusSeeOther, in.Status, in.Body)
	page := b.Get(shop.App.Origins.Studio + "/pages")
	found := csrfIn.FindStringSubmatch(page.Body)
	require.Len(t, found, 2, page.Body)
	return Desk{Browser: b, Shop: shop, CSRF: found[1], t: t}
}

// At is the address of a path of the studio.
func (d Desk) At(path string) string { return d.Shop.App.Origins.Studio + path }

// Send sends a form of this session.
func (d Desk) Send(path string, form url.Values) Page {
	form.Set("csrf", d.CSRF)
	return d.Post(d.At(path), form, "")
}

// Command sends a change as the sheet's script does.
func (d Desk) Command(page string, body map[string]any) Page {
	raw, err := json.Marshal(body)
	require.NoError(d.t, err)
	req, err := http.NewRequest(http.MethodPost, d.At("/pages/"+page+"/commands"), strings.NewReader(string(raw)))
	require.NoError(d.t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Csrf-Token", d.CSRF)
	return d.Do(req)
}

// Set is the change that fills a field of a piece.
func Set(piece, field string, value any) map[string]any {
	return map[string]any{"command": manuscript.Command{Op: manuscript.SetField, Piece: piece, Field: field, Value: value}}
}

// Upload sends files as a browser's form does.
func (d Desk) Upload(path, field string, extra url.Values, files map[string]string) Page {
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	for name, values := range extra {
		for _, v := range values {
			_ = w.WriteField(name, v)
		}
	}
	for name, content := range files {
		part, err := w.CreateFormFile(field, name)
		require.NoError(d.t, err)
		_, _ = part.Write([]byte(content))
	}
	require.NoError(d.t, w.Close())
	req, err := http.NewRequest(http.MethodPost, d.At(path), &body)
	require.NoError(d.t, err)
	req.Header.Set("Content-Type", w.FormDataContentType())
	req.Header.Set("X-Csrf-Token", d.CSRF)
	req.Header.Set("HX-Request", "true")
	return d.Do(req)
}

// Shows asserts that a place of the studio says something that is computed from the
// demo store, to who is signed in and to nobody else.
func Shows(t *testing.T, path, words string) {
	t.Helper()
	shop := Open(t)
	d := SignIn(t, shop)
	page := d.Get(d.At(path))
	require.Equal(t, http.StatusOK, page.Status)
	require.Contains(t, page.Words(), words)
	require.NotContains(t, page.Body, "ZgotmplZ", "nothing was taken for unsafe")
	require.Equal(t, "/sign-in", shop.Browser().Get(d.At(path)).Location)
}
