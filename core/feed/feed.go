// Package feed reads what somebody posted elsewhere from a file in an open
// format: JSON Feed 1.1 (jsonfeed.org), Atom (RFC 4287) or RSS 2.0.
package feed

import (
	"bytes"
	"errors"
	"fmt"
	"net/url"
	"path"
	"strings"
	"unicode/utf8"

	"chrysagon/core/words"

	"github.com/mmcdole/gofeed"
	"golang.org/x/net/html"
)

// MaxPosts is how many posts are taken from one file, the first ones.
const MaxPosts = 60

// Post is one entry.
type Post struct {
	Text  string // plain
	Link  string // its https or http address elsewhere; empty: none
	Image string // file name of its picture, such as dunes.jpg; empty: it has none
}

// Parse reads a file in any of the formats. Whatever an entry lacks is empty.
func Parse(raw []byte) ([]Post, error) {
	raw = bytes.TrimPrefix(bytes.TrimSpace(raw), []byte("\ufeff"))
	if len(raw) == 0 {
		return nil, errors.New("the file is empty")
	}
	if bytes.Contains(raw[:min(len(raw), 4096)], []byte("<!DOCTYPE")) {
		return nil, errors.New("the XML cannot be read: it brings a document type of its own, which no feed needs")
	}
	read, err := gofeed.NewParser().Parse(bytes.NewReader(raw))
	switch {
	case errors.Is(err, gofeed.ErrFeedTypeNotDetected) && raw[0] == '<':
		return nil, errors.New("it is XML, but neither Atom nor RSS")
	case errors.Is(err, gofeed.ErrFeedTypeNotDetected):
		return nil, errors.New("it is no feed: JSON Feed, Atom and RSS can be read")
	case err != nil:
		return nil, fmt.Errorf("the file cannot be read: %w", err)
	case read.FeedType == "json" && !strings.HasPrefix(read.FeedVersion, "https://jsonfeed.org/version/"):
		return nil, errors.New("it is JSON, but no JSON Feed: its version is not named")
	}
	var out []Post
	for _, i := range read.Items {
		image := ""
		if i.Image != nil {
			image = i.Image.URL
		}
		for _, e := range i.Enclosures {
			if image == "" && strings.HasPrefix(e.Type, "image/") {
				image = e.URL
			}
		}
		out = add(out, first(plain(i.Description), plain(i.Content), i.Title), i.Link, image)
	}
	return out, nil
}

func add(list []Post, text, link, image string) []Post {
	if len(list) == MaxPosts {
		return list
	}
	p := Post{Text: text, Image: fileName(image)}
	if u, err := url.Parse(strings.TrimSpace(link)); err == nil && (u.Scheme == "https" || u.Scheme == "http") && u.Host != "" {
		p.Link = u.String()
	}
	return append(list, p)
}

// fileName is the last part of an address or a path.
func fileName(address string) string {
	u, err := url.Parse(strings.TrimSpace(address))
	if err != nil || address == "" || u.Scheme == "data" {
		return ""
	}
	if name := path.Base(u.Path); name != "." && name != "/" {
		return name
	}
	return ""
}

// first is the first text that says something, in one line, cut to what fits
// under a picture.
func first(texts ...string) string {
	for _, t := range texts {
		t = words.Tidy(strings.ToValidUTF8(t, ""))
		if t == "" {
			continue
		}
		if utf8.RuneCountInString(t) > 200 {
			t = string([]rune(t)[:199]) + "…"
		}
		return t
	}
	return ""
}

// plain is the words of some HTML.
func plain(fragment string) string {
	z := html.NewTokenizer(strings.NewReader(fragment))
	var out strings.Builder
	skip := false
	for {
		switch z.Next() {
		case html.ErrorToken:
			return out.String()
		case html.TextToken:
			if !skip {
				out.Write(z.Text())
				out.WriteByte(' ')
			}
		case html.StartTagToken:
			name, _ := z.TagName()
			skip = string(name) == "script" || string(name) == "style"
		case html.EndTagToken:
			skip = false
		case html.SelfClosingTagToken, html.CommentToken, html.DoctypeToken:
		}
	}
}
