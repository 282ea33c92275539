package shopfront_test

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mailed is a shop with its season whose letters go to a box, and a reader of them.
type mailed struct {
	*testkit.Shop
	box *testkit.FakePost
	t   *testing.T
}

func openMailed(t *testing.T) mailed {
	t.Helper()
	m := mailed{testkit.OpenSeason(t), &testkit.FakePost{}, t}
	m.App.Post = m.box
	m.Exec("DELETE FROM contacts") // the readers of the demo
	return m
}

// due sends what is due and answers with the letters that came to an address by it.
func (m mailed) due(to string) []ports.Letter {
	m.t.Helper()
	before := len(m.box.Letters)
	_, err := m.App.Postroom.SendDue(context.Background())
	require.NoError(m.t, err)
	var out []ports.Letter
	for _, l := range m.box.Letters[before:] {
		if l.To == to {
			out = append(out, l)
		}
	}
	return out
}

var linked = regexp.MustCompile(`http://[^\s"<]+/letters/[^\s"<)]+`)

// on puts somebody on the list of the demo's guide, by its form and the mail's button.
func (m mailed) on(email string) *testkit.Browser {
	m.t.Helper()
	b := m.Browser()
	require.Equal(m.t, http.StatusSeeOther, b.SignUp(email).Status)
	asks := m.due(email)
	require.Len(m.t, asks, 1)
	link := linked.FindString(asks[0].Text)
	require.Equal(m.t, http.StatusOK, b.Post(link, url.Values{}, "").Status)
	return b
}

const ines = "ines@readers.example"

func (m mailed) state(email string) string {
	var state string
	require.NoError(m.t, m.Store.DB.Raw("SELECT coalesce((SELECT m.state FROM members m JOIN contacts c ON c.id = m.contact_id WHERE c.email = ? AND m.list_id = 'the-guide'), '')", email).Scan(&state).Error)
	return state
}

// From the form to the order: asked, confirmed by a press and by nothing less, written to
// at ten the next mornings, bought by the second letter, written to no more.
func TestFromAFormToALetterThatSells(t *testing.T) {
	m := openMailed(t)
	b := m.Browser()
	page := b.Get("/seven-knots")
	assert.Contains(t, page.Words(), "We send one mail first, in which you say yes")
	require.Equal(t, http.StatusSeeOther, b.SignUp(ines).Status)
	asks := m.due(ines)
	require.Len(t, asks, 1)
	assert.Equal(t, "Please confirm: letters from Gustwell Kiteworks", asks[0].Subject)
	assert.Empty(t, asks[0].Unsubscribe, "there is nothing to end yet")
	link := linked.FindString(asks[0].Text)
	assert.Contains(t, asks[0].HTML, `<td class="press"`, "in the house's style, as letters are")
	assert.Contains(t, asks[0].HTML, `href="`+link+`"`)
	assert.NotContains(t, asks[0].HTML+asks[0].Text, "Fewer letters", "there is nothing to end yet")

	scanner := m.Browser() // opens every link, and looks with HEAD
	assert.Contains(t, scanner.Get(link).Body, "Yes, write to me")
	head, err := http.NewRequestWithContext(t.Context(), http.MethodHead, link, nil)
	require.NoError(t, err)
	scanner.Do(head)
	assert.Equal(t, "asked", m.state(ines), "opening a link confirms nothing")
	assert.Empty(t, m.due(ines))

	assert.Contains(t, b.Post(link, url.Values{}, "").Words(), "It is confirmed")
	assert.Equal(t, "on", m.state(ines))
	assert.Contains(t, b.Post(link, url.Values{}, "").Words(), "It is confirmed", "pressed twice")
	assert.Equal(t, int64(3), m.Number("SELECT count(*) FROM postings WHERE kind = 'letter'"), "three letters are planned, once")
	assert.Empty(t, m.due(ines), "none comes before its time")

	m.Clock.Advance(24 * time.Hour)
	first := m.due(ines)
	require.Len(t, first, 1)
	assert.Equal(t, "What the wind says before it says it", first[0].Subject)
	assert.Contains(t, first[0].Text, "You get this because you asked for")
	assert.Contains(t, first[0].Unsubscribe, "/off")
	m.Clock.Advance(24 * time.Hour)
	second := m.due(ines)
	require.Len(t, second, 1)
	assert.Contains(t, second[0].Text, "€51.00 (before: €68.00)")

	way := regexp.MustCompile(`http://[^\s]+/night-flight\?letter=[a-z0-9]+`).FindString(second[0].Text)
	require.NotEmpty(t, way)
	assert.Equal(t, http.StatusOK, b.Get(way).Status)
	assert.Equal(t, int64(1), m.Number("SELECT count(*) FROM postings WHERE clicked_at IS NOT NULL"))
	form := b.Form(b.Get("/night-flight"), b.Card(approves))
	form.Set("email", ines)
	told := b.Post("/night-flight/checkout", form, asJSON).JSON(t)
	require.NotEmpty(t, told["go"], told)
	assert.Equal(t, "Two bridles, one sky: which one lifts yours?", m.text("SELECT p.subject FROM orders o JOIN postings p ON p.id = o.posting_id WHERE o.state = 'paid' AND o.email = ?", ines))
	assert.Contains(t, told["go"], "/")

	m.Clock.Advance(48 * time.Hour)
	assert.Empty(t, m.due(ines), "who has bought is not sent the last day")
	assert.Equal(t, "bought", m.text("SELECT dropped FROM postings WHERE letter_id = 'until-midnight' AND contact_id = (SELECT id FROM contacts WHERE email = ?)", ines))
	var who string
	require.NoError(t, m.Store.DB.Raw("SELECT id FROM contacts WHERE email = ?", ines).Scan(&who).Error)
	d := testkit.SignIn(t, m.Shop)
	one := d.Get(d.At("/audience/people/" + who)).Words()
	for _, says := range []string{"by the letter “Two bridles, one sky: which one lifts yours?”", "confirmed it by a press", "is not sent Until midnight"} {
		assert.Contains(t, strings.ReplaceAll(regexp.MustCompile(`<[^>]+>`).ReplaceAllString(one, ""), "  ", " "), says)
	}
}

func (m mailed) text(query string, args ...any) string {
	m.t.Helper()
	var out string
	require.NoError(m.t, m.Store.DB.Raw(query, args...).Scan(&out).Error)
	return out
}

// A mail program ends letters by a POST without a cookie, an origin or a page before it
// (RFC 8058, section 3.2); it holds at once, also for what waits; a GET ends nothing.
func TestOnePressEndsLetters(t *testing.T) {
	m := openMailed(t)
	m.on(ines)
	m.Clock.Advance(24 * time.Hour)
	letter := m.due(ines)
	require.Len(t, letter, 1)
	provider := m.Browser()
	provider.Get(letter[0].Unsubscribe)
	assert.Equal(t, "on", m.state(ines), "looking is not pressing")
	assert.Equal(t, http.StatusOK, provider.Post(letter[0].Unsubscribe, url.Values{"List-Unsubscribe": {"One-Click"}}, "").Status)
	assert.Equal(t, "off", m.state(ines))
	assert.Equal(t, http.StatusOK, provider.Post(letter[0].Unsubscribe, url.Values{"List-Unsubscribe": {"One-Click"}}, "").Status, "twice")
	m.Clock.Advance(24 * time.Hour)
	assert.Empty(t, m.due(ines), "what was planned does not go")
	assert.Zero(t, m.Number("SELECT count(*) FROM postings WHERE sent_at IS NULL AND dropped = '' AND due_at < $1", m.Clock.Now()))
}

// Who has a letter says what may come: a pause waits and the letter comes after it; all off
// is for good, whoever types the address again; a link that nobody made does nothing.
func TestWhatSomebodyWishesHolds(t *testing.T) {
	m := openMailed(t)
	b := m.on(ines)
	m.Clock.Advance(24 * time.Hour)
	first := m.due(ines)
	require.Len(t, first, 1)
	wishes := strings.TrimSuffix(first[0].Unsubscribe, "/off")
	require.Contains(t, b.Get(wishes).Words(), "These go to "+ines)

	require.Equal(t, http.StatusOK, b.Post(wishes, url.Values{"list:the-guide": {"1"}, "pause": {"14"}}, "").Status)
	m.Clock.Advance(24 * time.Hour)
	assert.Empty(t, m.due(ines), "a pause")
	require.Equal(t, http.StatusOK, b.Post(wishes, url.Values{"list:the-guide": {"1"}, "pause": {"0"}}, "").Status)

	require.Equal(t, http.StatusOK, b.Post(wishes, url.Values{"all_off": {"1"}}, "").Status)
	assert.Equal(t, "off", m.state(ines))
	require.Equal(t, http.StatusSeeOther, m.Browser().SignUp(strings.ToUpper(ines)).Status)
	m.Clock.Advance(24 * time.Hour)
	assert.Empty(t, m.due(ines))
	assert.Empty(t, m.due(strings.ToUpper(ines)), "in any case")

	for _, forged := range []string{wishes + "x", strings.Replace(wishes, "the-guide", "news-of-the-coast", 1), m.App.Origins.Shop + "/letters/" + strings.Repeat("a", 200), m.App.Origins.Shop + "/letters/%ff.%00.x"} {
		assert.Contains(t, []int{http.StatusNotFound, http.StatusBadRequest}, b.Post(forged, url.Values{}, "").Status, forged)
	}
	request, err := http.NewRequestWithContext(t.Context(), http.MethodPost, wishes, strings.NewReader("list:the-guide=1"))
	require.NoError(t, err)
	request.Header.Set("Origin", "https://elsewhere.example")
	assert.Equal(t, http.StatusForbidden, b.Do(request).Status, "another site does not say what they wish")
}

// Whatever stands in an address in a letter's place, pages are shown, and nothing is noted.
func TestALetterThatNobodySent(t *testing.T) {
	m := openMailed(t)
	b := m.Browser()
	for _, letter := range []string{"nothing", "%27", strings.Repeat("x", 3000), "a%20b&letter=c"} {
		assert.Equal(t, http.StatusOK, b.Get("/night-flight?letter="+letter).Status, letter[:min(len(letter), 20)])
	}
	assert.Zero(t, m.Number("SELECT count(*) FROM postings WHERE clicked_at IS NOT NULL"))
	form := b.Form(b.Get("/night-flight"), b.Card(approves))
	require.NotEmpty(t, b.Post("/night-flight/checkout", form, asJSON).JSON(t)["go"])
	assert.Zero(t, m.Number("SELECT count(*) FROM orders WHERE posting_id IS NOT NULL AND state = 'paid' AND id NOT LIKE 'past-%'"))
}

// A program fills in what nobody sees: it is answered as everybody is, and nothing is kept.
// An address with a slip of the hand is asked about, and taken as it stands when it is sent
// so again.
func TestFormsAreNotFooledAndDoNotCorrect(t *testing.T) {
	m := openMailed(t)
	b := m.Browser()
	send := func(v url.Values) testkit.Page {
		v.Set("consent", "1")
		return b.Post("/seven-knots/forms/k-form", v, "")
	}
	assert.Equal(t, http.StatusSeeOther, send(url.Values{"email": {"bot@example.org"}, "leave_empty": {"http://spam.example"}}).Status)
	assert.Zero(t, m.Number("SELECT count(*) FROM contacts"))
	assert.Zero(t, m.Number("SELECT count(*) FROM leads WHERE email = 'bot@example.org'"))

	asked := send(url.Values{"email": {"ines@gmial.com"}})
	assert.Equal(t, http.StatusUnprocessableEntity, asked.Status)
	assert.Contains(t, asked.Words(), "Did you mean ines@gmail.com?")
	assert.Zero(t, m.Number("SELECT count(*) FROM contacts"))
	assert.Equal(t, http.StatusSeeOther, send(url.Values{"email": {"ines@gmial.com"}, "sure": {asked.Hidden("sure")}}).Status)
	assert.Equal(t, int64(1), m.Number("SELECT count(*) FROM contacts WHERE email = 'ines@gmial.com'"), "as it was typed")
	assert.Equal(t, http.StatusSeeOther, send(url.Values{"email": {"ada@gmial.com"}, "use": {"ada@gmail.com"}}).Status)
	assert.Equal(t, int64(1), m.Number("SELECT count(*) FROM contacts WHERE email = 'ada@gmail.com'"), "by a press")
}

// Whether a letter was looked at is counted only where the owner switched it on, once, and
// by no HEAD; an address that was made up counts nothing.
func TestWhoLooksIsCountedOnlyWhereItIsSwitchedOn(t *testing.T) {
	m := openMailed(t)
	ctx := context.Background()
	m.on(ines)
	m.Clock.Advance(24 * time.Hour)
	letters := m.due(ines)
	require.NotEmpty(t, letters)
	assert.NotContains(t, letters[0].HTML, "/letters/seen/")
	id := letters[0].ID
	b := m.Browser()
	look := func(id string) {
		page := b.Get("/letters/seen/" + id)
		assert.Equal(t, http.StatusOK, page.Status)
		assert.Equal(t, "image/gif", page.Header.Get("Content-Type"))
	}
	look(id)
	assert.Zero(t, m.Number("SELECT count(opened_at) FROM postings WHERE id = $1", id), "it is off")
	require.NoError(t, m.App.Postroom.CountOpens(ctx, true))
	head, err := http.NewRequestWithContext(t.Context(), http.MethodHead, m.App.Origins.Shop+"/letters/seen/"+id, nil)
	require.NoError(t, err)
	b.Do(head)
	look("nothing")
	assert.Zero(t, m.Number("SELECT count(opened_at) FROM postings"))
	look(id)
	look(id)
	assert.Equal(t, int64(1), m.Number("SELECT count(opened_at) FROM postings WHERE id = $1", id))
	m.Clock.Advance(24 * time.Hour)
	letters = m.due(ines)
	require.NotEmpty(t, letters)
	assert.Contains(t, letters[0].HTML, "/letters/seen/"+letters[0].ID)
	r, err := m.App.Results.Results(ctx, "frost-lanterns", m.Clock.Now().AddDate(0, 0, -3))
	require.NoError(t, err)
	require.NotEmpty(t, r.Letters)
	for _, l := range r.Letters {
		if l.ID == "what-the-wind-says" {
			assert.Equal(t, int64(1), l.Opened)
			assert.Equal(t, "Seven knots", l.Line)
			assert.Equal(t, 1, l.Nth)
		}
	}
}
