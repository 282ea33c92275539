package people_test

import (
	"context"
	"errors"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A message reaches the store once: a mail server that does not answer is tried
// again, and who has it already is not sent it twice.
func TestAMessageIsSentOnce(t *testing.T) {
	ctx := context.Background()
	c := testkit.Use(t)
	c.Exec(`INSERT INTO leads (id, kind, email, name, message, page_id, piece_id, at) VALUES ('m', 'message', 'ines@example.org', 'Ines', 'Does it fly in rain?', 'night-flight', 'x', now())`)
	c.Post.Fails = errors.New("no answer")
	require.Error(t, c.People.DeliverLead(ctx, "m"))
	c.Post.Fails = nil
	require.NoError(t, c.People.DeliverLead(ctx, "m"))
	require.NoError(t, c.People.DeliverLead(ctx, "m"))
	require.Len(t, c.Post.Letters, 1)
	letter := c.Post.Letters[0]
	assert.Equal(t, "ines@example.org", letter.ReplyTo, "the answer goes to who asked")
	assert.Contains(t, letter.Text, "Does it fly in rain?")
	assert.Contains(t, letter.Text, "Night flight")

	counts, err := c.People.LeadCounts(ctx, "frost-lanterns")
	require.NoError(t, err)
	for _, n := range counts {
		assert.Positive(t, n.Leads)
	}
}
