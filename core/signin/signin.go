// Package signin holds the rules of signing in: how long somebody waits who has
// failed, how long a session lasts, and which passwords will do.
package signin

import (
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/trustelem/zxcvbn"
)

// Free is how many tries in a row cost no waiting: people mistype.
const Free = 5

// Longest is the longest that anybody waits for the next try.
const Longest = 15 * time.Minute

// Forgotten is how long after the last failure a row of them is forgotten.
const Forgotten = 24 * time.Hour

// Wait is how long after the last of so many failures in a row the next try is
// taken: nothing at first, then two seconds, doubled each time.
func Wait(failures int) time.Duration {
	if failures < Free {
		return 0
	}
	wait := 2 * time.Second
	for range failures - Free {
		if wait *= 2; wait >= Longest {
			return Longest
		}
	}
	return wait
}

// Left is how much of the wait is left at a moment.
func Left(failures int, last, now time.Time) time.Duration {
	return max(0, last.Add(Wait(failures)).Sub(now))
}

// Say tells somebody how long to wait.
func Say(left time.Duration) string {
	left = left.Round(time.Second)
	if left < 2*time.Minute {
		return fmt.Sprintf("Too many tries. Wait %d seconds, then try again.", max(1, int(left/time.Second)))
	}
	return fmt.Sprintf("Too many tries. Wait %d minutes, then try again.", int((left+time.Minute-1)/time.Minute))
}

// How long a session lasts, however much it is used, and unused.
const (
	SessionFor = 14 * 24 * time.Hour
	IdleFor    = 3 * 24 * time.Hour
)

// KnownFor is how long a browser that has signed in is known again.
const KnownFor = 365 * 24 * time.Hour

// How long a password may be (OWASP ASVS 5.0, 6.2.1 and 6.2.9: at least 8, 15
// recommended, and at least 64 allowed).
const (
	Shortest     = 12
	longestBytes = 256
)

// Fault says why a password will not do, or "". Words that are near to the owner,
// such as the store's name, are no secret.
func Fault(password string, near ...string) string {
	switch n := utf8.RuneCountInString(password); {
	case !utf8.ValidString(password):
		return "The password cannot be read: it is not text."
	case n < Shortest:
		return fmt.Sprintf("The password is too short: use at least %d characters, such as four words that do not belong together.", Shortest)
	case len(password) > longestBytes:
		return fmt.Sprintf("The password is too long: %d bytes fit.", longestBytes)
	}
	// zxcvbn counts guesses, with the most used passwords and names at hand;
	// its score 3 is beyond 10^8 of them.
	var words []string
	for _, w := range near {
		words = append(words, strings.FieldsFunc(strings.ToLower(w), func(r rune) bool { return strings.ContainsRune(" @.-’'", r) })...)
	}
	rest := strings.ToLower(password)
	for _, w := range words {
		rest = strings.ReplaceAll(rest, w, "")
	}
	if len(rest) < Shortest/2 || zxcvbn.PasswordStrength(password, words).Score < 3 {
		return "This password is easy to guess: it is often used, or made of names, dates or rows of keys. Take another, such as four words that do not belong together."
	}
	return ""
}
