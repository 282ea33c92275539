// Package feed reads what somebody posted elsewhere from a file in an open
// format: JSON Feed 1.1 (jsonfeed.org), Atom (RFC 4287) or RSS 2.0.
package feed

import (
	"bytes"
	"encoding/json"
	"encoding/xml"
	"errors"
	"fmt"
	"net/url"
	"path"
	"strings"
	"unicode/utf8"

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
	switch {
	case len(raw) == 0:
		return nil, errors.New("the file is empty")
	case raw[0] == '{':
		return fromJSON(raw)
	case raw[0] == '<':
		return fromXML(raw)
	}
	return nil, errors.New("it is no feed: JSON Feed, Atom and RSS can be read")
}

func fromJSON(raw []byte) ([]Post, error) {
	var f struct {
		Version string `json:"version"`
		Items   []struct {
			URL         string `json:"url"`
			Title       string `json:"title"`
			ContentText string `json:"content_text"`
			ContentHTML string `json:"content_html"`
			Image       string `json:"image"`
			Attachments []struct {
				URL  string `json:"url"`
				Mime string `json:"mime_type"`
			} `json:"attachments"`
		} `json:"items"`
	}
	if err := json.Unmarshal(raw, &f); err != nil {
		return nil, fmt.Errorf("the JSON cannot be read: %w", err)
	}
	if !strings.HasPrefix(f.Version, "https://jsonfeed.org/version/") {
		return nil, errors.New("it is JSON, but no JSON Feed: its version is not named")
	}
	var out []Post
	for _, i := range f.Items {
		image := i.Image
		for _, a := range i.Attachments {
			if image == "" && strings.HasPrefix(a.Mime, "image/") {
				image = a.URL
			}
		}
		out = add(out, first(i.ContentText, plain(i.ContentHTML), i.Title), i.URL, image)
	}
	return out, nil
}

type enclosure struct {
	URL  string `xml:"url,attr"`
	Href string `xml:"href,attr"`
	Type string `xml:"type,attr"`
	Rel  string `xml:"rel,attr"`
}

func fromXML(raw []byte) ([]Post, error) {
	var f struct {
		XMLName xml.Name
		Items   []struct {
			Title       string      `xml:"title"`
			Link        string      `xml:"link"`
			Description string      `xml:"description"`
			Enclosures  []enclosure `xml:"enclosure"`
		} `xml:"channel>item"`
		Entries []struct {
			Title   string      `xml:"title"`
			Summary string      `xml:"summary"`
			Content string      `xml:"content"`
			Links   []enclosure `xml:"link"`
		} `xml:"entry"`
	}
	dec := xml.NewDecoder(bytes.NewReader(raw)) // knows no entities but XML's own, so nothing can be blown up by them
	if err := dec.Decode(&f); err != nil {
		return nil, fmt.Errorf("the XML cannot be read: %w", err)
	}
	if name := f.XMLName.Local; name != "rss" && name != "feed" {
		return nil, fmt.Errorf("it is XML, but neither Atom nor RSS: it begins with <%s>", name)
	}
	var out []Post
	for _, i := range f.Items {
		image := ""
		for _, e := range i.Enclosures {
			if image == "" && strings.HasPrefix(e.Type, "image/") {
				image = e.URL
			}
		}
		out = add(out, first(plain(i.Description), i.Title), i.Link, image)
	}
	for _, e := range f.Entries {
		link, image := "", ""
		for _, l := range e.Links {
			switch {
			case l.Rel == "enclosure" && strings.HasPrefix(l.Type, "image/") && image == "":
				image = l.Href
			case (l.Rel == "" || l.Rel == "alternate") && link == "":
				link = l.Href
			}
		}
		out = add(out, first(plain(e.Summary), plain(e.Content), e.Title), link, image)
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
		t = strings.Join(strings.Fields(strings.ToValidUTF8(t, "")), " ")
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
