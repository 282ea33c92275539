package letterbox_test

import (
	"context"
	"net"
	"strings"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/gateway/smtp"
	"chrysagon/internal/testkit"
	"chrysagon/standin/letterbox"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A letter goes out by SMTP and is read in the browser as it was written.
func TestLettersArriveAsTheyWereWritten(t *testing.T) {
	shop := testkit.Open(t)
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	box := &letterbox.Box{Store: shop.Store, Clock: func() time.Time { return testkit.Start }}
	done := make(chan error, 1)
	go func() { done <- box.Serve(ctx, listener) }()
	sender, err := smtp.New(smtp.Server{Address: listener.Addr().String()})
	require.NoError(t, err)
	require.NoError(t, sender.Send(ctx, ports.Letter{
		ID: "letter-1", FromName: "Gustwell Kitewörks", From: "hello@gustwell.example", To: "ines@example.org",
		Subject: "Deine Bestellung — 51,00 €", Text: "Über den Dünen.\n.\nEnde", HTML: `<p>Über <b>den</b> Dünen</p><script>alert(1)</script>`,
	}))
	cancel()
	require.NoError(t, <-done)

	b := shop.Browser()
	list := b.Get(shop.App.Origins.Letterbox + "/")
	assert.Contains(t, list.Body, "Deine Bestellung — 51,00 €")
	letter := b.Get(shop.App.Origins.Letterbox + "/letters/1")
	assert.Contains(t, letter.Body, "Gustwell Kitewörks")
	assert.Contains(t, strings.ReplaceAll(letter.Body, "\r\n", "\n"), "Über den Dünen.\n.\nEnde", "a line of one point does not end a letter (RFC 5321, 4.5.2)")
	body := b.Get(shop.App.Origins.Letterbox + "/letters/1/body")
	assert.Contains(t, body.Body, "<b>den</b>")
	assert.Contains(t, body.Header.Get("Content-Security-Policy"), "default-src 'none'", "nothing in a letter runs")
	assert.True(t, strings.Contains(body.Header.Get("Content-Security-Policy"), "sandbox"))
	assert.Equal(t, 404, b.Get(shop.App.Origins.Letterbox+"/letters/99").Status)
}
