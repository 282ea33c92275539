package letter

import (
	"regexp"
	"strings"

	"chrysagon/core/rich"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

var (
	border = regexp.MustCompile(`(?i)(?:^|[;\s])border(?:-left|-top)?\s*:[^;]*\b(?:solid|dashed|dotted|double)\b`)
	ground = regexp.MustCompile(`(?i)(?:^|[;\s])background(?:-color)?\s*:\s*([^;]+)`)
)

// isBox tells whether an element stands in a box: it has an edge or a ground of its own, and
// is a box of words and no table of several cells.
func isBox(n *html.Node, style string) bool {
	switch n.DataAtom {
	case atom.Div, atom.Section, atom.P:
	case atom.Table:
		only := cells(n)
		if len(only) != 1 {
			return false
		}
		style += ";" + attr(only[0], "style")
	default:
		return false
	}
	if len(strings.Fields(plain(n))) > mostInBox { // a mail or a page that is framed as a whole
		return false
	}
	if border.MatchString(style) && !strings.Contains(strings.ToLower(style), "border:none") {
		return true
	}
	g := ground.FindStringSubmatch(style)
	if g == nil || n.DataAtom == atom.P {
		return false
	}
	switch colour := strings.ToLower(strings.TrimSpace(g[1])); {
	case colour == "white", colour == "transparent", colour == "none", colour == "initial", colour == "inherit", strings.HasPrefix(colour, "#fff"), strings.HasPrefix(colour, "rgb(255, 255, 255"), strings.HasPrefix(colour, "rgba(0, 0, 0, 0"):
		return false
	}
	return true
}

// mostInBox is how many words stand in a box; more is a letter of its own.
const mostInBox = 200

// cells are the cells of a table, but for those of tables in them.
func cells(n *html.Node) []*html.Node {
	var out []*html.Node
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		if k.DataAtom == atom.Td || k.DataAtom == atom.Th {
			out = append(out, k)
		} else {
			out = append(out, cells(k)...)
		}
	}
	return out
}

// boxed reads what stands in a box: its first heading, or its first line where all of it is
// strong, is its title.
func (r *reader) boxed(n *html.Node) Part {
	var title *html.Node
	var find func(k *html.Node) bool // tells whether words were met
	find = func(k *html.Node) bool {
		for c := k.FirstChild; c != nil; c = c.NextSibling {
			if c.Type == html.TextNode && strings.TrimSpace(c.Data) != "" {
				return true
			}
			if c.Type != html.ElementNode {
				continue
			}
			if levelOf(c) > 0 || (c.DataAtom == atom.P && strong(c)) || ((c.DataAtom == atom.B || c.DataAtom == atom.Strong) && k.DataAtom != atom.P) {
				title = c
				return true
			}
			if find(c) {
				return true
			}
		}
		return false
	}
	find(n)
	p := Part{Kind: Aside}
	if title != nil && len([]rune(plain(title))) <= 120 {
		p.Text = plain(title)
		title.Parent.RemoveChild(title)
	}
	var inner []*html.Node
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		inner = append(inner, c)
	}
	p.Rich = rich.Clean(markup(inner), r.keep)
	return p
}

// strong tells whether all words of a paragraph are strong.
func strong(n *html.Node) bool {
	some := false
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		switch {
		case c.Type == html.TextNode && strings.TrimSpace(c.Data) == "":
		case c.DataAtom == atom.B, c.DataAtom == atom.Strong:
			some = true
		default:
			return false
		}
	}
	return some
}
