package mailing

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"strings"
)

// Pass is what a link in a letter proves: whose it is, and of which list. It opens the
// page on which letters are ended; it proves nothing else, and needs no cookie.
type Pass struct {
	Contact string // ID
	List    string // ID; empty: of no one list
}

// Write signs a pass with the store's key (HMAC-SHA-256, cut to 128 bits). It does not
// expire: a letter can be ended as long as somebody has it.
func (p Pass) Write(key []byte) string {
	said := p.Contact + "." + p.List
	return said + "." + signed(key, "letters", said)
}

// ReadPass reads a pass; false: the store has not made it.
func ReadPass(key []byte, text string) (Pass, bool) {
	parts := strings.Split(text, ".")
	if len(parts) != 3 || len(text) > 160 || parts[0] == "" {
		return Pass{}, false
	}
	p := Pass{parts[0], parts[1]}
	return p, hmac.Equal([]byte(text), []byte(p.Write(key)))
}

// Hush is what is kept of an address that must never be written to again: an HMAC with the
// store's key, from which the address cannot be read. Addresses that differ in case alone
// are one.
func Hush(key []byte, email string) string {
	return signed(key, "hush", Plain(email))
}

// Plain is an address as addresses are compared: in small letters, without room around.
func Plain(email string) string { return strings.ToLower(strings.TrimSpace(email)) }

// signed is an HMAC for one use, so that no signature can stand for another.
func signed(key []byte, use, said string) string {
	return base64.RawURLEncoding.EncodeToString(mac(key, use, said)[:16])
}

func mac(key []byte, use, said string) []byte {
	m := hmac.New(sha256.New, key)
	m.Write([]byte("mailing " + use + " " + said))
	return m.Sum(nil)
}
