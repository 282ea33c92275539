package all

import (
	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
)

// Letters are whole letters to begin from, in the order in which a follow-up sends them. A
// letter is a page that goes out by mail: it has no frame and no season of its own.
func Letters() []Template {
	letter := func(name, title, what, mood string, bands ...Arrangement) Template {
		return Template{Name: "mail-" + name, Title: title, What: what, Purpose: purpose.Letter, Layout: "bare", Mood: mood, Bands: bands}
	}
	on := func(label string) ArrangedPiece { return piece("button", "label", label, "target", "home") }
	return []Template{
		letter("welcome", "Welcome", "the first words after somebody joined", "warm",
			band("Greeting", m.Attention, m.Card, one(h1("Good to have you here, {name|friend}"), copied("You asked to hear from us, and here is the first letter. We write seldom, and only when there is something worth your time."))),
			band("What comes", m.Interest, m.Card, one(copied("Next we tell you the one thing that beginners wish they had known. Until then, have a look around."), on("Look around"))),
		),
		letter("useful", "Something useful", "teaches one thing and leads on", "quiet",
			band("The thing", m.Interest, m.Card, one(h1("One thing worth knowing"), copied("{name|Friend}, most people learn this the hard way. It takes a minute to read and saves an afternoon."), points([]string{"Look first at what does not move"}, []string{"Then at what moves slowly"}, []string{"Begin only when both agree"}))),
			band("Onward", m.Action, m.Card, one(copied("The rest of it stands on our page, with pictures."), on("Read on"))),
		),
		letter("offer", "The offer", "one product with its price, until when it holds", "lively",
			band("Opening", m.Attention, m.Card, one(h1("This one is for you"), copied("{name|Friend}, of all that we make this goes best with what you asked about."))),
			band("The product", m.Desire, m.Card, one(piece("product", "label", "See it and order"))),
			band("Until when", m.Action, m.Card, one(piece("timer", "caption", "At this price until"))),
		),
		letter("last-day", "Last day", "says that something ends today, and what", "lively",
			band("Opening", m.Attention, m.Card, one(h1("It ends tonight"), copied("{name|Friend}, this is the last letter about it. After that the price is what it was."), piece("timer", "caption", "It holds until"))),
			band("The product", m.Action, m.Card, one(piece("product", "label", "Order it while it holds"))),
		),
		letter("thanks", "Thanks", "after somebody has bought", "warm",
			band("Thanks", m.Attention, m.Card, one(h1("Thank you, {name|friend}"), copied("Something we made is on its way to you, and that still makes our day. If anything is not as it should be, answer this letter; a person reads it."))),
			band("One thing", m.Interest, m.Card, one(copied("When you have used it once, tell us how it went."), on("Visit us again"))),
		),
	}
}
