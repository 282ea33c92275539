package all

import m "chrysagon/core/manuscript"

// salesTemplates sell on the page itself.
func salesTemplates() []Template {
	return []Template{
		{"sales", "Sales page with checkout", "one product, its reasons, and the checkout under them", "sales", "", "bare", "warm", []Arrangement{
			band("Opening", m.Attention, m.Night, one(h1("Fly the dark on one steady line"), lead("Thirty grams of light in a metre eighty of amber cloth. It rises in four knots, when the beach is yours."), act("Send me mine", "checkout"), piece("price", "saving", "none"))).on("lantern-night"),
			hurry("This price ends").in("display"),
			band("The product", m.Interest, m.Card, column(7, framed()), column(5, h2("Two spars, eleven seams, one maker"), copied("Cloth in four ambers, a lantern no heavier than a letter, thirty metres of line on a beech reel. In its bag it is as long as your arm."), piece("price"), act("Send me mine", "checkout"))),
			band("Why", m.Desire, m.Card, one(reasons([]string{"wind", "Four knots are enough", "One bridle, set once. If smoke leans, it flies."}, []string{"moon-stars", "Light that leaves you the stars", "A soft amber, hooded from below, that dazzles nobody."}, []string{"needle-thread", "Sewn again, not thrown away", "Send it back from anywhere. We sew, you fly."}))).in("ruled"),
			band("Voices", m.Desire, m.Night, one(said([]string{"We stood there until our feet were wet, and nobody wanted to be the one to wind it in.", "Say who said it", "and where they fly"}, []string{"It went up while I was still reading the leaflet.", "Somebody else", ""}, []string{"My neighbour asked what it was. He has one now.", "And another", ""}))).in("voice"),
			till("Yours before the snow").in("centred"), footer(),
		}},
		{"product", "Page of a product", "stands for every product that has no page written for it", "product", "", "full", "plain", []Arrangement{
			band("Opening", m.Attention, m.Card, column(7, framed()), column(5, h1("{name}"), piece("price"), act("Order it", "checkout"), vows([]string{"truck-delivery", "Sent within two working days"}, []string{"arrow-back-up", "Thirty days to send it back"}))),
			hurry("This price ends").in("line"),
			band("Details", m.Interest, m.Card, one(h2("What it is"), piece("details"))).in("margin"),
			band("Checkout", m.Action, m.Paper, one(h2("Order it here"), piece("checkout"))).in("desk"),
			band("More", m.Interest, m.Card, one(h2("From the same bench"), piece("shelf", "shelf", m.Its, "show", "4"))).in("row"), footer(),
		}},
		{"letter", "Long sales letter", "a whole story, from the first doubt to the order", "sales", "", "bare", "quiet", []Arrangement{
			band("Opening", m.Attention, m.Paper, one(h1("The evening it finally flew"), lead("A letter to everybody who has run along a beach with a kite, and put it back into its box."))).in("letter"),
			band("The trouble", m.Interest, m.Card, one(copied("You know how it goes. The wind is there, the day is free, and the thing lies on the sand like a wet coat.\nYou are told to run. You run. It lifts, turns over, and comes down on its nose; somebody who means well says there is not enough wind today.\nThere was. There was enough wind for a gull to stand still in."))).in("initial"),
			band("The turn", m.Interest, m.Card, column(7, h2("Then we moved one knot"), copied("The bridle was tied for a gale, as all of them are, because that is when kites break and come back. We moved the knot by two fingers, and it stood.\nThat was eleven winters ago. The knot has not moved since.")), column(5, framed())).in("opposite"),
			band("Said", m.Desire, m.Night, one(piece("quote", "text", "I did not believe it before I held the line.", "who", "One of the first who tried"))).in("voice").on("night-ripstop"),
			band("What is in it", m.Desire, m.Paper, one(h2("This is what you get"), points([]string{"The kite itself, bridle tied and tried"}, []string{"Thirty metres of line, wound on beech"}, []string{"A bag, a spare spar, our number"}), piece("price"))).in("ticket"),
			band("Guarantee", m.Desire, m.Card, one(piece("aside", "look", "shield-check", "title", "Thirty days on your own beach", "text", "Send it back as it came, and the money goes back the way it came."))),
			band("Questions", m.Desire, m.Card, one(h2("What people ask before they order"), questions([]string{"When does it arrive?", "Within two working days it leaves us; the carrier needs two more."}, []string{"What if it breaks?", "Send it back. We mend it for as long as you use it."}, []string{"And if I cannot make it fly?", "Call us, with the wind in the phone. It has always been the bridle."}))).in("margin"),
			till("Order yours").in("desk"), footer().in("centred"),
		}},
		{"launch", "Single-product launch", "one new thing, how many are left, a date", "sales", "launch", "bare", "lively", []Arrangement{
			band("Announcement", m.Plain, m.Night, one(piece("announcement", "text", "New: the first run is here", "target", "checkout"))).in("spaced"),
			band("Opening", m.Attention, m.Card, column(5, h1("It is finished"), lead("A year of drawings on this table, and now the first run, numbered by hand."), piece("price"), act("Take one of the first", "checkout")), column(7, piece("picture"))).in("bleed"),
			band("Left", m.Interest, m.Paper, one(piece("timer", "caption", "The price of the first run ends"), piece("stock", "from", "100000"))).in("plate"),
			band("Pictures", m.Interest, m.Card, one(h2("From every side"), piece("gallery"))).in("column"),
			band("Against the last", m.Desire, m.Paper, one(h2("What changed since the last one"), piece("compare", "first", "The new one", "second", "The one before", "items", items([]string{"what", "first", "second"}, []string{"Weight", "180 g", "240 g"}, []string{"Rises in", "3 knots", "5 knots"}, []string{"Mended for life", "yes", "yes"}, []string{"Packs into a bag", "yes", "no"})))).in("margin"),
			band("How it came about", m.Desire, m.Card, one(h2("Seven that did not fly"), steps([]string{"The first was beautiful, and fell."}, []string{"The fifth flew, in a gale, once."}, []string{"The eighth has not come down since, but to eat."}))).in("numbers"),
			till("One of the first").in("centred"), footer(),
		}},
		{"parts", "Checkout in parts", "one product, ordered in three short parts on the page", "sales", "", "bare", "plain", []Arrangement{
			band("Opening", m.Attention, m.Card, column(5, framed()), column(7, h1("A name, an address, a card"), lead("Three short parts, and it is in the post."), piece("price"))).in("beside"),
			band("The order", m.Action, m.Paper, one(h2("What you order"), piece("checkout", "parts", "3", "button", "Order and pay"))).in("desk"),
			band("What happens then", m.Interest, m.Card, one(h2("What happens then"), steps([]string{"You have a mail before you have closed the page."}, []string{"It is packed the same day, if that is a working day."}, []string{"The carrier writes to you the evening before."}))).in("numbers"),
			band("Doubts", m.Desire, m.Paper, one(h2("Before you press"), questions([]string{"Can I send it back?", "For thirty days, as it came."}, []string{"Who sees my card?", "The till alone. We never do."}))).in("pairs"), footer(),
		}},
		{"list-sale", "List with checkout", "goods on a shelf, put in as many as one likes, and one checkout for all", "sales", "", "bare", "plain", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Everything that wears out, in one parcel"), lead("Spars, line, cells and reels. Put in what is missing, pay for sending once."), act("See what there is", "band:@2"))).in("split"),
			hurry("These prices end").in("line"),
			band("The list", m.Interest, m.Paper, one(h2("Put in what you need"), piece("shelf", "show", "24", "empty", "Nothing stands here today. Look in again on Friday."))).in("pricelist"),
			promises(),
			band("Checkout", m.Action, m.Card, one(h2("What you order"), piece("checkout", "fill", "lists"))).in("plain"), footer(),
		}},
		{"workshop", "Workshop seats", "a day, few seats, and the checkout for one", "sales", "", "header", "warm", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("One Saturday, and you sew it yourself"), lead("Eight people, one long table, a machine each, and the beach at four o’clock."), act("Take a seat", "checkout"))).on("bench-by-day"),
			band("The day", m.Interest, m.Paper, column(1, h2("How the day goes"), steps([]string{"Ten o’clock: coffee, and the drawing"}, []string{"Noon: everybody sews"}, []string{"Four o’clock: we try them outside"})), column(1, h2("What is included"), points([]string{"Cloth, spars, line"}, []string{"Lunch at the table"}, []string{"What you made goes home with you"}))).in("ruled"),
			band("Seats", m.Desire, m.Card, one(piece("stock", "from", "100000"), piece("price"))).in("centred"),
			band("Voices", m.Desire, m.Paper, one(said([]string{"I had never held a needle. It flies.", "Say who said it", ""}, []string{"We came as two and went home as eight.", "Somebody else", ""}))).in("notes"),
			band("Questions", m.Desire, m.Card, one(h2("Before you come"), questions([]string{"Do I need to know how to sew?", "No. You will afterwards."}, []string{"What if it rains?", "We build inside, and try another day."}))).in("column"),
			till("Your seat").in("centred"), footer(),
		}},
	}
}
