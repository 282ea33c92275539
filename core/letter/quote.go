package letter

import (
	"slices"
	"strings"

	"chrysagon/core/words"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// quotation reads a quotation; its last line names who said it where it begins with a dash,
// or stands in a footer or a cite.
func quotation(n *html.Node) Part {
	var lines []string
	var who string
	var walk func(k *html.Node)
	var line strings.Builder
	flush := func() {
		if text := words.Tidy(line.String()); text != "" {
			lines = append(lines, text)
		}
		line.Reset()
	}
	walk = func(k *html.Node) {
		switch {
		case k.Type == html.TextNode:
			line.WriteString(k.Data)
		case k.DataAtom == atom.Br:
			flush()
		case k.DataAtom == atom.Cite, k.DataAtom == atom.Footer:
			flush()
			who = plain(k)
		default:
			block := slices.Contains(structural, k.DataAtom)
			if block {
				flush()
			}
			for c := k.FirstChild; c != nil; c = c.NextSibling {
				walk(c)
			}
			if block {
				flush()
			}
		}
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		walk(c)
	}
	flush()
	return quoted(lines, who)
}

// quoted is a quotation of some lines.
func quoted(lines []string, who string) Part {
	if n := len(lines); who == "" && n > 1 {
		if named, is := dashed(lines[n-1]); is {
			who, lines = named, lines[:n-1]
		}
	}
	named, _ := dashed(who)
	return Part{Kind: Quote, Text: unquoted(strings.Join(lines, " ")), Who: named}
}

// dashed takes the dash before a name away.
func dashed(line string) (string, bool) {
	cut := strings.TrimLeft(line, "—–-― ")
	return strings.TrimSpace(cut), cut != line
}

// unquoted takes the marks around a quotation away: where it is shown, they are drawn.
func unquoted(text string) string {
	for _, pair := range [][2]string{{"“", "”"}, {"„", "“"}, {"«", "»"}, {"\"", "\""}, {"‘", "’"}} {
		if inner, ok := strings.CutPrefix(text, pair[0]); ok {
			if inner, ok = strings.CutSuffix(inner, pair[1]); ok && !strings.Contains(inner, pair[0]) {
				return strings.TrimSpace(inner)
			}
		}
	}
	return text
}
