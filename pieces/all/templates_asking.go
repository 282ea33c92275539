package all

import m "chrysagon/core/manuscript"

const (
	sheetThanks  = "Thank you. Here it is."
	sheetConsent = "You may keep my address and write to me about this."
)

// askingTemplates ask for an address, a time or a message.
func askingTemplates() []Template {
	return []Template{
		{"opt-in", "Opt-in page", "something useful for an email", "opt_in", "", "bare", "warm", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("The first hour, on one sheet"), lead("Three knots, one bridle, and what to do when nothing works. Drawn, so that it can hang by the door."), asking("opt_in", "Give me the sheet", sheetThanks, sheetConsent))).on("plan-sheet"),
			band("What is on it", m.Desire, m.Paper, one(h2("On the sheet"), points([]string{"What to look for before you go out"}, []string{"The three knots, from both sides"}, []string{"What to do when nothing works"}))).in("lines"),
			band("Who writes", m.Desire, m.Card, one(piece("quote", "text", "We have told this across the counter for years. Now it is drawn.", "who", "The people of the shop"))).in("centred"),
			band("Again", m.Action, m.Night, one(h2("Take it with you"), asking("opt_in", "Give me the sheet", sheetThanks, sheetConsent))).in("line").on("night-ripstop"), footer(),
		}},
		{"bridge", "Bridge page", "a few words between an advertisement and the offer", "bridge", "", "bare", "quiet", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Before you look at it"), lead("One thing to know, and then the kite."))).in("letter"),
			band("The thing to know", m.Interest, m.Card, one(copied("It is not a toy, though children fly it. It is one sheet of cloth that wants to go up, and one knot that lets it."), points([]string{"It rises where others lie"}, []string{"It does not do tricks"}, []string{"Who wants to race should leave it"}))),
			band("On", m.Action, m.Night, one(h2("Still curious?"), act("Show me", "home"))).in("centred").on("three-lanterns"), footer().in("centred"),
		}},
		{"appointment", "Appointment page", "a time to take at once, what happens then, two offers by turns", "appointment", "", "full", "warm", []Arrangement{
			band("A time", m.Action, m.Paper, column(5, h1("Come and try one"), lead("An hour on the beach with somebody who knows, and no need to buy."), points([]string{"Everything is lent to you"}, []string{"If there is no wind, you choose another day"}, []string{"Children welcome from six"})), column(7, piece("appointment", "minutes", "60", "what", "A first try"))).in("level"),
			band("What happens", m.Interest, m.Card, one(h2("What happens in that hour"), steps([]string{"You say what you would like to do with it."}, []string{"We lay out two or three that would suit."}, []string{"You try them, and take home whichever you like, or none."}))).in("numbers"),
			band("Two ways to come", m.Desire, m.Paper, one(h2("Two ways to come"), piece("rotate", "items", items([]string{"title", "text", "label", "target"}, []string{"A first try", "One hour, everything lent to you.", "Call and choose a day", "tel:"}, []string{"Bring your own", "We look it over while you wait.", "Call and choose a day", "tel:"})))).in("margin"),
			band("Who is there", m.Attention, m.Night, one(piece("quote", "text", "I have done this for years, and still like the first hour best.", "who", "Whoever is on the beach"))).in("voice").on("first-stars"),
			band("Another way", m.Action, m.Card, column(1, h2("Rather by phone?"), piece("phone", "text", "Call, and we find a day together.")), column(1, h2("Without an appointment"), piece("hours", "items", items([]string{"days", "opens", "closes"}, []string{"weekdays", "10:00", "18:00"}, []string{"saturday", "10:00", "14:00"})))).in("ruled"),
			footer(),
		}},
		{"coming-soon", "Coming soon", "what is coming, when, and who wants to know", "coming_soon", "launch", "bare", "quiet", []Arrangement{
			band("Opening", m.Attention, m.Night, one(h1("Something is being sewn"), lead("It is not ready. You can be the first to know."), piece("timer", "caption", "It opens"), asking("newsletter", "Keep my address", "Thank you. We have your address.", "You may write to me when it opens."))).on("night-shift"),
			band("Until then", m.Action, m.Card, one(h2("Until then"), act("See what is there already", "home"))).in("line"), footer(),
		}},
		{"launch-list", "Launch with a list", "what is coming, its reasons, and a list of those who hear first", "coming_soon", "launch", "bare", "lively", []Arrangement{
			band("Opening", m.Attention, m.Card, column(7, h1("Forty of them, in spring"), lead("Whoever is on the list hears a day before everybody else."), asking("newsletter", "Put me on the list", "Thank you. You are on the list.", "You may write to me when it opens.")), column(5, framed())).in("beside"),
			hurry("The list closes").in("display"),
			band("What it will be", m.Interest, m.Card, one(h2("What we know so far"), reasons([]string{"feather", "Lighter by a third", "The same cloth, half the seams."}, []string{"ruler-measure", "It folds once more", "Into a bag that fits a coat."}, []string{"hammer", "Made here", "By the four who made the last one."}))).in("margin"),
			band("Doubts", m.Desire, m.Paper, one(h2("Asked already"), questions([]string{"What will it cost?", "Less than the last one. We say it on the list first."}, []string{"How many letters is that?", "One now and then, two in the week it opens."}))).in("pairs"),
			band("Again", m.Action, m.Night, one(h2("A day before everybody else"), asking("newsletter", "Put me on the list", "Thank you. You are on the list.", "You may write to me when it opens."))).in("card").on("town-by-night"), footer(),
		}},
		{"contact", "Contact", "a form, the number, the address", "contact", "", "full", "plain", []Arrangement{
			band("Opening", m.Plain, m.Paper, one(h1("Write, call or come by"), lead("Somebody answers on every working day, and means it."))).in("split"),
			band("Ways", m.Plain, m.Card, column(7, h2("Write"), piece("form", "asks", "message", "thanks", "Thank you. We answer within a working day.")), column(5, h2("Call"), piece("phone"), h2("Come by"), piece("hours", "items", items([]string{"days", "opens", "closes"}, []string{"weekdays", "10:00", "18:00"})))).in("ruled"),
		}},
	}
}
