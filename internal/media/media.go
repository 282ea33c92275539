// Package media reads and sends what the studio and the shopfront have in
// common: typed words, pictures and videos.
package media

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"chrysagon/app/pictures"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
)

// Readable is what was typed without what no text has: bytes that are not UTF-8
// and NUL, which PostgreSQL keeps in no text.
func Readable(typed string) string {
	return strings.ReplaceAll(strings.ToValidUTF8(typed, "\uFFFD"), "\x00", "")
}

// asFile keeps what is sent from being anything but what it is.
func asFile(c fiber.Ctx, mime string) {
	c.Set("Content-Type", mime)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
}

// Width is the width at which a picture is wanted; 0: none is named.
func Width(c fiber.Ctx) int {
	w, _ := strconv.Atoi(c.Query("w"))
	return w
}

// hash is the content's hash in the address of a file.
func hash(c fiber.Ctx) string {
	name, _, _ := strings.Cut(strings.Clone(c.Params("file")), ".")
	return name
}

// Picture sends a picture in the width and the format that suit. Its address
// holds its content's hash, so it may be kept for ever; kept says by whom:
// public or private.
func Picture(c fiber.Ctx, library *pictures.Library, kept string) error {
	read := library.PictureAt
	if strings.HasSuffix(c.Params("file"), ".png") { // a drawn picture is sent as pixels to who asks for them
		read = library.PictureAsPixels
	}
	pic, err := read(c, hash(c), Width(c), c.Get("Accept"))
	if err != nil {
		return err
	}
	c.Set("Cache-Control", kept+", max-age=31536000, immutable")
	c.Set("Vary", "Accept")
	asFile(c, pic.Mime)
	return c.Send(pic.Bytes)
}

// most is how many bytes of a video are sent at once; a player asks for more.
const most = 2 << 20

// Video sends a video, or the part that a player asks for (RFC 9110, 14.2).
func Video(c fiber.Ctx, library *pictures.Library, kept string) error {
	v, err := library.VideoAt(c, hash(c))
	if err != nil {
		return err
	}
	from, to, ok := Range(c.Get("Range"), v.Size)
	asFile(c, v.Mime)
	c.Set("Accept-Ranges", "bytes")
	if !ok {
		c.Set("Content-Range", fmt.Sprintf("bytes */%d", v.Size))
		return c.SendStatus(fiber.StatusRequestedRangeNotSatisfiable)
	}
	c.Set("Cache-Control", kept+", max-age=31536000, immutable")
	if c.Get("Range") != "" {
		to = min(to, from+most-1)
		c.Set("Content-Range", fmt.Sprintf("bytes %d-%d/%d", from, to, v.Size))
		c.Status(fiber.StatusPartialContent)
	}
	part, err := library.VideoPart(c, v.ID, from, to-from+1)
	if err != nil {
		return err
	}
	return c.Send(part)
}

// Range reads the first and last byte that are asked for, both included. All of
// it is asked for by none, and by what cannot be read; ok is false for a range
// that lies behind the end. Of several ranges the whole is sent, as RFC 9110
// (14.2) allows.
func Range(header string, size int) (from, to int, ok bool) {
	asked := []byte(strings.TrimSpace(header))
	from, to, err := fasthttp.ParseByteRange(asked, size)
	if err == nil && from <= to {
		return from, to, true
	}
	if _, _, err := fasthttp.ParseByteRange(asked, math.MaxInt32); err == nil {
		return 0, 0, false // of something larger it could be had
	}
	return 0, size - 1, true
}
