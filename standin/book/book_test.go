package book_test

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/internal/testkit"
	"chrysagon/standin/book"
	"chrysagon/web"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const key = "a-key-of-the-test"

func open(t *testing.T) *fiber.App {
	t.Helper()
	assets, err := web.Open()
	require.NoError(t, err)
	b := &book.Book{Store: testkit.DB(t), Clock: func() time.Time { return testkit.Start }, Assets: assets, Key: key}
	return b.App()
}

type answer struct {
	status int
	body   string
	header http.Header
}

func ask(t *testing.T, f *fiber.App, method, path, body string, header map[string]string) answer {
	t.Helper()
	req := httptest.NewRequest(method, path, strings.NewReader(body))
	for name, value := range header {
		req.Header.Set(name, value)
	}
	resp, err := f.Test(req, fiber.TestConfig{Timeout: time.Minute})
	require.NoError(t, err)
	defer func() { _ = resp.Body.Close() }()
	raw, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	return answer{resp.StatusCode, string(raw), resp.Header}
}

func with(more ...string) map[string]string {
	out := map[string]string{"Authorization": "Bearer " + key}
	for i := 0; i+1 < len(more); i += 2 {
		out[more[i]] = more[i+1]
	}
	return out
}

func free(t *testing.T, f *fiber.App, query string) (list []appointment.Slot) {
	t.Helper()
	got := ask(t, f, http.MethodGet, "/api/slots?"+query, "", with())
	require.Equal(t, http.StatusOK, got.status, got.body)
	require.NoError(t, json.Unmarshal([]byte(got.body), &list))
	return list
}

func TestOnlyThoseWithTheKeyAreAnswered(t *testing.T) {
	f := open(t)
	for _, header := range []map[string]string{{}, {"Authorization": "Bearer wrong"}, {"Authorization": key}} {
		assert.Equal(t, http.StatusUnauthorized, ask(t, f, http.MethodGet, "/api/slots?minutes=30&days=1&zone=UTC", "", header).status)
		assert.Equal(t, http.StatusUnauthorized, ask(t, f, http.MethodPost, "/api/bookings", "{}", header).status)
	}
}

// Free times lie in the hours in which appointments are given, none in the
// past, and none over the break at noon.
func TestFreeTimesLieInTheHours(t *testing.T) {
	f := open(t)
	list := free(t, f, "minutes=60&days=14&zone=Europe/Lisbon")
	require.NotEmpty(t, list)
	for i, s := range list {
		assert.True(t, s.At.After(testkit.Start))
		hour, weekday := s.At.Hour(), s.At.Weekday() // Lisbon keeps universal time in November
		assert.NotEqual(t, time.Sunday, weekday)
		assert.True(t, hour >= 10 && hour < 13 || hour >= 14 && hour < 17, s.At)
		assert.False(t, hour == 12 && s.At.Minute() > 0, "over the break")
		if i > 0 {
			assert.False(t, s.At.Before(list[i-1].At), "in order")
		}
	}
	refused := ask(t, f, http.MethodGet, "/api/slots?minutes=60&days=14&zone=Nowhere/None", "", with())
	assert.Equal(t, http.StatusUnprocessableEntity, refused.status)
	assert.Contains(t, refused.body, "detail")
}

func TestATimeIsTakenOnce(t *testing.T) {
	f := open(t)
	slot := free(t, f, "minutes=60&days=3&zone=UTC")[0]
	booking := func(name string, at time.Time, minutes int) string {
		raw, err := json.Marshal(book.Booking{Slot: appointment.Slot{At: at, Minutes: minutes}, Name: name, Email: "x@example.org", Subject: "A fitting"})
		require.NoError(t, err)
		return string(raw)
	}
	var wait sync.WaitGroup
	status := make([]int, 8)
	for i := range status {
		wait.Add(1)
		go func() {
			defer wait.Done()
			status[i] = ask(t, f, http.MethodPost, "/api/bookings", booking("Ines", slot.At, 60), with("Idempotency-Key", "key-"+string(rune('a'+i)))).status
		}()
	}
	wait.Wait()
	count := map[int]int{}
	for _, s := range status {
		count[s]++
	}
	assert.Equal(t, map[int]int{http.StatusCreated: 1, http.StatusConflict: 7}, count, "eight who ask at once")

	for _, s := range free(t, f, "minutes=30&days=3&zone=UTC") {
		assert.False(t, s.Overlaps(slot), "no part of it is free any more")
	}
	overlap := ask(t, f, http.MethodPost, "/api/bookings", booking("Jo", slot.At.Add(30*time.Minute), 60), with("Idempotency-Key", "later"))
	assert.Equal(t, http.StatusConflict, overlap.status)
	next := booking("Jo", slot.At.Add(time.Hour), 60)
	for range 2 {
		assert.Equal(t, http.StatusCreated, ask(t, f, http.MethodPost, "/api/bookings", next, with("Idempotency-Key", "again")).status, "the same key asks for the same time")
	}

	page := ask(t, f, http.MethodGet, "/", "", nil)
	assert.Contains(t, page.body, "A fitting")
	assert.Contains(t, page.header.Get("Content-Security-Policy"), "default-src 'none'")
}

func TestABookingIsWhole(t *testing.T) {
	f := open(t)
	at := `"at":"2026-11-24T10:00:00Z"`
	for name, c := range map[string]struct{ key, body string }{
		"no JSON":        {"k", "at ten"},
		"no key":         {"", `{` + at + `,"minutes":30,"name":"Ines","email":"i@example.org"}`},
		"nobody":         {"k", `{` + at + `,"minutes":30,"email":"i@example.org"}`},
		"no mail":        {"k", `{` + at + `,"minutes":30,"name":"Ines"}`},
		"no length":      {"k", `{` + at + `,"name":"Ines","email":"i@example.org"}`},
		"days on end":    {"k", `{` + at + `,"minutes":5000,"name":"Ines","email":"i@example.org"}`},
		"a wrong moment": {"k", `{"at":"soon","minutes":30,"name":"Ines","email":"i@example.org"}`},
	} {
		got := ask(t, f, http.MethodPost, "/api/bookings", c.body, with("Idempotency-Key", c.key))
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, name)
	}
	assert.NotContains(t, ask(t, f, http.MethodGet, "/", "", nil).body, "Ines")
}
