// Package rich is copy with structure: paragraphs, sub-headings, lists, strong
// and emphatic words, and links. It is kept as a small part of HTML written in
// one way only, so that equal copy is equal text.
//
// A text that does not begin with "<" is plain: each of its lines is a
// paragraph. All copy of before this package is such.
package rich

import (
	"html"
	"slices"
	"strings"

	parser "golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// node is an element or, without a name, a run of text.
type node struct {
	name string // p, h3, ul, ol, li, b, i, a, br, or empty
	text string
	href string // of an a
	kids []*node
}

// what elements of any HTML become here; what is not named is looked through.
var becomes = map[atom.Atom]string{
	atom.P: "p", atom.H1: "h3", atom.H2: "h3", atom.H3: "h3", atom.H4: "h3", atom.H5: "h3", atom.H6: "h3", atom.Ul: "ul", atom.Ol: "ol", atom.Li: "li",
	atom.B: "b", atom.Strong: "b", atom.I: "i", atom.Em: "i", atom.Br: "br", atom.A: "a",
}

// dropped is what goes with all that is in it.
var dropped = []atom.Atom{atom.Script, atom.Style, atom.Template, atom.Iframe, atom.Object, atom.Embed, atom.Noscript, atom.Svg, atom.Math, atom.Head, atom.Title, atom.Textarea, atom.Select, atom.Button}

// breaks are elements that end a paragraph and are none themselves.
var breaks = []atom.Atom{atom.Div, atom.Section, atom.Article, atom.Tr, atom.Table, atom.Blockquote, atom.Pre, atom.Dd, atom.Dt, atom.Header, atom.Footer, atom.Hr, atom.Td}

// IsRich tells whether a text has structure; it is plain otherwise.
func IsRich(text string) bool { return strings.HasPrefix(text, "<") }

// Clean reads HTML of any origin and keeps what copy may have, written in the
// one way. Links for which keep is false lose their link and keep their words.
// Plain text comes back as it is.
func Clean(text string, keep func(target string) bool) string {
	if !IsRich(text) {
		return text
	}
	return write(read(text, keep))
}

func read(text string, keep func(string) bool) []*node {
	context := &parser.Node{Type: parser.ElementNode, Data: "body", DataAtom: atom.Body}
	roots, err := parser.ParseFragment(strings.NewReader(text), context)
	if err != nil {
		return words(text) // elements nested deeper than any copy
	}
	b := &builder{keep: keep}
	for _, r := range roots {
		b.visit(r, 0)
	}
	b.end()
	return b.blocks
}

// words keeps of HTML what is between its tags.
func words(text string) []*node {
	b := &builder{}
	z := parser.NewTokenizer(strings.NewReader(text))
	for kind := z.Next(); kind != parser.ErrorToken; kind = z.Next() {
		if kind == parser.TextToken {
			b.word(z.Token().Data)
		}
	}
	return b.blocks
}

// maxDepth is how deep elements are looked into; more is no copy.
const maxDepth = 200

// builder puts what is read into blocks.
type builder struct {
	keep   func(string) bool
	blocks []*node
	list   *node   // being filled
	open   *node   // block that takes words; nil: the next word begins a paragraph
	marks  []*node // b, i and a around what is read
}

func (b *builder) visit(n *parser.Node, depth int) {
	if depth > maxDepth {
		return
	}
	switch n.Type {
	case parser.TextNode:
		b.word(n.Data)
		return
	case parser.ElementNode:
	default:
		return
	}
	if slices.Contains(dropped, n.DataAtom) || n.Namespace != "" {
		return
	}
	inside := func() {
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			b.visit(k, depth+1)
		}
	}
	name := becomes[n.DataAtom]
	switch name {
	case "p", "h3":
		if b.list != nil && b.open != nil { // a paragraph within a list's item goes on with it
			inside()
			return
		}
		b.begin(name)
		inside()
		b.end()
	case "ul", "ol":
		outer := b.list
		b.end()
		if outer == nil {
			b.list = &node{name: name}
			b.blocks = append(b.blocks, b.list)
		}
		inside()
		b.open, b.list = nil, outer
	case "li":
		b.open = &node{name: "li"}
		if b.list == nil {
			b.open.name = "p"
			b.blocks = append(b.blocks, b.open)
		} else {
			b.list.kids = append(b.list.kids, b.open)
		}
		inside()
		b.open = nil
	case "br":
		if b.open != nil {
			b.open.kids = append(b.open.kids, &node{name: "br"})
		}
	case "b", "i", "a":
		mark := &node{name: name}
		if name == "a" {
			for _, a := range n.Attr {
				if a.Key == "href" {
					mark.href = strings.TrimSpace(a.Val)
				}
			}
			if mark.href == "" || b.keep == nil || !b.keep(mark.href) {
				inside()
				return
			}
		}
		if slices.ContainsFunc(b.marks, func(m *node) bool { return m.name == name }) {
			inside()
			return
		}
		b.marks = append(b.marks, mark)
		inside()
		b.marks = b.marks[:len(b.marks)-1]
	default:
		if slices.Contains(breaks, n.DataAtom) && b.list == nil {
			b.end()
			inside()
			b.end()
			return
		}
		inside()
	}
}

func (b *builder) begin(name string) {
	b.end()
	b.open = &node{name: name}
	b.blocks = append(b.blocks, b.open)
}

func (b *builder) end() { b.open = nil }

// word adds a run of text, with white space as HTML has it.
func (b *builder) word(text string) {
	text = strings.ToValidUTF8(strings.Map(printable, text), "")
	squeezed := strings.Join(strings.Fields(text), " ")
	switch {
	case squeezed == "" && (b.open == nil || text == ""):
		return
	case squeezed == "":
		squeezed = " "
	default:
		if strings.TrimLeft(text, " \t\r\n\f") != text {
			squeezed = " " + squeezed
		}
		if strings.TrimRight(text, " \t\r\n\f") != text {
			squeezed += " "
		}
	}
	if b.open == nil {
		if b.list != nil { // words between a list's items belong to none
			b.open = &node{name: "li"}
			b.list.kids = append(b.list.kids, b.open)
		} else {
			b.begin("p")
		}
	}
	leaf := &node{text: squeezed}
	for _, m := range slices.Backward(b.marks) {
		leaf = &node{name: m.name, href: m.href, kids: []*node{leaf}}
	}
	b.open.kids = append(b.open.kids, leaf)
}

// printable leaves out control characters, and no-break spaces become spaces:
// editors write them for every second space.
func printable(r rune) rune {
	switch {
	case r == '\t' || r == '\n' || r == '\r':
		return ' '
	case r < ' ' || r == 0x7f || r == 0xfeff || r == 0xfffe || r == 0xffff:
		return -1
	case r == 0xa0:
		return ' '
	}
	return r
}

// write writes blocks in the one way: no empty ones, no space at either end,
// neighbours of one kind joined.
func write(blocks []*node) string {
	var out strings.Builder
	for _, b := range blocks {
		if b.name == "ul" || b.name == "ol" {
			var items strings.Builder
			for _, item := range b.kids {
				if words := line(item.kids); words != "" {
					items.WriteString("<li>" + words + "</li>")
				}
			}
			if items.Len() > 0 {
				out.WriteString("<" + b.name + ">" + items.String() + "</" + b.name + ">")
			}
			continue
		}
		if words := line(b.kids); words != "" {
			out.WriteString("<" + b.name + ">" + words + "</" + b.name + ">")
		}
	}
	return out.String()
}

// run is text with its marks, in the order b, i, a from outside in.
type run struct {
	text   string
	b, i   bool
	href   string
	breaks bool
}

func flatten(kids []*node, under run, out []run) []run {
	for _, k := range kids {
		with := under
		switch k.name {
		case "":
			with.text = k.text
			out = append(out, with)
			continue
		case "br":
			out = append(out, run{breaks: true})
			continue
		case "b":
			with.b = true
		case "i":
			with.i = true
		case "a":
			with.href = k.href
		}
		out = flatten(k.kids, with, out)
	}
	return out
}

// line writes the words of a block.
func line(kids []*node) string {
	var runs []run
	space := true // what stands before ends in a space
	for _, r := range flatten(kids, run{}, nil) {
		if r.breaks {
			if len(runs) > 0 {
				runs[len(runs)-1].text = strings.TrimRight(runs[len(runs)-1].text, " ")
				runs = append(runs, r)
			}
			space = true
			continue
		}
		if space {
			r.text = strings.TrimLeft(r.text, " ")
		}
		if r.text == "" {
			continue
		}
		space = strings.HasSuffix(r.text, " ")
		if n := len(runs); n > 0 && !runs[n-1].breaks && runs[n-1].b == r.b && runs[n-1].i == r.i && runs[n-1].href == r.href {
			runs[n-1].text += r.text
			continue
		}
		runs = append(runs, r)
	}
	for n := len(runs); n > 0; n = len(runs) {
		last := &runs[n-1]
		if last.text = strings.TrimRight(last.text, " "); last.text != "" {
			break
		}
		runs = runs[:n-1]
	}
	var out strings.Builder
	for _, r := range runs {
		if r.breaks {
			out.WriteString("<br>")
			continue
		}
		before, after := "", ""
		if r.b {
			before, after = "<b>", "</b>"
		}
		if r.i {
			before, after = before+"<i>", "</i>"+after
		}
		if r.href != "" {
			before, after = before+`<a href="`+html.EscapeString(r.href)+`">`, "</a>"+after
		}
		out.WriteString(before + html.EscapeString(r.text) + after)
	}
	return out.String()
}
