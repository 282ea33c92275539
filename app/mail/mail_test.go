package mail_test

import (
	"context"
	"testing"

	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type box struct{ letters []ports.Letter }

func (b *box) Send(_ context.Context, l ports.Letter) error {
	b.letters = append(b.letters, l)
	return nil
}

// Without a mail server nothing is sent, and that is an error: the queue keeps the letter
// until there is one.
func TestALetterWaitsForAMailServer(t *testing.T) {
	outside := &ports.Ports{}
	sender := &mail.Sender{Store: testkit.DB(t), Ports: outside}
	l := mail.ToStore(store.Shop{Name: "Gustwell", ContactEmail: "hello@gustwell.example"}, "l1", "A question", "Is <it> windy?", "ines@example.org")
	require.ErrorContains(t, sender.Send(context.Background(), l), "no mail server is set")
	post := &box{}
	outside.Post = post
	require.NoError(t, sender.Send(context.Background(), l))
	require.Len(t, post.letters, 1)
	assert.Equal(t, "ines@example.org", post.letters[0].ReplyTo, "answered to whom it is about")
	assert.Contains(t, post.letters[0].HTML, "Is &lt;it&gt; windy?", "words stay words")
}
