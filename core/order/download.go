package order

import (
	"crypto/hmac"
	"crypto/sha256"
	"fmt"
	"time"
)

// Download is what of an order can be downloaded, and how often and until when it still
// can be.
type Download struct {
	OrderID, VariantID string
	Round              int // from 1; each time that it is renewed, one more
	Taken, Most        int
	Until              time.Time
}

// Left is how often it can still be taken.
func (d Download) Left() int { return max(d.Most-d.Taken, 0) }

// Over says why it cannot be taken any more, or "".
func (d Download) Over(moment time.Time) string {
	switch {
	case !moment.Before(d.Until):
		return "Its time is over"
	case d.Left() == 0:
		return fmt.Sprintf("It was taken %d times, which is as often as it can be", d.Most)
	}
	return ""
}

// Sign is what a link to a download bears: an HMAC (RFC 2104) with SHA-256 over what it is,
// by the store's key. It is another one in each round.
func (d Download) Sign(key []byte) string {
	mac := hmac.New(sha256.New, key)
	_, _ = fmt.Fprintf(mac, "download\x00%s\x00%s\x00%d", d.OrderID, d.VariantID, d.Round) // a hash takes all
	return fmt.Sprintf("%x", mac.Sum(nil)[:16])
}

// Signed tells whether a link's sign is this download's.
func (d Download) Signed(key []byte, sign string) bool {
	return hmac.Equal([]byte(d.Sign(key)), []byte(sign))
}

// Path is where it is taken.
func (d Download) Path(key []byte, token string) string {
	return Path(token) + "/file/" + d.VariantID + "/" + d.Sign(key)
}
