package server

import (
	"fmt"
	"io/fs"
	"mime"
	"path"
	"strings"

	"chrysagon/internal/wire"

	"github.com/valyala/fasthttp"
)

// asset is one built file, as it is sent.
type asset struct {
	kind, tag           string
	plain, gzip, brotli []byte
}

// kinds are the types that some systems do not know by a file's name.
var kinds = map[string]string{".woff2": "font/woff2", ".js": "text/javascript; charset=utf-8", ".css": "text/css; charset=utf-8", ".svg": "image/svg+xml"}

// readAssets reads what the build made, with what it compressed.
func readAssets(from fs.FS) (map[string]asset, error) {
	out := map[string]asset{}
	entries, err := fs.ReadDir(from, ".")
	if err != nil {
		return nil, fmt.Errorf("list the assets: %w", err)
	}
	for _, e := range entries {
		raw, err := fs.ReadFile(from, e.Name())
		if err != nil {
			return nil, fmt.Errorf("read an asset: %w", err)
		}
		name := strings.TrimSuffix(strings.TrimSuffix(e.Name(), ".br"), ".gz")
		a := out[name]
		switch path.Ext(e.Name()) {
		case ".br":
			a.brotli = raw
		case ".gz":
			a.gzip = raw
		default:
			a.plain, a.tag = raw, wire.TagOf(raw)
			if a.kind = kinds[path.Ext(name)]; a.kind == "" {
				a.kind = mime.TypeByExtension(path.Ext(name))
			}
		}
		out[name] = a
	}
	return out, nil
}

// send answers with a built file. Its name holds its content's hash, so that it is
// kept for good.
func (a asset) send(c *fasthttp.RequestCtx) {
	h := &c.Response.Header
	h.SetContentType(a.kind)
	h.Set("Cache-Control", "public, max-age=31536000, immutable")
	h.Set("ETag", a.tag)
	if a.brotli != nil {
		h.Set("Vary", "Accept-Encoding")
	}
	if wire.Same(string(c.Request.Header.Peek("If-None-Match")), a.tag) {
		wire.Unchanged(c)
		return
	}
	body := a.plain
	if a.brotli != nil {
		switch e := wire.Accepted(string(c.Request.Header.Peek("Accept-Encoding"))); e {
		case wire.Brotli:
			body = a.brotli
			h.SetContentEncoding(string(e))
		case wire.Gzip:
			body = a.gzip
			h.SetContentEncoding(string(e))
		case wire.Plain:
		}
	}
	c.Response.SetBodyRaw(body)
}
