package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"testing"

	"chrysagon/app/pages"
	"chrysagon/app/ports"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// withForm publishes a page of a template and finds its form's address.
func withForm(t *testing.T, shop *testkit.Shop, part, template string, gives ...string) (path, post string) {
	t.Helper()
	ctx := context.Background()
	d, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "frost-lanterns", Purpose: part, Name: template, Template: template, Layout: "full"})
	require.NoError(t, err)
	require.Empty(t, faults)
	shop.Write("frost-lanterns")
	for _, file := range gives {
		hand(t, shop, d.ID, file)
	}
	_, err = shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta")
	require.NoError(t, err)
	page := shop.Browser().Get("/" + d.Address)
	found := regexp.MustCompile(`action="(/[a-z0-9-]+/forms/[a-z0-9-]+)#`).FindStringSubmatch(page.Body)
	require.NotNil(t, found)
	return "/" + d.Address, found[1]
}

// hand lets the forms of a page hand a file out.
func hand(t *testing.T, shop *testkit.Shop, id, file string) {
	t.Helper()
	ctx := context.Background()
	d, err := shop.App.Drafts.Draft(ctx, id)
	require.NoError(t, err)
	var user string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM users LIMIT 1").Scan(&user).Error)
	d.Tree.Walk(func(_ m.Band, p m.Piece) {
		if p.Kind == "form" {
			_, err := shop.App.Desk.Edit(ctx, user, id, m.Command{Op: m.SetField, Piece: p.ID, Field: "gives", Value: file}, false)
			require.NoError(t, err)
		}
	})
}

func TestAnOptInIsKeptOnceWithItsSource(t *testing.T) {
	shop := testkit.Open(t)
	path, post := withForm(t, shop, "opt_in", "opt-in")
	b := shop.Browser()
	page := b.Get(path + "?via=spring-letter")
	assert.Contains(t, page.Body, `name="link" value="spring-letter"`)

	refused := b.Post(post, url.Values{"email": {"ines@"}, "link": {"spring-letter"}}, "")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Body, `value="ines@"`, "nothing typed is lost")
	assert.Contains(t, refused.Body, "Write it like name@example.org.")
	assert.Contains(t, refused.Body, "nothing is sent without it", "consent is a tick of their own")
	assert.Zero(t, shop.Number("SELECT count(*) FROM leads"))

	form := url.Values{"email": {"ines@example.org"}, "consent": {"1"}, "link": {"spring-letter"}}
	for range 3 {
		sent := b.Post(post, form, "")
		require.Equal(t, http.StatusSeeOther, sent.Status)
		assert.Contains(t, b.Get(sent.Header.Get("Location")).Body, "Thank you. Here it is.")
	}
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM leads WHERE email = 'ines@example.org' AND link = 'spring-letter' AND consent <> ''"))
	assert.NotContains(t, b.Get(path).Body, "Here it is", "said only to who has just sent it")
	assert.NotContains(t, shop.Browser().Get(path).Body, "ines@example.org")
}

// pouch keeps the letters that are sent.
type pouch struct{ letters []ports.Letter }

func (p *pouch) Send(_ context.Context, l ports.Letter) error {
	p.letters = append(p.letters, l)
	return nil
}

func TestAMessageReachesTheStore(t *testing.T) {
	shop := testkit.Open(t)
	mailbag := &pouch{}
	shop.App.Post = mailbag
	_, post := withForm(t, shop, "contact", "contact")
	b := shop.Browser()
	form := url.Values{"name": {"Inês Prado"}, "email": {"ines@example.org"}, "message": {"Does it fly <b>inside</b>?"}}
	for range 2 {
		require.Equal(t, http.StatusSeeOther, b.Post(post, form, "").Status)
	}
	var id string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM leads WHERE kind = 'message'").Scan(&id).Error)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM leads"), "pressed twice is sent once")
	require.NoError(t, shop.App.People.DeliverLead(context.Background(), id))
	require.NoError(t, shop.App.People.DeliverLead(context.Background(), id))
	require.NotEmpty(t, mailbag.letters)
	assert.Equal(t, "ines@example.org", mailbag.letters[0].ReplyTo, "the answer goes to whoever wrote")
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM leads WHERE sent_at IS NOT NULL"))
	require.Len(t, mailbag.letters, 1, "delivered twice is sent once")
	letter := mailbag.letters[0]
	assert.Equal(t, "hello@gustwell.example", letter.To)
	assert.Equal(t, "Message from Inês Prado", letter.Subject)
	assert.Contains(t, letter.Text, "ines@example.org")
	assert.Contains(t, letter.HTML, "&lt;b&gt;inside&lt;/b&gt;", "words stay words")
}

func TestFormsThatAreNotThereAreRefused(t *testing.T) {
	shop := testkit.Open(t)
	path, post := withForm(t, shop, "contact", "contact")
	b := shop.Browser()
	form := url.Values{"name": {"x"}, "email": {"ines@example.org"}, "message": {"y"}}
	assert.Equal(t, http.StatusNotFound, b.Post(path+"/forms/none-such", form, "").Status)
	assert.Equal(t, http.StatusNotFound, b.Post("/nowhere"+post[len(path):], form, "").Status)
	assert.Equal(t, http.StatusNotFound, b.Post("/thank-you/forms/x", form, "").Status)
	assert.Zero(t, shop.Number("SELECT count(*) FROM leads"))
}
