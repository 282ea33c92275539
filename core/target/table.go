package target

import (
	"cmp"
	"net/url"
	"strings"

	"chrysagon/core/route"
)

// What links can lead to.
const (
	Nowhere     Kind = ""            // not chosen yet
	Checkout    Kind = "checkout"    // the checkout on the same page
	Yes         Kind = "yes"         // this page's yes: of the offer on it, its checkout, or where its route leads
	No          Kind = "no"          // and its no
	Act         Kind = "act"         // a call to action with a name of its own, which leads where its route does
	Band        Kind = "band"        // a band of the same page
	Page        Kind = "page"        // a page of the store
	Home        Kind = "home"        // the shop's first page
	Appointment Kind = "appointment" // where an appointment is given: on the same page, or on the page that does
	Product     Kind = "product"     // the live page that sells one of the goods
	File        Kind = "file"        // a file of the store's
	Phone       Kind = "tel"         // a number to ring; empty: the store's
	Message     Kind = "sms"         // a number to send a short message to (RFC 5724); empty: the store's
	Mail        Kind = "mailto"      // an address to write to; empty: the store's
	Outside     Kind = "https"       // an address outside
)

// declared is one kind of target. A function that is not there answers nothing.
type declared struct {
	kind   Kind
	read   func(value string) (string, bool) // what may follow the colon; nil: nothing does
	here   bool                              // it leads to something on the same page, or where its walk goes on
	whole  bool                              // the value is the whole text
	typed  bool                              // the value is typed
	refers string                            // the type of field that names the same

	needs   func(n *Needs, value string)
	href    func(on On, value string) (string, bool)
	words   func(on On, value string) string
	lost    func(on On, value string) Lost
	away    func(on On, value string) string
	offered func(on On) bool
	choice  string // stands before its words where it is offered
}

// table lists every kind of target, in the order in which choosers offer them.
var table = []*declared{
	{kind: Nowhere, words: saying("nowhere yet")},
	{
		kind: Checkout, here: true, href: at("#checkout"), words: saying("the checkout on this page"),
		offered: func(on On) bool { return on.Orders },
		lost: func(on On, _ string) Lost {
			return unless(on.Orders, Lost{What: "A link leads to the checkout, and this page has none.", Remedy: "Choose where it leads, or add the checkout."})
		},
	},
	{
		kind: Yes, here: true, words: saying("the yes of this page"), offered: func(on On) bool { return on.Answers || !on.Orders },
		href: func(on On, _ string) (string, bool) {
			switch {
			case on.Answers:
				return "#yes", true
			case on.Orders:
				return "#checkout", true
			}
			return pressed(on, "yes"), true
		},
	},
	{
		kind: No, here: true, words: saying("the no of this page"), offered: func(on On) bool { return on.Answers || !on.Orders },
		href: func(on On, _ string) (string, bool) {
			if on.Answers {
				return "#no", true
			}
			return pressed(on, "no"), true
		},
	},
	{
		kind: Act, here: true, typed: true,
		read: func(name string) (string, bool) {
			return name, route.Clicked(name).Known() && route.Clicked(name).Leads()
		},
		href:  func(on On, name string) (string, bool) { return pressed(on, name), true },
		words: func(_ On, name string) string { return "where “" + name + "” leads by the routes" },
	},
	{
		kind: Band, here: true, read: id,
		href: func(_ On, band string) (string, bool) { return "#band-" + band, true },
		words: func(on On, band string) string {
			if on.Band == nil {
				return "a band of this page"
			}
			return cmp.Or(on.Band(band), "a band that is gone")
		},
		lost: func(on On, band string) Lost {
			return unless(on.Band == nil || on.Band(band) != "", Lost{What: "A link leads to a band that is gone.", Remedy: "Choose where it leads."})
		},
	},
	{
		kind: Page, read: id, refers: "link",
		needs: func(n *Needs, page string) { n.Pages = append(n.Pages, page) },
		href: func(on On, page string) (string, bool) {
			p, ok := on.Facts.Pages[page]
			return "/" + p.Address, ok
		},
		words: func(on On, page string) string { return cmp.Or(on.Facts.Pages[page].Name, "a page that is gone") },
		away:  func(on On, page string) string { return on.Facts.Pages[page].Name },
		lost: func(on On, page string) Lost {
			to, ok := on.Facts.Pages[page]
			if !ok {
				return Lost{What: "A link leads to a page that is gone.", Remedy: "Choose another page.", Stops: true}
			}
			return unless(!to.Aside, Lost{What: "A link leads to “" + to.Name + "”, which was set aside.", Remedy: "Choose another page, or bring that one back."})
		},
	},
	{
		kind: Home, href: at("/"), words: saying("the shop’s first page"), away: saying("the shop’s first page"),
		offered: func(On) bool { return true },
	},
	{
		kind:  Appointment,
		needs: func(n *Needs, _ string) { n.Booked = true },
		href: func(on On, _ string) (string, bool) {
			if on.Books {
				return "#appointment", true
			}
			return "/" + on.Facts.Booked.Address + "#appointment", on.Facts.Booked.Address != ""
		},
		words: saying("an appointment"),
		away: func(on On, _ string) string {
			if on.Books {
				return ""
			}
			return "an appointment"
		},
		offered: func(On) bool { return true },
		lost: func(on On, _ string) Lost {
			return unless(on.Books || on.Facts.Booked.Address != "", Lost{What: "A link leads to an appointment, and no live page gives any.", Remedy: "Add the appointment to this page, or to one that is live."})
		},
	},
	{
		kind: Product, read: id, refers: "product",
		needs: func(n *Needs, product string) { n.Sold = append(n.Sold, product) },
		href: func(on On, product string) (string, bool) {
			p, ok := on.Facts.Sold[product]
			if ok && p.Address == on.Address && on.Orders {
				return "#checkout", true
			}
			return "/" + p.Address, ok
		},
		words: func(on On, product string) string {
			return cmp.Or(on.Facts.Sold[product].Name, "goods that no live page sells")
		},
		away: func(on On, product string) string {
			if p, ok := on.Facts.Sold[product]; ok && p.Address != on.Address {
				return p.Name
			}
			return ""
		},
		lost: func(on On, product string) Lost {
			_, ok := on.Facts.Sold[product]
			return unless(ok, Lost{What: "A link leads to goods that no live page sells.", Remedy: "Publish a page that sells them, or choose another."})
		},
	},
	{
		kind: File, read: id, refers: "file",
		needs: func(n *Needs, file string) { n.Files = append(n.Files, file) },
		href: func(on On, file string) (string, bool) {
			f, ok := on.Facts.Files[file]
			return f.Path, ok
		},
		words: func(on On, file string) string {
			if f, ok := on.Facts.Files[file]; ok {
				return "the file “" + f.Name + "”"
			}
			return "a file that is gone"
		},
		lost: func(on On, file string) Lost {
			_, ok := on.Facts.Files[file]
			return unless(ok, Lost{What: "A link leads to a file that is gone.", Remedy: "Choose another file.", Stops: true})
		},
	},
	{
		kind: Phone, typed: true, read: number,
		href: func(on On, number string) (string, bool) {
			number = cmp.Or(number, Dialled(on.Facts.Store.Phone))
			return "tel:" + number, number != ""
		},
		words:   func(on On, number string) string { return cmp.Or(number, on.Facts.Store.Phone) },
		offered: func(on On) bool { return on.Facts.Store.Phone != "" }, choice: "a call to ",
		lost: func(on On, number string) Lost {
			return unless(number != "" || on.Facts.Store.Phone != "", Lost{What: "A link calls the store, whose number is not known.", Remedy: "Write a number."})
		},
	},
	{
		kind: Message, typed: true, read: number,
		href: func(on On, to string) (string, bool) {
			to = cmp.Or(to, Dialled(on.Facts.Store.Phone))
			return "sms:" + to, to != ""
		},
		words: func(on On, to string) string { return "a message to " + cmp.Or(to, on.Facts.Store.Phone) },
		lost: func(on On, to string) Lost {
			return unless(to != "" || on.Facts.Store.Phone != "", Lost{What: "A link begins a message to the store, whose number is not known.", Remedy: "Write a number."})
		},
	},
	{
		kind: Mail, typed: true,
		read: func(address string) (string, bool) {
			return address, !strings.ContainsAny(address, "?&<> \"") && (address == "" || strings.Count(address, "@") == 1)
		},
		href: func(on On, address string) (string, bool) {
			address = cmp.Or(address, on.Facts.Store.ContactEmail)
			return "mailto:" + address, address != ""
		},
		words:   func(on On, address string) string { return cmp.Or(address, on.Facts.Store.ContactEmail) },
		offered: func(On) bool { return true }, choice: "a mail to ",
	},
	{
		kind: Outside, whole: true,
		read: func(text string) (string, bool) {
			u, err := url.Parse(text)
			if err != nil || u.Host == "" || u.User != nil {
				return "", false
			}
			return u.String(), true
		},
		href:  func(_ On, address string) (string, bool) { return address, true },
		words: func(_ On, address string) string { return address },
		away:  func(_ On, address string) string { return address },
	},
}

var kinds = func() map[Kind]*declared {
	found := make(map[Kind]*declared, len(table))
	for _, d := range table {
		found[d.kind] = d
	}
	return found
}()

const idSigns = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_"

// id is the name of something of the store's.
func id(value string) (string, bool) {
	return value, value != "" && len(value) <= 40 && strings.Trim(value, idSigns) == ""
}

// number is a phone number, written in any of the ways people write one.
func number(value string) (string, bool) {
	return strings.NewReplacer(" ", "", "(", "", ")", "", "-", "", ".", "").Replace(value), strings.Trim(value, "0123456789+ ()-.") == ""
}

func at(href string) func(On, string) (string, bool) {
	return func(On, string) (string, bool) { return href, true }
}

func saying(words string) func(On, string) string {
	return func(On, string) string { return words }
}

func unless(there bool, lost Lost) Lost {
	if there {
		return Lost{}
	}
	return lost
}

// pressed is the address at which a call to action of a page is taken: it leads
// on by the routes of whoever presses it.
func pressed(on On, name string) string { return "/" + on.Address + "/on/" + name }

// Dialled is a phone number as a tel link has it: digits and a leading plus
// (RFC 3966 leaves out what only helps reading).
func Dialled(number string) string {
	return strings.Map(func(r rune) rune {
		if (r >= '0' && r <= '9') || r == '+' {
			return r
		}
		return -1
	}, number)
}
