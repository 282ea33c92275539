package mail_test

import (
	"strings"
	"testing"

	"chrysagon/app/ports"
	"chrysagon/core/facts"
	"chrysagon/internal/testkit"
	"chrysagon/render"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A mail of the program's own words is a letter of the house: its text says what its HTML
// does, and no name of a file or a person becomes anything but words.
func TestMailsOfOurOwnWordsAreOfTheHouse(t *testing.T) {
	c := testkit.UseLists(t)
	shop, err := c.Store.Shop(t.Context())
	require.NoError(t, err)
	maker := c.People.Maker
	for _, name := range []string{"The wind guide", `"><script>alert(1)</script>`, "{name|x} & co", "שלום \u202e 🪁", strings.Repeat("long ", 400)} {
		l, err := maker.Make(ports.Letter{Subject: name}, shop, render.Addressed{Name: name, Sent: true, Why: "You asked."}, "Here it is, {name|friend}", maker.HandsOut(facts.File{Name: name, Path: "/files/guide.pdf"})...)
		require.NoError(t, err)
		assert.NotContains(t, l.HTML, "<script>")
		assert.Contains(t, l.HTML, `href="`+maker.Origins.Shop+`/files/guide.pdf"`)
		assert.Contains(t, l.Text, maker.Origins.Shop+"/files/guide.pdf")
		assert.Contains(t, l.HTML, maker.Facts.StoreFacts(shop).House.Colour("action").String())
		assert.Contains(t, l.Text, "You asked.")
	}
}
