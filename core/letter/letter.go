// Package letter reads what is pasted whole: a letter from a word processor, a mail or a
// page, or plain text. It tells titles, headings, quotations, boxed asides, lists and copy
// apart, so that each can become what it is.
package letter

import (
	"slices"
	"strings"

	"chrysagon/core/rich"
)

// Kind is what a part of a letter is.
type Kind string

// The kinds.
const (
	Title   Kind = "title"   // of all of it
	Teaser  Kind = "teaser"  // the line under its title
	Heading Kind = "heading" // of what follows it
	Copy    Kind = "copy"    // paragraphs, sub-headings, lists within them
	Points  Kind = "points"  // a list that stands by itself
	Quote   Kind = "quote"   // what somebody said
	Aside   Kind = "aside"   // what stands in a box
)

// Part is one part of a letter.
type Part struct {
	Kind  Kind
	Text  string   // of a title, teaser, heading or quotation: its words; of an aside: its title
	Rich  string   // of copy and of an aside: with structure, as package rich has it
	Who   string   // of a quotation: who said it
	Items []string // of points
	Count bool     // they are numbered
}

// Words counts the words of a part.
func (p Part) Words() int {
	n := len(strings.Fields(p.Text)) + len(strings.Fields(rich.Text(p.Rich))) + len(strings.Fields(p.Who))
	for _, item := range p.Items {
		n += len(strings.Fields(item))
	}
	return n
}

// Words counts the words of a letter.
func Words(parts []Part) int {
	n := 0
	for _, p := range parts {
		n += p.Words()
	}
	return n
}

// Read reads a letter: HTML where it begins with an element, plain text otherwise. keep
// tells which links keep where they lead. What comes back is never more than the words of
// the letter, in their order.
func Read(text string, keep func(target string) bool) []Part {
	var parts []Part
	if trimmed := strings.TrimSpace(text); strings.HasPrefix(trimmed, "<") {
		parts = fromHTML(trimmed, keep)
	} else {
		parts = fromPlain(text)
	}
	return settled(parts)
}

// Sections divides a letter at its headings; what stands before the first is a section
// without one.
func Sections(parts []Part) [][]Part {
	var out [][]Part
	for _, p := range parts {
		if len(out) == 0 || p.Kind == Heading {
			out = append(out, nil)
		}
		out[len(out)-1] = append(out[len(out)-1], p)
	}
	return out
}

// settled joins neighbouring copy, leaves out what says nothing, and lets only the first
// title be one.
func settled(parts []Part) []Part {
	var out []Part
	titled := false
	for _, p := range parts {
		if p.Words() == 0 {
			continue
		}
		if p.Kind == Title {
			if titled || slices.ContainsFunc(out, func(q Part) bool { return q.Kind == Heading }) {
				p.Kind = Heading
			}
			titled = true
		}
		if n := len(out); p.Kind == Copy && n > 0 && out[n-1].Kind == Copy {
			out[n-1].Rich += p.Rich
			continue
		}
		out = append(out, p)
	}
	return out
}
