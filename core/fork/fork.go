// Package fork divides visitors among targets by whole-number shares, each visitor always to the same one.
//
// A target's score for a visitor is −share / ln u, where u is a number between 0 and 1 made
// of visitor, fork and target by SHA-256; the highest score has the visitor. This is weighted
// rendezvous hashing: Thaler and Ravishankar, "Using name-based mappings to increase hit
// rates", IEEE/ACM Transactions on Networking 6 (1998); with weights, Schindelhauer and
// Schomaker, "Weighted distributed hash tables", SPAA 2005. It needs no lock and no counter,
// and where a target is gone only its own visitors go elsewhere.
package fork

import (
	"crypto/sha256"
	"encoding/binary"
	"fmt"
	"math"
)

// Share is one target of a fork.
type Share struct {
	To    string `json:"to"`                                           // the step it leads to
	Share int    `json:"share" jsonschema:"minimum=0,maximum=1000000"` // of the sum of all shares; 0: nobody new
}

// Most is the largest share, and MostTargets how many a fork may have.
const (
	Most        = 1_000_000
	MostTargets = 50
)

// Check says what is wrong with the shares of a fork, or nil.
func Check(list []Share) error {
	if len(list) > MostTargets {
		return fmt.Errorf("%d targets; a fork has at most %d", len(list), MostTargets)
	}
	sum, seen := 0, map[string]bool{}
	for i, s := range list {
		switch {
		case s.To == "" || seen[s.To]:
			return fmt.Errorf("[%d].to: %q is empty or named twice", i, s.To)
		case s.Share < 0 || s.Share > Most:
			return fmt.Errorf("[%d].share: %d; it must be from 0 to %d", i, s.Share, Most)
		}
		seen[s.To] = true
		sum += s.Share
	}
	if sum == 0 {
		return fmt.Errorf("all shares are 0, so nobody could go anywhere; give one of them a share")
	}
	return nil
}

// Pick is where a visitor goes. One who was assigned before stays, as long as
// that target is still there, whatever the shares are now; kept is that target, or "".
// ok is false where no target has a share.
func Pick(fork, visitor, kept string, list []Share) (to string, ok bool) {
	best := math.Inf(-1)
	for _, s := range list {
		if s.To == kept && kept != "" {
			return kept, true
		}
		if s.Share <= 0 {
			continue
		}
		score := -float64(s.Share) / math.Log(unit(fork, visitor, s.To))
		if score > best || (score == best && s.To < to) {
			to, best, ok = s.To, score, true
		}
	}
	return to, ok
}

// unit is a number above 0 and below 1, the same for the same names. Each name is
// preceded by its length, so that no two triples are hashed alike.
func unit(names ...string) float64 {
	h := sha256.New()
	var length [8]byte
	for _, n := range names {
		binary.BigEndian.PutUint64(length[:], uint64(len(n)))
		h.Write(length[:])
		h.Write([]byte(n))
	}
	bits := binary.BigEndian.Uint64(h.Sum(nil)) >> 11 // 53 of them fit a float64
	return (float64(bits) + 0.5) / (1 << 53)
}
