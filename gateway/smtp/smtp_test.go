package smtp_test

import (
	"context"
	"testing"

	"chrysagon/app/ports"
	"chrysagon/gateway/smtp"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A wrong address is told when the program starts; a letter that cannot be sent is an
// error, so that the queue tries again. (What arrives is checked with the letterbox.)
func TestWhatCannotBeSentIsAnError(t *testing.T) {
	for _, address := range []string{"mail.example", "mail.example:smtp", ":"} {
		_, err := smtp.New(smtp.Server{Address: address})
		assert.Error(t, err, address)
	}
	sender, err := smtp.New(smtp.Server{Address: "127.0.0.1:1"}) // nobody listens there
	require.NoError(t, err)
	l := ports.Letter{ID: "l1", From: "hello@gustwell.example", To: "ines@example.org", Subject: "Hello", Text: "Hello"}
	require.Error(t, sender.Send(context.Background(), l))
	l.To = "no address"
	require.Error(t, sender.Send(context.Background(), l))
}
