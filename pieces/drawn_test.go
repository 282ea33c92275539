package pieces_test

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/pieces"

	"github.com/stretchr/testify/assert"
)

// stocked is a context with a shelf of goods, pictures, a video and pages.
func stocked(moment time.Time) *pieces.Context {
	c := context(moment)
	c.Facts.Shelves = map[string]facts.Shelf{
		"night": {ID: "night", Name: "Night kites", Goods: []string{"ember", "cell", "plans", "gone"}, Changes: noon.Add(time.Hour)},
		"bare":  {ID: "bare", Name: "Bare"},
	}
	c.Facts.Pictures = map[string]facts.Picture{
		"dunes": {ID: "dunes", Name: "Dunes", Alt: "Dunes at dusk", Path: "/pictures/d.webp", Width: 1600, Height: 900, Sizes: []int{320, 640, 1280}, Focus: facts.Focus{X: 20, Y: 50}},
		"drawn": {ID: "drawn", Name: "A kite", Alt: "A drawn kite", Path: "/pictures/k.svg", Width: 480, Height: 480, Focus: facts.Focus{X: 50, Y: 50}},
	}
	c.Facts.Videos = map[string]facts.Video{"launch": {ID: "launch", Name: "The launch", Path: "/videos/l.mp4", Mime: "video/mp4"}}
	c.Facts.Pages = map[string]facts.Page{"guide": {ID: "guide", Name: "Gift guide", Address: "gifts", Live: true}}
	c.Facts.Sold = map[string]facts.Page{"ember": {ID: "night-flight", Name: "Night flight", Address: "night-flight"}}
	return c
}

func TestAShelfShowsItsGoodsWithTheirPricesOfNow(t *testing.T) {
	c := stocked(noon)
	grid := shown(t, c, "shelf", m.Fields{"shelf": "night"})
	assert.Equal(t, 3, strings.Count(grid, "<li"), "what is gone takes no room")
	assert.Contains(t, grid, `<a href="/night-flight">Ember 180</a>`, "goods lead to the page that sells them")
	assert.NotContains(t, grid, `>Kite plans</a>`, "and nowhere when none does")
	assert.Contains(t, grid, "€51.00", "a quarter off")
	assert.Equal(t, 1, strings.Count(grid, "sold out"), "the cell")
	assert.Equal(t, noon.Add(time.Hour), c.Until(), "the page holds until the shelf changes")
	assert.Equal(t, 1, strings.Count(shown(t, stocked(noon), "shelf", m.Fields{"shelf": "night", "show": "1"}), "<li"), "a number that is no choice is read as it is")

	slides := shown(t, stocked(noon), "shelf", m.Fields{"shelf": "night", "as": "slides"})
	assert.Contains(t, slides, `class="slides" data-slides`)
	assert.Contains(t, slides, `aria-label="Night kites, which scrolls" tabindex="0"`, "those without a pointer can scroll it")
	assert.Empty(t, shown(t, stocked(noon), "shelf", m.Fields{"shelf": "bare"}))
	assert.Contains(t, shown(t, stocked(noon), "shelf", m.Fields{"shelf": "bare", "empty": "Back on Monday."}), "Back on Monday.")
}

func TestAPictureIsSentInTheSizeThatFits(t *testing.T) {
	c := stocked(noon)
	photo := shown(t, c, "picture", m.Fields{"picture": "dunes"})
	assert.Contains(t, photo, `srcset="/pictures/d.webp?w=320 320w, /pictures/d.webp?w=640 640w, /pictures/d.webp?w=1280 1280w"`)
	assert.Contains(t, photo, `width="1600" height="900"`, "its room is kept before it is there")
	assert.NotContains(t, shown(t, c, "picture", m.Fields{"picture": "drawn"}), "srcset", "a drawn one fits any width")
	gallery := shown(t, c, "gallery", m.Fields{"items": list(map[string]any{"picture": "dunes", "caption": "<b>Dusk</b>"}, map[string]any{"picture": "gone"}, map[string]any{"picture": "drawn"})})
	assert.Equal(t, 2, strings.Count(gallery, "<figure"))
	assert.Contains(t, gallery, "&lt;b&gt;Dusk", "a caption is words")
	assert.Contains(t, gallery, `class="f20-50"`, "what is cut keeps its focus in view")
}

func TestPostedPicturesLeadWhereTheyWerePosted(t *testing.T) {
	c := stocked(noon)
	posts := list(
		map[string]any{"picture": "dunes", "text": "Up at last", "link": "https://posts.example/1"},
		map[string]any{"picture": "drawn", "link": "javascript:alert(1)"},
		map[string]any{"picture": "gone", "link": "https://posts.example/3"},
	)
	html := shown(t, c, "social", m.Fields{"items": posts})
	assert.Equal(t, 2, strings.Count(html, "<li>"))
	assert.Contains(t, html, `<a href="https://posts.example/1" title="Up at last">`)
	assert.Equal(t, 1, strings.Count(html, "<a "), "an address that runs is none")
	assert.Contains(t, html, `alt="A drawn kite"`, "without words, what the picture shows")
}

func TestAVideoWaitsUntilItIsPlayed(t *testing.T) {
	c := stocked(noon)
	html := shown(t, c, "video", m.Fields{"video": "launch", "picture": "dunes", "said": "Up it goes.\nAnd down."})
	assert.Contains(t, html, `preload="none"`)
	assert.Contains(t, html, `poster="/pictures/d.webp?w=1280"`)
	assert.Contains(t, html, `type="video/mp4"`)
	assert.Contains(t, html, "<p>And down.</p>", "what is said in it can be read (WCAG 2.2, 1.2.1)")
	assert.NotContains(t, html, "autoplay")
	assert.Contains(t, html, `aria-label="The launch"`)
	assert.Empty(t, shown(t, c, "video", m.Fields{"video": "gone"}))
}

func TestAnOrderSummaryIsComputedThenPaid(t *testing.T) {
	c := stocked(noon)
	before := shown(t, c, "summary", m.Fields{"product": "ember"})
	assert.Contains(t, before, "What you would pay")
	assert.Regexp(t, `(?s)Total</th><td><b class="now">€51\.00`, before)
	assert.Contains(t, words(told(t, c, "summary", m.Fields{"product": "ember"})), "together €51.00")
	c.Facts.Order = &facts.Order{Number: 1042, Total: money.Of(6000, "EUR"), Lines: []facts.Bought{{Name: "Ember 180", Quantity: 2, Total: money.Of(6000, "EUR")}, {Name: "A sticker", Quantity: 1, Gift: true}}}
	after := shown(t, c, "summary", m.Fields{"product": "ember"})
	assert.Contains(t, after, "Order 1042")
	assert.Contains(t, after, "2 × Ember 180")
	assert.Contains(t, after, "<td>free</td>")
	assert.Regexp(t, `Paid</th><td><b>€60\.00`, after)
}

func TestAppointmentsAreOfferedByTheStoresWalls(t *testing.T) {
	c := stocked(noon)
	c.Facts.Store.Zone, c.Facts.Store.Phone, c.Place.Address = "Europe/Lisbon", "+351 255 000 111", "fitting"
	silent := shown(t, c, "appointment", m.Fields{})
	assert.Contains(t, silent, "Times cannot be shown just now.")
	assert.Contains(t, silent, `href="tel:&#43;351255000111"`, "there is another way")
	summer := time.Date(2027, 6, 1, 9, 0, 0, 0, time.UTC)
	c.Facts.Slots = map[string][]appointment.Slot{"30": {{At: summer, Minutes: 30}, {At: summer.Add(time.Hour), Minutes: 30}, {At: summer.Add(24 * time.Hour), Minutes: 30}}, "60": {}}
	c.Form = pieces.Form{Piece: "p", Values: map[string]string{"slot": "2027-06-01T10:00:00Z", "email": "ines@"}, Errors: map[string]string{"email": "Write it like name@example.org."}}
	html := shown(t, c, "appointment", m.Fields{"what": "A fitting"})
	assert.Contains(t, html, "<span>10:00</span>", "nine by universal time is ten in Lisbon in summer")
	assert.Regexp(t, `value="2027-06-01T10:00:00Z" required checked`, html, "what was chosen stays chosen")
	assert.Equal(t, 2, strings.Count(html, `class="slot-day"`))
	assert.Contains(t, html, `value="ines@"`)
	assert.Contains(t, html, "All times are Lisbon time.")
	assert.Contains(t, shown(t, c, "appointment", m.Fields{"minutes": "60"}), "All times of the coming two weeks are taken.")
	c.Form = pieces.Form{Piece: "p", Sent: true, Values: map[string]string{"booked": "abc", "booked_at": "Tuesday 1 June 2027, 10:00"}}
	assert.Contains(t, shown(t, c, "appointment", m.Fields{"thanks": "See you."}), `href="/appointments/abc.ics"`)
}

func TestListsLeaveOutWhatIsNotWritten(t *testing.T) {
	c := stocked(noon)
	for kind, fields := range map[string]m.Fields{
		"bullets":      {"items": list(map[string]any{"text": "Light"}, map[string]any{"text": ""})},
		"badges":       {"items": list(map[string]any{"text": "Mended for life", "icon": "needle"}, map[string]any{"icon": "star"})},
		"testimonials": {"items": list(map[string]any{"words": "It flew.", "who": "Ines"}, map[string]any{"who": "Nobody"})},
		"faq":          {"items": list(map[string]any{"question": "Does it float?", "answer": "<p>Yes.</p>"}, map[string]any{"question": "And sink?"})},
		"rotate":       {"items": list(map[string]any{"title": "Two for one", "target": "page:guide", "label": "See them"}, map[string]any{"text": "untitled"})},
		"perks":        {"items": list(map[string]any{"title": "Light", "text": "Thirty grams."}, map[string]any{})},
	} {
		html := shown(t, c, kind, fields)
		assert.Equal(t, 1, len(regexp.MustCompile(`<(li|figure|details|article)[ >]`).FindAllString(html, -1)), "%s: %s", kind, html)
		assert.Empty(t, shown(t, c, kind, m.Fields{"items": list(map[string]any{})}), kind)
	}
}

// Offers that take turns by themselves can be stopped (WCAG 2.2, 2.2.2).
func TestOffersThatTakeTurnsCanBeStopped(t *testing.T) {
	two := list(map[string]any{"title": "Two for one"}, map[string]any{"title": "One for two"})
	turning := shown(t, stocked(noon), "rotate", m.Fields{"items": two})
	assert.Contains(t, turning, `data-rotate="6"`)
	assert.Contains(t, turning, "data-still")
	assert.NotContains(t, shown(t, stocked(noon), "rotate", m.Fields{"items": two, "turn": "0"}), "data-still", "what nobody moves needs no stop")
	assert.NotContains(t, shown(t, stocked(noon), "rotate", m.Fields{"items": two[:1]}), "<button", "one offer has no turns")
}

func TestAListHasItsMarkAndItsColour(t *testing.T) {
	c := stocked(noon)
	items := list(map[string]any{"text": "Light"}, map[string]any{"text": "Strong"})
	assert.Contains(t, shown(t, c, "bullets", m.Fields{"items": items, "mark": "star", "colour": "action"}), "data-icon=star")
	numbered := shown(t, c, "bullets", m.Fields{"items": items, "mark": "number"})
	assert.Contains(t, numbered, "<ol", "numbers are said to those who hear a page")
}

// One line says each piece: what it shows now, where it leads, what it lacks.
func TestAPieceIsToldInOneLine(t *testing.T) {
	for _, c := range []struct {
		kind    string
		fields  m.Fields
		says    string
		trouble bool
	}{
		{"shelf", m.Fields{"shelf": "night"}, "4 goods now, 1 of those shown lead to a page that sells them", false},
		{"shelf", m.Fields{"shelf": "bare"}, "0 goods now", true},
		{"shelf", m.Fields{}, "Shelf needs to be chosen", true},
		{"gallery", m.Fields{"items": list(map[string]any{"picture": "dunes"})}, "Gallery: 1", false},
		{"gallery", m.Fields{}, "has no pictures yet", true},
		{"picture", m.Fields{"picture": "dunes"}, "“Dunes”", false},
		{"picture", m.Fields{"picture": "gone"}, "is not chosen yet", true},
		{"social", m.Fields{"items": list(map[string]any{"picture": "drawn"})}, "Posted pictures: 1", false},
		{"social", m.Fields{}, "hand in a feed file", true},
		{"video", m.Fields{"video": "launch"}, "“The launch”", false},
		{"video", m.Fields{}, "is not chosen yet", true},
		{"answer", m.Fields{"product": "plans"}, "charges the same card for Kite plans", false},
		{"answer", m.Fields{}, "need a product to add", true},
		{"product", m.Fields{"product": "ember"}, "Ember 180 at €51.00", false},
		{"price", m.Fields{"product": "plans"}, "€12.00, no offer holds", false},
		{"price", m.Fields{}, "needs a product", true},
		{"summary", m.Fields{}, "needs the product that the checkout sells", true},
		{"announcement", m.Fields{"text": "Hurry", "target": "page:guide"}, "→ Gift guide", false},
		{"announcement", m.Fields{"text": "Hurry"}, "without a link", false},
		{"button", m.Fields{"label": "Go", "target": "page:gone"}, "leads to", true},
		{"button", m.Fields{}, "has no words yet", true},
		{"code", m.Fields{"code": "FROST"}, "FROST, copied with one press", false},
		{"code", m.Fields{}, "is not written yet", true},
		{"icon", m.Fields{"icon": "wind"}, "Icon: wind", false},
		{"bullets", m.Fields{}, "List with", false},
		{"faq", m.Fields{}, "Questions: 0 with an answer", false},
		{"testimonials", m.Fields{}, "only what was really said belongs here", true},
		{"menu", m.Fields{}, "0 links", false},
		{"phone", m.Fields{"number": "0255 000 111"}, "rings on a phone", false},
		{"embed", m.Fields{"html": "<b>x</b>"}, "8 characters, in a frame where nothing runs", false},
		{"timer", m.Fields{"deadline": "friday"}, "Timer to Friday", false},
		{"timer", m.Fields{}, "has no deadline, and no offer on what is sold here ends by one", true},
		{"checkout", m.Fields{}, "needs a product to sell", true},
		{"divider", m.Fields{}, "Divider: ", false},
		{"aside", m.Fields{}, "Boxed as ", false},
		{"groups", m.Fields{}, "are not chosen yet", true},
		{"rotate", m.Fields{"items": list(map[string]any{"title": "Two for one"})}, "Offers by turns: 1, the next one after 6 seconds", false},
		{"rotate", m.Fields{"turn": "0"}, "when a visitor moves it", false},
	} {
		telling := told(t, stocked(noon), c.kind, c.fields)
		assert.Contains(t, words(telling), c.says, c.kind)
		assert.Equal(t, words(telling), telling.String(), c.kind)
		assert.Equal(t, c.trouble, telling.Trouble, "%s: %s", c.kind, words(telling))
		assert.NotEmpty(t, telling.Thumb, c.kind)
	}
}
