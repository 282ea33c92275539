package account_test

import (
	"bytes"
	"context"
	"fmt"
	"log/slog"
	"testing"
	"time"

	"chrysagon/app/account"
	"chrysagon/app/calendar"
	"chrysagon/app/ports"
	"chrysagon/core/refusal"
	"chrysagon/core/signin"
	"chrysagon/demo"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/alexedwards/argon2id"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func owner(address string) account.Credentials {
	return account.Credentials{Email: demo.Email, Password: demo.Password, Address: address, Agent: testkit.Agent}
}

func TestASessionEnds(t *testing.T) {
	shop := testkit.Open(t)
	in, err := shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
	who, err := shop.App.Accounts.Session(ctx, in.Token)
	require.NoError(t, err)
	assert.Equal(t, "Marta Venn", who.User.Name)
	_, err = shop.App.Accounts.Session(ctx, in.Token+"x")
	require.ErrorIs(t, err, refusal.ErrNotFound)
	for range 9 { // used again and again, it lasts two weeks
		shop.Clock.Advance(36 * time.Hour)
		_, err = shop.App.Accounts.Session(ctx, in.Token)
		require.NoError(t, err)
	}
	shop.Clock.Advance(36 * time.Hour)
	_, err = shop.App.Accounts.Session(ctx, in.Token)
	require.ErrorIs(t, err, refusal.ErrNotFound, "and no longer")
	in, err = shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
	shop.Clock.Advance(signin.IdleFor + time.Minute)
	_, err = shop.App.Accounts.Session(ctx, in.Token)
	require.ErrorIs(t, err, refusal.ErrNotFound, "unused, three days")
	assert.Zero(t, shop.Number(`SELECT count(*) FROM sessions WHERE encode(token_hash, 'escape') LIKE '%' || $1 || '%'`, in.Token), "only a hash is kept")
}

// Guesses from anywhere make an account wait, and guesses from one network make it
// wait for every account; a browser that has signed in before is not locked out.
func TestGuessingIsSlowedAndLocksNobodyOut(t *testing.T) {
	shop := testkit.Open(t)
	mine, err := shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
	guess := func(address, email string) error {
		_, err := shop.App.Accounts.SignIn(ctx, account.Credentials{Email: email, Password: "wrong", Address: address})
		return err
	}
	for i := range signin.Free { // each from another address
		require.ErrorIs(t, guess(fmt.Sprintf("198.51.100.%d", i), demo.Email), refusal.ErrRefused)
	}
	require.ErrorIs(t, guess("198.51.100.99", demo.Email), refusal.ErrTooMany, "the account waits")
	_, err = shop.App.Accounts.SignIn(ctx, owner("203.0.113.7"))
	require.ErrorIs(t, err, refusal.ErrTooMany, "for the right password too, elsewhere")
	known := owner("203.0.113.7")
	known.Known = mine.Known
	again, err := shop.App.Accounts.SignIn(ctx, known)
	require.NoError(t, err, "but not where the owner has signed in before")
	assert.NotEqual(t, mine.Known, again.Known)
	known.Known = "anything"
	_, err = shop.App.Accounts.SignIn(ctx, known)
	require.ErrorIs(t, err, refusal.ErrTooMany, "and not for a cookie that was made up")
	shop.Clock.Advance(2 * time.Second)
	require.ErrorIs(t, guess("198.51.100.99", demo.Email), refusal.ErrRefused)
	shop.Clock.Advance(3 * time.Second)
	require.ErrorIs(t, guess("198.51.100.99", demo.Email), refusal.ErrTooMany, "the wait doubles")
	shop.Clock.Advance(time.Second)
	_, err = shop.App.Accounts.SignIn(ctx, owner("203.0.113.7"))
	require.NoError(t, err)
	require.ErrorIs(t, guess("198.51.100.98", demo.Email), refusal.ErrRefused, "who comes in begins anew")

	for i := range signin.Free { // all from one network, each at another account
		require.ErrorIs(t, guess(fmt.Sprintf("2001:db8::%d", i), fmt.Sprintf("nobody-%d@gustwell.example", i)), refusal.ErrRefused)
	}
	require.ErrorIs(t, guess("2001:db8::ffff", "somebody@gustwell.example"), refusal.ErrTooMany)
	require.ErrorIs(t, guess("2001:db8:0:1::1", "somebody@gustwell.example"), refusal.ErrRefused, "another network does not wait")
	shop.Clock.Advance(signin.Forgotten + time.Second)
	require.ErrorIs(t, guess("2001:db8::ffff", "somebody@gustwell.example"), refusal.ErrRefused, "all is forgotten after a day")
}

// A hash says by which parameters it was made: an old one is checked by its own, and
// renewed when its owner signs in.
func TestAnOldHashIsRenewed(t *testing.T) {
	shop := testkit.Open(t)
	old, err := argon2id.CreateHash(demo.Password, &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32})
	require.NoError(t, err)
	shop.Exec("UPDATE users SET password_hash = $1", old)
	_, err = shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
	var user store.User
	require.NoError(t, shop.Store.DB.Take(&user).Error)
	assert.Regexp(t, `^\$argon2id\$v=19\$m=65536,t=3,p=4\$`, user.PasswordHash)
	_, err = shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
}

// Whoever knows the password may try as many new ones as it takes; whoever guesses
// it waits, also in between.
func TestWeakNewPasswordsCostNoWait(t *testing.T) {
	c := testkit.Use(t)
	in, err := c.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
	who, err := c.Accounts.Session(ctx, in.Token)
	require.NoError(t, err)
	for range 12 {
		faults, err := c.Accounts.ChangePassword(ctx, who, demo.Password, "short")
		require.NoError(t, err)
		assert.Contains(t, faults, "next")
	}
	refused := 0
	for range 12 {
		if _, err := c.Accounts.ChangePassword(ctx, who, "a guess", "dunes under a thin moon"); err != nil {
			refused++
		}
	}
	assert.Positive(t, refused)
}

func TestAPasswordIsChangedAndOthersAreSignedOut(t *testing.T) {
	shop := testkit.Open(t)
	here, err := shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.NoError(t, err)
	there, err := shop.App.Accounts.SignIn(ctx, owner("192.0.2.2"))
	require.NoError(t, err)
	who, err := shop.App.Accounts.Session(ctx, here.Token)
	require.NoError(t, err)
	list, err := shop.App.Accounts.Sessions(ctx, who)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, "Firefox on Linux", list[0].Browser)
	for _, c := range []struct{ now, next, field string }{
		{"wrong", "dunes under a thin moon", "now"}, {demo.Password, "short", "next"}, {demo.Password, "gustwell kiteworks", "next"}, {demo.Password, demo.Password, "next"},
	} {
		faults, err := shop.App.Accounts.ChangePassword(ctx, who, c.now, c.next)
		require.NoError(t, err)
		assert.Contains(t, faults, c.field, c.next)
	}
	faults, err := shop.App.Accounts.ChangePassword(ctx, who, demo.Password, "dunes under a thin moon")
	require.NoError(t, err)
	require.Empty(t, faults)
	_, err = shop.App.Accounts.Session(ctx, there.Token)
	require.ErrorIs(t, err, refusal.ErrNotFound)
	_, err = shop.App.Accounts.Session(ctx, here.Token)
	require.NoError(t, err)
	_, err = shop.App.Accounts.SignIn(ctx, owner("192.0.2.1"))
	require.ErrorIs(t, err, refusal.ErrRefused)
	in := owner("192.0.2.1")
	in.Password = "dunes under a thin moon"
	third, err := shop.App.Accounts.SignIn(ctx, in)
	require.NoError(t, err)
	require.NoError(t, shop.App.Accounts.EndSession(ctx, who, ""))
	_, err = shop.App.Accounts.Session(ctx, third.Token)
	require.ErrorIs(t, err, refusal.ErrNotFound)
}

// A new store is empty, has an owner whose password will do, and is made once.
func TestAStoreIsBegun(t *testing.T) {
	s := testkit.Empty(t)
	b := account.Beginning{Store: "Dune Post", Currency: "EUR", Zone: "Europe/Lisbon", Country: "PT", Owner: "Ines Prado", Email: "Ines@dune-post.example", Password: "four words over dunes"}
	for field, spoil := range map[string]func(*account.Beginning){
		"name": func(b *account.Beginning) { b.Store = " " }, "currency": func(b *account.Beginning) { b.Currency = "Euro" }, "time zone": func(b *account.Beginning) { b.Zone = "Lisbon" },
		"country": func(b *account.Beginning) { b.Country = "Portugal" }, "email": func(b *account.Beginning) { b.Email = "ines" }, "password": func(b *account.Beginning) { b.Password = "password1234" },
	} {
		bad := b
		spoil(&bad)
		err := account.Begin(ctx, s, bad, testkit.Start)
		require.ErrorIs(t, err, refusal.ErrInvalid, field)
		require.ErrorContains(t, err, field)
	}
	require.NoError(t, account.Begin(ctx, s, b, testkit.Start))
	require.ErrorIs(t, account.Begin(ctx, s, b, testkit.Start), refusal.ErrConflict)
	s = s.By(func() time.Time { return testkit.Start })
	a := &account.Accounts{Store: s, Ports: &ports.Ports{}, Log: slog.New(slog.DiscardHandler)}
	_, err := a.SignIn(ctx, account.Credentials{Email: "ines@dune-post.example", Password: b.Password, Address: "192.0.2.1"})
	require.NoError(t, err)
	steps, err := a.FirstSteps(ctx)
	require.NoError(t, err)
	for _, step := range steps {
		assert.False(t, step.Done, step.What)
	}
	_, campaign, err := (&calendar.Calendar{Store: s}).Campaigns(ctx, "")
	require.NoError(t, err)
	assert.NotEmpty(t, campaign)
}

// Who guesses is seen in the log, and what was typed is not.
func TestARefusedSignInIsLogged(t *testing.T) {
	shop := testkit.Open(t)
	var log bytes.Buffer
	shop.App.Accounts.Log = slog.New(slog.NewTextHandler(&log, nil))
	in := owner("192.0.2.77")
	in.Password = "guessed words"
	_, err := shop.App.Accounts.SignIn(ctx, in)
	require.ErrorIs(t, err, refusal.ErrRefused)
	assert.Contains(t, log.String(), "192.0.2.77")
	assert.NotContains(t, log.String(), "guessed")
	assert.NotContains(t, log.String(), demo.Email)
}
