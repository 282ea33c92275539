// Package own is the code that an owner brings along, for one page or for all:
// styles, scripts, and the measuring tags of other services. It is checked
// here, drawn by package render, and runs only on the shop's own pages: the
// studio never runs it, and a proof only when it is asked for.
package own

import (
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"unicode/utf8"
)

// Limits of what an owner may bring along for one page, or for all.
const (
	MaxSnippets = 20
	MaxText     = 20_000 // characters in one
)

// Kind says what a snippet is and where on the page it stands.
type Kind string

// The kinds of snippet.
const (
	Styles  Kind = "styles"  // CSS, after all styles of the page
	Head    Kind = "head"    // JavaScript, before the page is read
	Foot    Kind = "foot"    // JavaScript, after it
	Measure Kind = "measure" // the https address of another service's script, loaded last
)

// Kinds lists all kinds, with the words for each.
var Kinds = []struct {
	Kind  Kind
	Label string
}{
	{Styles, "styles"}, {Head, "a script at the head"}, {Foot, "a script at the foot"}, {Measure, "a measuring tag, by its address"},
}

// Snippet is one named piece of code.
type Snippet struct {
	Name string `json:"name"`
	Kind Kind   `json:"kind"`
	Text string `json:"text"`
}

// Code is all that an owner brings along for one page, or for all.
type Code []Snippet

// Validate refuses what could not stand on a page, and says which and why.
func (c Code) Validate() error {
	if len(c) > MaxSnippets {
		return fmt.Errorf("%d pieces of own code; at most %d fit", len(c), MaxSnippets)
	}
	for _, s := range c {
		if err := s.validate(); err != nil {
			return fmt.Errorf("own code “%s”: %w", s.Name, err)
		}
	}
	return nil
}

func (s Snippet) validate() error {
	switch {
	case strings.TrimSpace(s.Name) == "" || utf8.RuneCountInString(s.Name) > 60:
		return errors.New("it needs a name of at most 60 characters, by which the launch check can tell of it")
	case strings.TrimSpace(s.Text) == "":
		return errors.New("nothing is written in it")
	case !utf8.ValidString(s.Text) || strings.ContainsRune(s.Text, 0) || utf8.RuneCountInString(s.Text) > MaxText:
		return fmt.Errorf("it must be readable text of at most %d characters", MaxText)
	}
	switch s.Kind {
	case Styles, Head, Foot:
		// What would end the element it stands in, or begin a comment in it
		// (HTML standard, 4.12.1.3, restrictions for contents of script elements).
		low := strings.ToLower(s.Text)
		for _, bad := range []string{"</", "<!--", "<script"} {
			if strings.Contains(low, bad) {
				return fmt.Errorf("it has “%s” in it, which belongs to HTML; give the code alone", bad)
			}
		}
		return nil
	case Measure:
		_, err := Origin(s.Text)
		return err
	}
	return fmt.Errorf("%q is no kind of own code", s.Kind)
}

// Origin is the origin of a measuring tag's address: what the page must be
// allowed to speak with.
func Origin(address string) (string, error) {
	u, err := url.Parse(strings.TrimSpace(address))
	if err != nil || u.Scheme != "https" || u.Hostname() == "" || u.User != nil || strings.ContainsAny(u.Host, " ;,'\"") {
		return "", errors.New("give the full address of its script, such as https://count.example/tag.js")
	}
	return "https://" + u.Host, nil
}

// Texts are the texts of one kind, in order.
func (c Code) Texts(kind Kind) []string {
	var out []string
	for _, s := range c {
		if s.Kind == kind {
			out = append(out, strings.TrimSpace(s.Text))
		}
	}
	return out
}

// Origins are the other services that these measuring tags speak with, each once.
func (c Code) Origins() []string {
	var out []string
	for _, address := range c.Texts(Measure) {
		if origin, err := Origin(address); err == nil && !slices.Contains(out, origin) {
			out = append(out, origin)
		}
	}
	return out
}

// Names are the snippets in words, for the launch check: “Footfall (a measuring tag …)”.
func (c Code) Names() []string {
	var out []string
	for _, s := range c {
		for _, k := range Kinds {
			if k.Kind == s.Kind {
				out = append(out, "“"+s.Name+"” ("+k.Label+")")
			}
		}
	}
	return out
}
