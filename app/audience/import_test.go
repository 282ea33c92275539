package audience_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"chrysagon/app/audience"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
)

const fair = "On paper at the harbour fair, June 2026"

// A file is looked at first, which changes nothing; then everybody in it is on the list who
// may be, each once, with the words of where they agreed, and begins no follow-up.
func TestPeopleComeFromAFile(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.JoinList("news-of-the-coast", "known@readers.example")
	c.JoinList("the-guide", "on@readers.example")
	c.JoinList("the-guide", "left@readers.example")
	c.Exec("UPDATE members SET state = 'off', off_at = now() WHERE contact_id = (SELECT id FROM contacts WHERE email LIKE 'left%')")
	c.JoinList("the-guide", "gone@readers.example")
	var gone string
	require.NoError(t, c.Store.DB.Raw("SELECT id FROM contacts WHERE email LIKE 'gone%'").Scan(&gone).Error)
	require.NoError(t, c.Audience.Erase(ctx, gone))
	lines := c.Number("SELECT count(*) FROM followings")

	file := "First name;Last name;E-mail\r\nZoë;Amaro;zoe@readers.example\r\n;;known@READERS.example\r\n;;on@readers.example\r\n;;left@readers.example\r\n;;gone@readers.example\r\n;;zoe@readers.example\r\nNo;;nobody\r\n;;\r\n"
	raw, err := charmap.Windows1252.NewEncoder().String(file)
	require.NoError(t, err)
	want := audience.Imported{New: 1, Added: 1, Already: 1, Left: 1, Hushed: 1, Twice: 1, Faulty: 1, Looked: true}
	looked, err := c.Audience.Import(ctx, audience.Importing{ListID: "the-guide", Raw: []byte(raw), Look: true})
	require.NoError(t, err)
	require.Len(t, looked.Faults, 1)
	assert.Equal(t, 8, looked.Faults[0].Line)
	assert.Contains(t, looked.Faults[0].Reason, "has an @ in it")
	looked.Faults = nil
	assert.Equal(t, want, looked)
	assert.Zero(t, c.Number("SELECT count(*) FROM contacts WHERE email = 'zoe@readers.example'"), "nothing is kept")

	_, err = c.Audience.Import(ctx, audience.Importing{ListID: "the-guide", Raw: []byte(raw), Consent: "yes"})
	require.ErrorIs(t, err, refusal.ErrInvalid, "where they agreed must be said")
	did, err := c.Audience.Import(ctx, audience.Importing{ListID: "the-guide", Raw: []byte(raw), Consent: fair})
	require.NoError(t, err)
	did.Faults, want.Looked = nil, false
	assert.Equal(t, want, did)
	assert.Equal(t, int64(1), c.Number("SELECT count(*) FROM members m JOIN contacts c ON c.id = m.contact_id WHERE c.name = 'Zoë Amaro' AND m.state = 'on' AND m.consent = $1", fair))
	assert.Equal(t, int64(1), c.Number("SELECT count(*) FROM members WHERE state = 'off'"), "who has left stays off")
	assert.Zero(t, c.Number("SELECT count(*) FROM contacts WHERE email LIKE 'gone%'"))
	assert.Equal(t, lines, c.Number("SELECT count(*) FROM followings"), "they begin nothing")

	again, err := c.Audience.Import(ctx, audience.Importing{ListID: "the-guide", Raw: []byte(raw), Consent: fair})
	require.NoError(t, err)
	assert.Equal(t, 3, again.Already, "brought in twice is brought in once")
	assert.Zero(t, again.New+again.Added)
}

// Files as they come: one column alone, thousands of lines, no addresses, no table at all.
func TestFilesOfPeopleAsTheyCome(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	var many strings.Builder
	for i := range 12_000 {
		fmt.Fprintf(&many, "reader%d@readers.example\n", i)
	}
	for _, file := range []struct {
		raw string
		n   int
	}{{"ana@readers.example\nbruno@readers.example", 2}, {"email\nclara@readers.example\n", 1}, {many.String(), 12_000}, {"\ufeffEmail,Name\ndario@readers.example,\"Dario, the \"\"kite\"\"\"\n", 1}} {
		did, err := c.Audience.Import(ctx, audience.Importing{ListID: "the-guide", Raw: []byte(file.raw), Consent: fair})
		require.NoError(t, err)
		assert.Equal(t, file.n, did.New)
		assert.Zero(t, did.Faulty)
	}
	for _, raw := range []string{"", "\x00\x01\x02,\x03", "town,kite\nGustwell,Ember"} {
		_, err := c.Audience.Import(ctx, audience.Importing{ListID: "the-guide", Raw: []byte(raw), Consent: fair})
		require.ErrorIs(t, err, refusal.ErrInvalid, "%q", raw)
	}
	_, err := c.Audience.Import(ctx, audience.Importing{ListID: "nothing", Raw: []byte("a@b.example"), Consent: fair})
	require.ErrorIs(t, err, refusal.ErrNotFound)
}
