package route

import "chrysagon/core/fork"

// Plan is a funnel to begin from. Its steps are named by what they are here.
type Plan struct {
	Name, Title, What string
	Funnel            Funnel
}

var on = Clicked(Yes)

func planned(name, title, what string, routes []Route, steps ...Step) Plan {
	return Plan{Name: name, Title: title, What: what, Funnel: Funnel{Steps: steps, Routes: routes}}
}

// Plans are the funnels to begin from, seen as maps.
func Plans() []Plan {
	knots := Step{ID: "opt-in", Kind: OptIn, Name: "Something for an address"}
	sell := Step{ID: "sales", Kind: Sales, Name: "The offer"}
	thanks := Step{ID: "thank-you", Kind: ThankYou, Name: "Thank you"}
	more := Step{ID: "upsell", Kind: UpsellAt, Name: "One thing more"}
	bridge := func(id, name string) Step { return Step{ID: id, Kind: Bridge, Name: name} }
	paid := Route{From: "sales", Outcome: Bought, To: "thank-you"}
	return []Plan{
		planned("gift", "A gift for an address, then an offer", "Who signs up reads a few words and sees the offer; the file you choose for them goes by mail.",
			[]Route{{From: "opt-in", Outcome: Submitted, To: "bridge"}, {From: "bridge", Outcome: on, To: "sales"}, paid}, knots, bridge("bridge", "Before you look"), sell, thanks),
		planned("two-bridges", "Two bridges to one offer", "Who signs up goes to one of two pages, by shares, and both lead to the same offer.",
			[]Route{{From: "opt-in", Outcome: Submitted, Fork: []fork.Share{{To: "bridge", Share: 10}, {To: "other", Share: 5}}}, {From: "bridge", Outcome: on, To: "sales"}, {From: "other", Outcome: on, To: "sales"}, paid},
			knots, bridge("bridge", "The first way"), bridge("other", "The second way"), sell, thanks),
		planned("sale", "A sale, one thing more, or a smaller one", "Who buys is offered one thing more; who declines it, a smaller one; everybody ends on the thank-you page.",
			[]Route{{From: "sales", Outcome: Bought, To: "upsell"}, {From: "upsell", Outcome: Accepted, To: "thank-you"}, {From: "upsell", Outcome: Declined, To: "downsell"}, {From: "downsell", Outcome: Accepted, To: "thank-you"}, {From: "downsell", Outcome: Declined, To: "thank-you"}},
			sell, more, Step{ID: "downsell", Kind: DownsellAt, Name: "The small one", Aim: "upsell"}, thanks),
		planned("launch", "A launch with a list", "Who wants to know first leaves an address and reads what is coming; on the day, the offer opens behind it.",
			[]Route{{From: "opt-in", Outcome: Submitted, To: "bridge"}, {From: "bridge", Outcome: on, To: "sales"}, {From: "sales", Outcome: Bought, To: "upsell"}, {From: "upsell", Outcome: Accepted, To: "thank-you"}, {From: "upsell", Outcome: Declined, To: "thank-you"}},
			Step{ID: "opt-in", Kind: OptIn, Name: "Be the first to know"}, bridge("bridge", "What is coming"), sell, more, thanks),
		planned("appointment", "An appointment", "A few words lead to a page on which a time is chosen.",
			[]Route{{From: "bridge", Outcome: on, To: "appointment"}}, bridge("bridge", "Why come by"), Step{ID: "appointment", Kind: Appointment, Name: "Choose a time"}),
	}
}

// PlanOf is the plan of that name.
func PlanOf(name string) (Plan, bool) {
	for _, p := range Plans() {
		if p.Name == name {
			return p, true
		}
	}
	return Plan{}, false
}
