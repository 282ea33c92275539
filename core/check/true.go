package check

import (
	"fmt"
	"regexp"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/rich"
	"chrysagon/core/target"
	"chrysagon/core/words"
)

// said calls visit for every text of a page, lists' items too, with the field that
// it stands in.
func said(page manuscript.Page, visit func(b manuscript.Band, p manuscript.Piece, field, text string)) {
	page.Walk(func(b manuscript.Band, p manuscript.Piece) {
		p.Fields.EachText(func(field, text string) { visit(b, p, field, text) })
	})
}

// Plain is a text as its words are compared: without marks and spaces of its own.
func Plain(text string) string { return words.Tidy(rich.Text(text)) }

// unchanged finds words of a template that nobody has changed: they are no
// content. In a headline and on a legal page they stop publishing.
func unchanged(p Page) []Finding {
	var out []Finding
	listed := map[string]bool{}
	said(p.Manuscript, func(b manuscript.Band, piece manuscript.Piece, _, text string) {
		plain := Plain(text)
		if !p.Template[plain] {
			return
		}
		headline := p.Schema.Headline(piece)
		if !headline && listed[b.ID] {
			return
		}
		f := Finding{What: fmt.Sprintf("“%s” is what the template says; nobody has written it for this page.", cut(plain)), Remedy: "Write your own words there, or take it away.", PieceID: piece.ID, Gravity: Mend}
		if headline || p.Purpose == "legal" {
			f.Gravity = Stops
		}
		listed[b.ID] = listed[b.ID] || !headline
		out = append(out, f)
	})
	return out
}

func cut(text string) string {
	if r := []rune(text); len(r) > 60 {
		return string(r[:57]) + " …"
	}
	return text
}

// charged finds a page whose press charges more than the price that it shows: the
// picture and the price of one thing, and the charge for another.
func charged(p Page) []Finding {
	sold, via, at := "", offer.Page, ""
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if takes(p.of(piece)) && sold == "" {
			if sells, _ := p.Schema.Buys(piece); len(sells) > 0 {
				sold, at = sells[0], piece.ID
			}
			if answer(p.of(piece)) {
				via = offer.Upsell
			}
		}
	})
	charge, ok := priced(p.Facts, sold, via, p)
	if !ok {
		return nil
	}
	own, least, shown := false, charge, ""
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		id := piece.Fields.Text("product")
		if !p.of(piece).Prices || id == "" {
			return
		}
		own = own || id == sold
		if price, ok := priced(p.Facts, id, via, p); ok && id != sold && price.Total.Minor < least.Total.Minor {
			least, shown = price, id
		}
	})
	if shown == "" || (own && via == offer.Page) {
		return nil
	}
	return []Finding{{
		What:   fmt.Sprintf("The page shows %s at %s, and the press charges %s for %s.", p.Facts.Products[shown].Name, least.Total, charge.Total, p.Facts.Products[sold].Name),
		Remedy: "Let the price follow what is sold here: choose no product for it.", PieceID: at, Gravity: Stops,
	}}
}

// priced is what one of the goods comes to here, without what the order brings.
func priced(f facts.Facts, id string, via offer.Via, p Page) (offer.Quote, bool) {
	if _, ok := f.Products[id]; !ok {
		return offer.Quote{}, false
	}
	f.Shipping = nil
	q, err := f.Quote([]offer.Item{{ProductID: id, Quantity: 1, Via: via}}, p.Moment)
	return q, err == nil
}

// again finds an upsell of what an order can hold already when it comes there.
func again(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		id := piece.Fields.Text("product")
		if from := p.Taken[id]; answer(p.of(piece)) && from != "" {
			out = append(out, Finding{
				What:   fmt.Sprintf("%s can be in the order already, by “%s”; whoever has it is led past this page.", p.Facts.Products[id].Name, from),
				Remedy: "Offer something else here.", PieceID: piece.ID, Gravity: Mend,
			})
		}
	})
	return out
}

// mailed are words that promise a mail.
var mailed = regexp.MustCompile(`(?i)\b(e-?mail(s|ed)?|mail(s|ed)?|inbox|letters?|newsletters?|on its way|send me|sent to you)\b`)

// promised finds forms whose words promise a mail that nothing sends: only a form
// that hands out a file sends one.
func promised(p Page) []Finding {
	var out []Finding
	p.Manuscript.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if !p.of(piece).Asks {
			return
		}
		asks := piece.Fields.Text("asks")
		to, err := target.Parse(piece.Fields.Text("gives"))
		_, known := p.Facts.Files[to.Value]
		gives := err == nil && to.Kind == target.File && known && asks != "message"
		for _, field := range []string{"thanks", "label", "consent"} {
			words := mailed.FindString(piece.Fields.Text(field))
			if words == "" || (gives && field != "consent") {
				continue
			}
			out = append(out, Finding{
				What:   fmt.Sprintf("The form says “%s”, and nothing is sent by it.", cut(piece.Fields.Text(field))),
				Remedy: "Choose the file that it hands out, or say only what happens.", PieceID: piece.ID, Gravity: Stops,
			})
		}
	})
	return out
}

// ending and few are words of urgency: that something ends, that little is left.
var (
	ending = regexp.MustCompile(`(?i)\b(prices? ends?|ends (soon|today|tonight|on \w+day)|only (today|this week)|last chance|hurry|before it is too late|until midnight|last days?)\b`)
	few    = regexp.MustCompile(`(?i)\b(when (one|it) is gone|few left|only \d+ left|almost gone|nearly gone|while (stocks?|supplies) lasts?|the last (one|few|pieces))\b`)
)

// urgency finds words that press a reader and that nothing on the page backs: no
// offer that ends, no stock that is counted.
func urgency(p Page) []Finding {
	ends, counted := false, false
	for _, o := range p.Facts.Offers {
		ends = ends || (o.Holds(p.Moment) && !o.Edge(p.Moment).IsZero()) || p.Facts.Bound[o.ID] != ""
	}
	p.Manuscript.Walk(func(b manuscript.Band, piece manuscript.Piece) {
		counted = counted || p.of(piece).Left
		ends = ends || (b.Deadline != "" && b.AtZero != manuscript.Stays)
	})
	var out []Finding
	said(p.Manuscript, func(_ manuscript.Band, piece manuscript.Piece, _, text string) {
		words, what := "", ""
		switch plain := rich.Text(text); {
		case p.idle(piece): // nobody reads it
			return
		case !ends && ending.MatchString(plain):
			words, what = ending.FindString(plain), "nothing here ends by itself"
		case !counted && few.MatchString(plain):
			words, what = few.FindString(plain), "the page does not count what is left"
		default:
			return
		}
		out = append(out, Finding{What: fmt.Sprintf("The words “%s” press the reader, and %s.", words, what), Remedy: "Bind an offer to a deadline, show the stock, or leave the words out.", PieceID: piece.ID, Gravity: Mend})
	})
	return out
}
