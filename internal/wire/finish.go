package wire

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"

	"chrysagon/internal/media"

	"github.com/valyala/fasthttp"
)

// small is below how many bytes compressing is not worth the browser's while.
const small = 600

// How hard pages are compressed that are made for one answer, or for the first of many.
const (
	QuickBrotli = 5
	QuickGzip   = 5
)

// Finish makes an answer ready to be sent: with an entity tag, which answers 304 to
// who has it; in the part of a picture that was asked for; and compressed.
func Finish(c *fasthttp.RequestCtx) {
	r := &c.Response
	if r.IsBodyStream() || len(r.Header.ContentEncoding()) > 0 {
		return
	}
	reads := c.IsGet() || c.IsHead()
	if reads && r.StatusCode() == fasthttp.StatusOK && Tag(c) {
		return
	}
	if reads && r.StatusCode() == fasthttp.StatusOK && part(c) {
		return
	}
	compress(c)
}

// Tag gives an answer its entity tag, and answers 304 to who has it. It tells
// whether it did that.
func Tag(c *fasthttp.RequestCtx) bool {
	h := &c.Response.Header
	if bytes.Contains(h.Peek("Cache-Control"), []byte("no-store")) {
		return false // it is not to be kept at all
	}
	tag := string(h.Peek("ETag"))
	switch {
	case tag != "":
	case bytes.Contains(h.Peek("Cache-Control"), []byte("immutable")):
		// Its address names its content, of which there is one form a type: a picture
		// that was sent as WebP is not the same as JPEG.
		tag = TagOf(slices.Concat(c.Request.Header.RequestURI(), []byte(" "), h.ContentType()))
	default:
		tag = "W/" + TagOf(c.Response.Body()) // it may be compressed one way or the other
	}
	h.Set("ETag", tag)
	if !Same(string(c.Request.Header.Peek("If-None-Match")), tag) {
		return false
	}
	Unchanged(c)
	return true
}

// Unchanged answers that a browser has it already.
func Unchanged(c *fasthttp.RequestCtx) {
	c.Response.ResetBody()
	c.Response.SetStatusCode(fasthttp.StatusNotModified)
}

// TagOf is the strong entity tag of some content.
func TagOf(content []byte) string {
	sum := sha256.Sum256(content)
	return `"` + hex.EncodeToString(sum[:10]) + `"`
}

// part answers with the bytes of a picture that were asked for (RFC 9110, 14).
// Whether a range holds is told by the entity tag in If-Range.
func part(c *fasthttp.RequestCtx) bool {
	h := &c.Response.Header
	if !bytes.HasPrefix(h.ContentType(), []byte("image/")) || Worth(string(h.ContentType())) {
		return false
	}
	h.Set("Accept-Ranges", "bytes")
	asked := string(c.Request.Header.Peek("Range"))
	if unless := c.Request.Header.Peek("If-Range"); asked == "" || (len(unless) > 0 && !bytes.Equal(unless, h.Peek("ETag"))) {
		return false
	}
	body := c.Response.Body()
	from, to, ok := media.Range(asked, len(body))
	if !ok {
		h.Set("Content-Range", fmt.Sprintf("bytes */%d", len(body)))
		c.Response.ResetBody()
		c.Response.SetStatusCode(fasthttp.StatusRequestedRangeNotSatisfiable)
		return true
	}
	h.Set("Content-Range", fmt.Sprintf("bytes %d-%d/%d", from, to, len(body)))
	c.Response.SetBody(bytes.Clone(body[from : to+1]))
	c.Response.SetStatusCode(fasthttp.StatusPartialContent)
	return true
}

func compress(c *fasthttp.RequestCtx) {
	h := &c.Response.Header
	if !Worth(string(h.ContentType())) {
		return
	}
	h.Add("Vary", "Accept-Encoding")
	body := c.Response.Body()
	if len(body) < small {
		return
	}
	switch Accepted(string(c.Request.Header.Peek("Accept-Encoding"))) {
	case Brotli:
		h.SetContentEncoding(string(Brotli))
		c.Response.SetBodyRaw(fasthttp.AppendBrotliBytesLevel(nil, body, QuickBrotli))
	case Gzip:
		h.SetContentEncoding(string(Gzip))
		c.Response.SetBodyRaw(fasthttp.AppendGzipBytesLevel(nil, body, QuickGzip))
	case Plain:
	}
}
