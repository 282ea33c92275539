package relays_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Another program is named, told, shown with each message and each try, and let go; what
// cannot be is said, and nothing that was typed is lost.
func TestAnotherProgramIsTold(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	bad := d.Send("/relays", url.Values{"name": {"The team"}, "url": {"team.example"}, "shape": {"form"}, "theirs": {"", "EMAIL"}, "ours": {"", "secret"}, "words": {"", ""}})
	require.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	for _, says := range []string{"Write the whole address", "Choose what it is told of.", "Each field has the other program’s name"} {
		assert.Contains(t, bad.Words(), says)
	}
	assert.Contains(t, bad.Body, `value="The team"`)
	assert.Contains(t, bad.Body, `value="EMAIL"`)
	to := "http://receiver.localhost:" + portOf(t, shop) + "/leads"
	made := d.Send("/relays", url.Values{"name": {"The team"}, "url": {to}, "event": {"lead.created"}, "shape": {"form"}, "theirs": {"EMAIL", "tag"}, "ours": {"email", ""}, "words": {"", "kites"}})
	require.Equal(t, http.StatusSeeOther, made.Status)
	page := d.Get(d.At(made.Location))
	assert.Contains(t, page.Words(), "told of what happens from now on")
	assert.Contains(t, page.Body, "whsec_")
	shop.Exec("UPDATE lists SET confirmed = false")
	require.Equal(t, http.StatusSeeOther, shop.Browser().SignUp("ines@readers.example").Status)
	_, err := shop.App.Relays.Deliver(t.Context())
	require.NoError(t, err)
	page = d.Get(d.At(made.Location))
	assert.Contains(t, page.Words(), "answered with 200")
	assert.Contains(t, page.Body, "EMAIL=ines%40readers.example")
	assert.Contains(t, page.Body, "tag=kites")
	heard := shop.Browser().Get("http://receiver.localhost:" + portOf(t, shop) + "/")
	assert.Contains(t, heard.Body, "EMAIL=ines%40readers.example")
	assert.Contains(t, heard.Words(), "webhook-signature: v1,")
	again := d.Send("/relays/told/"+shop.Text("SELECT id FROM dispatches")+"/again", url.Values{"relay": {shop.Text("SELECT id FROM relays")}})
	require.Equal(t, http.StatusSeeOther, again.Status)
	_, err = shop.App.Relays.Deliver(t.Context())
	require.NoError(t, err)
	assert.Equal(t, int64(2), shop.Number("SELECT count(*) FROM receiver.messages"))
	assert.Equal(t, http.StatusSeeOther, d.Send("/relays/"+shop.Text("SELECT id FROM relays")+"/remove", url.Values{}).Status)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/relays/nothing")).Status)
	for _, v := range []url.Values{{"name": {"\xff\x00"}}, {"id": {"nothing"}, "name": {"x"}, "url": {to}, "event": {"lead.created"}, "shape": {"json"}}, {"list": {"'"}, "page": {"\xff"}}} {
		assert.Less(t, d.Send("/relays", v).Status, http.StatusInternalServerError, v)
	}
}

func portOf(t *testing.T, shop *testkit.Shop) string {
	t.Helper()
	u, err := url.Parse(shop.App.Origins.Shop)
	require.NoError(t, err)
	return u.Port()
}
