package server

import (
	"bytes"
	"errors"
	"log/slog"
	"mime/multipart"
	"runtime/debug"
	"unicode/utf8"

	"github.com/valyala/fasthttp"
)

// caught answers a panic of a handler plainly, with its stack in the log: one
// fault must not end the program for everybody. Transactions are rolled back on
// the way.
func caught(log *slog.Logger, handle fasthttp.RequestHandler) fasthttp.RequestHandler {
	return func(c *fasthttp.RequestCtx) {
		defer func() {
			if p := recover(); p != nil {
				log.Error("a handler panicked", "method", string(c.Method()), "host", string(c.Host()), "path", string(c.Path()), "panic", p, "stack", string(debug.Stack()))
				c.Response.Reset()
				c.Error("Something went wrong here. The fault is ours. If you were paying: open the same page again, it knows whether you have been charged, and nobody is charged twice.\n", fasthttp.StatusInternalServerError)
			}
		}()
		handle(c)
	}
}

// mostPanics is how often work in the background is begun anew before the
// program ends by it.
const mostPanics = 5

// again does work that goes on until it is done, anew after a panic.
func again(log *slog.Logger, do func() error) error {
	for range mostPanics {
		if panicked, err := once(log, do); !panicked {
			return err
		}
	}
	return errors.New("work in the background panicked again and again: the log has the stacks")
}

func once(log *slog.Logger, do func() error) (panicked bool, err error) {
	defer func() {
		if p := recover(); p != nil {
			log.Error("work in the background panicked and is begun anew", "panic", p, "stack", string(debug.Stack()))
			panicked = true
		}
	}()
	return false, do()
}

// sound tells whether something is text: UTF-8 without NUL.
func sound(b []byte) bool { return utf8.Valid(b) && bytes.IndexByte(b, 0) < 0 }

// leads tells whether a path can lead anywhere: text, with no NUL written out, and
// no backslash, since to browsers /\ is //, another host.
func leads(path []byte) bool {
	return sound(path) && !bytes.Contains(path, []byte("%00")) && bytes.IndexByte(path, '\\') < 0
}

// framed tells whether a request says once for whom it is and how long: two Host
// fields, or a length beside chunks, are read differently by the servers on its way
// (RFC 9112, 3.2 and 6.1).
func framed(headers []byte) bool {
	hosts, length, chunked := 0, false, false
	for line := range bytes.SplitSeq(headers, []byte("\n")) {
		if len(line) == 0 {
			continue
		}
		switch line[0] | 0x20 {
		case 'h', 'c', 't':
		default:
			continue
		}
		name, _, _ := bytes.Cut(line, []byte(":"))
		switch {
		case bytes.EqualFold(name, []byte("Host")):
			hosts++
		case bytes.EqualFold(name, []byte("Content-Length")):
			length = true
		case bytes.EqualFold(name, []byte("Transfer-Encoding")):
			chunked = true
		}
	}
	return hosts < 2 && (!length || !chunked)
}

// text tells whether what was sent beside the address is UTF-8 without NUL, as all
// that is kept must be: query, headers with the cookies, and fields of a form.
func text(c *fasthttp.RequestCtx) bool {
	if !sound(c.Request.Header.RawHeaders()) {
		return false
	}
	args := func(a *fasthttp.Args) bool {
		for name, value := range a.All() {
			if !sound(name) || !sound(value) {
				return false
			}
		}
		return true
	}
	if !args(c.QueryArgs()) {
		return false
	}
	switch kind := c.Request.Header.ContentType(); {
	case bytes.HasPrefix(kind, []byte("application/x-www-form-urlencoded")):
		return args(c.PostArgs())
	case bytes.HasPrefix(kind, []byte("multipart/form-data")):
		form, err := c.MultipartForm()
		return err != nil || fields(form) // what cannot be read is told by whoever reads it
	}
	return true
}

func fields(form *multipart.Form) bool {
	for name, values := range form.Value {
		for _, value := range append(values, name) {
			if !sound([]byte(value)) {
				return false
			}
		}
	}
	for name, files := range form.File {
		for _, file := range files {
			if !sound([]byte(name)) || !sound([]byte(file.Filename)) {
				return false
			}
		}
	}
	return true
}
