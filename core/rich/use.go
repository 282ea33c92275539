package rich

import (
	"html"
	"strings"
)

func all(string) bool { return true }

// HTML writes a text for a page. level is that of its sub-headings, 2 or 3.
// href gives the address to which a target leads; a link that leads nowhere
// keeps its words only.
func HTML(text string, level int, href func(target string) (string, bool)) string {
	if !IsRich(text) {
		return paragraphs(text)
	}
	blocks := read(text, func(target string) bool {
		_, ok := href(target)
		return ok
	})
	each(blocks, func(n *node) {
		switch {
		case n.name == "a":
			n.href, _ = href(n.href)
		case n.name == "h3" && level == 2:
			n.name = "h2"
		}
	})
	return write(blocks)
}

// Structured writes a text with structure, whether it has some or is plain.
// Links for which keep is false keep their words only.
func Structured(text string, keep func(target string) bool) string {
	if !IsRich(text) {
		return paragraphs(text)
	}
	return Clean(text, keep)
}

// paragraphs makes one of each line of plain text.
func paragraphs(text string) string {
	var out strings.Builder
	for l := range strings.SplitSeq(text, "\n") {
		if l = strings.TrimSpace(l); l != "" {
			out.WriteString("<p>" + html.EscapeString(l) + "</p>")
		}
	}
	return out.String()
}

// lines are the runs of each paragraph, sub-heading and item of a text.
func lines(text string) [][]run {
	var out [][]run
	for _, b := range read(text, all) {
		items := []*node{b}
		if b.name == "ul" || b.name == "ol" {
			items = b.kids
		}
		for _, item := range items {
			out = append(out, flatten(item.kids, run{}, nil))
		}
	}
	return out
}

// Text is what a reader reads: blocks on lines of their own.
func Text(text string) string {
	if !IsRich(text) {
		return text
	}
	var out []string
	for _, runs := range lines(text) {
		var words strings.Builder
		for _, r := range runs {
			words.WriteString(r.text)
			if r.breaks {
				words.WriteString("\n")
			}
		}
		out = append(out, strings.TrimSpace(words.String()))
	}
	return strings.Join(out, "\n")
}

// Targets are where the links of a text lead, in reading order.
func Targets(text string) []string {
	if !IsRich(text) {
		return nil
	}
	var out []string
	for _, runs := range lines(text) {
		for _, r := range runs {
			if r.href != "" && (len(out) == 0 || out[len(out)-1] != r.href) {
				out = append(out, r.href)
			}
		}
	}
	return out
}

// Replace replaces words wherever they stand within one run of text, and tells
// how often. Marks and links stay.
func Replace(text, find, with string) (string, int) {
	if !IsRich(text) {
		return strings.ReplaceAll(text, find, with), strings.Count(text, find)
	}
	blocks, times := read(text, all), 0
	each(blocks, func(n *node) {
		if n.name == "" {
			times += strings.Count(n.text, find)
			n.text = strings.ReplaceAll(n.text, find, with)
		}
	})
	if times == 0 {
		return text, 0
	}
	return write(blocks), times
}

func each(nodes []*node, visit func(*node)) {
	for _, n := range nodes {
		visit(n)
		each(n.kids, visit)
	}
}
