package server

import (
	"bytes"
	"errors"
	"io"
	"strings"
	"sync"
	"time"

	"github.com/valyala/fasthttp"
)

// otherBytes is how much may be sent to any host that has no measure of its own.
const otherBytes = 16 << 10

// How much an owner who is signed in may upload at once, how much one person may
// have under way, and how much all of them together.
const (
	mostUpload = 200 << 20
	eachUpload = 256 << 20
	allUploads = 768 << 20
)

// formSlack is what the fields of a form may take beside its files.
const formSlack = 1 << 20

// takes tells whether files may be sent to a path.
func (p part) takes(path []byte) bool { return p.files != nil && p.files(string(path)) }

// hostOf is the name of the host that a request is for, without its port.
func hostOf(host []byte) string {
	name, _, _ := strings.Cut(string(host), ":")
	return strings.ToLower(name)
}

// slowly gives an upload more time than a form; whether it may come at all is
// settled before any of it is read.
func (s *Server) slowly(h *fasthttp.RequestHeader) fasthttp.RequestConfig {
	path, _, _ := bytes.Cut(h.RequestURI(), []byte("?"))
	if h.ContentLength() > otherBytes && s.parts[hostOf(h.Host())].takes(path) && h.MultipartFormBoundary() != nil {
		return fasthttp.RequestConfig{ReadTimeout: 5 * time.Minute}
	}
	return fasthttp.RequestConfig{}
}

// refused is why a request is not read any further.
type refused struct {
	status int
	say    string
}

func (r *refused) Error() string { return r.say }

// takeIn reads what was sent, no more than may be sent there: forms into memory,
// files onto the disk, and files only from who is signed in. done gives back what
// was set aside for it.
func (s *Server) takeIn(c *fasthttp.RequestCtx, p part) (done func(), err error) {
	done = func() {}
	if !c.Request.IsBodyStream() {
		return done, nil
	}
	length := c.Request.Header.ContentLength()
	if p.takes(c.Path()) && len(c.Request.Header.MultipartFormBoundary()) > 0 {
		return s.takeFiles(c, length)
	}
	most := max(p.most, otherBytes)
	tooLarge := &refused{fasthttp.StatusRequestEntityTooLarge, "What was sent is larger than any form of ours. Nothing was charged, and nothing was changed.\n"}
	if length > most {
		return done, tooLarge
	}
	raw, err := io.ReadAll(io.LimitReader(c.RequestBodyStream(), int64(most)+1))
	switch {
	case err != nil:
		return done, &refused{fasthttp.StatusBadRequest, "What was sent came only in part. Nothing was charged, and nothing was changed. Send it again.\n"}
	case len(raw) > most:
		return done, tooLarge
	}
	c.Request.SetBody(raw)
	return done, nil
}

// takeFiles reads a form with files, once it is known from whom it comes.
func (s *Server) takeFiles(c *fasthttp.RequestCtx, length int) (done func(), err error) {
	done = func() {}
	who, err := s.App.Accounts.Session(c, string(c.Request.Header.Cookie("session")))
	switch {
	case err != nil:
		return done, &refused{fasthttp.StatusUnauthorized, "You are signed out. Sign in again in another window, then go on here; nothing is lost.\n"}
	case length < 0:
		return done, &refused{fasthttp.StatusLengthRequired, "An upload must say how large it is. Nothing was changed.\n"}
	case length > mostUpload+formSlack:
		return done, &refused{fasthttp.StatusRequestEntityTooLarge, "This is more than 200 MB, the most that fits at once. Send fewer or smaller files.\n"}
	}
	done, err = s.under.begin(who.User.ID, int64(length))
	if err != nil {
		return done, err
	}
	// What is read in is kept on disk beyond some kilobytes; fasthttp removes it.
	if _, err = c.Request.MultipartForm(); err != nil {
		return done, &refused{fasthttp.StatusBadRequest, "The upload came only in part, or cannot be read. Nothing was changed. Send it again.\n"}
	}
	return done, nil
}

// underway is how many bytes are being uploaded, by each person and by all.
type underway struct {
	mu   sync.Mutex
	each map[string]int64
	all  int64
}

// begin sets bytes aside for a person, or tells that there is no room now.
func (u *underway) begin(person string, n int64) (done func(), err error) {
	u.mu.Lock()
	defer u.mu.Unlock()
	switch {
	case u.each[person]+n > eachUpload:
		return func() {}, &refused{fasthttp.StatusTooManyRequests, "Other uploads of yours are still under way. Wait until they are done, then send this again.\n"}
	case u.all+n > allUploads:
		return func() {}, &refused{fasthttp.StatusServiceUnavailable, "Many files are being uploaded just now. Wait a minute, then send this again.\n"}
	}
	if u.each == nil {
		u.each = map[string]int64{}
	}
	u.each[person] += n
	u.all += n
	return func() {
		u.mu.Lock()
		defer u.mu.Unlock()
		u.all -= n
		if u.each[person] -= n; u.each[person] == 0 {
			delete(u.each, person)
		}
	}, nil
}

// lingering is how much of what is refused is read all the same, and thrown away: a
// browser that is still sending does not hear the answer.
const lingering = 8 << 20

// turnAway answers a request that is not read any further, and ends its
// connection: what was not read must not be taken for the next request.
func turnAway(c *fasthttp.RequestCtx, err error) {
	if n := c.Request.Header.ContentLength(); c.Request.IsBodyStream() && n > 0 && n <= lingering {
		_, _ = io.CopyN(io.Discard, c.RequestBodyStream(), int64(n)) // whoever has gone away hears nothing
	}
	status, say := fasthttp.StatusInternalServerError, "Something went wrong here. The fault is ours.\n"
	var r *refused
	if errors.As(err, &r) {
		status, say = r.status, r.say
	}
	c.Error(say, status)
	c.SetConnectionClose()
}
