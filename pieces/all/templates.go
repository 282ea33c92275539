package all

import (
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
)

// Template is a whole page to begin from.
type Template struct {
	Name    string // as it is stored
	Title   string
	What    string // what it is good for, in a few words
	Purpose string
	Season  string // when it is most used; empty: any time
	Layout  string
	Bands   []Arrangement
}

// forms says of which form the goods are that a template sells; any, where it
// is not named.
var forms = map[string]goods.Form{"workshop": goods.Bookable}

// Form is the form of the goods that a template sells; empty: any.
func (t Template) Form() goods.Form { return forms[t.Name] }

// Clearance is the season in which what came back and what stood long goes.
const Clearance = "clearance"

// Seasons are those that templates are made for.
var Seasons = []string{"launch", "holidays", Clearance}

// TemplateOf returns the template of that name.
func TemplateOf(name string) (Template, bool) {
	list := Templates()
	i := slices.IndexFunc(list, func(t Template) bool { return t.Name == name })
	if i < 0 {
		return Template{}, false
	}
	return list[i], true
}

// Page makes a page of a template; id makes a new identifier each time.
func (t Template) Page(schema m.Schema, id func() string) m.Page {
	p := m.Page{Version: m.Version, Bands: []m.Band{}}
	for _, b := range t.Bands {
		p.Bands = append(p.Bands, b.Band(schema, id))
	}
	// A template names a band by its place, since it has no identifier yet.
	p.Walk(func(_ m.Band, piece m.Piece) {
		for name := range piece.Fields {
			place, named := strings.CutPrefix(piece.Fields.Text(name), "band:@")
			if n, err := strconv.Atoi(place); named && err == nil && n < len(p.Bands) {
				piece.Fields[name] = "band:" + p.Bands[n].ID
			}
		}
	})
	return p
}

// Finds tells whether a template answers a search: every word of it begins a
// word of the template's title, use, season or purpose.
func (t Template) Finds(search, purpose, season string) bool {
	if (purpose != "" && t.Purpose != purpose) || (season != "" && t.Season != season) {
		return false
	}
	words := strings.Fields(strings.ToLower(strings.Join([]string{t.Title, t.What, t.Season, strings.ReplaceAll(t.Purpose, "_", " ")}, " ")))
	for asked := range strings.FieldsSeq(strings.ToLower(search)) {
		if !slices.ContainsFunc(words, func(w string) bool { return strings.HasPrefix(w, asked) }) {
			return false
		}
	}
	return true
}

func band(name string, beat m.Beat, tone m.Tone, columns ...ArrangedColumn) Arrangement {
	return Arrangement{Title: name, Beat: beat, Tone: tone, Columns: columns}
}

// only shows the band to some alone.
func (a Arrangement) only(o m.Only) Arrangement {
	a.Only = o
	return a
}

func one(pieces ...ArrangedPiece) ArrangedColumn { return column(1, pieces...) }

func h1(text string) ArrangedPiece   { return piece("heading", "level", "1", "text", text) }
func h2(text string) ArrangedPiece   { return piece("heading", "text", text) }
func lead(text string) ArrangedPiece { return piece("text", "look", "lead", "text", text) }
func copied(text string) ArrangedPiece {
	return piece("text", "text", text)
}
func act(label, target string) ArrangedPiece {
	return piece("button", "label", label, "target", target)
}
func reasons(rows ...[]string) ArrangedPiece {
	return piece("perks", "items", items([]string{"icon", "title", "text"}, rows...))
}
func points(rows ...[]string) ArrangedPiece {
	return piece("bullets", "items", items([]string{"text"}, rows...))
}
func questions(rows ...[]string) ArrangedPiece {
	return piece("faq", "items", items([]string{"question", "answer"}, rows...))
}
func vows(rows ...[]string) ArrangedPiece {
	return piece("badges", "items", items([]string{"icon", "text"}, rows...))
}

func footer() Arrangement {
	return band("Legal footer", m.Plain, m.Paper, one(piece("legal")))
}
func promises() Arrangement {
	return band("Promises", m.Desire, m.Card, one(vows([]string{"truck-delivery", "Sent within two working days"}, []string{"arrow-back-up", "Thirty days to send it back"}, []string{"phone", "People who answer the phone"})))
}
func hurry(text string) Arrangement {
	return band("Timer", m.Interest, m.Paper, one(piece("timer", "caption", text)))
}
func till(heading string) Arrangement {
	return band("Checkout", m.Action, m.Paper, one(h2(heading), piece("checkout")))
}

// Templates lists the templates this program ships with.
func Templates() []Template {
	return []Template{
		{"sales", "Sales page with checkout", "one product, its reasons, and the checkout under them", "sales", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Night, column(7, h1("Say in one line what they get"), lead("Then why it is worth their evening."), act("Order it now", "checkout")), column(5, piece("picture"))),
			band("The product", m.Interest, m.Card, column(5, piece("picture", "shape", "framed")), column(7, h2("What it is"), copied("Two or three sentences about how it is made and what it does. Plain words sell better than large ones."), piece("price"))),
			hurry("The price of this week"),
			band("Why", m.Desire, m.Card, one(h2("Made for people who use it"), reasons([]string{"feather", "Light", "What that means on a long day."}, []string{"tool", "Mended for life", "Send it back; we see to it."}, []string{"shield-check", "Tried first", "Every one is tried before it leaves."}))),
			till("What you order"), footer(),
		}},
		{"product", "Page of a product", "stands for every product that has no page written for it", "product", "", "full", []Arrangement{
			band("Opening", m.Attention, m.Card, column(5, piece("picture", "shape", "framed")), column(7, h1("{name}"), piece("price"), act("Order it", "checkout"))),
			hurry("This price ends"),
			band("Details", m.Interest, m.Card, one(h2("Details"), piece("details"))),
			band("Checkout", m.Action, m.Paper, one(h2("Order it here"), piece("checkout"))),
			band("More", m.Interest, m.Card, one(h2("See also"), piece("shelf", "shelf", m.Its, "show", "4"))), footer(),
		}},
		{"letter", "Long sales letter", "a whole story, from the first doubt to the order", "sales", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("The evening it finally worked"), lead("A letter to everybody who has tried, and put it back into its box."))),
			band("The trouble", m.Interest, m.Card, one(h2("You know how it goes"), copied("Tell the trouble the way your reader would tell it.\nOne thing a paragraph. Leave nothing out that they will think of themselves."))),
			band("The turn", m.Interest, m.Card, one(h2("Then we tried something else"), copied("Say what you changed, and what came of it."), piece("quote", "text", "I did not believe it before I held it.", "who", "One of the first who tried"))),
			band("What is in it", m.Desire, m.Paper, one(h2("This is what you get"), points([]string{"The thing itself, ready to use"}, []string{"Everything that belongs to it"}, []string{"Our number, and a person who answers"}), piece("price"))),
			band("Guarantee", m.Desire, m.Card, one(piece("aside", "look", "shield-check", "title", "Thirty days to change your mind", "text", "Send it back as it came, and the money goes back the way it came."))),
			band("Questions", m.Desire, m.Card, one(h2("What people ask before they order"), questions([]string{"When does it arrive?", "Within two working days it leaves us; the carrier needs two more."}, []string{"What if it breaks?", "Send it back. We mend it for as long as you use it."}))),
			till("Order yours"), footer(),
		}},
		{"launch", "Single-product launch", "one new thing, how many are left, a date", "sales", "launch", "bare", []Arrangement{
			band("Announcement", m.Plain, m.Night, one(piece("announcement", "text", "New: the first run is here", "target", "checkout"))),
			band("Opening", m.Attention, m.Card, column(5, piece("picture")), column(7, h1("It is finished"), lead("A year of drawings, and now the first run."), piece("price"), act("Take one of the first", "checkout"))),
			band("Stock", m.Interest, m.Paper, column(1, piece("timer", "caption", "The launch price ends")), column(1, piece("stock", "from", "100000"))),
			band("Pictures", m.Interest, m.Card, one(h2("From every side"), piece("gallery"))),
			band("Against the last", m.Desire, m.Card, one(h2("What changed"), piece("compare", "first", "The new one", "second", "The one before", "items", items([]string{"what", "first", "second"}, []string{"Weight", "180 g", "240 g"}, []string{"Mended for life", "yes", "yes"}, []string{"Packs into a bag", "yes", "no"})))),
			promises(), till("One of the first"), footer(),
		}},
		{"list-sale", "List with checkout", "goods on a shelf, put in as many as one likes, and one checkout for all", "sales", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Say what stands here, and for whom"), lead("Then why several of it at once."), act("See what there is", "band:@2"))),
			hurry("These prices end"),
			band("The list", m.Interest, m.Paper, one(h2("Put in what you need"), piece("shelf", "show", "24", "empty", "Nothing stands here today. Look in again on Friday."))),
			promises(),
			band("Checkout", m.Action, m.Card, one(h2("What you order"), piece("checkout", "fill", "lists"))), footer(),
		}},
		{"clearance", "Clearance by rule", "goods on a shelf, each with its price", "shelf", Clearance, "full", []Arrangement{
			band("Opening", m.Attention, m.Night, one(h1("What goes now, and why it is cheaper"), lead("Say where it comes from, and what is as new."), act("See what is there", "band:@2"))),
			hurry("These prices end"),
			band("The shelf", m.Interest, m.Card, one(h2("What is there today"), piece("shelf", "show", "24", "empty", "The shelf is empty today. Look in again on Friday."))),
			band("Order", m.Action, m.Paper, one(h2("Seen the one you want?"), piece("phone", "text", "Call us and it is put aside for you."))),
		}},
		{"gift-guide", "Gift guide", "goods by groups, for somebody who gives", "shelf", "holidays", "full", []Arrangement{
			band("Opening", m.Attention, m.Night, column(7, h1("For whoever goes outside"), lead("Presents by what they do, not by what they cost."), act("To the first shelf", "band:@2")), column(5, piece("picture"))),
			hurry("These prices end"),
			band("First shelf", m.Interest, m.Card, one(h2("For who begins"), piece("shelf", "show", "4"))),
			band("Second shelf", m.Interest, m.Card, one(h2("For who has everything"), piece("shelf", "show", "4"))),
			band("Help", m.Action, m.Paper, one(h2("Not sure?"), copied("Tell us who it is for. We answer the same day."), piece("form", "asks", "message", "label", "Ask us"))),
		}},
		{"appointment", "Appointment page", "a time to take at once, what happens then, two offers by turns", "appointment", "", "full", []Arrangement{
			band("Opening", m.Attention, m.Night, column(7, h1("Come and try one"), lead("An hour with somebody who knows, and no need to buy.")), column(5, piece("picture"))),
			band("A time", m.Action, m.Card, one(h2("Take a time"), piece("appointment", "minutes", "60", "what", "A first try"))),
			band("What happens", m.Interest, m.Paper, one(h2("What happens in that hour"), piece("bullets", "mark", "number", "items", items([]string{"text"}, []string{"You say what you would like to do with it."}, []string{"We lay out two or three that would suit."}, []string{"You try them, and take home whichever you like, or none."})))),
			band("Two ways to come", m.Desire, m.Card, one(h2("Two ways to come"), piece("rotate", "items", items([]string{"title", "text", "label", "target"}, []string{"A first try", "One hour, everything lent to you.", "Call and choose a day", "tel:"}, []string{"Bring your own", "We look it over while you wait.", "Call and choose a day", "tel:"})))),
			band("Who is there", m.Desire, m.Paper, one(h2("Who you will meet"), piece("quote", "text", "I have done this for years, and still like the first hour best.", "who", "Whoever is in the shop"))),
			band("Another way", m.Action, m.Card, column(1, h2("Rather by phone?"), piece("phone", "text", "Call, and we find a day together.")), column(1, h2("Without an appointment"), piece("hours", "items", items([]string{"days", "opens", "closes"}, []string{"weekdays", "10:00", "18:00"}, []string{"saturday", "10:00", "14:00"})))),
			footer(),
		}},
		{"workshop", "Workshop seats", "a day, few seats, and the checkout for one", "sales", "", "header", []Arrangement{
			band("Opening", m.Attention, m.Night, one(h1("One Saturday, and you build it yourself"), lead("Eight people, one long table, everything there."), act("Take a seat", "checkout"))),
			band("The day", m.Interest, m.Card, column(1, h2("How the day goes"), piece("bullets", "mark", "number", "items", items([]string{"text"}, []string{"Ten o’clock: coffee and the drawing"}, []string{"Noon: everybody sews"}, []string{"Four o’clock: we try them outside"}))), column(1, h2("What is included"), points([]string{"All material"}, []string{"Lunch"}, []string{"What you made goes home with you"}))),
			band("Seats", m.Desire, m.Paper, one(piece("stock", "from", "100000"), piece("price"))),
			band("Questions", m.Desire, m.Card, one(h2("Before you come"), questions([]string{"Do I need to know how to sew?", "No. You will afterwards."}, []string{"What if it rains?", "We build inside, and try another day."}))),
			till("Your seat"), footer(),
		}},
		{"opt-in", "Opt-in page", "something useful for an email", "opt_in", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Night, column(7, h1("The first hour, on one sheet"), lead("Everything we tell people in the shop, drawn."), piece("form", "asks", "opt_in", "label", "Give me the sheet", "thanks", "Thank you. Here it is.", "consent", "You may keep my address and write to me about this.")), column(5, piece("picture"))),
			band("What is on it", m.Desire, m.Card, one(h2("On the sheet"), points([]string{"What to look for before you go out"}, []string{"The three knots"}, []string{"What to do when nothing works"}))),
			band("Who writes", m.Desire, m.Paper, one(piece("quote", "text", "We have told this across the counter for years. Now it is drawn.", "who", "The people of the shop"))),
			band("Again", m.Action, m.Card, one(h2("Take it with you"), piece("form", "asks", "opt_in", "label", "Give me the sheet", "thanks", "Thank you. Here it is.", "consent", "You may keep my address and write to me about this."))), footer(),
		}},
		{"bridge", "Bridge page", "a few words between an advertisement and the offer", "bridge", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Before you look at it"), lead("One thing to know, then the offer."))),
			band("The thing to know", m.Interest, m.Card, one(copied("Write what makes the difference, as you would say it to a friend."), points([]string{"What it does"}, []string{"What it does not do"}, []string{"Who should leave it"}))),
			band("On", m.Action, m.Night, one(h2("Still curious?"), act("Show me", "home"))), footer(),
		}},
		{"upsell", "Upsell", "one thing more, with one press", "upsell", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Your order is safe. One thing more"), lead("It goes into the same parcel, and nothing is paid twice for sending it."))),
			band("The thing", m.Desire, m.Paper, column(5, piece("picture", "shape", "framed")), column(7, h2("What it adds"), points([]string{"Made for what you have just ordered"}, []string{"No second delivery to pay"}))),
			band("Yes or no", m.Action, m.Card, one(piece("price"), piece("answer", "accept", "Yes, add it to my order", "decline", "No, thank you"))), footer(),
		}},
		{"downsell", "Downsell", "something smaller for those who said no", "downsell", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Then perhaps the small one"), lead("The same care, less of it."))),
			band("Yes or no", m.Action, m.Paper, column(5, piece("picture", "shape", "framed")), column(7, piece("price"), piece("answer", "accept", "Yes, the small one", "decline", "No, only my order"))), footer(),
		}},
		{"thank-you", "Thank-you page", "what was bought, and what comes next", "thank_you", "", "bare", []Arrangement{
			band("Opening", m.Attention, m.Card, one(h1("Thank you. Here is your order"))),
			band("The order", m.Action, m.Card, one(piece("receipt"))),
			band("If it is sent", m.Interest, m.Paper, one(h2("Your parcel"), copied("It leaves us within two working days."))).only(m.OnlySent),
			band("If it is collected", m.Interest, m.Paper, one(h2("To be collected"), copied("It lies ready for you when you come by."))).only(m.OnlyCollected),
			band("If it is downloaded", m.Interest, m.Paper, one(h2("Your download"), copied("It stands above, beside its name."))).only(m.OnlyDownloaded),
			band("If there is a seat", m.Interest, m.Paper, one(h2("Your seat"), copied("It is kept for you. Bring what you would like to work on."))).only(m.OnlyBooked),
			footer(),
		}},
		{"coming-soon", "Coming soon", "what is coming, when, and who wants to know", "coming_soon", "launch", "bare", []Arrangement{
			band("Opening", m.Attention, m.Night, one(h1("Something is being sewn"), lead("It is not ready. You can be the first to know."), piece("timer", "caption", "It opens"), piece("form", "asks", "newsletter", "label", "Keep my address", "thanks", "Thank you. We have your address.", "consent", "You may write to me when it opens."))),
			band("Until then", m.Action, m.Card, one(act("See what is there already", "home"))), footer(),
		}},
		{"contact", "Contact", "a form, the number, the address", "contact", "", "full", []Arrangement{
			band("Opening", m.Plain, m.Card, one(h1("Write, call or come by"))),
			band("Ways", m.Plain, m.Card, column(7, h2("Write"), piece("form", "asks", "message", "thanks", "Thank you. We answer within a working day.")), column(5, h2("Call"), piece("phone"), h2("Come by"), piece("hours", "items", items([]string{"days", "opens", "closes"}, []string{"weekdays", "10:00", "18:00"})))),
		}},
		{"about", "About", "who you are, and why", "about", "", "full", []Arrangement{
			band("Opening", m.Plain, m.Card, column(7, h1("Who makes this"), lead("Say in two lines who you are and since when.")), column(5, piece("picture"))),
			band("Story", m.Plain, m.Card, one(h2("How it began"), copied("Tell it short. One place, one year, one person."))),
			band("Numbers", m.Plain, m.Paper, one(h2("What we hold to"), reasons([]string{"tool", "Mended for life", "Whatever comes back is mended."}, []string{"heart", "Small runs", "Nothing is made to be thrown away."}, []string{"clock", "A person answers", "During the hours on the contact page."}))),
		}},
		{"legal", "Privacy, terms or disclaimer", "a long text with headings", "legal", "", "full", []Arrangement{
			band("Title", m.Plain, m.Card, one(h1("Privacy"))),
			band("Text", m.Plain, m.Card, one(h2("What is kept"), copied("Write what you keep, why, for how long, and who sees it."), h2("Your rights"), copied("Write how to ask what is kept, and how to have it taken away."), h2("Whom to ask"), copied("Name a person and an address."))),
		}},
	}
}
