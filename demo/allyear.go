package demo

import (
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/compose"
	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// The campaign that sells every product the whole year, by one page that stands for each.
const allYearID = "all-year"

// ofAnything are the page of a product and the page after it.
func ofAnything() []page {
	thanks := thankYou()
	thanks.id, thanks.name, thanks.address = "thank-you-all-year", "Thank you, all year", "thank-you-all-year"
	thanks.tree = m.Page{Version: m.Version, Bands: []m.Band{
		{ID: "a-open", Name: "Thank you", Beat: m.Action, Tone: m.Card, Columns: []m.Column{
			col(7, piece("a-head", "heading", m.Fields{"text": "Thank you. It is yours", "level": "1"}), piece("a-receipt", "receipt", m.Fields{})),
			col(5, piece("a-pic", "picture", m.Fields{"picture": "dunes", "shape": "framed"})),
		}},
		{ID: "a-sent", Name: "If it is sent", Beat: m.Interest, Tone: m.Paper, Only: m.OnlySent, Columns: []m.Column{col(1,
			piece("a-sent-text", "text", m.Fields{"text": "Your parcel leaves the workshop within two working days."}))}},
		{ID: "a-fetched", Name: "If it is collected", Beat: m.Interest, Tone: m.Paper, Only: m.OnlyCollected, Columns: []m.Column{col(1,
			piece("a-fetched-text", "text", m.Fields{"text": "It lies ready in the workshop, Tuesday to Saturday."}))}},
		{ID: "a-seat", Name: "If there is a seat", Beat: m.Interest, Tone: m.Paper, Only: m.OnlyBooked, Columns: []m.Column{col(1,
			piece("a-seat-text", "text", m.Fields{"text": "Your seat at the long table is kept. Bring a jumper: the doors are open."}))}},
		legal("a-legal"),
	}}
	return []page{{
		id: "any-product", name: "Page of a product", purpose: purpose.Product, address: "any-product",
		title: "{name}, from Gustwell Kiteworks", description: "{name}: made and mended on the coast, with people who answer the phone.",
		tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "p-open", Name: "The product", Beat: m.Attention, Tone: m.Card, Columns: []m.Column{
				col(5, piece("p-pic", "picture", m.Fields{"shape": "framed"})),
				col(7,
					piece("p-name", "heading", m.Fields{"text": "{name}", "level": "1"}),
					piece("p-price", "price", m.Fields{"saving": "both"}),
					piece("p-left", "stock", m.Fields{"from": "10"}),
					piece("p-go", "button", m.Fields{"label": "Order it now", "target": "checkout"})),
			}},
			{ID: "p-about", Name: "Details", Beat: m.Interest, Tone: m.Paper, Columns: []m.Column{
				col(1,
					piece("p-about-head", "heading", m.Fields{"text": "What it is", "level": "2"}),
					piece("p-details", "details", m.Fields{"show": "both"})),
			}},
			{ID: "p-order", Name: "Checkout", Beat: m.Action, Tone: m.Paper, Columns: []m.Column{
				col(1,
					piece("p-order-head", "heading", m.Fields{"text": "Order it here", "level": "2"}),
					piece("p-form", "checkout", m.Fields{"parts": "2", "quantity": "chosen", "legal": "yes"})),
			}},
			{ID: "p-more", Name: "More", Beat: m.Interest, Tone: m.Card, Columns: []m.Column{
				col(1,
					piece("p-more-head", "heading", m.Fields{"text": "What flies well beside it", "level": "2"}),
					piece("p-more-shelf", "shelf", m.Fields{"shelf": m.Its, "show": "4"})),
			}},
			legal("p-legal"),
		}},
	}, spares(), everything(), thanks}
}

// spares are two lists with one checkout: as much of everything as one likes.
func spares() page {
	return page{
		id: "spares", name: "The spares drawer", purpose: "sales", address: "spares",
		title: "Parts, line and first kites, from Gustwell Kiteworks", description: "Line, reels, spars and repair kits by the piece, and what one begins with: put in as many as you need.",
		tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "d-open", Name: "Opening", Beat: m.Attention, Tone: m.Card, Columns: []m.Column{col(1,
				piece("d-head", "heading", m.Fields{"text": "The drawer under the bench", "level": "1"}),
				piece("d-lead", "text", m.Fields{"look": "lead", "text": "What wears out on a windy coast, and what one begins with. Put in as many as you need: it all goes into one parcel."}))}},
			{ID: "d-parts", Name: "Parts and line", Beat: m.Interest, Tone: m.Paper, Columns: []m.Column{col(1,
				piece("d-parts-head", "heading", m.Fields{"text": "Parts and line", "level": "2"}),
				piece("d-parts-shelf", "shelf", m.Fields{"shelf": "spares", "show": "12"}))}},
			{ID: "d-begin", Name: "To begin with", Beat: m.Desire, Tone: m.Card, Columns: []m.Column{col(1,
				piece("d-begin-head", "heading", m.Fields{"text": "To begin with", "level": "2"}),
				piece("d-begin-shelf", "shelf", m.Fields{"shelf": "to-begin", "show": "12"}))}},
			{ID: "d-order", Name: "Checkout", Beat: m.Action, Tone: m.Paper, Columns: []m.Column{col(1,
				piece("d-order-head", "heading", m.Fields{"text": "Your parcel", "level": "2"}),
				piece("d-form", "checkout", m.Fields{"fill": "lists", "legal": "yes", "account": "yes", "transfer": "yes", "collection": "yes"}))}},
			legal("d-legal"),
		}},
	}
}

// everything lists all goods, in pages, narrowed by what they are.
func everything() page {
	return page{
		id: "everything", name: "Everything", purpose: "shelf", address: "everything",
		title: "Everything Gustwell makes", description: "Kites for one, two and four lines, parts, kits and plans: all of it, narrowed by wind, lines and skill.",
		tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "e-open", Name: "Opening", Beat: m.Attention, Tone: m.Card, Columns: []m.Column{col(1,
				piece("e-head", "heading", m.Fields{"text": "Everything on the shelves", "level": "1"}))}},
			{ID: "e-list", Name: "The list", Beat: m.Interest, Tone: m.Paper, Columns: []m.Column{col(1,
				piece("e-shelf", "shelf", m.Fields{"shelf": "all-goods", "show": "8", "rest": "pages", "by": "@category", "by2": "lines", "by3": "skill"}))}},
			{ID: "e-ask", Name: "Ask", Beat: m.Action, Tone: m.Card, Columns: []m.Column{col(1,
				piece("e-phone", "phone", m.Fields{"text": "Not sure which? Call the workshop."}))}},
			legal("e-legal"),
		}},
	}
}

// allYear opens it: so every card of the demo leads somewhere, and all its goods can be
// bought.
func allYear(tx *gorm.DB, _ string, now time.Time) error {
	if err := tx.Create(&store.Campaign{ID: allYearID, Name: "All year"}).Error; err != nil {
		return err
	}
	edition := publishing.Edition{ID: "all-year-1", CampaignID: allYearID, Number: 1, Composition: compose.Version}
	for _, p := range ofAnything() {
		edition.Funnel.Steps = append(edition.Funnel.Steps, route.Step{ID: p.id, Kind: purpose.Of(p.purpose).Step, PageID: p.id, Name: p.name})
		edition.Pages = append(edition.Pages, publishing.EditionPage{ID: p.id, Name: p.name, Address: p.address, Title: p.title, Description: p.description, Purpose: p.purpose, Manuscript: p.tree})
	}
	edition.Funnel.Routes = []route.Route{
		{From: "any-product", Outcome: route.Bought, To: "thank-you-all-year"}, {From: "spares", Outcome: route.Bought, To: "thank-you-all-year"},
	}
	return goLive(tx, edition, now.AddDate(0, 0, -20), ofAnything())
}
