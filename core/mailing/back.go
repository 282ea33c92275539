package mailing

import (
	"crypto/hmac"
	"encoding/hex"
	"strings"
)

// Back is the local part of the address to which mail servers return one letter, signed so
// that nobody can say of a letter what no server said. It is of small letters and digits
// alone, since some servers change the case, and at most 64 bytes long (RFC 5321, 4.5.3.1.1).
func Back(key []byte, id string) string {
	return "r-" + id + "-" + seal(key, id)
}

// ReadBack reads of which letter such an address is; false: the store has not made it.
func ReadBack(key []byte, local string) (string, bool) {
	local = strings.ToLower(local)
	rest, ours := strings.CutPrefix(local, "r-")
	id, _, parts := strings.Cut(rest, "-")
	if !ours || !parts || id == "" || len(local) > 64 {
		return "", false
	}
	return id, hmac.Equal([]byte(local), []byte(Back(key, id)))
}

// seal is a signature of 64 bits: enough for what is tried over a network.
func seal(key []byte, id string) string {
	return hex.EncodeToString(mac(key, "back", id)[:8])
}
