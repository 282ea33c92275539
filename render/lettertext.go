package render

import (
	"fmt"
	"strings"

	"chrysagon/pieces"

	"golang.org/x/net/html"
)

// plainLetter is a letter as plain text, of the same blocks, in lines that a mail program
// breaks by itself.
func plainLetter(view letterView) string {
	var out []string
	for _, b := range view.blocks {
		if text := strings.Trim(plainBlock(b), "\n"); strings.TrimSpace(text) != "" {
			out = append(out, text)
		}
	}
	wishes := ""
	if view.Wishes != "" {
		wishes = "Fewer letters, or none: " + view.Wishes
	}
	foot := lines("--", view.Holds, view.Why, wishes, view.Imprint())
	return strings.Join(append(out, foot), "\n\n") + "\n"
}

func plainBlock(b pieces.Block) string {
	cost := ""
	if b.Price != nil {
		cost = b.Price.String()
		if b.Struck != nil {
			cost += " (before: " + b.Struck.String() + ")"
		}
	}
	leads := ""
	if b.Href != "" {
		leads = string(b.Href)
	}
	switch b.As {
	case pieces.Headline:
		return b.Text + "\n" + strings.Repeat("=", min(len([]rune(b.Text)), 60))
	case pieces.Heading:
		return b.Text + "\n" + strings.Repeat("-", min(len([]rune(b.Text)), 60))
	case pieces.Copy, pieces.Lead:
		return plainCopy(string(b.Copy))
	case pieces.Figure:
		return ""
	case pieces.Press:
		return b.Text + ":\n" + leads
	case pieces.Card:
		return lines(b.Text+", "+cost, plainCopy(string(b.Copy)), strings.Join(b.Points, "\n"), leads)
	case pieces.Cost:
		return lines(b.Text+": "+cost, b.Second)
	case pieces.Moment:
		return lines(b.Text, b.Second)
	case pieces.Voice:
		return lines("“"+b.Text+"”", b.Second)
	case pieces.Box:
		return lines(b.Text, plainCopy(string(b.Copy)))
	case pieces.Code:
		return lines(b.Text, b.Second)
	case pieces.Points:
		return "- " + strings.Join(b.Points, "\n- ")
	case pieces.Rows:
		var out []string
		for _, r := range b.Rows {
			row := "  " + r.Label
			if r.Value != "" {
				row += "  " + r.Value
			}
			if r.Href != "" {
				row += "\n    " + r.Href
			}
			out = append(out, row)
		}
		return strings.Join(out, "\n")
	case pieces.Rule:
		return "* * *"
	}
	return fmt.Sprint(b.Text)
}

// lines joins the texts that say something.
func lines(texts ...string) string {
	var out []string
	for _, t := range texts {
		if strings.TrimSpace(t) != "" {
			out = append(out, t)
		}
	}
	return strings.Join(out, "\n")
}

// plainCopy is copy as plain text: paragraphs apart, points with hyphens, and after linked
// words where they lead.
func plainCopy(copied string) string {
	var out strings.Builder
	var leads string
	z := html.NewTokenizer(strings.NewReader(copied))
	for {
		switch z.Next() {
		case html.ErrorToken:
			return strings.TrimSpace(out.String())
		case html.TextToken:
			out.WriteString(z.Token().Data)
		case html.StartTagToken, html.SelfClosingTagToken:
			t := z.Token()
			switch t.Data {
			case "a":
				for _, at := range t.Attr {
					if at.Key == "href" {
						leads = at.Val
					}
				}
			case "li":
				out.WriteString("- ")
			case "br":
				out.WriteString("\n")
			}
		case html.EndTagToken:
			switch name, _ := z.TagName(); string(name) {
			case "a":
				if leads != "" {
					out.WriteString(" (" + leads + ")")
				}
				leads = ""
			case "li":
				out.WriteString("\n")
			case "p", "h2", "h3", "ul", "ol":
				out.WriteString("\n\n")
			}
		case html.CommentToken, html.DoctypeToken:
		}
	}
}
