package shopfront_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/appointment"
	"chrysagon/core/manuscript"
	"chrysagon/core/own"
	"chrysagon/internal/testkit"
	"chrysagon/render"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// onPage adds a piece to the demo's sales page and publishes it.
func onPage(t *testing.T, shop *testkit.Shop, piece manuscript.Piece, more ...manuscript.Command) {
	t.Helper()
	ctx := context.Background()
	band := manuscript.Band{ID: "new-band", Name: "New", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{piece}}}}
	for _, c := range append(more, manuscript.Command{Op: manuscript.AddBand, Index: 1, Band: &band}) {
		_, err := shop.App.Desk.Edit(ctx, "marta", "night-flight", c, false)
		require.NoError(t, err)
	}
	_, err := shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta")
	require.NoError(t, err)
}

func TestATimeIsTakenOnceAndGoesIntoTheCalendar(t *testing.T) {
	shop := testkit.Open(t)
	bag := &pouch{}
	shop.App.Post = bag
	onPage(t, shop, manuscript.Piece{ID: "loft", Kind: "appointment", Fields: manuscript.Fields{"minutes": "30", "what": "A fitting in the loft"}})
	b, other := shop.Browser(), shop.Browser()
	page := b.Get("/night-flight")
	times := regexp.MustCompile(`name="slot" value="([^"]+)"`).FindAllStringSubmatch(page.Body, -1)
	require.NotEmpty(t, times)
	first := times[0][1]
	form := url.Values{"slot": {first}, "name": {"Inês Faro"}, "email": {"ines@example.org"}}

	nothing := b.Post("/night-flight/forms/loft", url.Values{"name": {"Inês Faro"}}, "")
	assert.Equal(t, http.StatusUnprocessableEntity, nothing.Status)
	assert.Contains(t, nothing.Body, "Choose a time.")
	assert.Contains(t, nothing.Body, "Inês Faro", "nothing typed is lost")

	var sent testkit.Page
	for range 3 { // pressed three times: one appointment
		sent = b.Post("/night-flight/forms/loft", form, "")
		require.Equal(t, http.StatusSeeOther, sent.Status, sent.Body)
	}
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM book.bookings"))
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM leads WHERE kind = 'appointment' AND slot_minutes = 30"))

	thanks := b.Get(sent.Header.Get("Location"))
	file := regexp.MustCompile(`/appointments/[0-9a-f]+\.ics`).FindString(thanks.Body)
	require.NotEmpty(t, file, "the visitor can take it along")
	calendar, err := ical.NewDecoder(strings.NewReader(b.Get(file).Body)).Decode()
	require.NoError(t, err)
	start, err := calendar.Events()[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, first, start.Format(time.RFC3339))
	assert.Equal(t, http.StatusNotFound, other.Get("/appointments/0123.ics").Status)

	late := other.Post("/night-flight/forms/loft", url.Values{"slot": {first}, "name": {"Rui"}, "email": {"rui@example.org"}}, "")
	assert.Equal(t, http.StatusUnprocessableEntity, late.Status)
	assert.Contains(t, late.Body, "Somebody has just taken that time")
	assert.NotContains(t, late.Body, `value="`+first+`"`, "it is offered no more")

	var lead string
	require.NoError(t, shop.App.Store.DB.Raw("SELECT id FROM leads WHERE kind = 'appointment'").Scan(&lead).Error)
	require.NoError(t, shop.App.People.DeliverLead(context.Background(), lead))
	require.Len(t, bag.letters, 2, "one to the visitor, one to the store")
	assert.Equal(t, "ines@example.org", bag.letters[0].To)
	require.Len(t, bag.letters[0].Files, 1)
	assert.Contains(t, string(bag.letters[0].Files[0].Content), "BEGIN:VEVENT")
}

// silent is an appointment book that does not answer.
type silent struct{ ports.Appointments }

func (silent) Free(context.Context, int, int, string) ([]appointment.Slot, error) {
	return nil, assert.AnError
}

func TestAPageIsShownThoughTheAppointmentBookIsSilent(t *testing.T) {
	shop := testkit.Open(t)
	onPage(t, shop, manuscript.Piece{ID: "loft", Kind: "appointment", Fields: manuscript.Fields{}})
	shop.App.Book = silent{}
	page := shop.Browser().Get("/night-flight")
	assert.Equal(t, http.StatusOK, page.Status)
	assert.Contains(t, page.Body, "Times cannot be shown just now.")
	assert.Contains(t, page.Body, `href="tel:&#43;351255000111"`)
	answer := shop.Browser().Post("/night-flight/forms/loft", url.Values{"slot": {testkit.Start.Add(48 * time.Hour).Format(time.RFC3339)}, "name": {"Rui"}, "email": {"rui@example.org"}}, "")
	assert.Contains(t, answer.Body, "Nothing is booked; please try again, or call")
}

func TestAVideoIsSentInParts(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	raw := append([]byte{0, 0, 0, 0x18}, []byte("ftypisom\x00\x00\x02\x00isomiso2"+strings.Repeat("0123456789", 500))...)
	_, err := shop.App.Pictures.UploadVideo(ctx, "page.mp4", []byte("<html><script>alert(1)</script>"))
	require.ErrorContains(t, err, "not a video that browsers play")
	v, err := shop.App.Pictures.UploadVideo(ctx, "First flight.mp4", raw)
	require.NoError(t, err)
	again, err := shop.App.Pictures.UploadVideo(ctx, "other.mp4", raw)
	require.NoError(t, err)
	assert.Equal(t, v.ID, again.ID)
	onPage(t, shop, manuscript.Piece{ID: "clip", Kind: "video", Fields: manuscript.Fields{"video": v.ID, "said": "We fly at dusk."}})
	b := shop.Browser()
	page := b.Get("/night-flight")
	assert.Contains(t, page.Body, `<source src="`+factbook.VideoPath(v)+`" type="video/mp4">`)
	assert.Contains(t, page.Header.Get("Content-Security-Policy"), "media-src 'self'")
	req, err := http.NewRequest(http.MethodGet, shop.App.Origins.Shop+factbook.VideoPath(v), http.NoBody)
	require.NoError(t, err)
	req.Header.Set("Range", "bytes=24-33")
	part := b.Do(req)
	assert.Equal(t, http.StatusPartialContent, part.Status)
	assert.Equal(t, "0123456789", part.Body)
	assert.Equal(t, "bytes 24-33/5024", part.Header.Get("Content-Range"))
	assert.Equal(t, "nosniff", part.Header.Get("X-Content-Type-Options"))
	req.Header.Set("Range", "bytes=9999-")
	assert.Equal(t, http.StatusRequestedRangeNotSatisfiable, b.Do(req).Status)
}

func TestOwnCodeIsLetThroughByThePolicyAndNothingElse(t *testing.T) {
	shop := testkit.Open(t)
	shop.Follow(t)
	_, err := shop.App.House.SetOwn(context.Background(), nil, own.Code{{Name: "Footfall", Kind: own.Measure, Text: "https://count.example/t.js"}})
	require.NoError(t, err)
	_, err = shop.App.House.SetOwn(context.Background(), nil, own.Code{{Name: "Bad", Kind: own.Foot, Text: "</script>"}})
	require.ErrorContains(t, err, "Bad")
	onPage(t, shop, manuscript.Piece{ID: "x", Kind: "divider"}, manuscript.Command{Op: manuscript.SetPage, Field: manuscript.OwnCode, Value: own.Code{{Name: "End", Kind: own.Foot, Text: "done()"}}})
	page := shop.Browser().Get("/night-flight")
	policy := page.Header.Get("Content-Security-Policy")
	assert.Regexp(t, `script-src 'self' 'sha256-[^']+' https://count\.example;`, policy)
	assert.Contains(t, policy, "connect-src 'self' https://count.example;")
	assert.NotContains(t, policy, "unsafe")
	assert.Contains(t, page.Body, "<script>done()</script>")
	studio := shop.Browser().Get(shop.App.Origins.Studio + "/sign-in")
	assert.NotContains(t, studio.Header.Get("Content-Security-Policy")+studio.Body, "count.example")
}

// Every kind of target leads somewhere a visitor finds something.
func TestLinksLeadToGoodsFilesAndAppointments(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	_, err := shop.App.Pictures.UploadFile(ctx, "../sizes.exe", []byte("MZ\x00\x01"))
	require.ErrorContains(t, err, "“sizes.exe” cannot be handed out")
	f, err := shop.App.Pictures.UploadFile(ctx, "Line lengths.pdf", []byte("%PDF-1.7 …"))
	require.NoError(t, err)
	text := `<p><a href="file:` + f.ID + `">lengths</a> <a href="product:ember">the kite</a> <a href="appointment">come by</a> <a href="product:gull">none sells it</a></p>`
	onPage(t, shop, manuscript.Piece{ID: "loft", Kind: "appointment", Fields: manuscript.Fields{}})
	onPage2 := manuscript.Band{ID: "links", Name: "Links", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{{ID: "copy", Kind: "text", Fields: manuscript.Fields{"text": text}}}}}}
	_, err = shop.App.Desk.Edit(ctx, "marta", "thank-you", manuscript.Command{Op: manuscript.AddBand, Band: &onPage2}, false)
	require.NoError(t, err)
	d, err := shop.App.Drafts.Draft(ctx, "thank-you")
	require.NoError(t, err)
	facts, err := shop.App.Facts.DraftFacts(ctx, d.ID, shop.App.Render.Registry.Schema().Names(d.Tree))
	require.NoError(t, err)
	assert.Equal(t, "night-flight", facts.Sold["ember"].Address)
	assert.Equal(t, "night-flight", facts.Booked.Address)
	drawn, err := shop.App.Render.Page(render.Input{Page: d.Tree, Facts: facts, Moment: testkit.Start})
	require.NoError(t, err)
	for _, want := range []string{`href="/files/` + f.Hash + `"`, `href="/night-flight">the kite`, `href="/night-flight#appointment">come by`, "none sells it"} {
		assert.Contains(t, string(drawn.HTML), want)
	}
	assert.NotContains(t, string(drawn.HTML), "product:gull", "a link to nowhere keeps its words only")
	findings, err := shop.App.Publishing.Check(ctx, d)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(findings), "goods that no live page sells")
	got := shop.Browser().Get("/files/" + f.Hash)
	assert.Equal(t, `attachment; filename="Line lengths.pdf"`, got.Header.Get("Content-Disposition"), "kept, never shown")
	assert.Equal(t, "nosniff", got.Header.Get("X-Content-Type-Options"))
}
