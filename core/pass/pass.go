// Package pass is what a page outside is told of a visitor: whose walk it is, signed, for one step and a time.
package pass

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"net/url"
	"strconv"
	"strings"
	"time"
)

// Pass names a walk to the page outside of one step. It holds no secret of the
// visitor's: who has it can say what they did on that page, and nothing else.
type Pass struct {
	Walk string
	Step string
	At   time.Time
}

// Param is the parameter of an address that carries a pass.
const Param = "walk"

// Lasts is for how long a pass holds.
const Lasts = 7 * 24 * time.Hour

// The reasons for which a pass is refused.
var (
	ErrForged = errors.New("this link was not made by the shop")
	ErrOld    = errors.New("this link is too old")
)

// Write signs a pass with the store's key (HMAC-SHA-256, cut to 128 bits).
func Write(key []byte, p Pass) string {
	said := p.Walk + "." + p.Step + "." + strconv.FormatInt(p.At.Unix(), 36)
	return said + "." + sign(key, said)
}

func sign(key []byte, said string) string {
	mac := hmac.New(sha256.New, key)
	mac.Write([]byte("pass " + said)) // no other signature of the store reads so
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil)[:16])
}

// Read reads a pass, or says why it does not hold at a moment.
func Read(key []byte, text string, now time.Time) (Pass, error) {
	parts := strings.Split(text, ".")
	if len(parts) != 4 || len(text) > 200 {
		return Pass{}, ErrForged
	}
	said := strings.Join(parts[:3], ".")
	if !hmac.Equal([]byte(parts[3]), []byte(sign(key, said))) {
		return Pass{}, ErrForged
	}
	unix, err := strconv.ParseInt(parts[2], 36, 64)
	if err != nil {
		return Pass{}, ErrForged
	}
	p := Pass{parts[0], parts[1], time.Unix(unix, 0)}
	if now.Sub(p.At) > Lasts || p.At.Sub(now) > time.Hour {
		return Pass{}, ErrOld
	}
	return p, nil
}

// Carry is an address that carries a pass, in place of any it carried before.
func Carry(address, text string) string {
	u, err := url.Parse(address)
	if err != nil {
		return address
	}
	q := u.Query()
	q.Set(Param, text)
	u.RawQuery = q.Encode()
	return u.String()
}

// Listed tells whether an address, or the origin of a page, is on one of the hosts
// that a store lists, one a line. A host with a port is that port alone.
func Listed(hosts, address string) bool {
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || (u.Scheme != "https" && u.Scheme != "http") {
		return false
	}
	for _, h := range strings.Fields(strings.ToLower(hosts)) {
		if h == strings.ToLower(u.Host) || h == strings.ToLower(u.Hostname()) {
			return true
		}
	}
	return false
}

// Hosts reads a list of hosts as its owner typed it, and says which lines are none.
func Hosts(text string) (hosts []string, wrong string) {
	for _, line := range strings.Fields(strings.ToLower(text)) {
		host := strings.TrimSuffix(strings.TrimPrefix(strings.TrimPrefix(line, "https://"), "http://"), "/")
		u, err := url.Parse("https://" + host)
		if err != nil || u.Host != host || u.Hostname() == "" || strings.ContainsAny(host, "*@ ") {
			return nil, line
		}
		hosts = append(hosts, host)
	}
	return hosts, ""
}
