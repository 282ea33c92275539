// Package wire is how answers go over the wire: compressed as a browser takes them,
// not at all when it has them already, and in part when it asks for a part.
package wire

import (
	"strconv"
	"strings"
)

// Encoding is how a body is written (RFC 9110, 8.4.1).
type Encoding string

// The encodings, the smaller first.
const (
	Brotli Encoding = "br"
	Gzip   Encoding = "gzip"
	Plain  Encoding = ""
)

// Accepted is the best encoding that an Accept-Encoding field allows (RFC 9110,
// 12.5.3): what it gives the weight 0 is not sent.
func Accepted(field string) Encoding {
	if strings.TrimSpace(field) == "" {
		return Plain
	}
	weights, any, anyAt := map[string]float64{}, 0.0, false
	for part := range strings.SplitSeq(field, ",") {
		name, rest, _ := strings.Cut(part, ";")
		weight := 1.0
		if key, value, ok := strings.Cut(rest, "="); ok && strings.EqualFold(strings.TrimSpace(key), "q") {
			q, err := strconv.ParseFloat(strings.TrimSpace(value), 64)
			if err != nil || q < 0 || q > 1 {
				q = 0
			}
			weight = q
		}
		if name = strings.ToLower(strings.TrimSpace(name)); name == "*" {
			any, anyAt = weight, true
			continue
		}
		weights[name] = weight
	}
	at := func(e Encoding) float64 {
		if w, named := weights[string(e)]; named {
			return w
		}
		if anyAt {
			return any
		}
		return 0
	}
	br, gz := at(Brotli), at(Gzip)
	switch {
	case br > 0 && br >= gz:
		return Brotli
	case gz > 0:
		return Gzip
	}
	return Plain
}

// Worth tells whether a kind of content becomes smaller by compression.
func Worth(contentType string) bool {
	kind, _, _ := strings.Cut(contentType, ";")
	kind = strings.ToLower(strings.TrimSpace(kind))
	switch kind {
	case "application/json", "application/problem+json", "application/ld+json", "application/manifest+json", "application/xml", "application/javascript", "image/svg+xml", "image/x-icon":
		return true
	}
	return strings.HasPrefix(kind, "text/") && kind != "text/event-stream"
}

// Same tells whether an If-None-Match field names an entity tag, compared weakly
// (RFC 9110, 13.1.2).
func Same(field, tag string) bool {
	if tag == "" || field == "" {
		return false
	}
	for part := range strings.SplitSeq(field, ",") {
		part = strings.TrimSpace(part)
		if part == "*" || strings.TrimPrefix(part, "W/") == strings.TrimPrefix(tag, "W/") {
			return true
		}
	}
	return false
}
