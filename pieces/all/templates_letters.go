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
		letter("gift", "The gift", "hands out what was promised, and says what comes", "warm",
			band("The gift", m.Attention, m.Card, one(h1("Here it is, {name|friend}"), copied("You asked for it, and it is yours. Keep this letter: the button leads to it whenever you want it."), piece("button", "label", "Open it", "target", "home"))),
			band("What comes", m.Interest, m.Card, one(copied("In some days we write once more, with what most people ask after reading it."))),
		),
		letter("before-deadline", "Before the deadline", "some days before something ends, with time to think", "quiet",
			band("Opening", m.Attention, m.Card, one(h1("There is time until then"), copied("{name|Friend}, nothing ends today. We write now so that you can sleep over it."), piece("timer", "caption", "The price holds until"))),
			band("The product", m.Desire, m.Card, one(piece("product", "label", "Look at it again"))),
		),
		letter("unfinished", "Unfinished checkout", "to who began to order and did not", "quiet",
			band("Opening", m.Attention, m.Card, one(h1("Was something in the way?"), copied("{name|Friend}, you began an order with us and left it. If a question was in the way, answer this letter and a person answers you."))),
			band("Back to it", m.Action, m.Card, one(piece("product", "label", "Go on with it"), copied("What you typed is still there, in the browser you typed it in."))),
		),
		letter("reminder", "Workshop reminder", "some days before an appointment or a workshop", "plain",
			band("When", m.Attention, m.Card, one(h1("Soon we see each other"), copied("{name|Friend}, this is a word beforehand, so that nothing surprises you on the day."))),
			band("What to bring", m.Interest, m.Card, one(points([]string{"Something warm to put on"}, []string{"Shoes that may get wet"}, []string{"Nothing else: the rest is here"}), copied("Can you not come? Answer this letter, and we find another day."))),
		),
		letter("news", "News", "what is new, a few times a year", "plain",
			band("The news", m.Interest, m.Card, one(h1("What is new with us"), copied("{name|Friend}, three things happened since we wrote last, and the third is for you."))),
			band("Onward", m.Action, m.Card, one(on("See it"))),
		),
		letter("after-buying", "After buying", "some days after it came: how it goes best, and what goes with it", "warm",
			band("How it goes best", m.Interest, m.Card, one(h1("How it goes best"), copied("{name|Friend}, by now you have it in your hands. Three things make the first time a good one."), points([]string{"Take an hour for it, and not the last one of a day"}, []string{"Keep what it came in until you know that you stay together"}, []string{"Ask us before you mend anything"}))),
			band("What goes with it", m.Desire, m.Card, one(copied("One more thing, since it goes with what you have."), piece("product", "label", "See how they go together"))),
		),
		letter("thanks", "Thanks", "after somebody has bought", "warm",
			band("Thanks", m.Attention, m.Card, one(h1("Thank you, {name|friend}"), copied("Something we made is on its way to you, and that still makes our day. If anything is not as it should be, answer this letter; a person reads it."))),
			band("One thing", m.Interest, m.Card, one(copied("When you have used it once, tell us how it went."), on("Visit us again"))),
		),
	}
}

// OrderMails are the mails of orders, to be put into the store's own words: what is computed
// stands among them.
func OrderMails() []Template {
	mail := func(order, title string, words ...string) Template {
		p := purpose.OfOrder(order)
		before := []ArrangedPiece{h1(words[0])}
		if words[1] != "" {
			before = append(before, copied(words[1]))
		}
		before = append(before, piece("receipt"))
		if words[2] != "" {
			before = append(before, copied(words[2]))
		}
		return Template{Name: "mail-order-" + order, Title: title, What: p.What, Purpose: p.Name, Layout: "bare", Mood: "plain", Bands: []Arrangement{band("The mail", m.Action, m.Card, one(before...))}}
	}
	return []Template{
		mail("confirmation", "Order {order}: we have it", "Thank you, {name|friend}", "Your order {order} is here, and paid. This is what you chose:", "We pack it by hand. As soon as it leaves, you hear from us."),
		mail("awaits", "How to pay for {order}", "Nearly there, {name|friend}", "We keep what you ordered for you. This is how to pay for it:", "As soon as it is paid, you hear from us."),
		mail("sent", "Order {order} is on its way", "It left this morning", "{name|Friend}, your order {order} is on its way to you.", "Look out for it, and tell us if it does not come."),
		mail("refund", "Money back for order {order}", "Your money goes back", "{name|Friend}, of your order {order} this goes back:", "We are sorry that it did not suit. Thank you for trying it."),
		mail("download", "Your download of order {order}", "Here it is once more", "{name|Friend}, links from before lead nowhere now; these do.", ""),
		mail("lapsed", "Your order was given up", "We kept it as long as we could", "{name|Friend}, your payment did not come in time, so the order was given up. You owe nothing.", "Have you paid? Answer this mail, and we put it right."),
	}
}
