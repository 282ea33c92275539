package all

import m "chrysagon/core/manuscript"

// Arrangements lists the bands that can be added, in the order a page has them.
func Arrangements() []Arrangement {
	return []Arrangement{
		arranged("announcement", "Announcement", "one line across the page", m.Plain, m.Night, []string{"announce", "announcement", "strip", "bar", "notice"}, alone(piece("announcement"))),
		arranged("opening", "Opening", "headline, sub-headline, picture and button", m.Attention, m.Night, []string{"opening", "hero", "headline", "start", "welcome", "top"}, []ArrangedColumn{
			column(7, piece("heading", "level", "1"), piece("text", "look", "lead"), piece("button")),
			column(5, piece("picture")),
		}),
		arranged("opening-words", "Opening in words", "headline, sub-headline and button, without a picture", m.Attention, m.Card, []string{"statement", "wordy"}, alone(piece("heading", "level", "1"), piece("text", "look", "lead"), piece("button"))),
		arranged("opening-scene", "Opening on a scene", "headline, words, button and price before a drawn scene", m.Attention, m.Night, []string{"scene", "scenery", "landscape"}, alone(piece("heading", "level", "1"), piece("text", "look", "lead"), piece("button"), piece("price", "saving", "none"))).on("lantern-night"),
		arranged("opening-form", "Opening with a form", "headline, what one gets, and the form at once", m.Attention, m.Paper, []string{"capture", "squeeze"}, []ArrangedColumn{
			column(6, piece("heading", "level", "1"), piece("text", "look", "lead"), piece("form", "asks", "opt_in")), column(6, piece("picture", "shape", "framed")),
		}),
		arranged("opening-product", "Opening with the product", "its picture large, name, price and button", m.Attention, m.Card, []string{"item", "showcase"}, []ArrangedColumn{
			column(7, piece("picture", "shape", "framed")), column(5, piece("heading", "level", "1"), piece("text"), piece("price"), piece("button")),
		}),
		arranged("product", "Product", "picture, copy, price and saving", m.Interest, m.Card, []string{"product", "picture-and-price"}, []ArrangedColumn{
			column(5, piece("picture", "shape", "framed")),
			column(7, piece("heading"), piece("text"), piece("price")),
		}),
		arranged("shelf", "Shelf of goods", "goods picked by a rule, each with its price", m.Interest, m.Card, []string{"shelf", "grid", "clearance", "collection", "products", "list"}, alone(piece("heading"), piece("shelf"))),
		arranged("feature", "One product, large", "a product with its words, price and button, from the shelf", m.Interest, m.Card, []string{"feature", "featured", "single"}, alone(piece("product"))),
		arranged("details", "Details of a product", "what it is made of and measures", m.Interest, m.Card, []string{"details", "specification", "measurements", "sizes"}, alone(piece("heading"), piece("details"))),
		arranged("groups", "Groups of goods", "cards that lead to shelves", m.Interest, m.Card, []string{"groups", "group", "categories", "cards"}, alone(piece("heading"), piece("groups"))),
		arranged("gallery", "Gallery", "several pictures", m.Interest, m.Card, []string{"gallery", "pictures", "photos", "images"}, alone(piece("heading"), piece("gallery"))),
		arranged("video", "Video", "plays when it is asked to", m.Interest, m.Card, []string{"video", "film", "clip", "watch"}, alone(piece("heading"), piece("video"))),
		arranged("posted", "Posted pictures", "what was posted elsewhere, from the shelf or a feed file", m.Desire, m.Card, []string{"posted", "posts", "feed", "social", "social pictures"}, alone(piece("heading"), piece("social"))),
		arranged("timer", "Timer", "counts down to a deadline", m.Interest, m.Paper, []string{"timer", "countdown", "deadline", "hurry", "ends", "clock"}, alone(piece("timer"))),
		arranged("stock", "Stock left", "how many are left, truly", m.Interest, m.Paper, []string{"stock", "left", "last", "scarce"}, alone(piece("stock"))),
		arranged("rotate", "Offers by turns", "two offers that take turns", m.Interest, m.Paper, []string{"rotating", "turns", "slides", "carousel"}, alone(piece("rotate"))),
		arranged("perks", "Perks", "three reasons with icons", m.Desire, m.Card, []string{"perks", "benefits", "reasons", "why", "advantages", "features"}, alone(piece("heading"), piece("perks"))),
		arranged("list", "List", "a heading and points with a mark", m.Desire, m.Card, []string{"points", "bullets", "includes", "contents", "inside", "learn"}, alone(piece("heading"), piece("bullets"))),
		arranged("steps", "Steps", "what happens, one thing after another", m.Interest, m.Card, []string{"steps", "how", "process", "next"}, alone(piece("heading"), piece("bullets", "mark", "number"))).in("numbers"),
		arranged("beside", "Story beside a picture", "a heading and copy, and a picture of it", m.Desire, m.Card, []string{"beside", "illustrated", "portrait"}, []ArrangedColumn{
			column(6, piece("heading"), piece("text")), column(6, piece("picture", "shape", "framed")),
		}),
		arranged("copy", "Copy", "a heading and text", m.Desire, m.Card, []string{"copy", "text", "story", "letter", "words"}, alone(piece("heading"), piece("text"))),
		arranged("aside", "Boxed aside", "something set apart", m.Desire, m.Paper, []string{"aside", "box", "note", "tip", "guarantee", "promise"}, alone(piece("aside"))),
		arranged("compare", "Comparison", "a table of this against that", m.Desire, m.Card, []string{"compare", "comparison", "versus", "against", "table"}, alone(piece("heading"), piece("compare"))),
		arranged("quote", "Quote", "one sentence that says it", m.Desire, m.Paper, []string{"quote", "saying", "motto"}, alone(piece("quote"))),
		arranged("testimonials", "Testimonials", "what buyers say, and who they are", m.Desire, m.Paper, []string{"testimonials", "testimonial", "reviews", "customers", "said", "proof"}, alone(piece("heading"), piece("rating"), piece("testimonials"))),
		arranged("badges", "Trust badges", "short promises with icons", m.Desire, m.Card, []string{"badges", "trust", "secure", "safe"}, alone(piece("badges"))),
		arranged("faq", "Questions", "questions and answers that unfold", m.Desire, m.Card, []string{"faq", "questions", "answers", "doubts", "objections"}, alone(piece("heading"), piece("faq"))),
		arranged("code", "Code to copy", "a coupon that is copied with one press", m.Action, m.Paper, []string{"code", "coupon", "voucher"}, alone(piece("heading"), piece("code"))),
		arranged("call", "Call to action", "a heading and a button", m.Action, m.Night, []string{"call", "action", "button", "buy", "go"}, alone(piece("heading"), piece("button"))),
		arranged("last", "Last words", "a heading, a sentence, a button, before a scene", m.Action, m.Night, []string{"closing", "finally", "farewell"}, alone(piece("heading"), piece("text"), piece("button"))).on("town-by-night"),
		arranged("deal", "Price and button", "what it is, what it costs, and the press", m.Action, m.Paper, []string{"price", "deal", "cost"}, alone(piece("heading"), piece("price"), piece("button"))).in("ticket"),
		arranged("optin", "Opt-in form", "asks for an email", m.Action, m.Paper, []string{"optin", "opt-in", "email", "subscribe", "sign", "free", "guide"}, alone(piece("heading"), piece("form", "asks", "opt_in"))),
		arranged("newsletter", "Newsletter form", "asks for an email, for letters to come", m.Action, m.Paper, []string{"newsletter", "letters", "news"}, alone(piece("heading"), piece("form", "asks", "newsletter", "consent", "Yes, you may write to me."))),
		arranged("contact-form", "Contact form", "a message to the store", m.Action, m.Card, []string{"contact", "message", "write", "ask"}, alone(piece("heading"), piece("form", "asks", "message"))),
		arranged("appointment", "Appointment", "times that can be taken, into the visitor’s calendar", m.Action, m.Paper, []string{"appointment", "appointments", "booking", "fitting", "lesson", "slot"}, alone(piece("heading"), piece("appointment"))),
		arranged("visit", "Call or visit", "number, address and opening hours", m.Action, m.Card, []string{"phone", "visit", "address", "hours", "map", "shop"}, []ArrangedColumn{
			column(1, piece("phone")), column(1, piece("hours")),
		}),
		arranged("checkout", "Checkout", "the form in which visitors order", m.Action, m.Paper, []string{"checkout", "order", "pay", "payment", "card"}, alone(piece("heading"), piece("checkout"))),
		arranged("summed", "Checkout beside its summary", "the form, and what the order comes to", m.Action, m.Paper, []string{"summary", "summed", "basket"}, []ArrangedColumn{
			column(7, piece("heading"), piece("checkout")), column(5, piece("summary")),
		}),
		arranged("answer", "Yes and no", "an upsell's two buttons", m.Action, m.Card, []string{"yes", "no", "upsell", "add"}, alone(piece("price"), piece("answer"))),
		arranged("receipt", "What was bought", "the order, its total, the mail to come", m.Action, m.Card, []string{"receipt", "bought", "thanks", "thank"}, alone(piece("heading"), piece("receipt"))),
		arranged("menu", "Menu", "links to the store's pages", m.Plain, m.Card, []string{"menu", "navigation", "links"}, alone(piece("menu"))),
		arranged("foot", "Footer with menu", "links to the store’s pages, and who sells", m.Plain, m.Paper, []string{"foot", "colophon"}, alone(piece("menu"), piece("legal"))).in("centred"),
		arranged("legal", "Legal footer", "who sells, privacy, terms", m.Plain, m.Paper, []string{"legal", "footer", "imprint", "terms"}, alone(piece("legal"))),
	}
}
