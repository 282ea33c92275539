package mailing_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/mailing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestAListSaysWhyItWrites(t *testing.T) {
	l := mailing.List{Name: "The guide", Why: "You asked for the wind guide.", Tells: mailing.Each}
	assert.Empty(t, l.Faults())
	for field, broken := range map[string]mailing.List{
		"name":      {Why: l.Why, Tells: l.Tells},
		"why":       {Name: l.Name, Tells: l.Tells},
		"tells":     {Name: l.Name, Why: l.Why, Tells: "hourly"},
		"reply_to":  {Name: l.Name, Why: l.Why, Tells: l.Tells, ReplyTo: "ines@"},
		"from_name": {Name: l.Name, Why: l.Why, Tells: l.Tells, FromName: "Gustwell\r\nBcc: all@example.org"},
	} {
		assert.Contains(t, broken.Faults(), field)
		assert.Len(t, broken.Faults(), 1, field)
	}
	assert.Contains(t, mailing.List{Name: strings.Repeat("x", 81), Why: l.Why, Tells: l.Tells}.Faults()["name"], "80")
	assert.NotContains(t, l.Agreed(), "one mail first")
	l.Confirmed = true
	assert.Contains(t, l.Agreed(), "one mail first")
}

// Whatever somebody does, in whatever order: they are on a list that confirms only after a
// press that followed their last joining, and never after they have left it last.
func TestNobodyIsOnAListWhoHasNotAgreed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := mailing.List{Confirmed: rapid.Bool().Draw(t, "confirmed")}
		state, agreed := mailing.Stranger, false
		asked := false
		for range rapid.IntRange(0, 12).Draw(t, "events") {
			e := rapid.SampledFrom([]mailing.Event{mailing.Joined, mailing.Confirmed, mailing.Left}).Draw(t, "event")
			state = state.After(e, l)
			switch e {
			case mailing.Joined:
				asked = true
				agreed = agreed || !l.Confirmed
			case mailing.Confirmed:
				agreed = agreed || asked
			case mailing.Left:
				asked, agreed = false, false
			}
			assert.Equal(t, agreed, state == mailing.On, "after %s", e)
		}
		_, may := mailing.Person{State: state}.May(time.Now())
		assert.Equal(t, agreed, may)
	})
}

func TestWhyNobodyIsWrittenTo(t *testing.T) {
	now := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	for why, p := range map[string]mailing.Person{
		"their address is not written to":             {State: mailing.On, Hushed: true},
		"they have not confirmed it yet":              {State: mailing.Asked},
		"they are not on the list":                    {State: mailing.Off},
		"they want no letters until 30 November 2026": {State: mailing.On, Paused: now.AddDate(0, 0, 7)},
	} {
		said, may := p.May(now)
		assert.False(t, may)
		assert.Equal(t, why, said)
	}
	_, may := mailing.Person{State: mailing.On, Paused: now}.May(now)
	assert.True(t, may, "a pause that has ended is none")
}

// A pass proves whose letter it is; nobody can make one for somebody else, or use one
// signature for another.
func TestPassesAreNotForged(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		id := rapid.StringMatching(`[a-z0-9]{1,40}`)
		p := mailing.Pass{Contact: id.Draw(t, "contact"), List: rapid.StringMatching(`[a-z0-9]{0,40}`).Draw(t, "list")}
		key := []byte("the store's key")
		text := p.Write(key)
		read, ours := mailing.ReadPass(key, text)
		assert.True(t, ours)
		assert.Equal(t, p, read)
		_, ours = mailing.ReadPass([]byte("another key"), text)
		assert.False(t, ours)
		other := id.Draw(t, "other")
		_, ours = mailing.ReadPass(key, other+strings.TrimPrefix(text, p.Contact))
		assert.Equal(t, other == p.Contact, ours)
	})
	for _, text := range []string{"", ".", "..", "a..", "a.b.c.d", strings.Repeat("a", 300), "a\x00.b.c", "ü.ß.x"} {
		_, ours := mailing.ReadPass([]byte("k"), text)
		assert.False(t, ours, "%q", text)
	}
}

func TestAnAddressIsHushedInAnyCase(t *testing.T) {
	key := []byte("k")
	assert.Equal(t, mailing.Hush(key, "Ines@Example.org "), mailing.Hush(key, "ines@example.org"))
	assert.NotEqual(t, mailing.Hush(key, "ines@example.org"), mailing.Hush(key, "ines@example.com"))
	assert.NotEqual(t, mailing.Hush(key, "ines@example.org"), mailing.Hush([]byte("l"), "ines@example.org"))
	assert.NotContains(t, mailing.Hush(key, "ines@example.org"), "ines")
}

func TestSlipsAreSuggested(t *testing.T) {
	for typed, meant := range map[string]string{
		"ines@gmial.com": "ines@gmail.com", "ines@gmai.com": "ines@gmail.com", "ines@gmaill.com": "ines@gmail.com", "ines@hotmaol.com": "ines@hotmail.com",
		"ines@example.con": "ines@example.com", "ines@gmail.con": "ines@gmail.com", "ines@outlok.com": "ines@outlook.com",
		"ines@gmail.com": "", "ines@example.org": "", "ines@mail.com": "", "ines@kites.example": "", "": "", "@": "", "ines": "", "@gmial.com": "",
	} {
		assert.Equal(t, meant, mailing.Meant(typed), typed)
	}
}

func TestPeopleAreFoundInTables(t *testing.T) {
	c, ok := mailing.ColumnsOf([]string{"First name", "Last Name", "E-mail"})
	assert.True(t, ok)
	email, name, fault := c.Person([]string{" Ana ", "Amaro", "ana@readers.example"})
	assert.Equal(t, []string{"ana@readers.example", "Ana Amaro", ""}, []string{email, name, fault})
	_, _, fault = c.Person([]string{"Ana"})
	assert.Contains(t, fault, "no address")
	_, _, fault = c.Person([]string{"Ana", "", "ana at example"})
	assert.Contains(t, fault, "has an @ in it")
	_, _, fault = c.Person([]string{strings.Repeat("a", 101), "", "ana@readers.example"})
	assert.Contains(t, fault, "100 characters")
	_, ok = mailing.ColumnsOf([]string{"Town", "Kite"})
	assert.False(t, ok)
}

// The addresses to which letters are returned are those the store made, in any case, and as
// long as a local part may be (RFC 5321, 4.5.3.1.1).
func TestOnlyItsOwnLettersComeBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		key, id := rapid.SliceOfN(rapid.Byte(), 16, 32).Draw(t, "key"), rapid.StringMatching(`[a-z2-7]{16}`).Draw(t, "id")
		local := mailing.Back(key, id)
		assert.LessOrEqual(t, len(local), 64)
		got, ours := mailing.ReadBack(key, strings.ToUpper(local))
		assert.True(t, ours)
		assert.Equal(t, id, got)
		at := rapid.IntRange(0, len(local)-1).Draw(t, "at")
		other := local[:at] + rapid.StringMatching(`[a-z0-9-]`).Draw(t, "other") + local[at+1:]
		_, ours = mailing.ReadBack(key, other)
		assert.Equal(t, other == local, ours)
	})
	for _, text := range []string{"", "r-", "r--", "r-a-", strings.Repeat("r-", 60)} {
		_, ours := mailing.ReadBack([]byte("k"), text)
		assert.False(t, ours, text)
	}
}

// Who says that they are sure of what they typed is not asked again; of anything else they are.
func TestASlipIsDoubtedUntilSomebodyIsSure(t *testing.T) {
	const slip, meant = "ines@gmial.com", "ines@gmail.com"
	for _, sure := range []string{slip, " " + slip + " ", "Ines@gmial.com"} {
		assert.Empty(t, mailing.Doubted(slip, sure), sure)
	}
	for _, sure := range []string{"", meant, "ines@gmal.com", "\xff"} {
		assert.Equal(t, meant, mailing.Doubted(slip, sure), sure)
	}
	assert.Empty(t, mailing.Doubted(meant, ""))
}
