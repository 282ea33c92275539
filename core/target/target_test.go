package target_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/facts"
	"chrysagon/core/target"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestTargetsAreRead(t *testing.T) {
	for text, want := range map[string]target.Target{
		"":                          {},
		"checkout":                  {Kind: target.Checkout},
		"home":                      {Kind: target.Home},
		"page:night-flight":         {Kind: target.Page, Value: "night-flight"},
		"yes":                       {Kind: target.Yes},
		"no":                        {Kind: target.No},
		"appointment":               {Kind: target.Appointment},
		"product:ember":             {Kind: target.Product, Value: "ember"},
		"file:size-chart":           {Kind: target.File, Value: "size-chart"},
		"band:why":                  {Kind: target.Band, Value: "why"},
		"tel:":                      {Kind: target.Phone},
		"tel:+351 (255) 000-111":    {Kind: target.Phone, Value: "+351255000111"},
		"mailto:hello@example.org":  {Kind: target.Mail, Value: "hello@example.org"},
		"https://example.org/a?b=c": {Kind: target.Outside, Value: "https://example.org/a?b=c"},
		"http://example.org":        {Kind: target.Outside, Value: "http://example.org"},
	} {
		got, err := target.Parse(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
}

// What a browser would run, or what hides where it leads, is no target.
func TestHostileTargetsAreRefused(t *testing.T) {
	for _, text := range []string{
		"javascript:alert(1)", "JavaScript:alert(1)", " javascript:alert(1)", "data:text/html,x", "vbscript:x", "file:///etc/passwd",
		"//example.org", "https:", "https://", "https:///path", "https://shop@example.org", "checkout:x", "yes:x", "file:", "file:../etc/passwd", "product:a/b", "page:", "page:a b", "band:../x",
		"mailto:a@b@c", "mailto:a@b?subject=x", "tel:call me", "act:", "act:Two Words", "act:a/b", "act:call", "blob:https://example.org", "https://" + strings.Repeat("a", 500),
	} {
		_, err := target.Parse(text)
		require.Error(t, err, text)
	}
}

// Whatever is accepted can stand in an href: it has no scheme but those named.
func TestAcceptedTargetsHaveAKnownScheme(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.OneOf(rapid.String(), rapid.StringMatching(`(?i)(java|vb)?script:.*|[a-z]{1,8}:.{0,20}|https?://.{0,20}`)).Draw(t, "text")
		got, err := target.Parse(text)
		if err == nil && got.Kind == target.Outside {
			assert.Regexp(t, `^https?://`, got.Value)
		}
	})
}

var sold = facts.Facts{
	Store:  facts.Store{Phone: "+351 255 000 111", ContactEmail: "hello@example.org"},
	Pages:  map[string]facts.Page{"about": {Name: "About us", Address: "about"}, "old": {Name: "Old one", Aside: true}},
	Sold:   map[string]facts.Page{"ember": {Name: "Night flight", Address: "night-flight"}},
	Files:  map[string]facts.File{"chart": {Name: "Size chart", Path: "/files/chart.pdf"}},
	Booked: facts.Page{Address: "workshop"},
}

// Every kind of target, on a page that has what it leads to and on one that has
// nothing: where it is, what it is called, whether it is lost, whether it leads away.
func TestEveryKindOnAFullAndABarePage(t *testing.T) {
	full := target.On{Facts: &sold, Address: "sale", Orders: true, Answers: true, Band: func(id string) string { return map[string]string{"why": "Why"}[id] }}
	bare := target.On{Facts: &facts.Facts{}, Address: "sale", Band: func(string) string { return "" }}
	for _, c := range []struct{ text, href, words, away, lost string }{
		{"", "", "nowhere yet", "", ""},
		{"checkout", "#checkout", "the checkout on this page", "", "A link leads to the checkout, and this page has none."},
		{"yes", "#yes", "the yes of this page", "", ""},
		{"no", "#no", "the no of this page", "", ""},
		{"act:tell-me-more", "/sale/on/tell-me-more", "where “tell-me-more” leads by the routes", "", ""},
		{"band:why", "#band-why", "Why", "", "A link leads to a band that is gone."},
		{"page:about", "/about", "About us", "About us", "A link leads to a page that is gone."},
		{"home", "/", "the shop’s first page", "the shop’s first page", ""},
		{"appointment", "/workshop#appointment", "an appointment", "an appointment", "A link leads to an appointment, and no live page gives any."},
		{"product:ember", "/night-flight", "Night flight", "Night flight", "A link leads to goods that no live page sells."},
		{"file:chart", "/files/chart.pdf", "the file “Size chart”", "", "A link leads to a file that is gone."},
		{"tel:", "tel:+351255000111", "+351 255 000 111", "", "A link calls the store, whose number is not known."},
		{"tel:+49 30 1", "tel:+49301", "+49301", "", ""},
		{"sms:", "sms:+351255000111", "a message to +351 255 000 111", "", "A link begins a message to the store, whose number is not known."},
		{"sms:+49 30 1", "sms:+49301", "a message to +49301", "", ""},
		{"mailto:", "mailto:hello@example.org", "hello@example.org", "", ""},
		{"https://example.org/x", "https://example.org/x", "https://example.org/x", "https://example.org/x", ""},
	} {
		to, err := target.Parse(c.text)
		require.NoError(t, err)
		href, ok := to.Href(full)
		assert.Equal(t, c.href, href, c.text)
		assert.Equal(t, c.href != "", ok, c.text)
		assert.Equal(t, c.words, to.Words(full), c.text)
		assert.Equal(t, c.away, to.Away(full), c.text)
		lost, is := to.Lost(full)
		assert.False(t, is, "%s: %v", c.text, lost)
		lost, is = to.Lost(bare)
		assert.Equal(t, c.lost, lost.What, c.text)
		assert.Equal(t, c.lost != "", is, c.text)
	}
	aside, _ := target.Parse("page:old")
	lost, _ := aside.Lost(full)
	assert.Contains(t, lost.What, "set aside")
	assert.False(t, lost.Stops)

	// A page that asks nothing and sells nothing leads its yes and no on by its routes.
	for text, want := range map[string]string{"yes": "/sale/on/yes", "no": "/sale/on/no", "act:lamps": "/sale/on/lamps"} {
		to, err := target.Parse(text)
		require.NoError(t, err)
		href, _ := to.Href(bare)
		assert.Equal(t, want, href)
		assert.Equal(t, strings.TrimPrefix(want, "/sale/on/"), to.Pressed(bare))
	}
	yes, _ := target.Parse("yes")
	assert.Empty(t, yes.Pressed(full))

	// On the page that sells them, goods lead to its own checkout, and not away.
	here := full
	here.Address, here.Books = "night-flight", true
	ember, _ := target.Parse("product:ember")
	href, _ := ember.Href(here)
	assert.Equal(t, "#checkout", href)
	assert.Empty(t, ember.Away(here))
	visit, _ := target.Parse("appointment")
	href, _ = visit.Href(here)
	assert.Equal(t, "#appointment", href)
	assert.Empty(t, visit.Away(here))
}

// What is offered on a page is not lost there, and is read as it is offered.
func TestWhatIsOfferedLeadsSomewhere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		on := target.On{
			Facts: &facts.Facts{}, Orders: rapid.Bool().Draw(t, "orders"), Answers: rapid.Bool().Draw(t, "answers"), Books: rapid.Bool().Draw(t, "books"),
		}
		on.Facts.Store.ContactEmail = "hello@example.org"
		if rapid.Bool().Draw(t, "phone") {
			on.Facts.Store.Phone = "+351 255 000 111"
		}
		for _, c := range target.Offered(on) {
			to, err := target.Parse(c.Value)
			require.NoError(t, err)
			assert.Equal(t, c.Value, to.String())
			if _, is := to.Lost(on); is && to.Kind != target.Appointment { // which another page may give
				t.Fatalf("%s is offered and lost", c.Value)
			}
		}
	})
}

// Only what must be read is asked for.
func TestNeeds(t *testing.T) {
	var n target.Needs
	for _, text := range []string{"page:about", "product:ember", "file:chart", "appointment", "home", "band:why", "https://example.org", "tel:", "yes"} {
		to, err := target.Parse(text)
		require.NoError(t, err)
		n.Add(to)
	}
	assert.Equal(t, target.Needs{Pages: []string{"about"}, Sold: []string{"ember"}, Files: []string{"chart"}, Booked: true}, n)
}

func ExampleTarget_Href() {
	on := target.On{Facts: &sold, Orders: true}
	for _, text := range []string{"checkout", "page:about", "tel:+351 255 000 111"} {
		to, _ := target.Parse(text)
		href, _ := to.Href(on)
		fmt.Println(href)
	}
	// Output:
	// #checkout
	// /about
	// tel:+351255000111
}
