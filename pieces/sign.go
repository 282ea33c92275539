package pieces

import (
	"html/template"

	"chrysagon/core/manuscript"
)

// Sign is what stands before words: an icon that ships, a picture of the store's, or a sign
// that was typed. What is not there draws nothing.
func (c *Context) Sign(text string) template.HTML {
	s, ok := manuscript.SignOf(text)
	if !ok {
		return ""
	}
	if icon := c.Icon(s.Icon); s.Icon != "" && icon != "" {
		return icon
	}
	if s.Picture != "" {
		pic, known := c.Facts.Pictures[s.Picture]
		if !known {
			return ""
		}
		return `<img class="mark" src="` + template.HTML(template.HTMLEscapeString(pic.At(160))) + `" alt="" width="24" height="24">` //nolint:gosec // an address of ours, escaped
	}
	return `<span class="mark" aria-hidden="true">` + template.HTML(template.HTMLEscapeString(s.Icon+s.Typed)) + `</span>` //nolint:gosec // escaped
}

// Thumb is a sign as a telling shows it: an icon's name, or a picture's address.
func (c *Context) Thumb(text string) string {
	s, _ := manuscript.SignOf(text)
	if pic, known := c.Facts.Pictures[s.Picture]; known {
		return pic.At(160)
	}
	if s.Icon != "" {
		return s.Icon
	}
	return "star"
}

// Named is a sign in words.
func (c *Context) Named(text string) string {
	s, _ := manuscript.SignOf(text)
	if pic, known := c.Facts.Pictures[s.Picture]; known {
		return "“" + pic.Name + "”"
	}
	if s.Picture != "" {
		return "a picture that is gone"
	}
	return s.Icon + s.Typed
}
