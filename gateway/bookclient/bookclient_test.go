package bookclient_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"testing"

	"chrysagon/app/ports"
	"chrysagon/gateway/bookclient"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The book is asked in the visitor's terms; a time that somebody else has is told apart
// from a book that does not work.
func TestTheBookIsAskedAndBelieved(t *testing.T) {
	status, said := http.StatusOK, `[{"at":"2026-11-27T10:00:00Z","minutes":30}]`
	var asked *http.Request
	book := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked = r
		w.WriteHeader(status)
		_, _ = w.Write([]byte(said))
	}))
	defer book.Close()
	c := &bookclient.Client{Origin: book.URL, Key: "the shop's", HTTP: book.Client()}
	free, err := c.Free(context.Background(), 14, 30, "Europe/Lisbon")
	require.NoError(t, err)
	require.Len(t, free, 1)
	assert.Equal(t, 30, free[0].Minutes)
	assert.Equal(t, "Europe/Lisbon", asked.URL.Query().Get("zone"))
	for code, want := range map[int]error{http.StatusCreated: nil, http.StatusConflict: ports.ErrTaken} {
		status = code
		assert.Equal(t, want, c.Take(context.Background(), "k1", ports.Booking{Slot: free[0], Name: "Ines"}))
		assert.Equal(t, "k1", asked.Header.Get("Idempotency-Key"))
	}
	status = http.StatusBadGateway
	require.Error(t, c.Take(context.Background(), "k1", ports.Booking{Slot: free[0]}))
	_, err = c.Free(context.Background(), 14, 30, "UTC")
	require.ErrorContains(t, err, "answered 502")
}
