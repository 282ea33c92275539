package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/store"

	"golang.org/x/crypto/argon2"
)

// Parameters of argon2id: the second recommended option of RFC 9106, section 4.
const (
	argonTime   = 3
	argonMemory = 64 * 1024 // KiB
	argonLanes  = 4
	sessionFor  = 14 * 24 * time.Hour
)

// HashPassword hashes a password for keeping.
func HashPassword(password string) string {
	salt := make([]byte, 16)
	_, _ = rand.Read(salt) // never fails: crypto/rand ends the program instead
	sum := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonLanes, 32)
	enc := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonLanes, enc(salt), enc(sum))
}

func matches(hash, password string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	sum, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonLanes, 32)
	return subtle.ConstantTimeCompare(got, sum) == 1
}

// dummy is hashed against when an address is not known, so that the answer
// takes as long as for one that is.
var dummy = "$argon2id$v=19$m=65536,t=3,p=4$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"

// SignIn begins a session and returns its token.
func (a *App) SignIn(ctx context.Context, email, password string) (string, error) {
	user, err := one[store.User](a.db(ctx).Where("email = ?", strings.ToLower(strings.TrimSpace(email))), "")
	hash := user.PasswordHash
	if errors.Is(err, ErrNotFound) {
		hash = dummy
	} else if err != nil {
		return "", err
	}
	if !matches(hash, password) {
		return "", refuse(ErrRefused, "This email and password do not belong together. Check both and try again.")
	}
	token := NewSecret()
	s := store.Session{TokenHash: tokenHash(token), UserID: user.ID, CSRF: NewSecret(), ExpiresAt: a.Now().Add(sessionFor)}
	if err := a.db(ctx).Create(&s).Error; err != nil {
		return "", fmt.Errorf("begin a session: %w", err)
	}
	return token, a.db(ctx).Where("expires_at < ?", a.Now()).Delete(&store.Session{}).Error
}

func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// SignedIn is who a session belongs to.
type SignedIn struct {
	User store.User
	CSRF string
}

// Session finds who a token belongs to.
func (a *App) Session(ctx context.Context, token string) (SignedIn, error) {
	const again = "Please sign in."
	s, err := one[store.Session](a.db(ctx).Where("token_hash = ? AND expires_at > ?", tokenHash(token), a.Now()), again)
	if err != nil {
		return SignedIn{}, err
	}
	user, err := one[store.User](a.db(ctx).Where("id = ?", s.UserID), again)
	return SignedIn{User: user, CSRF: s.CSRF}, err
}

// SignOut ends a session.
func (a *App) SignOut(ctx context.Context, token string) error {
	return a.db(ctx).Where("token_hash = ?", tokenHash(token)).Delete(&store.Session{}).Error
}
