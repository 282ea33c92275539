package all

import m "chrysagon/core/manuscript"

// tellingTemplates say who the store is.
func tellingTemplates() []Template {
	return []Template{
		{"about", "About", "who you are, and why", "about", "", "full", "warm", []Arrangement{
			band("Opening", m.Plain, m.Card, column(6, h1("Four people and a long table"), lead("We have made kites in this street since the storm took the roof off the sail loft.")), column(6, piece("picture"))).in("bleed"),
			band("Story", m.Plain, m.Paper, one(h2("How it began"), copied("With a roof, in fact. The storm of that winter left forty metres of good cloth in the harbour, and nobody who wanted it.\nThe first kite was for a child who had asked what sails do when ships are gone. It flew before it was finished.\nWe have not changed much. The table is longer."))).in("margin"),
			band("Numbers", m.Plain, m.Card, one(h2("What we hold to"), reasons([]string{"tool", "Mended for life", "Whatever comes back is mended."}, []string{"heart", "Small runs", "Nothing is made to be thrown away."}, []string{"clock", "A person answers", "During the hours on the contact page."}))).in("numbers"),
			band("Come by", m.Plain, m.Card, one(h2("The door is open"), act("How to find us", "home"))).on("town-by-day"),
		}},
		{"legal", "Privacy, terms or disclaimer", "a long text with headings", "legal", "", "full", "plain", []Arrangement{
			band("Title", m.Plain, m.Paper, one(h1("Privacy"))).in("centred"),
			band("Text", m.Plain, m.Card, one(h2("What is kept"), copied("Write what you keep, why, for how long, and who sees it. Most readers want to know three things: whether you sell it, whether you track them, and how they get rid of it."), h2("Your rights"), copied("Write how to ask what is kept, and how to have it taken away. A mail address is enough, if somebody reads it and answers within the month that the law gives."), h2("Whom to ask"), copied("Name a person and an address."))),
		}},
	}
}
