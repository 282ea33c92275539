package render

import (
	"crypto/sha256"
	"encoding/base64"
	"html/template"
	"slices"
	"strings"

	"chrysagon/core/own"
)

// Owned is an owner's own code as a page has it, and what the page's policy
// (Content Security Policy Level 3) must allow for it.
type Owned struct {
	Head    template.HTML
	Foot    template.HTML
	Hashes  []string // source expressions of the scripts that stand on the page
	Origins []string // of measuring tags
}

// ownCode is the store's code and then the page's.
func ownCode(in Input) own.Code { return slices.Concat(in.Facts.Store.Own, in.Page.Own) }

// owned writes the scripts of own code. A proof has none of it unless it was asked for.
func owned(in Input) Owned {
	var o Owned
	if in.Proof && !in.RunOwn {
		return o
	}
	code := ownCode(in)
	inline := func(kind own.Kind) template.HTML {
		var out strings.Builder
		for _, text := range code.Texts(kind) {
			sum := sha256.Sum256([]byte(text))
			o.Hashes = append(o.Hashes, "'sha256-"+base64.StdEncoding.EncodeToString(sum[:])+"'")
			out.WriteString("<script>" + text + "</script>")
		}
		return template.HTML(out.String()) //nolint:gosec // own.Validate refuses what would end the element; the page's policy names each by its hash
	}
	o.Head, o.Foot = inline(own.Head), inline(own.Foot)
	for _, address := range code.Texts(own.Measure) {
		o.Foot += template.HTML(`<script src="` + esc(address) + `" async></script>`) //nolint:gosec // own.Origin let through an https address
	}
	o.Origins = code.Origins()
	return o
}
