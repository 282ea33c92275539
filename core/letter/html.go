package letter

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/rich"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// reader puts what is read of HTML into parts.
type reader struct {
	keep  func(string) bool
	parts []Part
	level int // of the headings that divide the letter: 2, or 3 where there are none of it
}

// deep is how deep elements are looked into; more is no letter.
const deep = 200

func fromHTML(text string, keep func(string) bool) []Part {
	context := &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body}
	roots, err := html.ParseFragment(strings.NewReader(text), context)
	if err != nil {
		return []Part{{Kind: Copy, Rich: rich.Clean("<p>"+html.EscapeString(text)+"</p>", keep)}}
	}
	r := &reader{keep: keep, level: dividing(roots)}
	var loose []*html.Node
	for _, n := range roots {
		loose = r.visit(n, loose, 0)
	}
	r.copy(loose)
	return r.parts
}

// dividing is the level of headings that divide a letter: the highest beneath its title.
func dividing(roots []*html.Node) int {
	var counts [7]int
	var walk func(n *html.Node, depth int)
	walk = func(n *html.Node, depth int) {
		if level := levelOf(n); level > 0 {
			counts[level]++
		}
		if depth < deep {
			for k := n.FirstChild; k != nil; k = k.NextSibling {
				walk(k, depth+1)
			}
		}
	}
	for _, n := range roots {
		walk(n, 0)
	}
	if counts[1] > 1 {
		return 1
	}
	for level := 2; level <= 6; level++ {
		if counts[level] > 0 {
			return level
		}
	}
	return 2
}

var levels = map[atom.Atom]int{atom.H1: 1, atom.H2: 2, atom.H3: 3, atom.H4: 4, atom.H5: 5, atom.H6: 6}

// levelOf is the level of a heading; 0: it is none.
func levelOf(n *html.Node) int {
	if n.Type != html.ElementNode {
		return 0
	}
	return levels[n.DataAtom]
}

// visit reads an element; loose are those before it that are copy and wait to be joined.
func (r *reader) visit(n *html.Node, loose []*html.Node, depth int) []*html.Node {
	if n.Type != html.ElementNode || depth > deep {
		return append(loose, n)
	}
	done := func(p Part) []*html.Node {
		r.copy(loose)
		r.parts = append(r.parts, p)
		return nil
	}
	style, class := attr(n, "style"), attr(n, "class")
	level := levelOf(n)
	switch {
	case level > 0 && level < r.level || class == "MsoTitle" || (n.DataAtom == atom.P && large(n)):
		return done(Part{Kind: Title, Text: plain(n)})
	case level > 0 && level == r.level:
		kind := Heading
		if level == 1 && len(r.parts) == 0 && wordsOf(loose) == "" {
			kind = Title
		}
		return done(Part{Kind: kind, Text: plain(n)})
	case class == "MsoSubtitle":
		return done(Part{Kind: Teaser, Text: plain(n)})
	case n.DataAtom == atom.Blockquote, class == "MsoQuote", class == "MsoIntenseQuote":
		return done(quotation(n))
	case n.DataAtom == atom.Aside, isBox(n, style):
		return done(r.boxed(n))
	case n.DataAtom == atom.Ul, n.DataAtom == atom.Ol:
		if items := points(n); items != nil {
			return done(Part{Kind: Points, Items: items, Count: n.DataAtom == atom.Ol})
		}
	case holds(n):
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			loose = r.visit(k, loose, depth+1)
		}
		// What stood in it is no paragraph with what comes after.
		r.copy(loose)
		return nil
	}
	return append(loose, n)
}

// copy makes copy of what waits.
func (r *reader) copy(loose []*html.Node) {
	if text := rich.Clean(markup(loose), r.keep); rich.IsRich(text) {
		r.parts = append(r.parts, Part{Kind: Copy, Rich: text})
	}
}

// markup writes elements as HTML again.
func markup(nodes []*html.Node) string {
	var out strings.Builder
	for _, n := range nodes {
		_ = html.Render(&out, n) // a builder takes all
	}
	text := out.String()
	if text != "" && !rich.IsRich(text) {
		return "<p>" + text
	}
	return text
}

// holders are elements that hold others and are none of a letter's parts themselves.
var holders = []atom.Atom{atom.Div, atom.Section, atom.Article, atom.Main, atom.Body, atom.Header, atom.Footer, atom.Table, atom.Tbody, atom.Tr, atom.Td, atom.Center, atom.Span, atom.Font, atom.B}

// structural are the elements by which a holder is looked into.
var structural = append(slices.Clone(holders[:len(holders)-3]), atom.P, atom.H1, atom.H2, atom.H3, atom.H4, atom.H5, atom.H6, atom.Ul, atom.Ol, atom.Blockquote, atom.Aside)

func holds(n *html.Node) bool {
	if !slices.Contains(holders, n.DataAtom) {
		return false
	}
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		if k.Type == html.ElementNode && (slices.Contains(structural, k.DataAtom) || holds(k)) {
			return true
		}
	}
	return false
}

var sized = regexp.MustCompile(`(?i)font-size\s*:\s*([0-9.]+)\s*(pt|px)`)

// large tells whether all of a paragraph is set in letters of a title: 20 points and more
// (common practice, no source).
func large(n *html.Node) bool {
	smallest := math.Inf(1)
	var walk func(k *html.Node)
	walk = func(k *html.Node) {
		if s := sized.FindStringSubmatch(attr(k, "style")); s != nil {
			size, _ := strconv.ParseFloat(s[1], 64)
			if s[2] == "px" {
				size *= 0.75
			}
			smallest = min(smallest, size)
		}
		for c := k.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
	}
	walk(n)
	return !math.IsInf(smallest, 1) && smallest >= 20 && len([]rune(plain(n))) <= 120
}

// points are the items of a list that stands by itself: three or more, each of them short
// and plain; nil for any other, which stays in its copy.
func points(n *html.Node) []string {
	var out []string
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		if k.Type == html.TextNode && strings.TrimSpace(k.Data) == "" {
			continue
		}
		text := plain(k)
		if k.DataAtom != atom.Li || len([]rune(text)) > 160 || text == "" || linked(k) {
			return nil
		}
		out = append(out, text)
	}
	if len(out) < 3 {
		return nil
	}
	return out
}

// linked tells whether a link or another list stands in it.
func linked(n *html.Node) bool {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		if k.DataAtom == atom.A || k.DataAtom == atom.Ul || k.DataAtom == atom.Ol || linked(k) {
			return true
		}
	}
	return false
}

func attr(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

// plain are the words of an element.
func plain(n *html.Node) string {
	var out strings.Builder
	var walk func(k *html.Node)
	walk = func(k *html.Node) {
		switch {
		case k.Type == html.TextNode:
			out.WriteString(k.Data)
		case k.DataAtom == atom.Script, k.DataAtom == atom.Style:
			return
		case k.DataAtom == atom.Br, slices.Contains(structural, k.DataAtom):
			out.WriteString(" ")
		}
		for c := k.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
	}
	walk(n)
	return clean(out.String())
}

func wordsOf(nodes []*html.Node) string {
	var out strings.Builder
	for _, n := range nodes {
		out.WriteString(plain(n))
	}
	return out.String()
}

// clean is a line of words without what no reader sees.
func clean(text string) string {
	return strings.Join(strings.Fields(strings.Map(func(r rune) rune {
		switch {
		case r == 0xa0, r == '\t', r == '\n', r == '\r', r == '\f':
			return ' '
		case r < ' ', r == 0x7f, r == 0xfeff, r == 0xfffd, r == 0xfffe, r == 0xffff:
			return -1
		}
		return r
	}, strings.ToValidUTF8(text, ""))), " ")
}
