package render

import (
	"html/template"
	"regexp"
	"strings"
)

var (
	imgTag   = regexp.MustCompile(`<img [^>]*>`)
	frameTag = regexp.MustCompile(`<iframe [^>]*>`)
	lazily   = regexp.MustCompile(` loading="lazy"`)
	srcIn    = regexp.MustCompile(` src="([^"]*)"`)
	setIn    = regexp.MustCompile(` srcset="([^"]*)"`)
	sizesIn  = regexp.MustCompile(` sizes="([^"]*)"`)
)

// mostAbove is how many bands can stand above the headline and be seen with it: an
// announcement, a line of facts.
const mostAbove = 2

// firstView has the pictures of a page's first view fetched before all else, and
// those below the fold only when they come near. The first view is what stands down
// to the headline. It returns what the head preloads.
func firstView(bands []Band, css string) template.HTML {
	last := 0
	for i, b := range bands[:min(len(bands), mostAbove+1)] {
		if strings.Contains(string(b.HTML), "<h1") {
			last = i
			break
		}
	}
	var head strings.Builder
	urgent := true
	for i := range bands {
		text := string(bands[i].HTML)
		if i > last {
			text = imgTag.ReplaceAllStringFunc(text, lazy)
			text = frameTag.ReplaceAllStringFunc(text, lazy)
			bands[i].HTML = template.HTML(text) //nolint:gosec // an attribute of our own was added
			continue
		}
		ground := groundOf(bands[i].ID, css)
		head.WriteString(ground)
		text = imgTag.ReplaceAllStringFunc(text, func(tag string) string {
			tag = lazily.ReplaceAllString(tag, "")
			if !urgent || ground != "" {
				return tag
			}
			urgent = false
			head.WriteString(preload(tag))
			return strings.Replace(tag, "<img ", `<img fetchpriority="high" `, 1)
		})
		urgent = urgent && ground == ""
		bands[i].HTML = template.HTML(text) //nolint:gosec // as above
	}
	return template.HTML(head.String()) //nolint:gosec // made of attributes that were escaped where they were drawn
}

func lazy(tag string) string {
	if strings.Contains(tag, " loading=") {
		return tag
	}
	return strings.Replace(tag, " ", ` loading="lazy" `, 1)
}

// preload is the hint for a picture that is drawn by a tag.
func preload(tag string) string {
	src := srcIn.FindStringSubmatch(tag)
	if src == nil || strings.HasPrefix(src[1], "data:") {
		return ""
	}
	out := `<link rel="preload" as="image" href="` + src[1] + `" fetchpriority="high"`
	if set := setIn.FindStringSubmatch(tag); set != nil {
		out += ` imagesrcset="` + set[1] + `"`
		if sizes := sizesIn.FindStringSubmatch(tag); sizes != nil {
			out += ` imagesizes="` + sizes[1] + `"`
		}
	}
	return out + ">"
}

// groundOf is the hint for the picture a band stands on: that of its width.
func groundOf(band, css string) string {
	var found []string // on every screen, and on wider ones
	for css != "" && len(found) < 2 {
		var rule string
		_, css, _ = strings.Cut(css, "#band-"+band+"{")
		rule, css, _ = strings.Cut(css, "}")
		if _, path, ok := strings.Cut(rule, `url("`); ok {
			path, _, _ = strings.Cut(path, `"`)
			found = append(found, path)
		}
	}
	if len(found) == 0 {
		return ""
	}
	hint := func(path, media string) string {
		return `<link rel="preload" as="image" href="` + esc(path) + `"` + media + ` fetchpriority="high">`
	}
	if len(found) == 1 || found[0] == found[1] {
		return hint(found[0], "")
	}
	return hint(found[0], ` media="(max-width: 767.98px)"`) + hint(found[1], ` media="(min-width: 768px)"`)
}
