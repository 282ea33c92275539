package all

import m "chrysagon/core/manuscript"

// afterTemplates stand after the payment.
func afterTemplates() []Template {
	return []Template{
		{"upsell", "Upsell", "one thing more, with one press", "upsell", "", "bare", "warm", []Arrangement{
			band("Opening", m.Attention, m.Paper, one(h1("Your order is safe. One thing more"), lead("It goes into the same parcel, and sending it costs nothing twice."))).in("centred"),
			band("The thing", m.Desire, m.Card, column(6, framed()), column(6, h2("Carry three in one hand"), points([]string{"Made for what you have just ordered"}, []string{"Pockets for line and cells"}, []string{"No second delivery to pay"}))),
			band("Yes or no", m.Action, m.Paper, one(piece("price"), piece("answer", "accept", "Yes, add it to my order", "decline", "No, thank you"))).in("ticket"), footer(),
		}},
		{"downsell", "Downsell", "something smaller for those who said no", "downsell", "", "bare", "quiet", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Then perhaps the small one"), lead("The same care, less of it."))).in("centred"),
			band("Yes or no", m.Action, m.Paper, column(6, framed()), column(6, copied("It weighs nothing, costs little and is in your pocket when the other one is at home."), piece("price"), piece("answer", "accept", "Yes, the small one", "decline", "No, only my order"))).in("opposite"), footer(),
		}},
		{"thank-you", "Thank-you page", "what was bought, and what comes next", "thank_you", "", "bare", "warm", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Thank you. It is on the bench now"), lead("Here is your order, as we read it."))).on("handed-over"),
			band("The order", m.Action, m.Card, one(piece("receipt"))).in("plate"),
			band("If it is sent", m.Interest, m.Paper, one(h2("Your parcel"), copied("It leaves us within two working days."))).in("margin").only(m.OnlySent),
			band("If it is collected", m.Interest, m.Paper, one(h2("To be collected"), copied("It lies ready for you when you come by."))).in("margin").only(m.OnlyCollected),
			band("If it is downloaded", m.Interest, m.Paper, one(h2("Your download"), copied("It stands above, beside its name."))).in("margin").only(m.OnlyDownloaded),
			band("If there is a seat", m.Interest, m.Paper, one(h2("Your seat"), copied("It is kept for you. Bring what you would like to work on."))).in("margin").only(m.OnlyBooked),
			footer(),
		}},
	}
}
