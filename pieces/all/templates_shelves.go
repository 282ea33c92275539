package all

import m "chrysagon/core/manuscript"

// shelfTemplates show many goods.
func shelfTemplates() []Template {
	return []Template{
		{"clearance", "Clearance by rule", "goods on a shelf, each with its price", "shelf", Clearance, "full", "lively", []Arrangement{
			band("Opening", m.Attention, m.Paper, one(h1("What came back, and what stood too long"), lead("Looked over, sewn where it needed it, and marked with what is wrong with it."), act("See what is there", "band:@2"))).in("split"),
			hurry("These prices end").in("plate"),
			band("The shelf", m.Interest, m.Card, one(h2("What is there today"), piece("shelf", "show", "24", "empty", "The shelf is empty today. Look in again on Friday."))).in("row"),
			band("Order", m.Action, m.Night, column(1, h2("Seen the one you want?"), copied("There is one of each. Call, and it is put aside for an hour.")), column(1, piece("phone", "text", "Ask for the shelf."))).in("level"),
		}},
		{"gift-guide", "Gift guide", "goods by groups, for somebody who gives", "shelf", "holidays", "full", "festive", []Arrangement{
			band("Opening", m.Attention, m.Night, one(h1("For whoever would rather be outside"), lead("Presents by what they do, not by what they cost."), act("To the first shelf", "band:@2"))).on("parcels"),
			hurry("These prices end").in("line"),
			band("First shelf", m.Interest, m.Card, one(h2("For who begins"), piece("shelf", "show", "4"))).in("lead"),
			band("Between", m.Desire, m.Paper, one(piece("quote", "text", "The best present I ever gave cost nineteen and hung in a tree for a year.", "who", "Say who said it"))).in("centred"),
			band("Second shelf", m.Interest, m.Card, one(h2("For who has everything"), piece("shelf", "show", "4"))).in("margin"),
			band("Help", m.Action, m.Night, one(h2("Not sure?"), copied("Tell us who it is for. We answer the same day."), piece("form", "asks", "message", "label", "Ask us", "thanks", "Thank you. We answer the same day."))).in("split").on("night-ripstop"),
		}},
		{"list", "List of goods", "all of a shelf, page by page, narrowed by what they are", "shelf", "", "full", "plain", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("All there is, shelf by shelf"), lead("Narrow it by what it is for; sort it by what it costs."))).in("split"),
			band("The list", m.Interest, m.Card, one(piece("shelf", "show", "24", "rest", "pages", "empty", "Nothing here answers that. Take one of the filters away."))).in("row"),
			band("Ask", m.Action, m.Paper, one(h2("Not there?"), act("Write to us", "home"))).in("line"),
		}},
	}
}
