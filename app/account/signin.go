package account

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net/netip"
	"slices"
	"strings"
	"time"

	"chrysagon/core/refusal"
	"chrysagon/core/signin"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Credentials are what somebody signs in with, and from where.
type Credentials struct {
	Email, Password string
	Address         string // of the network
	Known           string // token of a browser that has signed in before; empty: a new one
	Agent           string // what the browser calls itself
}

// Opened is a session that has begun.
type Opened struct {
	Token string // of the session
	Known string // by which the browser is known again
}

// SignIn begins a session. Who fails waits longer and longer, by account and by
// address; a browser that has signed in to the account before waits only for its
// own failures, so that nobody else locks it out.
func (a *Accounts) SignIn(ctx context.Context, in Credentials) (Opened, error) {
	email := strings.ToLower(strings.TrimSpace(in.Email))
	user, err := store.One[store.User](a.Store.On(ctx).Where("email = ?", email), "")
	hash := user.PasswordHash
	if errors.Is(err, refusal.ErrNotFound) {
		hash = dummy
	} else if err != nil {
		return Opened{}, err
	}
	keys, err := a.limits(ctx, user, email, in)
	if err != nil {
		return Opened{}, err
	}
	if err := a.admit(ctx, keys); err != nil {
		return Opened{}, err
	}
	right, stale := matches(hash, in.Password)
	if !right || user.ID == "" {
		a.Log.Warn("a sign-in was refused", "from", in.Address, "known", user.ID != "")
		return Opened{}, refusal.Of(refusal.ErrRefused, "This email and password do not belong together. Check both and try again.")
	}
	out := Opened{Token: store.NewSecret(), Known: store.NewSecret()}
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		now := a.Store.Now()
		if stale {
			if err := tx.Model(&store.User{}).Where("id = ?", user.ID).Update("password_hash", HashPassword(in.Password)).Error; err != nil {
				return err
			}
		}
		s := store.Session{ID: store.NewID(), TokenHash: tokenHash(out.Token), UserID: user.ID, CSRF: store.NewSecret(), BeganAt: now, UsedAt: now, ExpiresAt: now.Add(signin.SessionFor), Agent: words.Cut(in.Agent, 300)}
		if err := tx.Create(&s).Error; err != nil {
			return err
		}
		if err := tx.Create(&store.KnownBrowser{TokenHash: tokenHash(out.Known), UserID: user.ID, At: now}).Error; err != nil {
			return err
		}
		return a.succeeded(tx, keys, in.Known)
	})
	if err != nil {
		return Opened{}, fmt.Errorf("begin a session: %w", err)
	}
	return out, nil
}

// limits are the keys under which a try counts.
func (a *Accounts) limits(ctx context.Context, user store.User, email string, in Credentials) ([]string, error) {
	if in.Known != "" && user.ID != "" {
		var known int64
		err := a.Store.On(ctx).Model(&store.KnownBrowser{}).Where("token_hash = ? AND user_id = ? AND at > ?", tokenHash(in.Known), user.ID, a.Store.Now().Add(-signin.KnownFor)).Count(&known).Error
		if err != nil {
			return nil, err
		}
		if known > 0 {
			return []string{"browser " + hex.EncodeToString(tokenHash(in.Known))}, nil
		}
	}
	keys := []string{accountKey(email), "address " + network(in.Address)}
	slices.Sort(keys)
	return keys, nil
}

func accountKey(email string) string { return "account " + hex.EncodeToString(tokenHash(email)) }

// network is what one household or server has of the net: an address of IPv4, the
// first 64 bits of one of IPv6.
func network(address string) string {
	a, err := netip.ParseAddr(address)
	if err != nil || a.Unmap().Is4() {
		return address
	}
	p, err := a.WithZone("").Prefix(64)
	if err != nil {
		return address
	}
	return p.String()
}

// admit lets a try in and counts it as failed beforehand, so that many at once are
// as many tries; or says how long to wait.
func (a *Accounts) admit(ctx context.Context, keys []string) error {
	now := a.Store.Now()
	return a.Store.InAgain(ctx, func(tx *gorm.DB) error {
		for _, key := range keys {
			if err := tx.Exec("SELECT pg_advisory_xact_lock(hashtextextended(?, 0))", key).Error; err != nil {
				return err
			}
		}
		var rows []store.SignInTries
		if err := tx.Where("key IN ? AND last_at > ?", keys, now.Add(-signin.Forgotten)).Find(&rows).Error; err != nil {
			return err
		}
		var left time.Duration
		for _, r := range rows {
			left = max(left, signin.Left(r.Failures, r.LastAt, now))
		}
		if left > 0 {
			return refusal.Of(refusal.ErrTooMany, "%s", signin.Say(left))
		}
		for _, key := range keys {
			err := tx.Exec(`INSERT INTO sign_in_tries (key, failures, last_at) VALUES (?, 1, ?) ON CONFLICT (key) DO UPDATE SET last_at = EXCLUDED.last_at,
				failures = CASE WHEN sign_in_tries.last_at > ? THEN sign_in_tries.failures + 1 ELSE 1 END`, key, now, now.Add(-signin.Forgotten)).Error
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// succeeded forgets the failures of an account or browser whose owner has come in.
// An address only loses this try: others may be guessing from there.
func (a *Accounts) succeeded(tx *gorm.DB, keys []string, known string) error {
	now := a.Store.Now()
	for _, sql := range []string{
		"DELETE FROM sign_in_tries WHERE key IN ? AND (key NOT LIKE 'address %' OR failures <= 1)",
		"UPDATE sign_in_tries SET failures = failures - 1 WHERE key IN ? AND failures > 1",
	} {
		if err := tx.Exec(sql, keys).Error; err != nil {
			return err
		}
	}
	if err := tx.Where("last_at < ?", now.Add(-signin.Forgotten)).Delete(&store.SignInTries{}).Error; err != nil {
		return err
	}
	// The browser is known by its newest token.
	if err := tx.Where("token_hash = ? OR at < ?", tokenHash(known), now.Add(-signin.KnownFor)).Delete(&store.KnownBrowser{}).Error; err != nil {
		return err
	}
	return tx.Where("expires_at < ? OR used_at < ?", now, now.Add(-signin.IdleFor)).Delete(&store.Session{}).Error
}

func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// SignedIn is who a session belongs to.
type SignedIn struct {
	User    store.User
	CSRF    string
	Session string // ID, no secret
}

// open are the sessions that have not ended by themselves.
func (a *Accounts) open(ctx context.Context) *gorm.DB {
	now := a.Store.Now()
	return a.Store.On(ctx).Where("expires_at > ? AND used_at > ?", now, now.Add(-signin.IdleFor))
}

// touchEvery is how exactly the last use of a session is kept.
const touchEvery = time.Minute

// Session finds who a token belongs to, and notes that it is used.
func (a *Accounts) Session(ctx context.Context, token string) (SignedIn, error) {
	now := a.Store.Now()
	s, err := store.One[store.Session](a.open(ctx).Joins("User").Where("token_hash = ?", tokenHash(token)), "Please sign in.")
	if err != nil {
		return SignedIn{}, err
	}
	if now.Sub(s.UsedAt) > touchEvery {
		if err := a.Store.On(ctx).Model(&store.Session{}).Where("id = ?", s.ID).Update("used_at", now).Error; err != nil {
			return SignedIn{}, err
		}
	}
	return SignedIn{User: s.User, CSRF: s.CSRF, Session: s.ID}, nil
}

// SignOut ends a session.
func (a *Accounts) SignOut(ctx context.Context, token string) error {
	return a.Store.On(ctx).Where("token_hash = ?", tokenHash(token)).Delete(&store.Session{}).Error
}
