package testkit

import (
	"context"
	"testing"

	"chrysagon/app/audience"
	"chrysagon/demo"

	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// UseLists is the use cases with the demo's lists and its follow-up, and nobody on them.
func UseLists(t testing.TB) *Cases {
	t.Helper()
	c := Use(t)
	require.NoError(t, demo.Season(context.Background(), c.Store, "http://lamps.example/", Start))
	c.Exec("DELETE FROM contacts")
	return c
}

// JoinList puts somebody on a list, as a form does.
func (c *Cases) JoinList(list, email string) {
	c.t.Helper()
	require.NoError(c.t, c.Store.In(context.Background(), func(tx *gorm.DB) error {
		return c.Audience.Join(tx, audience.Joining{ListID: list, Email: email, Name: "Ines", At: c.Clock.Now()})
	}))
}

// AtOnce lets the list of the demo's guide put people on it without a press that confirms it.
func (c *Cases) AtOnce() { c.Exec("UPDATE lists SET confirmed = false WHERE id = 'the-guide'") }

// SentTo are the IDs of the letters that went to an address.
func (f *FakePost) SentTo(to string) []string {
	f.mu.Lock()
	defer f.mu.Unlock()
	var out []string
	for _, l := range f.Letters {
		if l.To == to {
			out = append(out, l.ID)
		}
	}
	return out
}
