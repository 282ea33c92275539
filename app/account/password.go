package account

import (
	"fmt"

	"github.com/alexedwards/argon2id"
)

// hashing is how passwords are hashed now: the second recommended option of RFC
// 9106, section 4. A hash carries the parameters it was made with.
var hashing = &argon2id.Params{Memory: 64 * 1024, Iterations: 3, Parallelism: 4, SaltLength: 16, KeyLength: 32}

// atOnce bounds how many passwords are hashed at once: each takes 64 MB.
var atOnce = make(chan struct{}, 4)

// HashPassword hashes a password for keeping.
func HashPassword(password string) string {
	hash, err := argon2id.CreateHash(password, hashing)
	if err != nil { // only when there are no random bytes to be had
		panic(fmt.Sprintf("hash a password: %v", err))
	}
	return hash
}

// matches tells whether a password is that of a hash, by the parameters which the
// hash carries, and whether it should be hashed anew because they have changed.
func matches(hash, password string) (right, stale bool) {
	atOnce <- struct{}{}
	defer func() { <-atOnce }()
	right, by, err := argon2id.CheckHash(password, hash)
	return err == nil && right, err == nil && *by != *hashing
}

// dummy is hashed against when an address is not known, so that the answer
// takes as long as for one that is.
const dummy = "$argon2id$v=19$m=65536,t=3,p=4$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"
