// Package source says where a visitor came from: the campaign parameters of the link that led in, or the site that did.
package source

import (
	"net/url"
	"strings"
	"unicode"

	"chrysagon/core/words"
)

// Source is where a visitor came from.
type Source struct {
	Name     string // of the link's parameters, or the host that led here
	Medium   string
	Campaign string
}

// Direct is the name of the source of whom nothing else is known.
const Direct = "direct"

// Other is the name of those that are too many to be told apart.
const Other = "other"

// Most is the longest name of a source, in letters, and how many are told apart
// in one campaign.
const (
	MostLetters = 60
	MostNames   = 200
)

// Of is the source of a visit: by the parameters of its address (utm_source, utm_medium
// and utm_campaign, as they are commonly written; no source), else by the host of the page
// that led here, unless it is the shop's own.
func Of(query func(name string) string, referrer, shop string) Source {
	s := Source{Clean(query("utm_source")), Clean(query("utm_medium")), Clean(query("utm_campaign"))}
	if s.Name == "" {
		s.Name = Host(referrer, shop)
	}
	if s.Name == "" && s != (Source{}) {
		s.Name = Direct
	}
	return s
}

// Host is the host of a page that led here, or "" where it is the shop's own.
func Host(referrer, shop string) string {
	if referrer == "" || strings.HasPrefix(referrer, shop) {
		return ""
	}
	u, err := url.Parse(referrer)
	if err != nil || u.Host == "" || (u.Scheme != "https" && u.Scheme != "http") {
		return ""
	}
	return Clean(strings.TrimPrefix(strings.ToLower(u.Hostname()), "www."))
}

// Clean is a name as it is kept: one line of letters that can be read, with no space
// around it, and not too long.
func Clean(name string) string {
	name = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || r == unicode.ReplacementChar {
			return ' '
		}
		return r
	}, strings.ToValidUTF8(name, " "))
	name = words.Tidy(name)
	if letters := []rune(name); len(letters) > MostLetters {
		name = strings.TrimSpace(string(letters[:MostLetters]))
	}
	return strings.Clone(name) // a request's own text does not outlive it
}
